"""The simulated body, the line and the pseudo-terminal; and the adviser followed on it."""

import time

import pytest
import serial
from hypothesis import given
from hypothesis import strategies as st

from vernus.bench.line import PATTERNS, LinePattern, LineReader, pattern_by_id
from vernus.bench.machine import Faults, SimulatedBody
from vernus.bench.serve import FORMATS, BenchServer
from vernus.core.align.sweep import analyse_sweep, correct, propose_stations
from vernus.core.errors import BadInputError


def sweep_of(body, tolerance=0.05):
    stations = propose_stations(body.screws_mm[0], body.screws_mm[1], 7)
    readings = [body.reading(x) for x in stations]
    return analyse_sweep(stations, readings, body.indicator, tolerance), readings


@pytest.mark.parametrize("seed", range(12))
def test_following_the_dial_gets_a_hidden_machine_inside_in_three_passes(seed):
    body = SimulatedBody.from_seed(seed)
    for _ in range(3):
        sweep, readings = sweep_of(body)
        if sweep.verdict == "pass":
            break
        was = abs(body.tilt_mm)
        fix = correct(sweep, readings, body.indicator, body.screws_mm)
        body.follow_dial("left", fix.park_mm, fix.dial_target_mm)
        assert abs(body.tilt_mm) < max(was, 0.05)
    assert abs(body.tilt_mm) <= 0.05


@pytest.mark.parametrize("seed", range(6))
def test_moving_by_shims_with_the_right_sense_does_as_well(seed):
    body = SimulatedBody.from_seed(seed)
    for _ in range(3):
        sweep, readings = sweep_of(body)
        fix = correct(sweep, readings, body.indicator, body.screws_mm)
        body.move_screw("left", fix.shift_mm)
    assert abs(body.tilt_mm) <= 0.05


def test_one_seed_is_one_machine():
    first, second = SimulatedBody.from_seed(5), SimulatedBody.from_seed(5)
    assert [first.reading(x) for x in (20, 90, 150)] == [second.reading(x) for x in (20, 90, 150)]
    assert SimulatedBody.from_seed(6).length_mm != first.length_mm


def test_the_indicator_reads_by_sense_and_angle_to_its_division():
    plain = SimulatedBody(400, Faults(tilt_mm_per_m=1), 1, division_mm=0.001)
    away = SimulatedBody(400, Faults(tilt_mm_per_m=1), 1, sense="away", division_mm=0.001)
    lever = SimulatedBody(400, Faults(tilt_mm_per_m=1), 1, angle_deg=60, division_mm=0.001)
    rise = plain.reading(300) - plain.reading(100)
    assert rise == pytest.approx(0.2)
    assert away.reading(300) - away.reading(100) == pytest.approx(-0.2)
    assert lever.reading(300) - lever.reading(100) == pytest.approx(0.4)
    plain.crank(100)
    assert plain.reading() == plain.reading(100)
    with pytest.raises(BadInputError, match="no station"):
        plain.crank(401)


@pytest.mark.parametrize(
    ("pattern", "line", "mm"),
    [
        ("plain", "+0.123", 0.123), ("plain", "- 1,5", -1.5), ("plain", "0.1 mm", None), ("plain-in", "0.1", 2.54),
        ("with-unit", "-0.0050 in", -0.127), ("with-unit", "12 µm", 0.012), ("with-unit", "12", None),
        ("tagged", "01A+0.250", 0.25), ("tagged", "D1: 0.1 in", 2.54), ("tagged", "hello", None),
    ],
)  # fmt: skip
def test_patterns_find_the_value_or_nothing(pattern, line, mm):
    found = pattern_by_id(pattern).read(line)
    assert found is None if mm is None else found == pytest.approx(mm)


@given(st.lists(st.binary(max_size=12), max_size=30))
def test_any_garbage_is_survived(parts):
    reader = LineReader(PATTERNS[0])
    heard = [h for part in parts for h in reader.feed(part)]
    assert all(h.value_mm is None or abs(h.value_mm) < 1e13 for h in heard)
    assert reader.feed(b"\r\n+0.500\r\n")[-1].value_mm == 0.5


@given(st.floats(-20, 20), st.integers(1, 9), st.sampled_from(sorted(FORMATS)))
def test_what_is_sent_is_heard_however_it_is_cut(mm, cut, pattern):
    reader = LineReader(pattern_by_id(pattern))
    data = (FORMATS[pattern](mm) + "\r\n").encode()
    heard = [h for n in range(0, len(data), cut) for h in reader.feed(data[n : n + cut])]
    assert [h.value_mm for h in heard] == [pytest.approx(mm, abs=6e-4)]


def test_a_line_without_an_end_is_dropped_and_said():
    reader = LineReader(PATTERNS[0])
    assert reader.feed(b"x" * 500)[0].value_mm is None
    assert reader.feed(b"1.0\r\n")[0].value_mm == 1.0


def test_own_patterns_are_checked():
    own = LinePattern("own", "own", r"R=(?P<value>[-0-9.]+);", "in")
    assert own.read("R=0.5;") == 12.7
    with pytest.raises(BadInputError, match="regular expression"):
        LinePattern("own", "own", "(")
    with pytest.raises(BadInputError, match="name the figure"):
        LinePattern("own", "own", "[0-9]+")
    with pytest.raises(BadInputError, match="plain, plain-in"):
        pattern_by_id("morse")


def test_a_real_serial_port_hears_the_bench():
    body = SimulatedBody(400, Faults(tilt_mm_per_m=1), 1)
    server = BenchServer(body, "with-unit")
    server.start()
    reader = LineReader(pattern_by_id("with-unit"))
    with serial.Serial(server.port, timeout=1) as port:
        for station in (50, 350):
            body.crank(station)
            port.write(b"?")
            begun, heard = time.monotonic(), []
            while not heard and time.monotonic() - begun < 5:
                heard = reader.feed(port.read(64))
            assert heard[0].value_mm == pytest.approx(body.reading())
        server.send("##?!")
        server.send()
        begun, heard = time.monotonic(), []
        while len(heard) < 2 and time.monotonic() - begun < 5:
            heard += reader.feed(port.read(64))
        assert [h.value_mm is None for h in heard] == [True, False]
    server.stop()
