"""The plan on real templates: faces, envelope, order list, job card."""

import pytest

from vernus.core.errors import BadInputError
from vernus.core.machine.travel_kept import keep_travel
from vernus.job.catalog.families import families_of, family_edit
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import face_schools, machine_kinds
from vernus.job.catalog.templates import own_templates, read_template, template_of, write_template
from vernus.job.document import Job, new_id
from vernus.job.entities import (
    Axis,
    Delivery,
    Display,
    Face,
    FamilyEdit,
    Hole,
    Measure,
    MountPart,
    ScalePlan,
    SolidBox,
    Step,
    TravelSurvey,
)
from vernus.job.fields import LengthEntry
from vernus.job.keep.card import next_line
from vernus.job.keep.lists import buying_list, total_price
from vernus.job.known.axis_figures import plan_of
from vernus.job.machine.geometry import axis_travel, envelope_of, faces_of, geometry_findings, machine_boxes
from vernus.job.machine.survey import hole_thread
from vernus.job.machine.travel import survey_with, turns_entry
from vernus.job.plan.compare import compare_families
from vernus.job.plan.display import display_findings
from vernus.job.plan.faces import choose_face, face_findings, faces_result
from vernus.job.plan.next_measure import next_measure
from vernus.job.plan.order import stop_items
from vernus.job.plan.places import place_on_face
from vernus.job.plan.scale import scale_plan, scale_result
from vernus.job.plan.travel_left import envelope_result
from vernus.job.plan.what_if import what_ifs
from vernus.job.review.review import card_lines, review_axis, review_job
from vernus.job.said import of_axis


def mm(text):
    return LengthEntry.read(text)


def job_on(kind):
    return Job(new_job_entities("Plan", kind))


def axis_of(job, name):
    return next(a for a in job.axes() if a.name == name)


def face_of(job, name):
    return next(f for f in job.all(Face) if f.name == name)


def plan(job, axis_name, face_name, family="glass-slim", measuring="450", **more):
    axis = axis_of(job, axis_name)
    put = choose_face(scale_plan(job, axis), face_of(job, face_name))
    put = put.with_(family=family, measuring=mm(measuring), **more)
    job.apply("plan", [put])
    return axis


def box(job, name, **sides):
    return next(b for b in job.all(SolidBox) if b.name == name).with_(**{k: mm(str(v)) for k, v in sides.items()})


@pytest.mark.parametrize("kind", machine_kinds(), ids=lambda k: k.id)
def test_a_bare_template_keeps_all_its_travel_and_meets_nothing(kind):
    job = Job(new_job_entities("x", kind))
    result = keep_travel(envelope_of(job))
    assert result.pairs == ()
    assert result.kept == envelope_of(job).full


@pytest.mark.parametrize("kind", machine_kinds(), ids=lambda k: k.id)
def test_every_axis_of_every_template_has_faces_that_work(kind):
    job = Job(new_job_entities("x", kind))
    for axis in job.axes():
        judged = faces_result(job, axis).judged
        assert len(judged) >= 2
        assert judged[0].ranked.costs.possible
        assert all(j.ranked.judgement.text().endswith(".") for j in judged)


def test_a_scale_behind_the_table_takes_cross_travel_and_asks_for_a_bumper():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table")
    result = envelope_result(job)
    # Face 90 behind the middle, reader 3 + 28, bracket 8, air 1: 130 deep; column 203.5 away; Y then ends at +73.5.
    assert result.kept["Y"] == (-87.5, 73.5)
    (stop,) = result.stops
    assert (stop.motion, stop.need.end, stop.need.before_mark_mm, stop.need.why) == ("Y", "high", 14.0, "metal")
    codes = [f.code for f in result.findings]
    assert codes.count("meets") == 1
    bumper = next(f for f in result.findings if f.code == "bumper")
    assert "stop at +73.5 mm" in bumper.what.text()
    assert "+2.894 in" in bumper.what.text("in")
    assert "[45 mm] long" in bumper.what.text()
    assert "[14 mm] before its back mark" in result.instruction.text()
    # Table to column decides the stop and saddle to column the pillar; the table's width drops out of both.
    asked = {"Table to column, saddle fully back", "Saddle to column, saddle fully back"}
    assert {m.label for m in job.all(Measure) if m.label in bumper.remedy.text()} == asked
    matters = {i.key for i in next_measure(job).ranked if i.most_mm > 1}
    assert {m.key for m in job.all(Measure) if m.label in asked} <= matters, "Machine asks for them"
    assert any("measure first" in i.detail.text() and "[14 mm]" in i.detail.text() for i in stop_items(job))


