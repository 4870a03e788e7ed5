"""Cables and positioning runs of a job."""

import pytest

from vernus.bench.readout import AxisFaults, SimulatedAxis
from vernus.core.errors import BadInputError
from vernus.desktop.demo import demo_source
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.connect.cables import (
    cable_of,
    cable_result,
    copied_wires,
    earthed,
    propose_anchors,
    usual_wires,
    wire_findings,
    wires_to_copy,
)
from vernus.job.connect.powerup import powerup_result
from vernus.job.connect.statements import cable_statements
from vernus.job.document import Job, new_id
from vernus.job.entities import (
    Approach,
    Axis,
    CableAnchor,
    CableRun,
    Delivery,
    Display,
    FeelRecord,
    PositioningRun,
    PowerUpCheck,
    ReferenceKit,
    Step,
    Wire,
)
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import read_export
from vernus.job.machine.geometry import axis_travel, boxes_of, faces_of
from vernus.job.machine.travel import survey_with
from vernus.job.plan.faces import choose_face
from vernus.job.plan.scale import scale_plan
from vernus.job.prove.feel import feel_of, feel_result
from vernus.job.prove.positioning import positioning_result
from vernus.job.prove.runs import (
    next_approach,
    read_run,
    run_of,
    with_shown,
    with_shown_changed,
    with_targets,
    without_last,
)
from vernus.job.review.review import card_lines, review_axis


def mm(text, unit="mm"):
    return LengthEntry.read(str(text), unit)


@pytest.fixture
def job():
    return Job(new_job_entities("x", "bench-mill"))


@pytest.fixture
def axis(job):
    found = job.axes()[0]
    survey = survey_with(job, found, "caliper").with_(readings=(mm(400), mm(400)))
    job.apply("travel", [survey, found.with_(accuracy=mm("0.03"))])
    return job.axes()[0]


@pytest.mark.parametrize("name", ["mill", "lathe"])
def test_the_plan_proposes_anchors_from_stub_to_display_on_every_member_between(name):
    demo = Job(read_export(demo_source(name)))
    for axis in demo.axes()[:2]:
        put = propose_anchors(demo, axis, new_id)
        assert put[0].member == {"mill": "saddle", "lathe": "carriage"}[name], "the reader's stub, not the body"
        assert put[-1].name == "display"
        assert [a.place for a in put] == sorted(a.place for a in put)
        demo.apply("fresh", put, [a.id for a in demo.of_axis(type(put[0]), axis.id)])
        assert cable_result(demo, axis).need.need_mm > 0


@pytest.mark.parametrize("name", ["mill", "lathe"])
def test_the_proposed_ways_run_into_nothing_on_either_machine(name):
    demo = Job(read_export(demo_source(name)))
    for axis in demo.axes()[:2]:
        put = propose_anchors(demo, axis, new_id)
        demo.apply("fresh", put, [a.id for a in demo.of_axis(type(put[0]), axis.id)])
        assert cable_result(demo, axis).need.snags == ()


@pytest.mark.parametrize("kind", [k.id for k in machine_kinds()])
def test_on_every_kind_of_machine_the_cable_of_the_first_axis_is_led_round_everything(kind):
    job = Job(new_job_entities("x", kind))
    axis = job.axes()[0]
    face = faces_of(job, axis)[0]
    plan = scale_plan(job, axis)
    job.apply("plan", [plan.with_(face_id=face.id)])
    put = propose_anchors(job, axis, new_id)
    assert len(put) > 2
    job.apply("anchors", put)
    assert cable_result(job, axis).need.snags == ()


def test_without_a_face_nobody_knows_where_the_cable_begins(job, axis):
    with pytest.raises(BadInputError, match="scale and face"):
        propose_anchors(job, axis, new_id)
    assert "Propose" in cable_result(job, axis).instruction.text()


