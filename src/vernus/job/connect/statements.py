"""What is said of an axis's cable and its wires."""

from __future__ import annotations

from vernus.core.finding import Mm, Sentence
from vernus.job.connect.cables import anchors_of, cable_result, supplied_mm
from vernus.job.document import Job
from vernus.job.entities import Axis, Wire
from vernus.job.statement import Statement


def cable_statements(job: Job, axis: Axis) -> list[Statement]:
    """How long the cable has to be against what it is, and what holds it; which pin goes where."""
    return [*_length(job, axis), *(_wire(axis, w) for w in job.of_axis(Wire, axis.id) if w.pin and w.wanted_pin)]


def _wire(axis: Axis, wire: Wire) -> Statement:
    """A pin of the scale's plug and the one that the display wants that on."""
    as_it_is = wire.pin == wire.wanted_pin
    words = Sentence(
        "Pin {pin} of the {axis} scale's plug carries {signal}: the display wants that on pin {wanted}."
        + ("" if as_it_is else " Don't plug it in without an adapter."),
        {"pin": wire.pin, "axis": axis.name, "signal": wire.signal or "a wire", "wanted": wire.wanted_pin},
    )
    figures = {
        "signal": wire.signal, "colour": wire.colour, "pin": wire.pin, "wanted_pin": wire.wanted_pin,
        "as_it_is": as_it_is,
    }  # fmt: skip
    return Statement("wire", axis.name, wire.id, "cables", words, figures)


def _length(job: Job, axis: Axis) -> list[Statement]:
    need = cable_result(job, axis).need
    if need is None:
        return []
    have = supplied_mm(job, axis)
    words = Sentence("The cable has to be {need} long.", {"need": Mm(need.need_mm)})
    if have is not None:
        words = Sentence(
            "The cable has to be {need} long, and is {have}.", {"need": Mm(need.need_mm), "have": Mm(have)}
        )
    anchors = [a.member for a in anchors_of(job, axis)]
    said = {"need_mm": need.need_mm, "have_mm": have, "anchors": anchors}
    return [Statement("cable", axis.name, "", "cables", words, said)]
