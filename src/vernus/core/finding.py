"""Findings and instructions: sentences that carry their numbers, so that they read right in either unit system."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

from vernus.core.units import UnitSystem, format_fine, format_in, format_plain, format_size

Severity = Literal["info", "caution", "stop"]
SEVERITIES: tuple[Severity, ...] = ("info", "caution", "stop")


@dataclass(frozen=True)
class Mm:
    """A working length inside a sentence."""

    mm: float
    sign: bool = False

    def show(self, system: UnitSystem) -> str:
        """The length in the reader's unit system."""
        return format_plain(self.mm, system, sign=self.sign)


@dataclass(frozen=True)
class Fine(Mm):
    """An indicator-sized length inside a sentence."""

    def show(self, system: UnitSystem) -> str:
        """The length to a µm or a tenth of a thou."""
        return format_fine(self.mm, system, sign=self.sign)


@dataclass(frozen=True)
class Size(Mm):
    """A measured size, such as a diameter or a key's width, inside a sentence."""

    def show(self, system: UnitSystem) -> str:
        """The size to a µm or a tenth of a thou, in mm or inches."""
        return format_size(self.mm, system)


@dataclass(frozen=True)
class Tiny(Mm):
    """A length below an indicator's division inside a sentence."""

    def show(self, system: UnitSystem) -> str:
        """The length in hundredths of a µm, or thousandths of a thou."""
        return (
            format_in(self.mm, "µm", 2, sign=self.sign)
            if system == "mm"
            else format_in(self.mm, "thou", 3, sign=self.sign)
        )


@dataclass(frozen=True)
class Rate:
    """A slope (rise over run) inside a sentence."""

    slope: float

    def show(self, system: UnitSystem) -> str:
        """Millimetres per metre, or thou per foot."""
        if system == "mm":
            return f"{self.slope * 1000:.3f} mm per metre".replace("-", "−")
        return f"{self.slope * 12_000:.2f} thou per foot".replace("-", "−")


@dataclass(frozen=True)
class Ppm:
    """A relative figure inside a sentence."""

    ppm: float

    def show(self, _system: UnitSystem) -> str:
        """Signed, in whole parts per million."""
        return f"{self.ppm:+,.0f} ppm".replace(",", "\u202f").replace("-", "−")


@dataclass(frozen=True)
class Sentence:
    """A template and the values that fill it; lengths among them follow the reader's unit system."""

    template: str
    values: dict[str, Any] = field(default_factory=dict)

    def text(self, system: UnitSystem = "mm") -> str:
        """The sentence as read in ``system``."""
        shown = {k: v.show(system) if hasattr(v, "show") else v for k, v in self.values.items()}
        return self.template.format_map(shown)

    def show(self, system: UnitSystem) -> str:
        """The same, as a value inside another sentence."""
        return self.text(system)


@dataclass(frozen=True)
class Finding:
    """One judgement: what was seen with its number and reason, and what to do about it."""

    code: str
    severity: Severity
    what: Sentence
    remedy: Sentence

    def as_json(self, system: UnitSystem = "mm") -> dict[str, str]:
        """The contract form: ``code``, ``severity``, ``text``, ``remedy``."""
        return {
            "code": self.code,
            "severity": self.severity,
            "text": self.what.text(system),
            "remedy": self.remedy.text(system),
        }


def plain(text: str) -> Sentence:
    """A sentence without values; braces in ``text`` are just braces."""
    return Sentence("{text}", {"text": text})


def finding(code: str, severity: Severity, what: str, remedy: str, **values: Any) -> Finding:
    """Make a finding from two templates that share their values."""
    return Finding(code, severity, Sentence(what, values), Sentence(remedy, values))
