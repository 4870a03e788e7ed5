import json

import pytest

from vernus.cli.main import main

STATIONS = [0, 62.5, 140, 199, 301, 377, 455]
READINGS_UM = [0, 18, 47, 59, 92, 110, 139]


@pytest.fixture
def sweep(tmp_path):
    def write(text, name="sweep.csv"):
        path = tmp_path / name
        path.write_text(text, encoding="utf-8")
        return path

    return write


def metric(delimiter=","):
    rows = [f"{s}{delimiter}{r}" for s, r in zip(STATIONS, READINGS_UM, strict=True)]
    return "\n".join([f"station_mm{delimiter}reading_um", *rows])


def test_align_has_every_key_of_the_contract(answer, sweep):
    found = answer("align", sweep(metric()), "--screws", "-10;465")
    assert set(found) >= {
        "slope_mm_per_m",
        "u_slope_mm_per_m",
        "end_to_end_mm",
        "bow_mm",
        "verdict",
        "advice",
        "findings",
    }
    assert set(found["advice"]) >= {"hold_mm", "move_mm", "shift_mm", "park_mm", "dial_target_mm"}
    assert found["u_shift_mm"] == found["advice"]["u_shift_mm"]
    assert found["verdict"] == "fail"


def test_the_same_sweep_in_inches_gives_the_same_answer(answer, sweep):
    rows = [f"{s / 25.4!r}\t{r / 25.4!r}" for s, r in zip(STATIONS, READINGS_UM, strict=True)]
    inches = sweep("station_in\treading_thou\n" + "\n".join(rows), "inch.tsv")
    in_mm = answer("align", sweep(metric()), "--screws", "0.5 in; 18in", "--tolerance", "2 thou")
    in_inches = answer("align", inches, "--screws", "0.5;18", "--tolerance", "0.002", "--units", "in")

    def close(a, b):
        if isinstance(a, dict):
            return all(close(a[k], b[k]) for k in a if k != "findings")
        return a == b if isinstance(a, str) or a is None else a == pytest.approx(b, abs=1e-9)

    assert close(in_mm, in_inches)


@pytest.mark.parametrize(
    "words", [["--screws", "-10;465"], ["--screws=-10,465"], ["--screws", "-10, 465"], ["--screws", "−10;465 mm"]]
)
def test_screws_take_semicolon_or_the_only_comma_and_negative_words(answer, sweep, words):
    advice = answer("align", sweep(metric()), *words)["advice"]
    assert (advice["hold_mm"], advice["move_mm"]) == (-10, 465)


def test_hold_sense_and_lever(answer, sweep):
    path = sweep(metric())
    plain = answer("align", path, "--screws", "0;500")
    right = answer("align", path, "--screws", "0;500", "--hold", "right")
    assert (right["advice"]["hold_mm"], right["advice"]["move_mm"]) == (500, 0)
    turned = answer("align", path, "--screws", "0;500", "--sense", "away")
    assert turned["slope_mm_per_m"] == pytest.approx(-plain["slope_mm_per_m"])
    assert turned["advice"]["dial_target_mm"] == pytest.approx(plain["advice"]["dial_target_mm"])
    lever = answer("align", path, "--screws", "0;500", "--lever-angle", "30")
    assert lever["slope_mm_per_m"] == pytest.approx(plain["slope_mm_per_m"] * 3**0.5 / 2)
    assert lever["advice"]["dial_target_mm"] == pytest.approx(plain["advice"]["dial_target_mm"])


def test_without_screws_there_is_no_advice_and_it_says_so(answer, sweep):
    found = answer("align", sweep(metric()))
    assert found["advice"] is None
    assert "no-screws" in [f["code"] for f in found["findings"]]


def test_two_stations_have_no_bow(answer, sweep):
    assert answer("align", sweep("station_mm,reading_mm\n0,0\n400,0.1\n"))["bow_mm"] is None


