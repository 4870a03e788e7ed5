"""What a verdict and a severity are called, on the screen and on paper: in one place."""

from __future__ import annotations

from typing import Literal

from vernus.core.finding import Severity

VERDICTS: dict[str | None, str] = {"pass": "PASS", "fail": "FAIL", "unsure": "CAN\u2019T TELL", None: "not finished"}
"""Of what is measured against a limit."""
ANSWERS: dict[Literal["pass", "fail", None], str] = {"pass": "good", "fail": "not good", None: "not finished"}
"""Of what is tried by hand and answered."""
SEVERITIES_SAID: dict[Severity, str] = {"info": "Note", "caution": "CAUTION", "stop": "STOP"}
"""What stands before a finding on paper."""