def test_a_bumper_loses_its_brackets_once_what_it_rests_on_is_measured():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table")
    axis = job.axes()[0]
    family = next(f for f in families_of(job) if f.id == plan_of(job, axis).family)
    found = next(f for f in envelope_result(job).findings if f.code == "bumper")
    assert "X reader, its depth" in found.remedy.text()
    assert "X reader's bracket, its thickness" in found.remedy.text()
    high, deep = family.reader_section_mm
    job.apply("sizes", [FamilyEdit(id="fe", family=family.id, reader_height=mm(f"{high}"), reader_depth=mm(f"{deep}")),
                        MountPart(id="br", axis_id=axis.id, part_kind="angle", length=mm("60"), width=mm("45"),
                                  thickness=mm("8"), carries="reader")])  # fmt: skip
    for _ in range(12):
        found = next(f for f in envelope_result(job).findings if f.code == "bumper")
        left = [m for m in job.all(Measure) if not m.value.text and m.label in found.remedy.text()]
        if not left:
            break
        job.apply("m", [left[0].with_(value=mm(str(left[0].value.mm)))])
    result = envelope_result(job)
    bumper = next(f for f in result.findings if f.code == "bumper")
    assert "[" not in bumper.what.text() + bumper.remedy.text() + result.instruction.text()
    assert "Turn a pillar" in bumper.remedy.text()
    assert not any("[" in i.detail.text() for i in stop_items(job))
    longer = next(m for m in job.all(Measure) if m.label.startswith("Saddle to column"))
    before = float(bumper.what.values["length"].mm)
    job.apply("m", [longer.with_(value=mm(str(longer.value.mm + 15)))])
    moved = next(f for f in envelope_result(job).findings if f.code == "bumper")
    assert moved.what.values["length"].mm == pytest.approx(before + 15)


def test_all_travel_kept_never_passes_beside_what_stands_against_it():
    job = job_on("bench-mill")
    plan(job, "X", "in front of the table")
    assert envelope_result(job).verdict == ("pass" if not serious(job) else None)
    sides = {"left": "-40", "right": "40", "front": "-140", "back": "-95", "bottom": "-30", "top": "-5"}
    lever = SolidBox(id="lever", name="lever", member="table", **{k: mm(v) for k, v in sides.items()})
    job.apply("a lever where the body lies", [lever])
    result = envelope_result(job)
    assert "fixed-overlap" in {f.code for f in result.findings}
    assert result.verdict != "pass"
    assert not result.instruction.concludes


def serious(job):
    return [f for f in envelope_result(job).findings if f.severity != "info"]


def test_where_the_stops_leave_nothing_all_of_the_travel_is_lost():
    job = job_on("bench-mill")
    axis = plan(job, "X", "in front of the table")
    far = axis_travel(job, axis)
    job.apply("give up", [axis.with_(give_up_low=mm(str(far * 0.6)), give_up_high=mm(str(far * 0.6)))])
    result = envelope_result(job)
    assert result.lost_mm["X"] == pytest.approx(far)
    assert result.verdict == "stop"


def test_a_body_that_meets_the_column_only_with_the_knee_up_says_so():
    job = job_on("knee-mill-universal")
    job.apply("short column", [box(job, "column", bottom=80)])
    plan(job, "X", "behind the table", "glass-standard", "750")
    (found,) = [f for f in envelope_result(job).findings if f.code == "meets"]
    assert "Y above" in found.what.text()
    assert "while knee above" in found.what.text()