def test_csv_with_bom_comments_semicolons_and_decimal_commas(answer, sweep):
    text = "\ufeff# shop notes\nstation_mm;reading_um;who\n0;0;A\n\n# tea\n400,5;12,5;B\n"
    assert answer("align", sweep(text))["end_to_end_mm"] == pytest.approx(0.0125)


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("", "is empty"),
        ("station_mm,reading_um\n", "no rows"),
        ("station_mm,reading_um\n0,0\n100,x\n200,1\n", "line 3, column 2"),
        ("station_mm,reading_um\n0,0\n100,1,2\n", "line 3"),
        ("station_mm,reading_um\n0,0\n1,5,2,5\n", "semicolons"),
        ("station_mm,reading_um\n0,nan\n1,2\n", "line 2"),
        ("place_mm,reading_um\n0,0\n", "no column station"),
        ("station,reading_um\n0,0\n", "must read like"),
        ("station_ft,reading_um\n0,0\n", "names no unit"),
        ("station_mm,station_mm,reading_um\n0,0,0\n", "twice"),
        ("station_mm,reading_um\n0,0\n0,1\n", "two different stations"),
    ],
)
def test_bad_csv_is_one_line_with_its_place(run, sweep, text, part):
    code, out, err = run("calc", "align", sweep(text))
    assert (code, out) == (2, "")
    assert part in err
    assert err.count("\n") == 1


def test_files_that_are_no_csv(run, tmp_path):
    binary = tmp_path / "x.csv"
    binary.write_bytes(b"\x89PNG\r\n\x1a\n\xff\xfe")
    for path in (binary, tmp_path / "none.csv", tmp_path):
        code, _, err = run("calc", "align", path)
        assert code == 2
        assert err.count("\n") == 1


def test_size_has_every_key_of_the_contract(answer):
    found = answer("size", "--travel", "262", "--margin", "10", "--face", "365")
    assert found["required_mm"] == 282
    by_family = {c["family"]: c for c in found["choices"]}
    assert by_family["glass-standard"] == {
        "family": "glass-standard",
        "measuring_length_mm": 300,
        "overall_length_mm": 424,
        "cut_to_mm": None,
        "spare_each_end_mm": 19,
        "fits_face": False,
    }
    assert by_family["tape"]["cut_to_mm"] == 322
    assert "longer-than-face" in [f["code"] for f in found["findings"]]
    assert answer("size", "--travel", '10 5/16"', "--family", "rod")["choices"][0]["fits_face"] is None


@pytest.mark.parametrize("travel", ["-5", "-5 mm", "0", "abc", "−3 in"])
def test_impossible_travels(run, travel):
    code, _, err = run("calc", "size", "--travel", travel)
    assert code == 2
    assert err.count("\n") == 1


def test_counts_has_every_key_of_the_contract(answer):
    found = answer(
        "counts",
        "--set-cpi",
        "5080",
        "--shown",
        "4.0001 in",
        "--moved",
        "4 in",
        "--u-moved",
        "0.1 thou",
        "--travel",
        "10 in",
    )
    assert found["counts_per_inch"] == pytest.approx(5080 * 4.0001 / 4)
    assert found["count_um"] == pytest.approx(25400 / found["counts_per_inch"])
    assert found["nominal"] == pytest.approx(5080)
    assert found["min_length_mm"] > 0
    metric = answer("counts", "--set-cpmm", "200", "--shown", "101.60254", "--moved", "101.6", "--u-moved", "0.00254")
    assert metric["counts_per_mm"] == pytest.approx(found["counts_per_mm"])
    assert metric["min_length_mm"] is None


def test_counts_refuses_a_zero_move_and_warns_of_a_short_one(run, answer):
    code, _, err = run("calc", "counts", "--set-cpi", "5080", "--shown", "1", "--moved", "0")
    assert code == 2
    assert "zero" in err
    short = answer(
        "counts", "--set-cpi", "5080", "--shown", "10", "--moved", "10", "--u-moved", "1 µm", "--travel", "60"
    )
    assert short["findings"][0]["code"] == "move-too-short"
    assert f"{short['min_length_mm']:.2f}" in short["findings"][0]["remedy"]
    assert answer("counts", "--set-cpi", "5080", "--shown", "-10", "--moved", "10")["counts_per_mm"] > 0