def test_the_mill_is_asked_to_tie_and_earth_before_its_cable_is_done():
    demo = Job(read_export(demo_source("mill")))
    axis = demo.axes()[0]
    assert cable_result(demo, axis).done
    cable = demo.all(CableRun)[0]
    demo.apply("untied", [cable.with_(tied="")])
    assert "Display off" in cable_result(demo, axis).instruction.text()
    demo.apply("no earth", [cable.with_(earth="no")])
    result = cable_result(demo, axis)
    assert ("not-earthed" in {f.code for f in result.findings}, result.done) == (True, False)
    demo.apply("short", [demo.all(Delivery)[0].with_(cable=mm("1500"))])
    assert cable_result(demo, axis).need.over_mm < 0


def test_pins_that_differ_stop_the_plug(job, axis):
    job.apply("wires", usual_wires(axis, new_id))
    assert wire_findings(job, axis) == []
    power, signal = job.all(Wire)[1:3]
    job.apply("pins", [power.with_(pin="2", wanted_pin="7"), signal.with_(pin="2", wanted_pin="2")])
    found = wire_findings(job, axis)
    assert [f.code for f in found] == ["pins-differ", "pin-twice"]
    assert "+5 V 2 → 7" in found[0].what.text()
    said = [s for s in cable_statements(job, axis) if s.kind == "wire"]
    assert [(s.figures["pin"], s.figures["wanted_pin"], s.figures["as_it_is"]) for s in said] == [
        ("2", "7", False), ("2", "2", True),
    ]  # fmt: skip


def filled(run, simulated):
    while (due := next_approach(run)) is not None:
        share = len(run.readings) / 50
        run = with_shown(run, LengthEntry(mm=simulated.show(due[1].mm, due[2], share)))
    return run


def test_a_run_goes_up_and_back_down_and_names_the_cause(job, axis):
    run = run_of(job, axis, "mm")
    assert [t.mm for t in run.targets][0::4] == [5, 395]
    order = []
    for _ in range(10):
        _, target, up = next_approach(run)
        order.append((target.mm, up))
        run = with_shown(run, target)
    assert order[:5] == sorted(order[:5])
    assert [t for t, _ in order[5:]] == [t for t, _ in order[4::-1]]
    assert [up for _, up in order] == [True] * 5 + [False] * 5
    assert next_approach(run)[0] == 2
    assert without_last(run).readings == run.readings[:-1]
    assert with_shown_changed(run, 0, mm(7)).readings[0].shown.mm == 7
    loose = filled(run_of(job, axis, "mm"), SimulatedAxis(400, AxisFaults(lost_motion=0.04), 1))
    result = positioning_result(job, axis, loose)
    assert result.diagnosis.first == "lost-motion"
    assert {"cause-lost-motion", "accuracy-not-met"} <= {f.code for f in result.findings}
    assert not result.done
    good = filled(run_of(job, axis, "mm"), SimulatedAxis(400, AxisFaults(), 1))
    unnamed = positioning_result(job, axis, good)
    assert not unnamed.done
    assert "For a proof it still takes a reference, named under Run" in unnamed.instruction.text()
    job.apply("kit", [ReferenceKit(id="kit", reference_kind="blocks")])
    proved = positioning_result(job, axis, good.with_(reference_id="kit"))
    assert (proved.done, proved.instruction.text()[:7]) == (True, "Proved.")
    with pytest.raises(BadInputError, match="Every cycle"):
        with_shown(good, mm(1))


def test_targets_follow_the_setup_until_something_is_read(job, axis):
    run = with_targets(job, axis, run_of(job, axis, "in").with_(stations=9.0), "in")
    assert len(run.targets) == 9
    assert all(t.mm / 1.27 == pytest.approx(round(t.mm / 1.27)) for t in run.targets), "on twentieths of an inch"
    assert with_targets(job, axis, run.with_(stations=1e9), "mm").targets == run.targets
    assert positioning_result(job, axis, run.with_(stations=1e9)).findings[0].code == "out-of-range"
    read = with_shown(run, mm(1)).with_(stations=3.0)
    assert with_targets(job, axis, read, "mm").targets == run.targets


