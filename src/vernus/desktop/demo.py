"""Where the demo jobs come from."""

from __future__ import annotations

from importlib import resources
from pathlib import Path
from typing import Literal

DemoName = Literal["mill", "lathe"]


def demo_source(name: DemoName = "mill") -> Path:
    """The shipped export a demo job is made from."""
    return Path(str(resources.files("vernus.data").joinpath("demo", f"{name}.json")))
