"""Linear regression against certified figures: NIST StRD "Norris", shipped in the SciPy wheel.

Never change a reference figure to make a test pass.
"""

import json
from pathlib import Path

import numpy as np
import pytest
import scipy

from vernus.cli.main import main

DATA = Path(scipy.__file__).parent / "stats/tests/data/nist_linregress/Norris.dat"
# Certified values as printed in Norris.dat itself
B0, U_B0 = -0.262323073774029, 0.232818234301152
B1, U_B1 = 1.00211681802045, 0.429796848199937e-03
RESIDUAL_SD = 0.884796396144373


@pytest.fixture
def norris(tmp_path):
    text = DATA.read_text()
    for certified in (B0, B1, RESIDUAL_SD):
        assert f"{certified:.15g}".lstrip("-0") in text.replace("\n", " ")
    shown, true = np.loadtxt(DATA, skiprows=60).T
    rows = "\n".join(f"{t!r},{s!r}" for t, s in zip(true.tolist(), shown.tolist(), strict=True))
    path = tmp_path / "norris.csv"
    path.write_text(f"# NIST StRD Norris\ntarget_mm,shown_mm\n{rows}\n")
    return path


def test_norris_to_ten_digits_through_the_command_line(norris, capsys):
    assert main(["calc", "factor", str(norris), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["slope"] == pytest.approx(B1, rel=1e-11)
    assert answer["intercept_mm"] == pytest.approx(B0, rel=1e-11)
    assert answer["u_slope"] == pytest.approx(U_B1, rel=1e-10)
    assert answer["u_intercept_mm"] == pytest.approx(U_B0, rel=1e-10)
    assert answer["residual_sd_mm"] == pytest.approx(RESIDUAL_SD, rel=1e-11)
    assert answer["factor"] == pytest.approx(1 / B1, rel=1e-11)