def test_a_cover_that_blocks_the_table_lock_is_told_with_its_reason():
    job = job_on("bench-mill")
    axis = plan(job, "X", "in front of the table")
    told = [f.what.text() for f in face_findings(job, axis) if f.code == "feature-blocked"]
    assert any("the table lock" in t and "locked while milling across" in t for t in told)
    lock = next(b for b in job.all(SolidBox) if b.name == "table lock")
    job.apply("lock moved", [lock.with_(left=mm("400"), right=mm("430"))])
    assert not any("table lock" in f.what.text() for f in face_findings(job, axis))


def test_features_on_the_same_member_are_blocked_by_lying_under_the_part():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table", measuring="500")
    told = [f.what.text() for f in face_findings(job, axis_of(job, "X"))]
    assert any(t.startswith("The X scale cover covers the drain hole") or "drain hole" in t for t in told)


def test_weights_change_the_ranking_and_the_answer_says_what_would():
    job = job_on("bench-mill")
    axis = axis_of(job, "X")
    first = faces_result(job, axis)
    assert first.judged[0].face.name == "behind the table"
    assert "would win if travel lost weighed more than" in first.why.text()
    needed = float(first.why.text().split("more than ")[1].split(" ")[0])
    job.apply("weigh", [job.info.with_(w_travel=needed + 0.1)])
    assert faces_result(job, axis).judged[0].face.name == "in front of the table"
    job.apply("weigh", [job.info.with_(w_travel=needed - 0.1)])
    assert faces_result(job, axis).judged[0].face.name == "behind the table"


def test_the_schools_are_named_with_their_reason_and_differ():
    assert len({tuple(s.weights.items()) for s in face_schools()}) == len(face_schools()) >= 5
    assert all(s.why for s in face_schools())


def test_a_box_wrong_way_round_stops_the_plan_with_a_sentence():
    job = job_on("bench-mill")
    job.apply("swap", [box(job, "table", left=300, right=-300)])
    assert "left side lies right of its right side" in geometry_findings(job)[0].what.text()
    with pytest.raises(BadInputError, match="Box table"):
        envelope_result(job)
    assert faces_result(job, axis_of(job, "X")).judged == ()
    assert review_job(job)[0].sheet == "machine"


def test_a_head_tilted_to_either_side_is_checked_besides_upright():
    job = job_on("knee-mill-turret")
    job.apply("tilt", [job.machine.with_(tilt_deg=45)])
    poses = {b.pose for b in machine_boxes(job) if b.name.startswith("head")}
    assert poses == {"upright", "tilted left", "tilted right"}
    tilted = next(b for b in machine_boxes(job) if b.pose == "tilted left")
    assert tilted.max_mm[0] - tilted.min_mm[0] > 190
    assert envelope_result(job).kept is not None


def test_what_ifs_compare_covers_families_shifts_and_faces_at_once():
    job = job_on("bench-mill")
    axis = plan(job, "X", "behind the table")
    found = {w.words.text(): w.lost_mm for w in what_ifs(job, axis)}
    assert found["as planned"] == {"Y": pytest.approx(14.0)}
    assert found["with sealed glass, micro"]["Y"] < 14
    assert found["in front of the table"] == {}
    moved = {f"10 mm to the {side} (seen from behind)" for side in ("left", "right")}
    assert {"without the cover", *moved} <= set(found)


def test_travel_given_up_narrows_what_is_kept_and_says_what_it_costs_at_the_spindle():
    job = job_on("knee-mill-universal")
    axis = axis_of(job, "W").with_(readout="new")
    job.apply(
        "measure", [TravelSurvey(id=new_id(), axis_id=axis.id, division=mm("1"), readings=(mm("390"), mm("390")))]
    )
    job.apply("give up", [axis.with_(give_up_high=mm("30"))])
    result = envelope_result(job)
    assert (result.kept["W"], result.left["W"]) == ((-195, 195), (-195, 165)), "metal leaves all of it, the stop less"
    told = [f.finding.what.text() for f in review_axis(job, axis_of(job, "W")).findings]
    assert any("comes 30 mm less near to the table" in t for t in told)