def test_factor_in_inches_and_with_a_current_factor(answer, sweep):
    path = sweep("target_in,shown_in\n0,0\n5,5.001\n10,10.002\n")
    found = answer("factor", path, "--current", "1.5")
    assert found["factor"] == pytest.approx(1.5 / 1.0002)
    assert found["u_factor"] == pytest.approx(0, abs=1e-12)
    assert found["ppm"] == pytest.approx(-199.96, abs=0.01)


def test_people_get_a_short_table_in_their_units(run, sweep):
    code, out, _ = run("calc", "align", sweep(metric()), "--screws", "0;18", "--units", "in")
    assert code == 0
    assert "thou" in out
    assert "verdict                   fail" in out


@pytest.mark.parametrize(
    "words",
    [
        ["calc"],
        ["calc", "nothing"],
        ["fly"],
        ["calc", "counts", "--shown", "1", "--moved", "1"],
        ["calc", "size"],
        ["open"],
    ],
)
def test_wrong_words_are_one_line_and_two(run, words):
    code, out, err = run(*words)
    assert (code, out) == (2, "")
    assert err.count("\n") == 1


SADDLE = {
    "members": [{"id": "base"}, {"id": "saddle", "on": "base", "axis": "Y"}],
    "axes": [{"id": "Y", "direction": "+y", "from_mm": -80, "to_mm": 80, "home_mm": 0, "weight": 1}],
    "boxes": [
        {"name": "column", "member": "base", "min_mm": [-100, 300, 0], "max_mm": [100, 400, 500]},
        {"name": "bracket", "member": "saddle", "min_mm": [-50, 0, 100], "max_mm": [50, 240, 150]},
    ],
    "clearance_mm": 0,
}


def test_envelope_has_every_key_of_the_contract(answer, tmp_path):
    (tmp_path / "saddle.json").write_text(json.dumps(SADDLE))
    found = answer("envelope", str(tmp_path / "saddle.json"))
    assert found == {
        "kept": {"Y": [-80, 60]},
        "travel_mm": {"Y": 140},
        "lost_mm": {"Y": 20},
        "score": 0.875,
        "pairs": [{"a": "column", "b": "bracket", "blocked": {"Y": [60, 80]}}],
        "findings": [],
    }


def test_envelope_blocked_at_home_is_null_with_its_finding(answer, tmp_path):
    axes = [{**SADDLE["axes"][0], "home_mm": 70}]
    (tmp_path / "saddle.json").write_text(json.dumps({**SADDLE, "axes": axes}))
    found = answer("envelope", str(tmp_path / "saddle.json"))
    assert (found["kept"], found["score"]) == (None, None)
    assert [f["code"] for f in found["findings"]] == ["home-blocked"]


@pytest.mark.parametrize(
    ("change", "part"),
    [
        ({"axes": [{**SADDLE["axes"][0], "direction": "+u"}]}, "at an angle"),
        ({"axes": [{**SADDLE["axes"][0], "from_mm": 90}]}, "smaller to a larger"),
        ({"boxes": [{**SADDLE["boxes"][0], "max_mm": [1, 2]}]}, "three numbers"),
        ({"boxes": [{**SADDLE["boxes"][0], "member": "knee"}]}, "not a member"),
        ({"boxes": "none"}, "must be a list"),
        ({"colour": "red"}, "not known"),
    ],
)
def test_bad_envelopes_are_one_line_with_their_place(run, tmp_path, change, part):
    (tmp_path / "bad.json").write_text(json.dumps({**SADDLE, **change}))
    code, _, told = run("calc", "envelope", str(tmp_path / "bad.json"))
    assert code == 2
    assert part in told
    assert "bad.json" in told
    assert told.count("\n") == 1


