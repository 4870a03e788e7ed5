"""How far an axis travels: its surveys together, what is given up, and what that costs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, conclusion, finding, plain
from vernus.core.machine.stroke import solve_stroke
from vernus.core.machine.travel import Travel, compare_methods, handwheel_travel, useful_travel
from vernus.core.units import parse_number
from vernus.job.catalog.shipped import tools
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import give_up, surveys_of, unread
from vernus.job.refusals import limit_findings, refusal


@dataclass(frozen=True)
class TravelResult:
    """The axis's travel from its most certain survey; ``useful_mm`` is None while nothing usable is measured.

    ``surveys`` are (tool, travel), most certain first.
    """

    best: Travel | None
    useful_mm: float | None
    findings: tuple[Finding, ...]
    instruction: Sentence
    surveys: tuple[tuple[str, Travel], ...] = ()


def travel_result(job: Job, axis: Axis) -> TravelResult:
    """What the travel surveys of an axis say together."""
    findings = limit_findings(axis)
    for survey in job.of_axis(TravelSurvey, axis.id):
        findings += limit_findings(survey)
    surveys = tuple(surveys_of(job, axis))
    best = surveys[0][1] if surveys else None
    if best is None:
        ask = "Drive the axis to one end, scribe a line across the joint, drive to the other end, and log the distance."
        return TravelResult(None, None, tuple(findings), Sentence(ask))
    findings += best.findings
    for _, other in surveys[1:]:
        clash = compare_methods(best, other)
        if clash is not None:
            findings.append(clash)
    try:
        useful = useful_travel(best.travel_mm, *give_up(axis))
    except BadInputError as error:
        return TravelResult(best, None, (*findings, refusal(error)), plain(str(error)), surveys)
    if useful < best.travel_mm:
        findings.append(_given_up(axis))
    if sum(unread(axis)) >= best.travel_mm:
        too_much = refusal(BadInputError("More of the travel is given up than there is."))
        return TravelResult(best, None, (*findings, too_much), too_much.remedy, surveys)
    findings += [f for f in _unread(axis, best.travel_mm) if f.code == "driven-unread"]
    return TravelResult(best, useful, tuple(findings), _instruction(best, findings), surveys)


def _unread(axis: Axis, travel_mm: float) -> Sequence[Finding]:
    """What is driven through unread."""
    return solve_stroke(travel_mm, unread_mm=unread(axis)).findings if any(unread(axis)) else ()


def _given_up(axis: Axis) -> Finding:
    """What is given up and why; what it costs at the spindle stands beside it."""
    low, high = give_up(axis)
    costs = _consequence(axis)
    ends = (
        (low, "{low} at the {@low} end" + (" ({low_why})" if axis.give_up_low_why else "")),
        (high, "{high} at the {@high} end" + (" ({high_why})" if axis.give_up_high_why else "")),
    )
    told = [words for mm, words in ends if mm > 0]
    return finding(
        "travel-given-up",
        "info",
        "Travel is given up on purpose: " + ", ".join(told) + "." + (" {costs}" if costs is not None else ""),
        "Fit a stop at each such end, or the scale can be overrun.",
        low=Mm(low),
        high=Mm(high),
        low_why=axis.give_up_low_why,
        high_why=axis.give_up_high_why,
        costs=costs,
    )


def _consequence(axis: Axis) -> Sentence | None:
    """What giving up travel costs at the spindle, for an axis that moves up or down (None: nothing, or not known)."""
    closing = _closing_end(axis)
    if closing is None:
        return None
    given = give_up(axis)[0 if closing == "low" else 1]
    return Sentence("The spindle then comes {gap} less near to the table.", {"gap": Mm(given)}) if given > 0 else None


def _closing_end(axis: Axis) -> str | None:
    """The end of a vertical axis at which spindle and table are nearest: knee up, quill down, head down."""
    if axis.direction not in ("+z", "-z"):
        return None
    table_side = axis.moving in ("knee", "table", "saddle")
    return "high" if (axis.direction == "+z") == table_side else "low"


def _instruction(best: Travel, findings: Sequence[Finding]) -> Sentence:
    serious = next((f for f in findings if f.severity != "info"), None)
    if serious is not None:
        return serious.remedy
    if best.readings == 1:
        return Sentence("Drive to both ends once more and log a second reading; one alone can hide a slip.")
    more = ""
    tool, repeats = best.budget.lines[0].u, best.budget.lines[-1].u
    if best.readings == 2 and repeats > tool:
        more = " They are some way apart; a third reading that lies with them brings the ± down to a third or so."
    return conclusion(
        "Good: {travel} from {n} readings." + more + " Go on to the next sheet.",
        {"travel": Mm(best.travel_mm), "n": best.readings},
    )


def survey_with(job: Job, axis: Axis, tool_id: str) -> TravelSurvey:
    """The survey of an axis with a tool, a fresh one if there is none yet."""
    for survey in job.of_axis(TravelSurvey, axis.id):
        if survey.tool == tool_id:
            return survey
    tool = next((t for t in tools() if t.id == tool_id), tools()[0])
    inches = job.info.units == "in"
    division = LengthEntry.read(tool.division_in, "in") if inches else LengthEntry(mm=tool.division_mm)
    return TravelSurvey(id=new_id(), axis_id=axis.id, tool=tool.id, division=division)


def turns_entry(axis: Axis, survey: TravelSurvey, text: str) -> LengthEntry:
    """A travel from handwheel turns typed as a plain number; raises BadInputError, also while the lead is unknown."""
    if axis.lead is None:
        raise BadInputError("Say the lead of this axis's screw first, under Screw and approach.")
    turns = parse_number(text)
    same = survey.approach == "same"
    backlash = 0.0 if axis.backlash is None else axis.backlash.mm
    if not same and axis.backlash is None:
        raise BadInputError("The marks were approached from opposite sides: say the backlash under Screw and approach.")
    mm = handwheel_travel(turns, axis.lead.mm, backlash, same_side=same)
    return LengthEntry(mm=mm)
