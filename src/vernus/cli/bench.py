"""``vernus bench``: a simulated indicator on a pseudo-terminal."""

from __future__ import annotations

import argparse
import sys
from typing import Literal

from vernus.bench.machine import SimulatedBody
from vernus.bench.serve import FORMATS, BenchServer, announce, withdraw
from vernus.cli.parsing import number
from vernus.cli.terminal import tell
from vernus.core.errors import VernusError
from vernus.core.units import parse_length


def add_bench(parser: argparse.ArgumentParser) -> None:
    """Declare what it takes."""
    parser.add_argument("--seed", type=int, default=7, help="the machine's hidden faults (default 7)")
    parser.add_argument("--pattern", choices=sorted(FORMATS), default="with-unit", help="what its lines look like")
    parser.add_argument("--every", type=number, default=0.0, metavar="S", help="send by itself every S seconds")


def serve(args: argparse.Namespace) -> int:
    """Commands on standard input: a station to crank to, ``left S`` or ``right S`` to move that screw, ``quit``."""
    body = SimulatedBody.from_seed(args.seed)
    server = BenchServer(body, args.pattern, max(0.0, args.every))
    server.start()
    announce(server.port)
    left, right = body.screws_mm
    tell(f"Simulated indicator on {server.port}; body {body.length_mm:.0f} mm, screws at {left:.0f} and {right:.0f}.")
    tell("It answers “?”. Type a station (120), a move of a screw toward the indicator (right 0.2), or quit.")
    try:
        for line in sys.stdin:
            words = line.split()
            if words[:1] == ["quit"]:
                break
            tell(_bench_command(body, words))
    except KeyboardInterrupt:
        tell("")
    withdraw()
    server.stop()
    return 0


def _bench_command(body: SimulatedBody, words: list[str]) -> str:
    try:
        if len(words) == 2 and words[0] in ("left", "right"):
            hold: Literal["left", "right"] = "right" if words[0] == "left" else "left"
            body.move_screw(hold, parse_length(words[1]).mm)
            return f"{words[0]} screw moved"
        if words:
            body.crank(parse_length(" ".join(words)).mm)
            return f"at {body.station_mm:g} mm: {body.reading():+.3f} mm"
    except VernusError as error:
        return str(error)
    return "type a station, a move, or quit"