def test_hole_has_every_key_of_the_contract(answer):
    found = answer("hole", "M5", "--material", "steel")
    wanted = {
        "tap_drill_mm", "tap_drill_name", "engagement_percent", "clearance_mm", "counterbore_mm", "min_thread_depth_mm",
        "drill_depth_mm", "findings",
    }  # fmt: skip
    assert wanted <= set(found)
    assert (found["tap_drill_mm"], found["tap_drill_name"]) == (4.2, "4.2 mm")
    assert found["clearance_mm"] == {"close": 5.3, "normal": 5.5, "loose": 5.8}


def test_hole_in_inches_and_against_a_thin_wall(run, answer):
    code, out, _ = run("calc", "hole", "1/4-20", "--material", "aluminium", "--units", "in", "--wall", "1/2")
    assert code == 0
    assert "#7" in out
    assert "0.281 in" in out
    assert "STOP" in out
    assert "wall-too-thin" in [
        f["code"] for f in answer("hole", "M6", "--material", "steel", "--wall", "8")["findings"]
    ]


@pytest.mark.parametrize("words", [["M99"], ["M5", "--drills", "letter"], ["M5", "--tap", "blunt"]])
def test_holes_that_cannot_be_are_one_line(run, words):
    code, _, told = run("calc", "hole", *words, "--material", "steel")
    assert code == 2
    assert told.count("\n") == 1


def cycles(unit, per_mm, approach="+-"):
    """Five targets not on whole steps, two cycles, reading 3 µm high going up and 2 µm low going down."""
    rows = [f"target_{unit};approach;cycle;shown_{unit}"]
    for cycle in (1, 2):
        for way in approach:
            for target in (0, 61.3, 140.2, 199.9, 305):
                shown = target + (0.003 if way == "+" else -0.002) + (0.0005 if cycle == 1 else -0.0005)
                rows.append(f"{target / per_mm!r};{way};{cycle};{shown / per_mm!r}")
    return "\n".join(rows)


@pytest.mark.parametrize(("unit", "per_mm"), [("mm", 1.0), ("in", 25.4)])
def test_positioning_reads_both_units_and_has_every_key(answer, sweep, unit, per_mm):
    found = answer("positioning", sweep(cycles(unit, per_mm)))
    s = 0.5 * 2**0.5
    wanted = {"B_um": 5, "B_mean_um": 5, "M_um": 0, "E_um": 5, "R_um": 4 * s + 5, "A_um": 5 + 4 * s}
    wanted |= {"E_up_um": 0, "E_down_um": 0, "R_up_um": 4 * s, "R_down_um": 4 * s, "A_up_um": 4 * s, "A_down_um": 4 * s}
    assert {k: found[k] for k in wanted} == pytest.approx(wanted, abs=1e-6)
    assert found["findings"][0]["code"] == "below-the-standard"


def test_positioning_one_way_gives_null_and_a_dash(answer, run, sweep):
    path = sweep(cycles("mm", 1.0, "+"))
    found = answer("positioning", path)
    assert (found["B_um"], found["R_um"], found["E_down_um"]) == (None, None, None)
    code, out, _ = run("calc", "positioning", path, "--units", "in")
    assert code == 0
    assert "thou" in out
    assert "–" in out


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("target_mm,shown_mm\n0,0\n1,1", "no column approach"),
        ("target_mm,shown_mm,approach\n0,0,+\n1,1,up", "line 3, column 3 (approach)"),
        ("target_mm,shown_ft,approach\n0,0,+", "names no unit"),
        ("target_mm,shown_mm,approach,approach\n0,0,+,+", "twice"),
    ],
)
def test_positioning_names_what_is_wrong(run, sweep, text, words):
    code, out, err = run("calc", "positioning", sweep(text))
    assert (code, out) == (2, "")
    assert words in err


