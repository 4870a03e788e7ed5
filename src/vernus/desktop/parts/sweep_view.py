"""What a sweep looks like: its chart, the dial with its target, the passes so far, and the correction in words."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.align.passes import (
    SweepResult,
    left_words,
    next_to_read,
    result_in_job,
    screws_of,
    setting_in_job,
    sweep_result,
)
from vernus.job.entities import Sweep
from vernus.job.machine.travel import travel_result
from vernus.paper.drawing.align.dial import paint_dial
from vernus.paper.drawing.align.passes import paint_passes
from vernus.paper.drawing.align.stations import paint_stations
from vernus.paper.drawing.align.sweep import paint_sweep

_MOST_PASSES = 24


class SweepView(QWidget):
    """The pictures of the Align sheet."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._bench = self._has_dial = self._has_passes = False
        self.chart = Picture("Sweep chart", QSize(300, 170))
        self.dial = Picture("Dial with the target", QSize(190, 165))
        self.story = Words("")
        self.passes_chart = Picture("Passes so far", QSize(150, 60))
        self.passes_chart.hide()
        beside = QVBoxLayout()
        beside.addWidget(self.story)
        beside.addWidget(self.passes_chart, 1)
        low = self._low = QHBoxLayout()
        low.addWidget(self.dial, 2)
        low.addLayout(beside, 3)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.chart, 5)
        box.addLayout(low, 4)

    def show_sweep(self, sweep: Sweep, result: SweepResult, previous: Sweep | None) -> None:
        """Show a pass against the one before it; without figures, its stations ahead."""
        inks, units = self.session.inks, self.session.units
        if result.alignment is None:
            upcoming = next_to_read(sweep)
            self.chart.show_drawing(
                partial(
                    paint_stations,
                    stations_mm=[s.mm for s in sweep.stations],
                    screws_mm=known.value if (known := screws_of(sweep)) is not None else None,
                    hold=sweep.hold,
                    next_mm=upcoming.mm if upcoming else None,
                    inks=inks,
                    units=units,
                )
            )
            self.dial.show_drawing(None)
        else:
            job = self.session.job
            before = result_in_job(job, previous).alignment if previous is not None and job is not None else None
            self.chart.show_drawing(
                partial(
                    paint_sweep, sweep=result.alignment, inks=inks, units=units, before=before, fix=result.correction
                )
            )
        fix = result.correction if sweep.by not in ("shims", "three") else None
        if fix is None:
            self.dial.show_drawing(None)
        else:
            self.dial.show_drawing(
                partial(
                    paint_dial,
                    now_mm=fix.dial_now_mm,
                    target_mm=fix.dial_target_mm,
                    division=sweep.division,
                    inks=inks,
                    units=units,
                )
            )
        self.story.setText(self._story(sweep, result))
        self._has_dial = fix is not None
        self.show_bench(self._bench)

    def show_bench(self, bench: bool) -> None:
        """From two metres only what says where: the dial with its target, before that the stations."""
        self._bench = bench
        self.chart.setVisible(not (bench and self._has_dial))
        self.dial.setVisible(self._has_dial)
        self._low.setStretch(1, 0 if bench else 3)
        for widget in (self.story, self.passes_chart):
            widget.setVisible(not bench and bool(self.story.text() if widget is self.story else self._has_passes))

    def show_passes(self, done: list[Sweep], now: SweepResult, room: bool) -> None:
        """The end-to-end figure of the last passes, ``now`` the newest, against the tolerance; where there is room."""
        job = self.session.job
        earlier = [] if job is None or not done else done[-_MOST_PASSES:-1]
        setting = None if job is None or not earlier else setting_in_job(job, earlier[0])
        results = [*(sweep_result(s, setting=setting) for s in earlier if setting is not None), now]
        figures = [r.alignment for r in results if r.alignment is not None]
        self._has_passes = len(figures) > 1 and room
        self.passes_chart.setVisible(self._has_passes and not self._bench)
        if len(figures) < 2:
            return
        self.passes_chart.show_drawing(
            partial(
                paint_passes,
                rises_mm=[f.rise_mm for f in figures],
                unsure_mm=[f.expanded_mm for f in figures],
                tolerance_mm=figures[-1].tolerance_mm,
                inks=self.session.inks,
                units=self.session.units,
            )
        )

    def _story(self, sweep: Sweep, result: SweepResult) -> str:
        """The correction at the screw, and what it costs to leave the tilt as it is."""
        job, axis = self.session.job, self.session.axis
        travel = travel_result(job, axis).useful_mm if job is not None and axis is not None else None
        return "\n".join(left_words(result, travel, reader=sweep.target == "reader", units=self.session.units))
