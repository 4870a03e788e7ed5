"""Where the demo job comes from."""

from __future__ import annotations

from importlib import resources
from pathlib import Path


def demo_source() -> Path:
    """The shipped export the demo job is made from."""
    return Path(str(resources.files("vernus.data").joinpath("demo", "job.json")))
