"""The steps of the job: of each axis's readout, of its power feed, and of the machine as a whole."""

from __future__ import annotations

import itertools
from dataclasses import replace

from vernus.core.keep.schedule import JobStep
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.feed.feed import feed_result, step_key
from vernus.job.happened import SCREWS, screws_touched
from vernus.job.keep.steps_made import comes_off, makes_parts, put_back_on, taken_off, with_parts
from vernus.job.keep.steps_own import BY_HAND, with_own
from vernus.job.known.axis_figures import chosen_face, feed_of
from vernus.job.known.lengths import family_of
from vernus.job.machine.geometry import keep_reachable
from vernus.job.make.delivered import missing_of
from vernus.job.make.machine_holes import drills_anything
from vernus.job.plan.faces import covered_features
from vernus.job.scope import axes_in_scope, gets_scale, is_lathe, on_display


def steps_of(job: Job) -> list[JobStep]:
    """Every step, none of them for an axis that nothing is fitted to."""
    axes = work_order(job)
    steps = [
        JobStep(
            "isolate", "", "Isolate the machine and lock it off; clear the table.", (), "padlock",
            "Keep the key with you until the covers are back.",
        )
    ]  # fmt: skip
    steps += [_survey(a) for a in axes]
    off = comes_off(job, axes)
    steps += taken_off(job, off) if off is not None else []
    fitted, fed = [a for a in axes if gets_scale(a)], [a for a in axes if a.drive == "new"]
    steps += [_screw_end(a) for a in fed]
    steps += _planned(fitted, fed) if fitted or fed else []
    steps += [_kit(a, after="receive" if fitted else "order") for a in fed]
    steps += [_ask_for(a, missing_of(job, a)) for a in fitted if missing_of(job, a)]
    for axis in fitted:
        steps += _fitting(job, axis)
    new = [a for a in fitted if a.readout == "new"]
    for axis in new:
        steps += _connected(axis, first=axis is new[0])
    steps += put_back_on(job, off, new) if off is not None else []
    for axis in axes:
        steps += _proved(axis, new, after="putback" if axis is off else "")
    if len(fitted) > 1 and (job.info.pace or ("one" if job.info.begin == "hardest" else "")) == "one":
        steps = _one_by_one(steps, fitted)
    for axis in fed:
        steps += _feed_steps(job, axis)
    steps = _screws_first(job, axes, steps)
    if fitted or fed:
        steps += _put_back(job, axes)
    steps += _by_hand(job, fitted)
    words = "A month after: look for rub marks on cover, body and reader."
    steps += [JobStep(f"rub-{a.name}", a.name, words, ("again",)) for a in fitted]
    return with_own(job, steps)


def _screws_first(job: Job, axes: list[Axis], steps: list[JobStep]) -> list[JobStep]:
    """Something that can loosen screws happened to an axis: they are gone over before anything else is done to it."""
    for axis in axes:
        event = screws_touched(job, axis)
        firsts = [s.key for s in steps if s.axis == axis.name and s.key.split("-")[0] in _AFTER_SCREWS]
        if event is None or not firsts:
            continue
        key, place = f"{SCREWS}-{axis.name}", next(n for n, s in enumerate(steps) if s.key == firsts[0])
        words = "Go over every screw of body, bracket and reader: something has happened to it since."
        screws = JobStep(key, axis.name, words, (), "keys", "Isolate first. Nothing is swept over a loose screw.")
        steps = [replace(s, needs=(*s.needs, key)) if s.key in firsts else s for s in steps]
        steps.insert(place, screws)
    return steps


_AFTER_SCREWS = ("align", "reader", "calibrate", "prove")


def _screw_end(axis: Axis) -> JobStep:
    """What a feed hangs on is measured before the kit is ordered: what doesn't fit would need a parcel of its own."""
    words = "Measure the end of the screw: diameter, how far it stands out, key and thread; the kit is ordered by it."
    care = "Nothing is taken apart yet."
    return JobStep(f"screwend-{axis.name}", axis.name, words, (f"survey-{axis.name}",), "caliper, depth gauge", care)


def _kit(axis: Axis, after: str) -> JobStep:
    words = "Measure the kit of the feed; see what fits and what is to be made."
    return JobStep(f"fit-{axis.name}", axis.name, words, (f"screwend-{axis.name}", after), "caliper, depth gauge")


def _survey(axis: Axis) -> JobStep:
    words = "Measure the travel, twice" + (", and the holes there are." if gets_scale(axis) else ".")
    care = "Don't let the screw run out of its nut."
    return JobStep(f"survey-{axis.name}", axis.name, words, ("isolate",), "scriber, tape or caliper", care)