def test_thermal_answers_in_both_units(answer, run):
    words = ["thermal", "--scale", "glass", "--reference", "steel", "--t-scale", "26", "--t-reference", "26"]
    found = answer(*words, "--length", "500", "--drift", "-9 µm")
    assert found["expected_um"] == pytest.approx(9)
    low, high = found["range_um"]
    coldest = 500 * (11.5 * 0.85 * 5.5 - 8.5 * 1.15 * 6.5) / 1000  # by hand: α ± 15 %, t ± 0.5
    warmest = 500 * (11.5 * 1.15 * 6.5 - 8.5 * 0.85 * 5.5) / 1000
    assert (low, high) == pytest.approx((coldest, warmest))
    assert found["explained"] is False
    assert answer(*words, "--length", "500", "--drift", "20 µm")["explained"] is True
    inches = answer(*words, "--length", "10", "--units", "in")
    assert inches["expected_um"] == pytest.approx(254 * 3 * 6 / 1000)
    assert inches["explained"] is None
    code, out, _ = run("calc", *words, "--length", "10", "--units", "in", "--drift", "0.1")
    assert code == 0
    assert "is not the temperature" in out


def test_segments_have_every_key_of_the_contract_in_both_unit_systems(answer, run, sweep):
    rows = [(x, x + 0.03 * min(x, 300 - x) / 150) for x in range(0, 301, 50)]
    text = "\n".join(["target_mm,shown_mm", *(f"{t},{s}" for t, s in rows)])
    found = answer("segments", sweep(text), "--points", 3)
    assert set(found) == {"knots", "max_residual_mm", "rms_residual_mm", "linear_max_residual_mm", "findings"}
    assert [k["at_mm"] for k in found["knots"]] == pytest.approx([0, 150.03, 300])
    assert [k["correction_mm"] for k in found["knots"]] == pytest.approx([0, -0.03, 0])
    assert found["max_residual_mm"] == pytest.approx(0, abs=1e-3)
    assert found["linear_max_residual_mm"] == pytest.approx(0.015, rel=1e-3)
    inch = "\n".join(["target_in,shown_in", *(f"{t / 25.4:.9f},{s / 25.4:.9f}" for t, s in rows)])
    same = answer("segments", sweep(inch), "--points", 3, "--spacing", "equal", "--step", "0.005 mm")
    assert [k["correction_mm"] for k in same["knots"]] == pytest.approx([0, -0.03, 0])
    code, out, _ = run("calc", "segments", sweep(text), "--points", 3)
    assert (code, "−0.030 mm" in out) == (0, True)


@pytest.mark.parametrize(
    ("points", "words"), [("1", "two points"), ("x", "no whole number"), ("3.5", "no whole number")]
)
def test_segments_refuse_what_is_no_number_of_points(run, sweep, points, words):
    code, _, err = run("calc", "segments", sweep("target_mm,shown_mm\n0,0\n1,1\n2,2"), "--points", points)
    assert (code, words in err) == (2, True)


