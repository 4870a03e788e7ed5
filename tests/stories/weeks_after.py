"""Five weeks after a story: its evenings in a calendar that changes, a crash noted on the Log, and what opens again."""

from datetime import timedelta

from icalendar import Calendar

from vernus.desktop import settings
from vernus.job.entities import EveningPlan
from vernus.job.keep.evenings.calendar import write_calendar
from vernus.job.review.review import card_lines, review_axis
from vernus.job.scope import axes_in_scope

TOUCHED = ("align", "reader", "calibrate", "positioning")


def entries(path):
    return {str(e["uid"]): str(e["status"]) for e in Calendar.from_ical(path.read_bytes()).walk("VEVENT")}


def weeks_after(window, hands, folder):
    """Live on with the job of a story."""
    session, job = window.session, window.session.job
    begun = job.now()
    session.apply("evenings", [EveningPlan(id="after", tue=2, sat=3, begins="19:30", set_up=10)])
    if write_calendar(job, card_lines(job), folder / "after.ics"):
        first = entries(folder / "after.ics")
        away = f"{begun.date()} to {begun.date() + timedelta(days=13)}"
        session.apply("away", [job.get("after").with_(away=away)])
        write_calendar(job, card_lines(job), folder / "after.ics")
        second = entries(folder / "after.ics")
        assert set(first) <= set(second), "what was sent is changed or cancelled, never left behind"
    job._clock = lambda: begun + timedelta(days=35)
    axis = axes_in_scope(job)[0]
    session.show_axis(axis.id)
    window.show_sheet("log")
    log = window.sheets["log"]
    log.happened.setCurrentIndex(log.happened.findData("crash"))
    log.line.setFocus()
    hands.enter("the vice met the cutter")
    states = review_axis(job, axis).states
    assert not [s for s in TOUCHED if states.get(s) == "done"], "a crash leaves nothing proved"
    by_crash = {line.step.key for line in card_lines(job) if line.event}
    assert all(key.endswith(axis.name) for key in by_crash)
    path = job.path
    session.keep_due()
    told = [t.words for t in settings.due_tasks() if t.path == path.resolve()]
    assert not by_crash or any("After the crash" in words for words in told)
