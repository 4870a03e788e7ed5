"""How a call declares itself: its options, read in the unit system asked for, beside the function that computes it."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from vernus.cli.parsing import length_reader, screws_reader
from vernus.core.units import UnitSystem

Answer = dict[str, Any]


@dataclass(frozen=True)
class Calls:
    """The calls added so far; bare lengths are in ``units``."""

    commands: Any
    units: UnitSystem

    def add(self, name: str, **more: Any) -> argparse.ArgumentParser:
        """A call of that name."""
        command: argparse.ArgumentParser = self.commands.add_parser(name, **more)
        command.add_argument("--units", choices=("mm", "in"), default="mm", help="of bare numbers, and of the answer")
        command.add_argument("--json", action="store_true", help="one JSON object, lengths in mm")
        return command

    @property
    def length(self) -> Callable[[str], float]:
        """Reads a length into mm."""
        return length_reader(self.units)

    @property
    def pair(self) -> Callable[[str], tuple[float, float]]:
        """Reads two lengths into mm."""
        return screws_reader(self.units)