def test_gears_key_and_stops_have_every_key_of_the_contract(answer, run):
    gears = answer("gears", "--teeth", "20,40", "--module", "2", "--pressure-angle", "20", "--backlash", "0.1")
    assert set(gears) >= {"centre_mm", "backlash_mm", "open_mm", "findings"}
    assert (gears["centre_mm"], gears["open_mm"]) == (60, pytest.approx(0.1374, abs=1e-4))
    inch = answer(
        "gears", "--teeth", "18,36", "--dp", "12", "--pressure-angle", "14.5", "--paper", "4 thou", "--flanks", "2"
    )
    assert inch["centre_mm"] == pytest.approx(27 * 25.4 / 12)
    assert inch["backlash_mm"] == pytest.approx(2 * 0.1016 / 0.96815, rel=1e-4)
    key = answer("key", "--key", "3/16 in", "--slot", "5", "--rim", "180", "--shaft", "20")
    assert (key["slack_mm"], key["play_mm"]) == (pytest.approx(0.2375), pytest.approx(2.1375))
    assert answer("key", "--key", "5", "--slot", "3/16 in")["slack_mm"] == pytest.approx(-0.2375)
    stops = answer(
        "stops",
        "--hard",
        "0;500",
        "--scale",
        "-20;505",
        "--rapid",
        "600",
        "--run-on",
        "4",
        "--clear",
        "3",
        "--scale-margin",
        "10",
    )
    assert (stops["run_on_mm"], stops["trip_mm"]) == (4, [7, 491])
    guess = answer(
        "stops", "--hard", "0;500", "--rapid", "600", "--switch-s", "0.1", "--brake-s", "0.6", "--clear", "3"
    )
    assert guess["run_on_mm"] == pytest.approx(4)
    assert guess["findings"][0]["code"] == "run-on-not-measured"
    code, out, _ = run("calc", "stops", "--hard", "0;20", "--run-on", "0.2", "--units", "in")
    assert (code, "trip" in out) == (0, True)


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (("gears", "--teeth", "20", "--module", "2", "--backlash", "0.1"), "two numbers of teeth"),
        (("gears", "--teeth", "20,40", "--dp", "0", "--backlash", "0.1"), "larger than zero"),
        (("gears", "--teeth", "20,40", "--module", "2"), "required"),
        (("key", "--key", "0", "--slot", "5"), "wider than zero"),
        (("stops", "--hard", "0;500"), "--run-on"),
        (("stops", "--hard", "0;500", "--run-on", "-1"), "negative"),
    ],
)
def test_the_feed_commands_refuse_what_cannot_be(run, words, told):
    code, _, err = run("calc", *words)
    assert (code, told in err) == (2, True), err


def plate_file(tmp_path, **more):
    data = {
        "existing": [{"x_mm": 0, "y_mm": 0, "thread": "1/4-20"}, {"x_mm": "1.62 in", "y_mm": 0, "thread": "1/4-20"}],
        "wanted": [{"x_mm": 10, "y_mm": 30, "thread": "M5"}], "thickness_mm": 12, "material": "steel", **more,
    }  # fmt: skip
    path = tmp_path / "plate.json"
    path.write_text(json.dumps(data))
    return str(path)


def test_calc_plate_takes_both_unit_systems_and_says_no_with_exit_0(tmp_path, capsys):
    assert main(["calc", "plate", plate_file(tmp_path), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["feasible"] is True
    one, two = answer["holes"][:2]
    assert two["x_mm"] - one["x_mm"] == pytest.approx(1.62 * 25.4)
    assert (one["drill_name"], answer["width_mm"]) == ("9/32", pytest.approx(1.62 * 25.4 + 3 * 6.35))
    assert main(["calc", "plate", plate_file(tmp_path, keep_out=[{"from": [-5, -5], "to": [5, 5]}]), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["feasible"] is False


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"holes": []}, "“holes” is not known"),
        ({"material": "cheese"}, "material must be one of"),
        ({"existing": [{"x_mm": 0, "y_mm": 0, "thread": "M5.5"}]}, "is not a thread"),
        ({"wanted": [{"x_mm": 0, "thread": "M5"}]}, "wanted 1 has no “y_mm”"),
        ({"wanted": [{"x_mm": 0, "y_mm": 0, "thread": "M5", "counterbore": "yes"}]}, "counterbore true or false"),
        ({"thickness_mm": "thick"}, "thickness_mm"),
        ({"keep_out": {"from": [0, 0]}}, "keep_out must be a list"),
    ],
)
def test_calc_plate_names_what_is_wrong(tmp_path, capsys, more, said):
    assert main(["calc", "plate", plate_file(tmp_path, **more)]) == 2
    told = capsys.readouterr().err
    assert said in told
    assert "plate.json" in told
    assert told.count("\n") == 1


