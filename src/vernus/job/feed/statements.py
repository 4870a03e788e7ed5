"""What is said of a power feed: where its trips go."""

from __future__ import annotations

from vernus.core.errors import BadInputError
from vernus.core.feed.fit import TurnedPart
from vernus.core.feed.keys import SteppedKey
from vernus.core.finding import AxisEnd, Fine, Mm, Sentence
from vernus.core.machine.stroke import ENDS
from vernus.job.document import Job
from vernus.job.entities import Axis, PowerFeed
from vernus.job.feed.chain import driven_words
from vernus.job.feed.feed import feed_result
from vernus.job.feed.mesh import mesh_result
from vernus.job.feed.trips import stops_result
from vernus.job.known.axis_figures import feed_of
from vernus.job.known.run_on import worked_over
from vernus.job.make.mounts import blank_of
from vernus.job.make.statements import hole_statement
from vernus.job.sheet_names import SheetName
from vernus.job.statement import Statement


def feed_statements(job: Job, axis: Axis) -> list[Statement]:
    """The trips of both ends, the mesh of its gears, and the parts that are made for it."""
    feed = feed_of(job, axis)
    if feed is None:
        return []
    return [*_drive(job, axis, feed), *_trips(job, axis, feed), *_mesh(job, axis, feed), *_parts(job, axis, feed)]


def _drive(job: Job, axis: Axis, feed: PowerFeed) -> list[Statement]:
    """What drives gear and handwheel, and what holds each along the screw."""
    if axis.drive != "new":
        return []
    chain, found = feed_result(job, axis, feed).fit.chain, list[Statement]()
    for row, words in () if chain is None else driven_words(chain, feed):
        figures: dict[str, object] = {"of": row.of, "by": row.by, "held_by": row.held_by}
        found.append(Statement("drive", axis.name, row.of, "fit", words, figures))
    return found


def _mesh(job: Job, axis: Axis, feed: PowerFeed) -> list[Statement]:
    """How far apart the gears go, and what the last trial says of their backlash."""
    try:
        result = mesh_result(job, axis, worked_over(job, axis, feed))
    except BadInputError:
        return []
    if result.mesh is None:
        return []
    centre = result.mesh.centre_mm + result.mesh.open_mm
    verdict = "pass" if result.agreed else None if result.measured_mm is None else "fail"
    found = result.measured_mm
    lash = result.mesh.backlash_mm if found is None else found
    told = "of backlash are to be expected" if found is None else "of backlash were measured"
    values = {"centre": Mm(centre), "lash": Fine(lash)}
    words = Sentence("The gears go {centre} apart; {lash} " + told + ".", values)
    figures = {"centre_mm": centre, "backlash_mm": lash, "slide_mm": result.slide_mm, "verdict": verdict}
    return [Statement("mesh", axis.name, "", "mesh", words, figures)]


def _parts(job: Job, axis: Axis, feed: PowerFeed) -> list[Statement]:
    """The parts made for a new feed, with the stock each is made from."""
    if axis.drive != "new":
        return []
    result, found = feed_result(job, axis, feed), list[Statement]()
    stock = {p.name: (_stock(p), i.words) for i in result.fit.items if (p := i.part) is not None}
    if result.bracket is not None:
        stock["feed bracket"] = (blank_of(result.bracket.part), result.bracket.instruction)
    if result.cover is not None and feed.covered != "yes":
        cover = result.cover
        stock["gear cover"] = ((cover.long_mm, cover.wide_mm, cover.deep_mm), cover.words)
    for name, (sizes, how) in stock.items():
        state = "to make again" if name in result.again else "to make" if name in result.unmade else "made"
        home: SheetName = "bracket" if name in ("feed bracket", "gear cover") else "fit"
        figures: dict[str, object] = {
            "name": name, "count": 1, "material": "steel", "stock_mm": list(sizes), "state": state,
        }  # fmt: skip
        words = Sentence("{name}: {how} {state}.", {"name": name.capitalize(), "how": how, "state": state.capitalize()})
        found.append(Statement("part", axis.name, f"feed-{name}", home, words, figures))
    rows = result.bracket.rows if result.bracket is not None else ()
    return [*found, *(hole_statement(axis, "feed-bracket", "feed bracket", row, "bracket") for row in rows)]


def _stock(part: TurnedPart | SteppedKey) -> tuple[float, float, float]:
    """What a part is turned or filed from (mm)."""
    if isinstance(part, SteppedKey):
        return part.length_mm, max(part.shaft_width_mm, part.hub_width_mm), part.height_mm
    largest = max(diameter for diameter, _ in part.steps_mm)
    return part.length_mm + (part.claws_mm or 0.0), largest, largest


def _trips(job: Job, axis: Axis, feed: PowerFeed) -> list[Statement]:
    """The trips of both ends, from the low mark, and what decides each."""
    result = stops_result(job, axis, feed)
    if result.stroke is None or result.stroke.trips_mm is None:
        return []
    line, found, rests = result.stroke, [], () if result.measured else ("run-on",)
    for end, at, by in zip(ENDS, result.stroke.trips_mm, line.trips_by, strict=True):
        decided = "scale" if by == "scale" else "stop" if line.stop_at(end) is not None else "hard"
        words = Sentence("The {end} trip stands {at} from the {@low} mark.", {"end": AxisEnd(end), "at": Mm(at)})
        said = {"end": end, "at_mm": at, "decided_by": decided}
        found.append(Statement("trip", axis.name, end, "trips", words, said, rests))
    return found