def _planned(fitted: list[Axis], fed: list[Axis]) -> list[JobStep]:
    """Choosing, ordering, measuring what came, and the stops that go on before any reader."""
    places = "scale, face and display place" if any(a.readout == "new" for a in fitted) else "scale and face"
    steps = [JobStep(f"plan-{a.name}", a.name, f"Choose {places}.", (f"survey-{a.name}",)) for a in fitted]
    need = *(f"plan-{a.name}" for a in fitted), *(f"screwend-{a.name}" for a in fed)
    steps.append(JobStep("order", "", "Order what the list says.", need))
    if not fitted:
        return steps
    care = "Keep clips, gap shims and certificates in one bag."
    steps.append(JobStep("receive", "", "Measure what arrived before anything is made.", ("order",), "caliper", care))
    words, care = "Fit stops and bumpers before any reader goes on.", "Metal must meet metal before a reader its end."
    return [*steps, JobStep("stops", "", words, ("receive",), "lathe, tap", care)]


def _ask_for(axis: Axis, missing: str) -> JobStep:
    words = f"Ask for what was missing: {missing}."
    return JobStep(f"missing-{axis.name}", axis.name, words, ("receive",), "", "Tick it on Receive when it is there.")


def _one_by_one(steps: list[JobStep], fitted: list[Axis]) -> list[JobStep]:
    """Every axis proved before the dry fit of the next one begins."""
    before = {f"hold-{b.name}": f"prove-{a.name}" for a, b in itertools.pairwise(fitted)}
    return [replace(s, needs=(*s.needs, before[s.key])) if s.key in before else s for s in steps]


_DIFFICULTY = {"z": 3, "y": 2, "x": 1}


def work_order(job: Job) -> list[Axis]:
    """The axes in scope in the order they are done: easiest first to learn, or hardest first.

    An upright axis is the hardest, one under the table or across the bed next; common practice, no source.
    """
    axes = sorted(axes_in_scope(job), key=lambda a: _DIFFICULTY.get(a.direction[1:], 2) if a.readout != "none" else 0)
    return axes[::-1] if job.info.begin == "hardest" else axes


def _connected(axis: Axis, *, first: bool) -> list[JobStep]:
    """Cable and first power-up of an axis: any may be tried before another is begun; the display is earthed once."""
    name = axis.name
    earth = "; earth the display to the machine" if first else ""
    care = "Hold every axis at its farthest corner while tying."
    words = f"Route the cable with the display off{earth}."
    cables = JobStep(f"cables-{name}", name, words, (f"cover-{name}",), "clips, ties", care)
    words = "First power-up: does it count, the right way, over the whole stroke?"
    care = "Before hidden parts are closed up."
    return [cables, JobStep(f"powerup-{name}", name, words, (f"cables-{name}",), "", care)]


def _proves(axis: Axis) -> bool:
    """Whether an axis is checked and proved: not where a feed is added to a scale that is there already."""
    return axis.readout != "none" and not (axis.readout == "there" and axis.drive == "new")


def _proved(axis: Axis, new: list[Axis], after: str) -> list[JobStep]:
    """Checking the display, and proving the axis; ``after`` what else must be done before."""
    if not _proves(axis):
        return []
    need = after or (
        f"powerup-{axis.name}"
        if axis in new
        else f"cover-{axis.name}"
        if axis.readout == "own"
        else f"survey-{axis.name}"
    )
    steps = []
    if on_display(axis):
        words = "Check against a reference and key in what it says."
        care = "Let machine and reference reach one temperature."
        key = f"calibrate-{axis.name}"
        steps.append(JobStep(key, axis.name, words, (need,), "gauge blocks, indicator", care))
        need = key
    words = "Prove it: targets in both directions, small steps, back to zero."
    return [*steps, JobStep(f"prove-{axis.name}", axis.name, words, (need,), "indicator")]


def _by_hand(job: Job, fitted: list[Axis]) -> list[JobStep]:
    """What has to be done by hand from now on because a scale covers it."""
    steps: list[JobStep] = []
    named = {b.name: b for b in keep_reachable(job) if b.covered == "by hand"}
    for axis in fitted:
        for name in covered_features(job, axis) if named else ():
            box = named.pop(name, None)
            if box is not None:
                words = f"By hand every {round(box.every_days)} days: {name}, covered by the {axis.name} scale."
                steps.append(JobStep(f"{BY_HAND}{box.id}", axis.name, words, (f"cover-{axis.name}",), "", box.why))
    return steps


