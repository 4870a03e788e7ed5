"""What is said of the parts of an axis: what to saw and shim, every hole, and the screws."""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.finding import Fine, Mm, Sentence
from vernus.core.make.hardware import thread_named
from vernus.core.make.hole_rows import HoleRow, hole_said
from vernus.core.make.joint import MADE_FOR_IT, Joint
from vernus.core.make.parts import FACE_WORDS
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart
from vernus.job.make.holes_there import holes_on_face
from vernus.job.make.last_piece import made_last
from vernus.job.make.lean import shims_of
from vernus.job.make.mounts import NOT_MADE, Made, blank_of, mount_result, screw_groups
from vernus.job.make.served import parts_of
from vernus.job.scope import gets_scale
from vernus.job.sheet_names import SheetName
from vernus.job.statement import Statement


def part_statements(job: Job, axis: Axis, made: Made = NOT_MADE) -> list[Statement]:
    """The parts of an axis with their holes and screws, and the holes that its face has; ``made`` tells their state."""
    if not (gets_scale(axis) or axis.drive == "new"):
        return []
    found = [s for part in parts_of(job, axis) for s in _part(job, axis, part, made)]
    return [*found, *_there(job, axis)]


def _part(job: Job, axis: Axis, entity: MountPart, made: Made) -> list[Statement]:
    result = mount_result(job, entity)
    if result.part is None:
        return []
    found: list[Statement] = []
    if entity.part_kind != "face":
        name, stock = entity.name or "a part", blank_of(result.part)
        state = made.get(entity.id, "to make")
        values: dict[str, object] = {k: Mm(mm) for k, mm in zip("lwt", stock, strict=True)}
        values |= {"name": name, "m": entity.material.replace("-", " "), "state": state}
        words = Sentence("{name}: 1 of {m}, from {l} × {w} × {t}; {state}.", values)
        figures: dict[str, object] = {
            "name": name, "count": 1, "material": entity.material, "stock_mm": list(stock), "state": state,
        }  # fmt: skip
        found.append(Statement("part", axis.name, entity.id, "mounts", words, figures))
    found += [hole_statement(axis, entity.id, entity.name or "a part", row, "mounts") for row in result.rows]
    return [*found, *_screws(axis, entity, result.rows), *_taken_off(job, axis, entity), *_shims(job, axis, entity)]


def hole_statement(axis: Axis, part: str, on: str, row: HoleRow, sheet: SheetName) -> Statement:
    """One hole of a part, from the lower left corner of the face it is seen on."""
    hole = row.hole
    seen = "the machine's side" if hole.face == "back" else "outside"
    face = FACE_WORDS[hole.face]
    values = {
        "n": row.number, "on": on, "face": face, "x": Mm(hole.x_mm), "y": Mm(hole.y_mm), "call": hole_said(row),
        "seen": seen,
    }  # fmt: skip
    words = Sentence(
        "Hole {n} of {on}, its {face} seen from {seen}: {x} from the left, {y} from below; {call}.", values
    )
    figures: dict[str, object] = {
        "on": on, "face": face, "seen_from": seen, "x_mm": hole.x_mm, "y_mm": hole.y_mm, "call": hole_said(row).text(),
        "thread": thread_named(hole.thread).name if hole.is_tapped else None, "diameter_mm": row.drill_mm,
        "depth_mm": row.drill_depth_mm, "new": True,
    }  # fmt: skip
    return Statement("hole", axis.name, f"{part}-{row.number}", sheet, words, figures)


def _there(job: Job, axis: Axis) -> list[Statement]:
    """The holes that the chosen face has already, where their place was measured."""
    found: list[Statement] = []
    for n, hole in enumerate(holes_on_face(job, axis), 1):
        if hole.place_mm is None:
            continue
        x, y = hole.place_mm
        name = hole.thread.name if hole.thread is not None else "plain"
        values = {"name": name, "where": hole.where, "x": Mm(x), "y": Mm(y, sign=True)}
        words = Sentence("There already, {where}: {name}, {x} from the left, {y} from the middle line.", values)
        figures: dict[str, object] = {
            "on": hole.where, "face": "face", "seen_from": "outside", "x_mm": x, "y_mm": y, "call": name,
            "thread": hole.thread.name if hole.thread is not None else None,
            "diameter_mm": None if hole.thread is None else hole.thread.major_mm,
            "depth_mm": hole.ends.thread_mm, "new": False,
        }  # fmt: skip
        found.append(Statement("hole", axis.name, f"there-{n}", "machine", words, figures))
    return found


def _screws(axis: Axis, entity: MountPart, rows: Sequence[HoleRow]) -> list[Statement]:
    found: list[Statement] = []
    for group in screw_groups(rows):
        first, screw = group[0], group[0].screw
        if screw is None:
            continue
        values = {"n": len(group), "screw": screw.in_words(), "part": entity.name or "a part"}
        words = Sentence("{n} of {screw} through {part}.", values)
        joint = first.joint.joint if first.joint is not None else None
        layers = [] if joint is None else _clamped(joint)
        into = None if joint is None else joint.into
        figures: dict[str, object] = {
            "part": entity.name or "a part", "thread": screw.thread.name, "length_mm": screw.length_mm,
            "count": len(group), "layers_mm": layers, "into_mm": screw.engaged_mm,
            "hole_mm": None if into is None or into.kind not in ("hole", "reader") or into == MADE_FOR_IT
            else into.thread_mm,
            "head": "sunk" if first.counterbore_mm is not None else "proud",
        }  # fmt: skip
        found.append(Statement("screw", axis.name, f"{entity.id}-{first.number}", "mounts", words, figures))
    return found


def _clamped(joint: Joint) -> list[float]:
    """What the screw of a joint clamps, layer by layer from under its head (mm): sunk into the first that is a part."""
    left, found = joint.counterbore_mm, list[float]()
    for layer in joint.layers:
        sunk = min(left, layer.thickness_mm) if layer.kind in ("part", "slot") else 0.0
        left -= sunk
        found.append(layer.thickness_mm - sunk)
    return [mm for mm in found if mm > 0]


def _taken_off(job: Job, axis: Axis, entity: MountPart) -> list[Statement]:
    last = made_last(job, entity)
    if last is None:
        return []
    figures: dict[str, object] = {
        "part": entity.name or "a part", "at_hand_mm": last.at_hand_mm, "to_mm": last.to_mm, "off_mm": last.off_mm,
    }  # fmt: skip
    return [Statement("take_off", axis.name, entity.id, "mounts", last.words, figures)]


def _shims(job: Job, axis: Axis, entity: MountPart) -> list[Statement]:
    found: list[Statement] = []
    for key, under, mm in shims_of(job, entity):
        words = Sentence("Shim of {mm} under {under}.", {"mm": Fine(mm), "under": under})
        figures: dict[str, object] = {"under": under, "thickness_mm": mm}
        found.append(Statement("shim", axis.name, f"{entity.id}-{key}", "mounts", words, figures))
    return found