def test_the_place_on_the_face_and_a_body_longer_than_it():
    job = job_on("bench-mill")
    axis = plan(job, "X", "behind the table")
    place = place_on_face(job, axis)
    # Face 564, body 450 + 2 × 50.
    assert (place.start_mm, place.first_hole_mm, place.overhang_mm) == (7, 15, 0)
    job.apply("shift", [scale_plan(job, axis).with_(shift=mm("20"))])
    assert place_on_face(job, axis).overhang_mm == 13
    assert any(i.what.text() == "Plate or end standoffs that carry it" for i in buying_list(job))


def test_the_order_list_has_scale_cover_bracket_bumper_stop_and_display():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table", price=90)
    job.apply("display", [Display(id=new_id(), axes=2, price=110)])
    items = buying_list(job)
    what = [i.what.text() for i in items]
    assert what[:3] == ["Sealed glass, slim", "Cover", "Bracket and standoffs"]
    assert {"Stop at the back end: bumper pillar", "Display for 2 axes, 7 digits"} <= set(what)
    assert sum("back end" in w for w in what) == 1  # the same stop stands there once
    assert total_price(items) == (200, 1)


def test_a_scale_that_is_cut_is_bought_in_its_stocked_length():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table", "thin-housing", "420")
    assert "buy 500 mm and cut it" in buying_list(job)[0].detail.text()


def test_a_display_with_too_few_axes_or_another_signal_is_told():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table")
    plan(job, "Y", "right flank of the base", measuring="200")
    job.apply("display", [Display(id=new_id(), axes=1, digits=5, signal="sine, 15-pin plug")])
    codes = [f.code for f in display_findings(job)]
    assert codes[0] == "display-too-few-axes"
    assert {"display-too-few-digits", "display-other-signal"} <= set(codes)


def test_a_separate_quill_scale_leaves_the_display_with_two_axes():
    job = job_on("round-column")
    plan(job, "X", "behind the table", measuring="500")
    plan(job, "Y", "right flank of the base", measuring="200")
    plan(job, "Z", "separate quill scale with its own readout", "beam", "200")
    job.apply("display", [Display(id=new_id(), axes=2)])
    assert "display-too-few-axes" in [f.code for f in display_findings(job)]
    job.apply("own", [axis_of(job, "Z").with_(readout="own")])
    assert [f.code for f in display_findings(job)] == []


def test_what_the_user_knows_better_of_a_family_counts_in_this_job():
    job = job_on("bench-mill")
    edit = FamilyEdit(id=new_id(), family="glass-slim", sizes="120 220; 470", depth=mm("30"), price=77)
    job.apply("family", [edit])
    slim = next(f for f in families_of(job) if f.id == "glass-slim")
    assert (slim.sizes_mm, slim.section_mm, slim.price) == ((120, 220, 470), (33, 30), 77)
    job.apply("family", [edit.with_(sizes="120 oops")])
    assert next(f for f in families_of(job) if f.id == "glass-slim").sizes_mm[0] == 50


def test_handwheel_turns_are_lead_times_turns_less_backlash_from_opposite_sides():
    axis = Axis(id="a", machine_id="m", name="X", lead=mm("5"))
    survey = TravelSurvey(id="t", axis_id="a", tool="handwheel", division=mm("0.05"))
    assert turns_entry(axis, survey, "53,24").mm == pytest.approx(266.2)
    opposite = survey.with_(approach="opposite")
    with pytest.raises(BadInputError, match="backlash"):
        turns_entry(axis, opposite, "53.24")
    assert turns_entry(axis.with_(backlash=mm("0.3")), opposite, "53.24").mm == pytest.approx(265.9)
    with pytest.raises(BadInputError, match="lead"):
        turns_entry(axis.with_(lead=None), survey, "53.24")