def _put_back(job: Job, axes: list[Axis]) -> list[JobStep]:
    """Painting what was made, once it proved itself; then everything back in its place."""
    last = [f"prove-{a.name}" for a in axes if _proves(a)]
    last += [f"test-{a.name}" for a in axes if a.drive == "new"]
    tram = "Sweep the tailstock in again if it was moved." if is_lathe(job) else "Tram the head again if it was moved."
    steps = []
    if any(makes_parts(job, a) for a in axes):
        words = (
            "The trial fit is proved: take off what was made, clean, paint and seal it, and the edges that were cut."
        )
        care = "Not the seats of body and reader, and no paint in threads. Ventilate; no flames."
        steps.append(JobStep("paint", "", words, tuple(last), "degreaser, paint, sealant", care))
        last = ["paint"]
    return [*steps, JobStep("again", "", f"Put it all back: guards, stops, oil. {tram}", tuple(last), "indicator")]


def _feed_steps(job: Job, axis: Axis) -> list[JobStep]:
    """The steps of a power feed; stops go on before the bracket, or they are trapped behind it.

    What is made for it comes once it is measured, before the unit goes on; the cover before the gears are closed up.
    """
    name = axis.name
    after = (f"prove-{name}" if _proves(axis) else f"survey-{name}", f"fit-{name}")
    feed = feed_of(job, axis)
    by = ("ear", "") if feed is not None and feed.school == "ear" else ("paper and indicator", "paper, indicator, ")
    chain = (
        ("off", "Take off handle, dial and bracket; list and keep every part.", "keys, puller",
         "Isolated and locked off. Support the screw."),
        ("trip", "Put the trip stops on before the bracket.", "", "Afterwards they are trapped behind it."),
        ("mesh", "Bracket, drive gear, unit: set the mesh by " + by[0] + ", shim the stand-off.",
         by[1] + "shims", "Turn the handwheel through the whole travel before tightening for good."),
        ("guard", "Grease the gears, fit the cover, turn the handwheel through once more.", "grease, cover",
         "No gear runs uncovered."),
        ("runon", "Measure the run-on with temporary stops in mid travel, both ways, slow then rapid.", "",
         "Covers on. Handle folded or off: a spinning handle breaks fingers."),
        ("feed", "Set the final stops, run into each slowly, then at rapid.", "", "A hand on the stop."),
        ("test", "Try it: reverses only from standstill, rapid only while held, what the lamp means, earth.", "",
         "Under load only after both trips have stopped it at rapid."),
    )  # fmt: skip
    wanted = () if feed is None else feed_result(job, axis, feed).wanted
    made: dict[str, list[JobStep]] = {"mesh": [], "guard": []}
    for what in dict.fromkeys(wanted):
        made["guard" if what == "gear cover" else "mesh"].append(_feed_part(axis, what))
    steps: list[JobStep] = []
    need: tuple[str, ...] = after
    for key, words, tools, care in chain:
        own = made.get(key, [])
        steps += own
        need = (*need, *(s.key for s in own))
        steps.append(JobStep(f"{key}-{name}", name, words, need, tools, care))
        need = (f"{key}-{name}",)
    return steps


_MADE_OF_A_FEED = ("coupler", "sleeve", "stepped key", "feed bracket", "gear cover")


def _feed_part(axis: Axis, what: str) -> JobStep:
    """The step by which a part of a feed is made, or seen to."""
    sheet = "Bracket" if what in ("feed bracket", "gear cover") else "Fit"
    verb = "Make the" if what in _MADE_OF_A_FEED else "See to the"
    return JobStep(step_key(axis, what), axis.name, f"{verb} {what}; how is on {sheet}.", (f"fit-{axis.name}",))


