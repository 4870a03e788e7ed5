"""The command line can't ask: doubt is a finding and a verdict that can't tell."""

import json

import pytest

from vernus.cli.main import main


@pytest.mark.parametrize(("rows", "verdict", "doubtful"), [
    ("0,0.011\n10,0.003\n20,0\n", "unsure", True),
    ("0,0\n10,0\n20,0\n", "pass", False),
    ("0,0\n7,0.5\n14,0\n20,0.5\n27,0\n34,0\n", "pass", False),
    ("0,11\n5,8.5\n10,5.5\n15,3\n20,0.5\n", "fail", False),
])  # fmt: skip
def test_readings_below_one_division_of_the_dial_pass_nothing(tmp_path, capsys, rows, verdict, doubtful):
    file = tmp_path / "sweep.csv"
    file.write_text("station_in,reading_thou\n" + rows)
    words = ["calc", "align", str(file), "--division", "0.5 thou", "--tolerance", "2 thou", "--json"]
    assert main(words) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["verdict"] == verdict
    assert ("doubtful" in [f["code"] for f in answer["findings"]]) == doubtful