def test_an_old_hole_is_named_by_its_thread():
    hole = Hole(id="h", place="left", diameter=mm("5.92"), pitch=mm("1"))
    assert hole_thread(hole).text().startswith("M6x1, though 0 BA or 1/4 BSF can't be told from it: the angle gauge")
    assert hole_thread(hole.with_(diameter=mm("0.248 in"), pitch=mm("1/20 in"))).text().startswith("1/4-20, though 1/4")
    assert hole_thread(hole.with_(diameter=mm("7.9"), pitch=mm("1.25"))).text().startswith("M8x1.25")
    assert hole_thread(Hole(id="h")).text() == "measure"


def test_the_job_card_runs_from_isolating_to_putting_back_each_step_after_its_needs():
    job = job_on("bench-mill")
    lines = card_lines(job)
    assert lines[0].step.key == "isolate"
    assert [c.step.key for c in lines if not c.step.key.startswith("rub-")][-1] == "again"
    seen = set()
    for line in lines:
        assert set(line.step.needs) <= seen
        seen.add(line.step.key)
    assert next_line(lines).step.key == "isolate"
    job.apply("tick", [Step(id=new_id(), key="isolate", note="key on the nail")])
    lines = card_lines(job)
    assert (lines[0].done, lines[0].note) == (True, "key on the nail")
    assert next_line(lines).step.key == "survey-X"


def test_a_template_goes_out_and_comes_back_the_same(tmp_path):
    job = job_on("lathe-mid")
    written = template_of(job.entities(), "Our long lathe")
    write_template(written, tmp_path / "our-long-lathe.json")
    assert read_template(tmp_path / "our-long-lathe.json") == written
    assert [t.label for t in own_templates(tmp_path)[0]] == ["Our long lathe"]
    again = Job(new_job_entities("x", written))
    assert template_of(again.entities(), "Our long lathe") == written
    shipped = next(k for k in machine_kinds() if k.id == "lathe-mid")
    assert written.boxes == shipped.boxes
    assert written.faces == shipped.faces


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("{", "line 1"),
        ("[]", "no machine template"),
        ('{"id": "x", "label": "x", "members": [], "axes": [], "extra": 1}', "extra"),
        ('{"id": "x", "label": "x", "members": [{"id": "a", "on": "b"}], "axes": []}', "“b”, which is not there"),
        (
            '{"id": "x", "label": "x", "members": [{"id": "a"}], "axes": [], '
            '"boxes": [{"name": "n", "member": "a", "min_mm": [1, 0, 0], "max_mm": [0, 1, 1]}]}',
            "min_mm above its max_mm",
        ),
    ],
)
def test_files_that_are_no_template_are_refused_in_a_sentence(tmp_path, text, part):
    path = tmp_path / "bad.json"
    path.write_text(text)
    with pytest.raises(BadInputError, match=part):
        read_template(path)
    found, wrong = own_templates(tmp_path)
    assert (found, len(wrong), wrong[0].count("\n")) == ([], 1, 0)


def test_figures_do_not_depend_on_the_unit_system_typed_in():
    metric, inch = job_on("bench-mill"), job_on("bench-mill")
    plan(metric, "X", "behind the table", measuring="450")
    plan(inch, "X", "behind the table", measuring=f"{450 / 25.4!r} in")
    a, b = envelope_result(metric), envelope_result(inch)
    assert a.kept["Y"] == pytest.approx(b.kept["Y"], abs=1e-9)
    assert [(s.need.end, s.need.why) for s in a.stops] == [(s.need.end, s.need.why) for s in b.stops]


def test_one_family_for_the_whole_machine_is_judged_in_a_line():
    job = job_on("knee-mill-universal")
    job.apply("scope", [axis_of(job, "W").with_(readout="new")])
    plan(job, "Y", "right flank of the knee", measuring="300")
    job.apply("display", [Display(id=new_id(), signal="square wave, 9-pin plug")])
    found = {c.family.id: c for c in compare_families(job)}
    assert found["glass-micro"].too_short == ("X", "W")
    assert found["glass-slim"].serves == ("Y", "W")
    assert found["tape"].serves == ("X", "Y", "W")
    assert "must stay dry" in found["beam"].judgement.text()
    assert "speaks another signal" in found["rod"].judgement.text()
    assert "23 mm deep" in found["glass-slim"].judgement.text()
    assert "0.906 in deep" in found["glass-slim"].judgement.text("in")
    short = face_of(job, "right flank of the knee").with_(length=mm("380"))
    job.apply("face", [short])
    assert {c.family.id: c for c in compare_families(job)}["glass-slim"].longer_than_face == ("Y",)


