"""What the reference itself is worth."""

import math

import pytest

from vernus.core.budget import combine
from vernus.core.errors import BadInputError
from vernus.core.prove.references import Reference, block_limit, reference_lines


def test_limits_of_gauge_blocks():
    """ISO 3650:1998 table 5, from memory."""
    assert block_limit(10, "0") == pytest.approx(0.00012)
    assert block_limit(100, "1") == pytest.approx(0.0006)
    assert block_limit(500, "2") == pytest.approx(0.0044)
    with pytest.raises(BadInputError, match="500 mm"):
        block_limit(501, "1")


def test_a_stack_adds_its_blocks_by_squares():
    one = combine(reference_lines(Reference("blocks", "1", 1, detector_mm=0), 400)).u
    four = combine(reference_lines(Reference("blocks", "1", 4, detector_mm=0), 400)).u
    assert one == pytest.approx(0.0018 / math.sqrt(3))
    assert four == pytest.approx(math.sqrt(4) * 0.0006 / math.sqrt(3))


def test_a_certificate_goes_before_the_table_and_the_dial_is_read_at_both_ends():
    known = reference_lines(Reference("blocks", stated_mm=0.001, detector_mm=0.002), 50)
    assert [line.u for line in known] == pytest.approx([0.0005, 0.001 * math.sqrt(2 / 3)])
    dial = reference_lines(Reference("dial", division_mm=0.02), 50)
    screw = (0.01 + 0.02 * 50 / 300) / math.sqrt(3)
    assert [line.u for line in dial] == pytest.approx([0.01 * math.sqrt(2 / 3), screw]), "its screw errs like a scale"
    with pytest.raises(BadInputError):
        reference_lines(Reference("blocks", pieces=0), 50)
