"""Machine templates: members, axes, boxes and faces as an open JSON text, shipped, the user's own, or imported."""

from __future__ import annotations

import itertools
import json
import re
from collections.abc import Sequence
from pathlib import Path
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from vernus.core.errors import BadInputError, VernusError
from vernus.core.machine.measures import tell
from vernus.job.disk import make_folder, write_text
from vernus.job.entities import (
    Axis,
    Direction,
    Entity,
    Face,
    JobInfo,
    Machine,
    Measure,
    MemberPart,
    Readout,
    SolidBox,
)
from vernus.job.errors import JobContentError
from vernus.job.fields import LengthEntry
from vernus.job.formats.json_text import json_files, read_json
from vernus.job.gate import check_entities
from vernus.job.sums import SIDES

Place = tuple[float, float, float]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class MemberTemplate(_Part):
    """A member: what it sits on, the axis that moves it there, and the way it is pushed along by hand, if it is."""

    id: str = Field(min_length=1, max_length=60)
    on: str = ""
    axis: str = ""
    slides: Direction | Literal[""] = ""


class AxisTemplate(_Part):
    """An axis; ``direction`` is the way its member goes when the position grows."""

    name: str = Field(min_length=1, max_length=8)
    label: str = ""
    moving: str
    still: str
    direction: Direction
    travel_mm: float = Field(gt=0)
    scale_on: Literal["moving", "still"] = "moving"
    home: Literal["mid", "low", "high"] = "mid"
    lead_mm: float = Field(default=0, ge=0)
    readout: Readout = "new"


class BoxTemplate(_Part):
    """A solid, a place to keep reachable, or a part of the tilting head."""

    name: str = Field(min_length=1, max_length=100)
    member: str
    min_mm: Place
    max_mm: Place
    role: Literal["solid", "keep", "head", "display"] = "solid"
    fitted: Literal["yes", "off"] = "yes"
    why: str = ""
    shape: Literal["box", "disc-x", "disc-y", "disc-z", "slotted-x"] = "box"
    built: dict[str, str] = {}


class FaceTemplate(_Part):
    """A face a scale of ``axis`` could be screwed to."""

    axis: str
    name: str
    member: str
    reader_member: str
    at_mm: Place
    along: Direction
    out: Direction
    length_mm: float = Field(gt=0)
    flat: Literal["machined", "painted", "rough"] = "painted"
    exposure: Literal["0", "1", "2", "3"] = "1"
    holes: float = 4
    parts: float = 2
    bracket: Literal["down", "up"] = "down"
    arm: Literal["", "collar", "freed"] = ""
    separate: Literal["no", "yes"] = "no"
    note: str = ""
    built: dict[str, str] = {}


class MeasureTemplate(_Part):
    """A distance to take, between two figures of the machine; ``pose`` is the end of an axis at which it is taken."""

    key: str = Field(min_length=1, max_length=60, pattern=r"^[a-z][a-z0-9_]*$")
    label: str
    how: str
    value_mm: float = Field(ge=0)
    likely_mm: float = Field(gt=0)
    low: str = Field(default="", alias="from")
    high: str = Field(default="", alias="to")
    pose: str = ""


class MachineTemplate(_Part):
    """A kind of machine; lengths in mm, with every axis at 0."""

    id: str = Field(min_length=1, max_length=60)
    label: str = Field(min_length=1, max_length=100)
    tool_mm: Place = (0.0, 0.0, 0.0)
    minded: tuple[tuple[str, str], ...] = ()
    members: tuple[MemberTemplate, ...]
    axes: tuple[AxisTemplate, ...]
    boxes: tuple[BoxTemplate, ...] = ()
    faces: tuple[FaceTemplate, ...] = ()
    measures: tuple[MeasureTemplate, ...] = ()
    tool_built: dict[str, str] = {}
    by: str = Field(default="", max_length=200, exclude_if=lambda by: not by)
    on: str = Field(default="", max_length=10, pattern=r"^(\d{4}-\d{2}-\d{2})?$", exclude_if=lambda on: not on)
    """Who measured it, and on which day."""

    @model_validator(mode="after")
    def _names_are_there(self) -> MachineTemplate:
        members, axes = {m.id for m in self.members}, {a.name for a in self.axes}
        asked: list[tuple[str, str, set[str]]] = [
            *((f"member {m.id}", m.on, members | {""}) for m in self.members),
            *((f"member {m.id}", m.axis, axes | {""}) for m in self.members),
            *((f"axis {a.name}", name, members) for a in self.axes for name in (a.moving, a.still)),
            *((f"box {b.name}", b.member, members) for b in self.boxes),
            *((f"face {f.name}", name, members) for f in self.faces for name in (f.member, f.reader_member)),
            *((f"face {f.name}", f.axis, axes) for f in self.faces),
        ]
        for what, name, there in asked:
            if name not in there:
                raise ValueError(f"{what} names “{name}”, which is not there")
        self._sums_are_told()
        for box in self.boxes:
            if any(low > high for low, high in zip(box.min_mm, box.max_mm, strict=True)):
                raise ValueError(f"box {box.name} has a min_mm above its max_mm")
        return self

    def _sums_are_told(self) -> None:
        """Every sum can be told from measures, travels and sides; raises BadInputError, which is a ValueError."""
        given = {m.key: m.value_mm for m in self.measures} | {f"{a.name}.travel": a.travel_mm for a in self.axes}
        sums = {f"tool.{side}": text for side, text in self.tool_built.items()}
        for box in self.boxes:
            sides = zip(SIDES, (v for pair in zip(box.min_mm, box.max_mm, strict=True) for v in pair), strict=True)
            given |= {f"{box_key(box.name)}.{s}": v for s, v in sides if s not in box.built}
            sums |= {f"{box_key(box.name)}.{s}": text for s, text in box.built.items()}
        faces = {f"{n}.{s}": text for n, face in enumerate(self.faces) for s, text in face.built.items()}
        tell(sums | faces, given)