def test_nothing_is_compared_before_a_travel_is_known():
    job = job_on("bench-mill")
    job.apply("forget", [a.with_(usual=None) for a in job.axes()])
    assert compare_families(job) == []


def test_the_rest_no_longer_matters_only_as_far_as_machines_differ():
    """A gap 12 mm off is no risk to the Y scale here; the 15 mm that machines differ by at least are."""
    job = job_on("mini-mill")
    plan(job, "Y", "right flank of the base", measuring="200")
    job.apply("m", [m.with_(value=mm(f"{m.value.mm:.1f}")) for m in job.all(Measure) if not m.pose])
    asked = []
    for _ in range(20):
        advice = next_measure(job)
        if advice.measure is None:
            break
        asked.append(advice.measure.label)
        job.apply("m", [advice.measure.with_(value=mm(f"{advice.measure.value.mm:.1f}"))])
    assert "Handwheel to saddle or base, table fully right" in asked
    assert advice.measure is None


def test_what_was_measured_and_leaves_a_box_no_room_is_asked_about():
    """A table of 400 on a travel of 680: by the template's wheels the saddle would be turned inside out."""
    job = job_on("bench-mill")
    axis = axis_of(job, "X")
    job.apply("t", [TravelSurvey(id="t", axis_id=axis.id, division=mm("1"), readings=(mm("680"), mm("680")))])
    advice = next_measure(job)
    assert advice.measure is not None
    assert "has no room left" in advice.words.text()
    assert advice.measure.high.startswith(("saddle", "base", "table", "right_handwheel", "knee"))


def test_the_size_of_a_scale_that_would_take_travel_is_asked_for():
    """All measures taken, and the reader's depth, a quarter more, would meet the column."""
    job = job_on("bench-mill")
    plan(job, "X", "behind the table")
    taken = [m.with_(value=mm(f"{m.value.mm:.1f}")) for m in job.all(Measure)]
    gap = next(m for m in taken if m.label == "Table to column, saddle fully back")
    job.apply("all", [*(m for m in taken if m is not gap), gap.with_(value=mm("44"))])
    advice = next_measure(job)
    assert (advice.measure, advice.size) == (None, "X reader, its depth")
    assert not advice.words.concludes


def test_a_part_behind_a_stop_that_is_fitted_is_no_open_caution():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table")
    job.apply("all", [m.with_(value=mm(f"{m.value.mm:.1f}")) for m in job.all(Measure)])
    job.apply("sizes", [
        FamilyEdit(id="fe", family="glass-slim", height=mm("33"), depth=mm("23"), reader_height=mm("26"),
                   reader_depth=mm("28")),
        MountPart(id="br", axis_id=axis_of(job, "X").id, part_kind="angle", length=mm("90"), width=mm("45"),
                  thickness=mm("8"), carries="reader"),
        TravelSurvey(id="t", axis_id=axis_of(job, "Y").id, division=mm("1"), readings=(mm("175"), mm("175"))),
    ])  # fmt: skip
    serious = [f.severity for f in envelope_result(job).findings if f.code == "meets"]
    job.apply("fitted", [Step(id="s", key="stops")])
    assert serious == ["caution"]
    assert [f.severity for f in envelope_result(job).findings if f.code == "meets"] == ["info"]


