"""What falls due is said on Start of the jobs worked on, without opening them, and on the Log."""

from vernus.desktop import settings
from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import Step


def test_start_says_what_falls_due_on_a_job_that_was_left(window, hands, bench_mill):
    assert window.start.due.text() == ""
    axis = bench_mill.job.axes()[0]
    bench_mill.apply("cover", [axis.with_(readout="new"), Step(id="c", key=f"cover-{axis.name}")])
    hands.press(KEYS["log"])
    assert "Look for rub marks" in window.sheets["log"].due.text()
    path = bench_mill.job.path
    bench_mill.close_job()
    ((_day, words, found),) = settings.due_tasks()
    assert (words[:3], found) == (f"{axis.name}: ", path.resolve())
    assert window.start.due.text() == "", "a month is not soon"
    settings.remember_due(path, [("2020-01-01", f"{axis.name}: Oil the nipple.")])
    window.start.refresh()
    assert "2020-01-01" in window.start.due.text()
    assert "Oil the nipple" in window.start.due.text()
    path.unlink()
    window.start.refresh()
    assert window.start.due.text() == "", "a job that is gone has nothing due"