def test_a_run_in_one_direction_has_no_figures_of_both(job, axis):
    run = filled(run_of(job, axis, "mm").with_(ways="up", cycles=2.0), SimulatedAxis(400, AxisFaults(bow=0.03), 3))
    result = positioning_result(job, axis, run)
    assert result.figures.accuracy_mm is None
    assert result.figures.up.accuracy_mm > 0
    assert result.figures.band(False) is None


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_a_csv_is_read_as_a_run_and_a_bad_one_is_told_by_its_line(axis, job, tmp_path, unit):
    simulated = SimulatedAxis(300, AxisFaults(bow=0.05), 2)
    factor = 25.4 if unit == "in" else 1
    rows = [
        f"{t / factor:.6f};{'+' if up else '-'};{n // 10 + 1};{s / factor:.6f}"
        for n, (t, up, s) in enumerate(simulated.run(simulated.targets(7), 3))
    ]
    path = tmp_path / "run.csv"
    path.write_text("\n".join([f"target_{unit};approach;cycle;shown_{unit}", *rows]), encoding="utf-8")
    run = read_run(path, axis)
    assert (len(run.targets), run.cycles, run.ways) == (7, 3, "both")
    assert positioning_result(job, axis, run).diagnosis.first == "bow"
    path.write_text("target_mm;approach;shown_mm\n1;+;1\n2;up;2", encoding="utf-8")
    with pytest.raises(BadInputError, match="line 3"):
        read_run(path, axis)


def test_tests_by_hand_are_kept_per_kind_and_judged(job, axis):
    steps = feel_of(job, axis, "steps")
    job.apply("steps", [steps.with_(values=tuple(mm(v) for v in ("0", "0.024", "0.026", "0.025", "0.025")))])
    assert [f.code for f in feel_result(job, axis, feel_of(job, axis, "steps")).findings] == ["first-steps-missing"]
    push = FeelRecord(id="p", axis_id=axis.id, test="push")
    assert feel_result(job, axis, push).verdict is None
    assert feel_result(job, axis, push.with_(values=(mm("0.03"), mm("-0.05")))).findings[0].code == "mount-gives"
    assert feel_result(job, axis, push.with_(values=(mm("0.005"),))).verdict == "pass"
    zero = FeelRecord(id="z", axis_id=axis.id, test="zero", values=tuple(mm(v) for v in ("0", "0.005", "0")))
    assert feel_result(job, axis, zero).verdict == "pass"
    assert feel_result(job, axis, steps.with_(asked=mm("-1"))).findings[0].code == "out-of-range"


def test_an_empty_axis_is_asked_for_its_travel(job):
    axis = job.axes()[1]
    run = run_of(job, axis, "mm")
    assert isinstance(run, PositioningRun)
    assert "travel first" in positioning_result(job, axis, run).instruction.text()


def test_the_accuracy_is_judged_with_the_uncertainty_of_its_reference(job, axis):
    run = filled(run_of(job, axis, "mm"), SimulatedAxis(400, AxisFaults(bow=0.02), 1))
    plain = positioning_result(job, axis, run)
    assert [line.name for line in plain.budget.lines] == ["sampling by 5 cycles", "the display's rounding, twice"]
    kit = ReferenceKit(id="kit", reference_kind="shop-blocks", pieces=4)
    job.apply("kit", [kit, axis.with_(accuracy=LengthEntry(mm=plain.figures.accuracy_mm + 0.004))])
    axis = job.axes()[0]
    assert positioning_result(job, axis, run).verdict in ("pass", "unsure")
    named = positioning_result(job, axis, run.with_(reference_id="kit"))
    assert (named.verdict, named.done) == ("unsure", False)
    assert "too near" in next(f.what.text() for f in named.findings if f.code == "accuracy-unsure")
    job.apply("one", [kit.with_(reference_kind="blocks", pieces=1)])
    assert positioning_result(job, axis, run.with_(reference_id="kit")).budget.expanded < named.budget.expanded


