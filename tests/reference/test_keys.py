"""Standard keys against the table in bd-warehouse (DIN 6885)."""

import csv
from importlib.metadata import distribution
from pathlib import Path

import pytest

from vernus.core.feed.keys import standard_key, stepped_key

TABLE = Path(distribution("bd-warehouse").locate_file("bd_warehouse/data/shaft_key_parameters.csv"))
ROWS = list(csv.DictReader(TABLE.read_text(encoding="utf-8").splitlines()))


@pytest.mark.parametrize("row", ROWS, ids=lambda r: r["Size"])
def test_the_width_of_a_metric_key_equals_the_outside_table(row):
    assert standard_key(float(row["Size"]), "metric")[1] == float(row["din6885:b"])


@pytest.mark.parametrize("row", ROWS, ids=lambda r: r["Size"])
def test_height_and_depth_of_a_stepped_key_equal_the_outside_table(row):
    """The table's t4 is the depth in the shaft, its t2 the one in the hub."""
    made = stepped_key(float(row["din6885:b"]), 5.0, 20.0)
    assert (made.height_mm, made.depth_mm) == (float(row["din6885:h"]), float(row["din6885:t4"]))


@pytest.mark.parametrize(
    ("shaft", "name"), [(0.5, "1/8 in"), (0.75, "3/16 in"), (1.0, "1/4 in"), (1.3, "5/16 in"), (1.5, "3/8 in")]
)
def test_inch_keys(shaft, name):
    """ASME B17.1, from memory."""
    assert standard_key(shaft * 25.4, "inch")[0] == name


def test_a_shaft_outside_the_tables_has_none():
    assert standard_key(3, "metric") is None
    assert standard_key(100, "metric") is None
    assert standard_key(3, "inch") is None