def box_key(name: str) -> str:
    """The name by which sums speak of a box: ``T-slot ends`` is ``t_slot_ends``."""
    return re.sub(r"\W+", "_", name).strip("_").lower()


def read_template(path: Path) -> MachineTemplate:
    """A template file; raises BadInputError naming what is wrong and where."""
    try:
        template = MachineTemplate.model_validate(read_json(path))
        _check_begins_a_job(template)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        said = first["msg"].removeprefix("Value error, ")
        if first["type"] == "string_too_long":
            said = f"{len(first['input'])} characters; at most {first['ctx']['max_length']} fit"
        raise BadInputError(f"{path.name} is no machine template: {where + ': ' if where else ''}{said}.") from None
    except JobContentError as error:
        raise BadInputError(f"{path.name} is no machine template: {error}.") from None
    return template


def _check_begins_a_job(template: MachineTemplate) -> None:
    """A template is one that a job can begin with; raises ValidationError or JobContentError where it can't."""
    number = itertools.count()
    made = template_entities(template, "", lambda: f"e{next(number)}")
    check_entities([JobInfo(id="info", title="A job"), *made])


def write_template(template: MachineTemplate, path: Path) -> None:
    """Write a template as JSON; raises JobFileError when it can't be written."""
    make_folder(path.parent)
    write_text(path, json.dumps(template.model_dump(mode="json", by_alias=True), ensure_ascii=False, indent=1) + "\n")


def own_templates(folder: Path) -> tuple[list[MachineTemplate], list[str]]:
    """The user's own templates in ``folder``, and what is wrong with the files there that are none."""
    found: list[MachineTemplate] = []
    paths, wrong = json_files(folder)
    for path in paths:
        try:
            found.append(read_template(path))
        except VernusError as error:
            wrong.append(str(error))
    return found, wrong


def template_file_name(label: str) -> str:
    """A file name for a template of that label."""
    return (re.sub(r"[^\w-]+", "-", label).strip("-").lower() or "machine") + ".json"


def _at(mm: float) -> LengthEntry:
    return LengthEntry(mm=mm)


def _triple(*entries: LengthEntry | None) -> Place:
    x, y, z = (0.0 if e is None else e.mm for e in entries)
    return x, y, z