def test_cables_and_power_up_of_an_axis_are_steps_of_its_own_that_its_sheets_tick():
    demo = Job(read_export(demo_source("mill")))

    def done():
        return {line.step.key: line.done for line in card_lines(demo)}

    assert (done()["powerup-X"], done()["powerup-Y"], done()["prove-X"]) == (True, False, True)
    first = demo.all(PowerUpCheck)[0]
    rest = [a for a in demo.all(Axis) if a.id != first.axis_id]
    demo.apply("all", [first.with_(id=new_id(), created="", changed="", axis_id=a.id) for a in rest])
    assert (done()["powerup-Y"], done()["cables-Y"]) == (True, False), "a sheet is done by what was entered on it"


def test_a_step_ticked_when_it_was_one_for_the_whole_machine_is_ticked_for_every_axis():
    demo = Job(read_export(demo_source("mill")))
    demo.apply("old", [Step(id="s", key="cables", done=True)])
    lines = {line.step.key: line.done for line in card_lines(demo)}
    assert lines["cables-X"]
    assert lines["cables-Y"]


def test_the_display_is_earthed_once_and_wires_are_copied_to_the_next_axis():
    demo = Job(read_export(demo_source("mill")))
    x, y = demo.axes()[:2]
    for cable in demo.all(CableRun):
        demo.apply("not yet", [cable.with_(earth="")])
    assert earthed(demo) == ""
    demo.apply("said", [cable_of(demo, x, new_id()).with_(earth="yes")])
    assert earthed(demo) == "yes"
    assert "Earth" not in cable_result(demo, y).instruction.text()
    for wire in demo.all(Wire):
        demo.apply("gone", drop=[wire.id])
    assert wires_to_copy(demo, y) == ("", [])
    demo.apply("wires", [Wire(id="w", axis_id=x.id, signal="A", pin="3", wanted_pin="6")])
    assert wires_to_copy(demo, y)[0] == "X"
    demo.apply("copy", copied_wires(demo, y, new_id))
    assert [(w.signal, w.pin, w.wanted_pin) for w in demo.of_axis(Wire, y.id)] == [("A", "3", "6")]
    assert wires_to_copy(demo, y) == ("", []), "nothing is copied over what is there"


def warm_run(job, axis, ppm, **temperatures):
    """A run over 400 mm whose display shows ``ppm`` too much, in steps of 1 µm."""
    targets = (5, 83, 148, 239, 310, 395)
    readings = tuple(
        Approach(target=mm(t), up=up, shown=LengthEntry(mm=round(t * (1 + ppm * 1e-6), 3)))
        for _ in range(3)
        for up in (True, False)
        for t in (targets if up else targets[::-1])
    )
    return PositioningRun(
        id="warm", axis_id=axis.id, targets=tuple(mm(t) for t in targets), cycles=3.0, step=mm("0.001"),
        readings=readings, **temperatures,
    )  # fmt: skip


def test_what_temperature_makes_of_a_run_is_taken_out_and_what_is_left_is_judged(job, axis):
    """Steel less glass is 3 ppm/K: at 30 °C a display shows 30 ppm too much with nothing wrong."""
    cold = positioning_result(job, axis, warm_run(job, axis, 30))
    told = {f.code: f.what.text() for f in cold.findings}
    assert "5 °C between scale and reference make 0.022 mm over 390 mm" in told["trend-temperature-unknown"]
    warm = positioning_result(job, axis, warm_run(job, axis, 30, scale_c=30.0, reference_c=30.0))
    codes = {f.code for f in warm.findings}
    assert "temperature-taken-out" in codes
    assert not codes & {"cause-trend", "trend-may-be-temperature"}
    assert warm.figures.systematic_mm < 0.003 < cold.figures.systematic_mm
    assert warm.budget.u > cold.budget.u, "thermometers and coefficients are in the budget"


def test_a_trend_larger_than_thermometers_leave_open_is_not_the_temperature(job, axis):
    real = positioning_result(job, axis, warm_run(job, axis, 150, scale_c=22.0, reference_c=22.0))
    told = {f.code: f.what.text("in") for f in real.findings}
    assert "is not the temperature" in told["trend-not-temperature"]
    assert "Over 15.354 in the readings grew by +2.3 thou" in told["trend-not-temperature"], "150 ppm of 390 mm"
    near = positioning_result(job, axis, warm_run(job, axis, 45, scale_c=30.0, reference_c=30.0, u_c=2.0))
    assert "trend-may-be-temperature" in {f.code for f in near.findings}