def test_calc_thread_takes_a_pitch_or_threads_per_inch(capsys):
    assert main(["calc", "thread", "--diameter", "0.187", "--tpi", "24", "--units", "in", "--json"]) == 0
    first = json.loads(capsys.readouterr().out)["candidates"][0]
    assert (first["name"], first["system"]) == ("3/16 BSW", "BSW")
    assert main(["calc", "thread", "--diameter", "7", "--pitch", "0.2", "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["candidates"] == []
    assert answer["findings"][0]["code"] == "no-thread"
    for wrong in (["--tpi", "0"], ["--tpi", "nan"], []):
        try:
            code = main(["calc", "thread", "--diameter", "7", *wrong])
        except SystemExit as stopped:
            code = stopped.code
        assert code == 2


def test_calc_size_of_a_tape_counts_its_head_once_and_alike(capsys):
    assert main(["calc", "size", "--travel", "131", "--margin", "10", "--family", "tape", "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["required_mm"] == answer["choices"][0]["cut_to_mm"] == 131 + 20 + 40


def joint_file(tmp_path, **more):
    plain = {"thread": "M6", "layers": [{"kind": "part", "thickness_mm": 12}], "material": "cast-iron",
             "into": {"kind": "hole", "thread_mm": 8.9}}  # fmt: skip
    path = tmp_path / "joint.json"
    path.write_text(json.dumps({**plain, **more}))
    return str(path)


@pytest.mark.parametrize(
    ("more", "length", "engaged", "clear", "proud", "codes"),
    [
        ({}, None, None, None, 6, ["screw-bottoms"]),
        ({"into": {"kind": "hole", "thread_mm": "0.6 in"}}, 25, 13, 2.24, 6, []),
        ({"into": {"kind": "hole", "thread_mm": None}}, None, None, None, 6, ["thread-depth-unknown"]),
        ({"thread": "1/4-20", "layers": [{"kind": "part", "thickness_mm": "1/4 in"}], "material": "steel",
          "into": {"kind": "hole", "thread_mm": 12.7}}, 12.7, 6.35, 6.35, 6.35, []),
        ({"counterbore_mm": 6.4, "over_head_mm": 0, "into": {"kind": "hole", "thread_mm": 30}}, 16, 10.4, 19.6, -0.4,
         []),
        ({"over_head_mm": 0, "into": {"kind": "hole", "thread_mm": 30}}, 25, 13, 17, 6, ["head-in-the-way"]),
        ({"thread": "M8", "layers": [{"kind": "part", "thickness_mm": 10}], "material": "steel",
          "into": {"kind": "t-nut", "lip_mm": 9, "neck_mm": 8.5, "nut_mm": 6, "slot_mm": 16}}, 20, 9.5, 6, 8, []),
        ({"thread": "M8", "layers": [{"kind": "part", "thickness_mm": 10}], "material": "steel",
          "into": {"kind": "t-nut", "lip_mm": 9, "neck_mm": 9, "nut_mm": 6, "slot_mm": 16}}, None, None, None, 8,
         ["neck-too-high"]),
    ],
)  # fmt: skip
def test_calc_joint_names_the_screw_or_what_would_serve(tmp_path, capsys, more, length, engaged, clear, proud, codes):
    assert main(["calc", "joint", joint_file(tmp_path, **more), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    near = lambda mm: mm and pytest.approx(mm)  # noqa: E731
    assert found["length_mm"] == near(length)
    assert found["engagement_mm"] == near(engaged)
    assert found["clear_of_bottom_mm"] == near(clear)
    assert found["head_proud_mm"] == near(proud)
    assert [f["code"] for f in found["findings"]] == codes


@pytest.mark.parametrize(
    ("more", "words"),
    [({"layers": []}, "at least one part"), ({"into": {"kind": "glue"}}, "into: kind must be one of"),
     ({"into": {"kind": "t-nut"}}, "a T-nut wants lip_mm"), ({"torque": 3}, "“torque” is not known"),
     ({"material": "cheese"}, "material must be one of"), ({"counterbore_mm": 13}, "goes through it")],
)  # fmt: skip
def test_calc_joint_refuses_what_is_no_joint(tmp_path, capsys, more, words):
    assert main(["calc", "joint", joint_file(tmp_path, **more)]) == 2
    said = capsys.readouterr().err
    assert words in said
    assert "Traceback" not in said
