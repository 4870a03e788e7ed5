"""The steps of what is made, drilled and taken off: one per part, per pattern of holes; a member off and on again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vernus.core.keep.schedule import JobStep
from vernus.job.document import Job
from vernus.job.entities import Axis, HolePattern, MountPart, Step
from vernus.job.make.machine_holes import MachineHoles, machine_holes
from vernus.job.make.mounts import mount_result
from vernus.job.make.parts import holes_of, patterns_of
from vernus.job.make.served import parts_of
from vernus.job.scope import gets_scale

_COVERS = ("cover", "deflector")
_KINDS = {
    "standoff": "standoff block", "plate": "backing plate", "angle": "angle bracket", "bridge": "bridge plate",
    "t-nut": "T-nut bar", "stud": "stud", "spacer": "spacer", "ring": "ring", "cover": "cover",
    "deflector": "deflector",
}  # fmt: skip


def made_of(job: Job, axis: Axis) -> list[MountPart]:
    """The parts of an axis that are made, not those that are faces of the machine."""
    wanted = gets_scale(axis) or axis.drive == "new"
    return [p for p in parts_of(job, axis) if p.part_kind != "face"] if wanted else []


def makes_parts(job: Job, axis: Axis) -> bool:
    """Whether anything is made for an axis."""
    return bool(made_of(job, axis))


def with_parts(job: Job, axis: Axis, steps: Sequence[JobStep]) -> list[JobStep]:
    """The fitting of an axis with a step per part and per pattern of holes, each before what needs it.

    A part that fills a gap is made once that was measured. One that is bolted to the machine is made before the
    drilling, so that its holes are spotted through; covers and deflectors are wanted by the cover's step, every other
    part by the first step that puts something on it: what carries a tape stands before the tape is stuck on.
    """
    drilled = _drilling(job, axis, next((s for s in steps if s.key == f"drill-{axis.name}"), None))
    found: list[JobStep] = []
    parts = made_of(job, axis)
    held = tuple(f"make-{p.id}" for p in parts if p.part_kind not in _COVERS)
    covers = tuple(f"make-{p.id}" for p in parts if p.part_kind in _COVERS)
    spotted = tuple(
        f"make-{p.id}" for p in parts if p.bolts_to == "machine" and p.fixed != "foam" and f"make-{p.id}" in held
    )
    spotted = spotted if drilled else ()
    held = tuple(k for k in held if k not in spotted)
    hung = next((s.key for s in steps if s.key.split("-")[0] in ("rodguard", "clean", "align")), "")
    for step in steps:
        if step.key == f"drill-{axis.name}":
            found += [_make(job, axis, p) for p in parts if f"make-{p.id}" in spotted]
            drilled = [replace(drilled[0], needs=(*drilled[0].needs, *spotted)), *drilled[1:]] if drilled else []
            found += drilled
            continue
        if drilled and f"drill-{axis.name}" in step.needs:
            step = replace(step, needs=tuple(drilled[-1].key if n == f"drill-{axis.name}" else n for n in step.needs))
        if step.key == hung:
            found += [s for p in parts if f"make-{p.id}" in held for s in (_make(job, axis, p), *_stuck(axis, p))]
            pressed = tuple(f"press-{p.id}" for p in parts if p.fixed == "foam" and f"make-{p.id}" in held)
            step = replace(step, needs=(*step.needs, *held, *pressed))
        if step.key == f"cover-{axis.name}" and covers:
            found += [s for p in parts if f"make-{p.id}" in covers for s in (_make(job, axis, p), *_stuck(axis, p))]
            names = " and ".join(p.name or _KINDS[p.part_kind] for p in parts if f"make-{p.id}" in covers)
            step = replace(step, needs=(*step.needs, *covers), words=f"{step.words.rstrip('.')}, with {names} on.")
        found.append(step)
    return found


def _make(job: Job, axis: Axis, part: MountPart) -> JobStep:
    name, kind = part.name or "a part", _KINDS[part.part_kind]
    what = name if kind in name.lower() else f"{name}, {kind}"
    needs = (f"mark-{axis.name}",) if part.gap is not None else ("receive",)
    tools = ", ".join(mount_result(job, part).tools)
    care = "The last piece: by the gap measured, not by the plan." if part.gap is not None else ""
    return JobStep(f"make-{part.id}", axis.name, f"Make {what}; sizes and holes are on Mounts.", needs, tools, care)


def _stuck(axis: Axis, part: MountPart) -> list[JobStep]:
    """What a part held by foam tape wants: both faces degreased, then pressed on and left."""
    if part.fixed != "foam":
        return []
    degrease = JobStep(
        f"degrease-{part.id}", axis.name, f"Degrease {part.name} and the face it goes on.", (f"make-{part.id}",),
        "solvent, lint-free cloth", "Air the room; no flames near the solvent.",
    )  # fmt: skip
    press = JobStep(
        f"press-{part.id}", axis.name, f"Stick {part.name} on with foam tape: press it on hard, leave it a day.",
        (degrease.key,), "foam tape, roller", "It can't be moved once it is pressed on: mark its line first.",
    )  # fmt: skip
    return [degrease, press]


def _drilling(job: Job, axis: Axis, step: JobStep | None) -> list[JobStep]:
    """The drilling of a face: the holes one by one, then each pattern; as it was where nothing was laid out yet."""
    faces = [p for p in parts_of(job, axis) if p.part_kind == "face"]
    patterns = [(f, p) for f in faces for p in patterns_of(job, f)]
    if step is None:
        return []
    tools = list(dict.fromkeys(t for f in faces for t in mount_result(job, f).tools))
    if tools:
        step = replace(step, tools=", ".join((*tools, "eye protection")))
    new = machine_holes(job, axis) if not patterns else []
    if new:
        step = replace(step, words=f"{step.words.rstrip('.')}: {_holes_words(job, new)}.")
    bolted = any(p.part_kind != "face" and p.bolts_to == "machine" for p in parts_of(job, axis))
    single = bolted or any(holes_of(job, f) for f in faces)
    found = [step] if single or not patterns else []
    for face, pattern in patterns:
        need = (found[-1].key,) if found else step.needs
        words = f"Drill and tap, {face.name or 'face'}: {_pattern_words(pattern)}."
        if pattern.hole_kind != "tapped":
            words = words.replace("Drill and tap", "Drill", 1)
        found.append(replace(step, key=f"drill-{axis.name}-{pattern.id}", words=words, needs=need))
    return found


def _holes_words(job: Job, new: Sequence[MachineHoles]) -> str:
    """The drill, the depth and the tap of each kind of hole, and where it is."""
    units = job.info.units
    return "; ".join(h.in_words().text(units) + f" ({h.where})" for h in new)


def _pattern_words(pattern: HolePattern) -> str:
    count = round(pattern.count) * (round(pattern.rows) if pattern.shape == "rectangle" else 1)
    carried = pattern.shape not in ("row", "rectangle", "circle")
    way = "carried over" if carried else f"{count} in a {pattern.shape}"
    return f"{pattern.thread}, {way}" if pattern.thread else way


def comes_off(job: Job, axes: Sequence[Axis]) -> Axis | None:
    """The axis for whose work something has to come off the machine; None where nothing has to."""
    return next((a for a in axes if job.info.comes_off and a.id == job.info.off_for and gets_scale(a)), None)


def taken_off(job: Job, axis: Axis) -> list[JobStep]:
    """A member comes off: what its tram reads and which shim sits where is noted first."""
    member = job.info.comes_off
    note = "Tick it with a note: what the indicator read where, and the shims by place. Take a picture."
    care = "It is heavy and topples: hoist, or a second person. Isolated and locked off."
    tram = f"Before the {member} comes off: note its tram readings, and which shim sits where."
    words = f"Take the {member} off; bag screws and shims, marked by place."
    return [
        JobStep("noteoff", axis.name, tram, ("isolate",), "indicator, feelers", note),
        JobStep("takeoff", axis.name, words, ("noteoff",), "hoist, keys", care),
    ]


def put_back_on(job: Job, axis: Axis, new: Sequence[Axis]) -> list[JobStep]:
    """The member goes on again once what it hides works, with its shims, and is trammed to what it read before."""
    member, name = job.info.comes_off, axis.name
    noted = next((s.note for s in job.all(Step) if s.key == "noteoff" and s.done and s.note), "")
    before = f" It was: {noted}" if noted else ""
    need = f"powerup-{name}" if axis in new else f"cover-{name}"
    words = f"Put the {member} back on its shims and tram it.{before}"
    care = "Note the new tram readings; what is off goes into the shims."
    return [JobStep("putback", name, words, (need,), "hoist, keys, indicator", care)]