def _fitting(job: Job, axis: Axis) -> list[JobStep]:
    face = chosen_face(job, axis)
    where = face.name if face is not None else "its face"
    name, others, family = axis.name, "every axis that can meet it", family_of(job, axis)
    stuck = family is not None and family.held == "adhesive"
    what, lies = (
        ("a strip as thick as the tape", "the tape's edge and the bracket") if stuck else ("body", "body and bracket")
    )
    steps = (
        ("hold", "stops", f"Dry fit, {where}: hold {what}, reader and bracket with clamps, magnets or tape.",
         "clamps, magnets, tape", "Nothing is drilled yet. Keep magnets from pacemakers."),
        ("run", "hold", f"Dry fit: run {others} by hand through their whole strokes, in their corners too.", "",
         "Shipping clips off before the axis moves; watch cover, cable stub and locks."),
        ("mark", "run", f"Dry fit: mark {lies}, and measure the last gap again.", "scriber, caliper",
         "Note the height under Stack on Mounts: the last piece is made from that, not from the plan."),
        ("reach", "mark", "See that every screw can be reached with the tool that turns it.", "keys, drivers",
         f"Park the {axis.moving} or take its handwheel off where it can't; cut a key short if need be."),
        ("drill", "reach", f"Drill and tap, {where}.", "drill, taps, guide block, eye protection",
         f"Park the {axis.moving} so that the drill stands square; find out what is behind the wall."),
        ("align", "drill", "Hang the body, snug, sweep and align in both planes.", "indicator", ""),
        *_reader(job, axis),
    )  # fmt: skip
    if family is not None and family.body_type == "rod":
        steps = tuple(chain for step in steps for chain in (_rod_steps() if step[0] == "align" else (step,)))
    if family is not None and family.held == "adhesive":
        steps = tuple(chain for step in steps for chain in (_tape_steps(step) if step[0] == "align" else (step,)))
    if not drills_anything(job, axis):  # what comes after the drilling then comes after what it came after
        steps = tuple((k, "reach" if n == "drill" else n, w, t, c) for k, n, w, t, c in steps if k != "drill")
    made = [
        JobStep(f"{key}-{name}", name, words, (need if need == "stops" else f"{need}-{name}",), tools, care)
        for key, need, words, tools, care in steps
    ]
    if job.info.comes_off and job.info.off_for == axis.id:
        made[0] = replace(made[0], needs=(*made[0].needs, "takeoff"))
    return with_parts(job, axis, made)


def _rod_steps() -> tuple[tuple[str, str, str, str, str], ...]:
    """A rod goes in by its own order: guard and reader, tram, then the rod, end after end."""
    return (
        ("rodguard", "drill", "Fit the guard and the reader's bracket, before the rod.", "keys", ""),
        ("align", "rodguard", "Tram the reader in both planes, over its own length.", "indicator", ""),
        ("rod", "align", "Thread the rod through; mark both anchors with the reader at each end of the travel.",
         "scriber", "Don't let the rod hang in the reader."),
        ("snug", "rod", "Reader near one end: tighten support, link, rod, in that order, wiggling them home.",
         "keys", ""),
        ("other", "snug", "Run to the other end and do the same there.", "keys", ""),
        ("bind", "other", "Run the whole stroke by hand and feel for binding; sweep the rod in both planes.",
         "indicator", "Slacken the anchors nearest to where it binds."),
    )  # fmt: skip


def _tape_steps(align: tuple[str, str, str, str, str]) -> tuple[tuple[str, str, str, str, str], ...]:
    """A tape is stuck on a clean face along a line, and rolled down, before the head is set over it."""
    return (
        ("clean", align[1], "Scrape and degrease the face; scribe the line the tape's edge follows.",
         "scraper, solvent, lint-free cloth, scriber", "Solvents: ventilate, no flames. Don't touch the face then."),
        ("stick", "clean", "Stick the tape along the line from one end, backing off a hand's width at a time.",
         "straightedge", "No tension and no bubble; it doesn't come off again whole. Magnets well away."),
        ("roll", "stick", "Roll it down, twice over, from the middle to both ends.", "rubber roller",
         "Let the adhesive set as its maker says before the head runs over it."),
        ("align", "roll", "Sweep the tape along its line in both planes: the head allows little sideways and in yaw.",
         align[3], "Where it wanders too far it is lifted and a new one stuck; it never holds twice."),
    )  # fmt: skip


_SET_BY = {
    "clips": ("Set the reader: gap over the whole stroke, clips off before anything moves.", "clips, feeler"),
    "shim": ("Set the reader: gap by its shim over the whole stroke, the shim back into its bag.", "shim, feeler"),
    "feeler": ("Set the head: gap tried with feelers at both ends of the stroke, wholly over the tape.", "feelers"),
    "none": ("Go through the reader's checklist; nothing may bind over the whole stroke.", ""),
}


def _reader(job: Job, axis: Axis) -> tuple[tuple[str, str, str, str, str], ...]:
    """Reader and cover; a readout of its own has neither gap nor cover, only its stroke to be run."""
    if axis.readout == "own":
        return (("cover", "align", "Run the whole stroke; nothing may rub or bind.", "", ""),)
    family = family_of(job, axis)
    words, tools = _SET_BY["clips" if family is None else family.gap_by]
    cover = "cover" if family is None else family.covered_by
    on = f"{cover[:1].upper()}{cover[1:]} on; it must not rub. Run the whole stroke."
    after = "bind" if family is not None and family.body_type == "rod" else "align"
    return (("reader", after, words, tools, ""), ("cover", "reader", on, "", ""))
