"""The calls of the machine: travel that boxes leave, and the line of an axis."""

from __future__ import annotations

import argparse
from pathlib import Path

from vernus.cli.calc.calls import Answer, Calls
from vernus.core.machine.travel_kept import keep_travel
from vernus.job.formats.machine import read_envelope
from vernus.job.formats.stroke import read_stroke


def add_envelope(calls: Calls) -> None:
    """Declare ``calc envelope``."""
    envelope = calls.add("envelope", help="travel kept by boxes on moving members")
    envelope.add_argument("file", type=Path, help="JSON with members, axes, boxes and clearance_mm")
    envelope.set_defaults(run=calc_envelope)


def calc_envelope(args: argparse.Namespace) -> Answer:
    """Travel kept per axis, and the pairs of boxes that can meet."""
    envelope = read_envelope(args.file)
    result = keep_travel(envelope)
    kept = result.kept
    travel = None if kept is None else {k: high - low for k, (low, high) in kept.items()}
    return {
        "kept": None if kept is None else {k: list(span) for k, span in kept.items()},
        "travel_mm": travel,
        "lost_mm": None if travel is None else {a.id: a.travel_mm - travel[a.id] for a in envelope.axes},
        "score": result.score,
        "pairs": [
            {"a": m.a.name, "b": m.b.name, "blocked": {k: list(span) for k, span in m.blocked.items()}}
            for m in result.pairs
        ],
        "findings": result.findings,
    }


def add_stroke(calls: Calls) -> None:
    """Declare ``calc stroke``."""
    stroke = calls.add("stroke", help="the line of an axis: stops, travel kept and trips")
    stroke.add_argument("file", type=Path, help="JSON with marks_mm and what stands on the line")
    stroke.set_defaults(run=calc_stroke)


def calc_stroke(args: argparse.Namespace) -> Answer:
    """Stops, travel kept and trips of one axis, from its low mark."""
    stroke = read_stroke(args.file)
    return {
        "stops": [{"end": s.end, "before_mark_mm": s.before_mark_mm, "why": s.why} for s in stroke.stops],
        "kept_mm": None if stroke.kept_mm is None else list(stroke.kept_mm),
        "trips_mm": None if stroke.trips_mm is None else list(stroke.trips_mm),
        "findings": stroke.findings,
    }