def template_entities(template: MachineTemplate, machine_name: str, new_id: Any) -> list[Entity]:
    """The machine, axes, boxes and faces of a new job; ``new_id`` makes ids."""
    machine = Machine(
        id=new_id(),
        name=machine_name or template.label,
        machine_kind=template.id,
        kind_label=template.label,
        members=tuple(MemberPart(id=m.id, on=m.on, axis=m.axis) for m in template.members),
        minded=template.minded,
        slid=tuple((m.id, m.slides) for m in template.members if m.slides),
        tool_x=_at(template.tool_mm[0]),
        tool_y=_at(template.tool_mm[1]),
        tool_z=_at(template.tool_mm[2]),
        built=tuple((f"tool_{side}", text) for side, text in template.tool_built.items()),
    )
    axes = {
        a.name: Axis(
            id=new_id(), machine_id=machine.id, name=a.name, label=a.label, moving=a.moving, still=a.still,
            direction=a.direction, usual=_at(a.travel_mm), home=a.home, usual_on=a.scale_on,
            readout=a.readout, lead=_at(a.lead_mm) if a.lead_mm else None,
        )
        for a in template.axes
    }  # fmt: skip
    boxes = [box_entity(b, new_id()) for b in template.boxes]
    faces = [
        Face(
            id=new_id(), axis_id=axes[f.axis].id, name=f.name, member=f.member, reader_member=f.reader_member,
            x=_at(f.at_mm[0]), y=_at(f.at_mm[1]), z=_at(f.at_mm[2]), along=f.along, out=f.out, length=_at(f.length_mm),
            flat=f.flat, exposure=f.exposure, holes=f.holes, parts=f.parts, bracket=f.bracket, separate=f.separate,
            arm=f.arm, note=f.note, built=tuple(f.built.items()),
        )
        for f in template.faces
    ]  # fmt: skip
    measures = [
        Measure(
            id=new_id(), key=m.key, label=m.label, how=m.how, pose=m.pose, low=m.low, high=m.high,
            likely_mm=m.likely_mm, value=_at(m.value_mm),
        )
        for m in template.measures
    ]  # fmt: skip
    return [machine, *axes.values(), *measures, *boxes, *faces]


def box_entity(box: BoxTemplate, entity_id: str) -> SolidBox:
    """A box of a template as an entity."""
    (left, front, bottom), (right, back, top) = box.min_mm, box.max_mm
    return SolidBox(
        id=entity_id, name=box.name, member=box.member, role=box.role, left=_at(left), right=_at(right),
        front=_at(front), back=_at(back), bottom=_at(bottom), top=_at(top), why=box.why,
        key=box_key(box.name), built=tuple(box.built.items()), shape=box.shape,
        fitted=box.fitted,
    )  # fmt: skip


def template_of(entities: Sequence[Entity], label: str) -> MachineTemplate:
    """The machine among some entities as a template of the user's own.

    Raises BadInputError when there is none, or when a box has its sides swapped.
    """
    machine = next((e for e in entities if isinstance(e, Machine)), None)
    if machine is None:
        raise BadInputError("There is no machine to keep as a template.")
    axes = [e for e in entities if isinstance(e, Axis)]
    names = {a.id: a.name for a in axes}
    slid = dict(machine.slid)
    try:
        return MachineTemplate(
            id=template_file_name(label).removesuffix(".json"),
            label=label,
            tool_mm=_triple(machine.tool_x, machine.tool_y, machine.tool_z),
            minded=machine.minded,
            members=tuple(
                MemberTemplate(id=m.id, on=m.on, axis=m.axis, slides=slid.get(m.id, "")) for m in machine.members
            ),
            axes=tuple(_axis_template(a) for a in axes if a.direction),
            boxes=tuple(
                BoxTemplate(
                    name=b.name, member=b.member, min_mm=_triple(b.left, b.front, b.bottom),
                    max_mm=_triple(b.right, b.back, b.top), role=b.role, why=b.why,
                    shape=b.shape, built=dict(b.built), fitted=b.fitted,
                )
                for b in entities
                if isinstance(b, SolidBox)
            ),
            faces=tuple(
                FaceTemplate(
                    axis=names[f.axis_id], name=f.name, member=f.member, reader_member=f.reader_member,
                    at_mm=_triple(f.x, f.y, f.z), along=f.along, out=f.out, length_mm=f.length.mm, flat=f.flat,
                    exposure=f.exposure, holes=f.holes, parts=f.parts, bracket=f.bracket, separate=f.separate,
                    arm=f.arm, note=f.note, built=dict(f.built),
                )
                for f in entities
                if isinstance(f, Face) and f.axis_id in names
            ),
            measures=tuple(
                MeasureTemplate.model_validate(
                    {"key": m.key, "label": m.label, "how": m.how, "value_mm": m.value.mm, "likely_mm": m.likely_mm,
                     "from": m.low, "to": m.high, "pose": m.pose}
                )
                for m in entities
                if isinstance(m, Measure)
            ),
            tool_built={field.removeprefix("tool_"): text for field, text in machine.built},
        )  # fmt: skip
    except ValidationError as error:
        said = error.errors()[0]["msg"].removeprefix("Value error, ")
        raise BadInputError(f"This machine can't be kept as a template yet: {said}.") from None


def _axis_template(axis: Axis) -> AxisTemplate:
    assert axis.direction
    return AxisTemplate(
        name=axis.name, label=axis.label, moving=axis.moving, still=axis.still, direction=axis.direction,
        travel_mm=axis.usual.mm if axis.usual else 100.0, home=axis.home, scale_on=axis.usual_on,
        readout=axis.readout, lead_mm=axis.lead.mm if axis.lead else 0.0,
    )  # fmt: skip