@pytest.mark.parametrize("kind", ["lathe-small", "lathe-mid", "knee-mill-turret", "bench-mill"])
def test_no_clip_is_proposed_on_what_turns_nor_above_the_ways(kind):
    job = Job(new_job_entities("x", kind, scope={a.name: ("new", "none") for a in kind_named(kind).axes}))
    for axis in job.axes():
        faces = faces_of(job, axis)
        if not faces:
            continue
        far = travel_of(job, axis)
        plan = scale_plan(job, axis).with_(family="glass-slim", measuring=LengthEntry(mm=far + 60))
        job.apply("plan", [choose_face(plan, faces[0])])
        anchors = propose_anchors(job, axis, new_id)
        names = " ".join(a.name for a in anchors).lower()
        assert not any(word in names for word in ("chuck", "toolpost", "compound", "handwheel", "spindle", "nose"))
        on_ways = {m.on for m in job.machine.members if m.axis and axis_by(job, m.axis).direction[1] != "z"}
        tops = {m: max(b.top.mm for b in boxes_of(job) if b.member == m and b.name == m) for m in on_ways - {""}
                if any(b.name == m for b in boxes_of(job))}  # fmt: skip
        for anchor in anchors[1:-1]:
            box = next((b for b in boxes_of(job) if b.name == anchor.member), None)
            if anchor.member in tops and box is not None:
                inside = box.left.mm <= anchor.x.mm <= box.right.mm and box.front.mm <= anchor.y.mm <= box.back.mm
                assert not (inside and anchor.z.mm >= tops[anchor.member]), (kind, axis.name, anchor.name)
        job.apply("anchors", anchors)
        assert "anchor-in-the-way" not in {f.code for f in cable_result(job, axis).findings}


def kind_named(wanted):
    return next(k for k in machine_kinds() if k.id == wanted)


def axis_by(job, name):
    return next(a for a in job.axes() if a.name == name)


def travel_of(job, axis):
    return axis_travel(job, axis)


def proposed(kind="lathe-small", name="Z"):
    job = Job(new_job_entities("x", kind, scope={name: ("new", "none")}))
    axis = axis_by(job, name)
    plan = scale_plan(job, axis).with_(family="glass-slim", measuring=LengthEntry(mm=500))
    job.apply("plan", [choose_face(plan, faces_of(job, axis)[0])])
    job.apply("anchors", propose_anchors(job, axis, new_id))
    return job, axis


@pytest.mark.parametrize("where", ["on the chuck", "above the ways"])
def test_an_anchor_typed_where_none_may_be_is_a_stop(where):
    job, axis = proposed()
    box = next(b for b in boxes_of(job) if b.name == ("chuck" if where == "on the chuck" else "bed"))
    middle = {"x": (box.left.mm + box.right.mm) / 2, "y": (box.front.mm + box.back.mm) / 2, "z": box.top.mm + 5}
    if where == "above the ways":
        middle["x"] = box.right.mm - 30
    clip = CableAnchor(id=new_id(), axis_id=axis.id, name="clip", member="bed", place=1.5,
                       **{k: LengthEntry(mm=v, text=str(v)) for k, v in middle.items()})  # fmt: skip
    job.apply("typed", [clip])
    found = [f for f in cable_result(job, axis).findings if f.code == "anchor-in-the-way"]
    assert [f.severity for f in found] == ["stop"]
    assert where.split()[-1] in found[0].what.text()