def test_a_size_is_proposed_of_the_family_that_was_said():
    job = job_on("bench-mill")
    axis = axis_of(job, "X")
    job.apply("t", [TravelSurvey(id="t", axis_id=axis.id, division=mm("1"), readings=(mm("390"), mm("390")))])
    job.apply("f", [ScalePlan(id="p", axis_id=axis.id, family="tape")])
    (said,) = of_axis(job, axis, "scale")
    assert (said.figures["family"], said.figures["source"]) == ("tape", "proposed")


@pytest.mark.parametrize(("units", "travel"), [("mm", "700"), ("in", "27.6 in")])
def test_a_travel_longer_than_the_template_allows_asks_for_the_measure(units, travel):
    job = Job(new_job_entities("x", "bench-mill", units))
    axis = axis_of(job, "X")
    far = mm(travel)
    job.apply("travel", [TravelSurvey(id=new_id(), axis_id=axis.id, division=mm("0.5"), readings=(far, far))])
    told = [f.finding for f in review_job(job) if f.finding.code == "machine-wrong"]
    assert told
    assert all("has no room left" in f.what.text(units) and "Table, length" in f.remedy.text(units) for f in told)
    assert "swapped" not in " ".join(f.what.text(units) for f in told)


def test_a_stop_that_nobody_measured_is_not_on_the_list_of_what_is_made():
    job = job_on("bench-mill")
    plan(job, "X", "behind the table")
    kinds = {i.kind for i in buying_list(job) if "Stop at the back end" in i.what.text()}
    assert kinds == {"measure"}
    for measure in job.all(Measure):
        job.apply("measured", [measure.with_(value=LengthEntry(mm=measure.value.mm, text="measured"))])
    family = family_edit(job, "glass-slim", new_id())
    sizes = {"height": 33, "depth": 23, "reader_height": 26, "reader_depth": 26}
    job.apply("sizes", [family.with_(**{k: mm(str(v)) for k, v in sizes.items()})])
    job.apply("bracket", [Delivery(id=new_id(), axis_id=axis_of(job, "X").id, bracket=mm("8"))])
    job.apply("travel", [
        TravelSurvey(id=new_id(), axis_id=a.id, division=mm("0.5"), readings=(a.usual, a.usual)) for a in job.axes()
    ])  # fmt: skip
    assert {i.kind for i in buying_list(job) if "Stop at the back end" in i.what.text()} == {"make"}


@pytest.mark.parametrize(("kind", "units"), [("knee-mill-turret", "mm"), ("lathe-mid", "in")])
def test_a_readout_of_its_own_is_no_candidate_where_a_scale_on_the_display_is_fitted(kind, units):
    job = Job(new_job_entities("x", kind, units))
    axis = next(a for a in job.axes() if any(f.separate == "yes" for f in faces_of(job, a)))
    far = LengthEntry(mm=axis.usual.mm)
    survey = TravelSurvey(id=new_id(), axis_id=axis.id, division=mm("0.5"), readings=(far, far))
    for readout, own in (("new", False), ("own", True)):
        job.apply("scope", [axis.with_(readout=readout), survey])
        judged = faces_result(job, axis_of(job, axis.name)).judged
        assert judged
        assert any(j.face.separate == "yes" for j in judged) == own


@pytest.mark.parametrize("units", ["mm", "in"])
def test_a_thin_margin_of_a_scale_that_is_here_is_told_and_allowed_once_its_stops_are_fitted(units):
    job = Job(new_job_entities("x", "bench-mill", units=units, scope={"X": ("new", "none")}))
    axis = job.axes()[0]
    survey = survey_with(job, axis, "caliper").with_(readings=(mm("400 mm"), mm("400 mm")))
    plan = ScalePlan(id="plan", axis_id=axis.id, family="glass-slim", measuring=mm("410 mm"))
    job.apply("plan", [survey, plan])
    severity = lambda: {f.code: f.severity for f in scale_result(job, axis).findings}.get("margin-thin")  # noqa: E731
    assert severity() == "caution"
    job.apply("came", [Delivery(id="came", axis_id=axis.id, measuring=mm("410 mm"))])
    assert severity() == "caution"
    job.apply("stops", [Step(id="stops", key="stops", done=True)])
    assert severity() == "info"
