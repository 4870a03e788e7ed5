"""What falls due is said on Start of the jobs worked on, without opening them, and on the Log."""

from vernus.desktop import settings
from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import Step


def due(start):
    return " ".join(
        start.due.itemAt(n).widget().text() for n in range(start.due.count()) if start.due.itemAt(n).widget()
    )


def test_start_says_what_falls_due_on_a_job_that_was_left(window, hands, bench_mill):
    assert due(window.start) == ""
    axis = bench_mill.job.axes()[0]
    bench_mill.apply("cover", [axis.with_(readout="new"), Step(id="c", key=f"cover-{axis.name}")])
    hands.press(KEYS["log"])
    assert "Look for rub marks" in window.sheets["log"].due.text()
    path = bench_mill.job.path
    bench_mill.close_job()
    ((_day, words, _sheet, _axis, found),) = settings.due_tasks()
    assert (words[:3], found) == (f"{axis.name}: ", path.resolve())
    assert due(window.start) == "", "a month is not soon"
    settings.remember_due(path, [("2020-01-01", f"{axis.name}: Oil the nipple.", "card", axis.name)])
    window.start.refresh()
    assert "2020-01-01" in due(window.start)
    assert "Oil the nipple" in due(window.start)
    window.start.due.itemAt(0).widget().setFocus()
    hands.press("Return")
    assert bench_mill.job is not None, "a thing due leads to its job"
    assert window.session.in_view == "card"
    bench_mill.close_job()
    settings.remember_due(path, [("2020-01-01", f"{axis.name}: Oil the nipple.", "card", axis.name)])
    path.unlink()
    window.start.refresh()
    assert due(window.start) == "", "a job that is gone has nothing due"