@pytest.mark.parametrize("change", [{"member": "carriage"}, {"side": "left"}])
def test_a_display_that_moved_opens_the_cable_again(change):
    job, axis = proposed()
    job.apply("display", [Display(id="d", member="bed", side="right")])
    job.apply("again", propose_anchors(job, axis, new_id), [a.id for a in job.all(CableAnchor)])
    cable = CableRun(id="c", axis_id=axis.id, supplied=LengthEntry.read("9000"), earth="yes", tied="yes")
    job.apply("cable", [cable])
    assert cable_result(job, axis).done
    job.apply("moved", [job.get("d").with_(**change)])
    result = cable_result(job, axis)
    assert not result.done
    assert "display-moved" in {f.code for f in result.findings}
    assert not result.instruction.concludes
    job.apply("again", propose_anchors(job, axis, new_id), [a.id for a in job.all(CableAnchor)])
    assert "display-moved" not in {f.code for f in cable_result(job, axis).findings}


def test_nothing_is_switched_on_that_is_not_earthed():
    job, axis = proposed()
    before = powerup_result(job, axis).instruction.text()
    assert "display is earthed to the machine, then switch it on" in before
    job.apply("cable", [CableRun(id="c", axis_id=axis.id, earth="no")])
    result = powerup_result(job, axis)
    assert result.instruction.text().startswith("Earth it before")
    assert "stop" in {f.severity for f in result.findings}
    assert review_axis(job, axis).states["powerup"] == "stop"
    job.apply("cable", [job.get("c").with_(earth="yes")])
    assert powerup_result(job, axis).instruction.text() == before


@pytest.mark.parametrize("units", ["mm", "in"])
@pytest.mark.parametrize("moved", ["face", "body"])
def test_a_reader_that_moves_opens_its_cable_again(units, moved):
    job = Job(new_job_entities("x", "bench-mill", units))
    axis = job.axes()[0]
    first, other = faces_of(job, axis)[:2]
    job.apply("plan", [scale_plan(job, axis).with_(face_id=first.id)])
    job.apply("anchors", propose_anchors(job, axis, new_id))
    assert "reader-moved" not in {f.code for f in cable_result(job, axis).findings}
    plan = scale_plan(job, axis)
    job.apply("moved", [
        plan.with_(face_id=other.id) if moved == "face" else plan.with_(stand_off=mm("40")),
    ])  # fmt: skip
    assert "reader-moved" in {f.code for f in cable_result(job, axis).findings}
    job.apply("again", propose_anchors(job, axis, new_id), [a.id for a in job.of_axis(CableAnchor, axis.id)])
    assert "reader-moved" not in {f.code for f in cable_result(job, axis).findings}


@pytest.mark.parametrize("kind", ["lathe-small", "lathe-mid"])
def test_no_cable_is_held_on_a_guard_nor_on_what_comes_off(kind):
    job = Job(new_job_entities("x", kind))
    axis = job.axes()[0]
    job.apply("plan", [scale_plan(job, axis).with_(face_id=faces_of(job, axis)[0].id)])
    assert not [a.name for a in propose_anchors(job, axis, new_id) if "guard" in a.name or "door" in a.name]
    bench = Job(new_job_entities("x", "knee-mill-turret"))
    x = bench.axes()[0]
    bench.apply("plan", [scale_plan(bench, x).with_(face_id=faces_of(bench, x)[0].id)])
    bench.apply("off", [bench.info.with_(comes_off="knee", off_for=x.id)])
    assert "knee" not in [a.member for a in propose_anchors(bench, x, new_id)[1:-1]]


@pytest.mark.parametrize(("side", "reach"), [("left", "300"), ("right", "12 in")])
def test_the_cable_ends_at_the_top_of_what_the_display_hangs_on_on_its_side(side, reach):
    job, axis = proposed()
    job.apply("display", [Display(id="d", member="bed", side=side, reach=LengthEntry.read(reach))])
    mine = [b for b in boxes_of(job) if b.member == "bed"]
    end = propose_anchors(job, axis, new_id)[-1]
    out = job.get("d").reach.mm
    beside = min(b.left.mm for b in mine) - out if side == "left" else max(b.right.mm for b in mine) + out
    assert end.member == "bed"
    assert end.z.mm == pytest.approx(max(b.top.mm for b in mine), abs=0.5)
    assert end.x.mm == pytest.approx(beside, abs=0.5)
