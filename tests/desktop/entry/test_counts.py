"""How many keys real pieces of work take, besides the figures themselves."""

from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import Measure, PowerFeed, ScalePlan, TravelSurvey
from vernus.job.machine.measures import is_taken


def test_a_machine_from_template_to_a_trusted_choice_of_face(window, hands, tmp_path, qtbot):
    """Story 10's survey: only the measures that matter are taken, then the face is chosen."""
    scope = {"X": ("new", "none"), "Y": ("none", "none"), "Z": ("none", "none")}
    window.session.new_job(tmp_path / "m.vernus", "Mill", "bench-mill", "in", "", scope)
    job = window.session.job
    hands.press(KEYS["machine"])
    face = window.sheets["machine"].measures
    taken = 0
    while taken < 22:
        face._asked_of = []
        with qtbot.waitSignal(face.advised, timeout=20_000):
            face.refresh()
        if face.advice.measure is None:
            break
        hands.press("F3")
        hands.enter(f"{face.current().value.mm / 25.4:.2f}")
        taken += 1
    assert sum(is_taken(m) for m in job.all(Measure)) == taken
    assert taken <= 9, "the rest no longer matters"
    assert "no longer matters" in window.sheets["machine"].instruction.text()
    hands.press(KEYS["faces"])
    hands.press("Return")
    assert job.all(ScalePlan)[0].face_id


def test_a_two_axis_travel_survey_is_an_enter_a_reading(window, hands, bench_mill):
    typed = 0
    for axis, readings in (("X", ("398", "398.5")), ("Y", ("176", "176.5"))):
        hands.press(f"Alt+{axis}")
        hands.press(KEYS["travel"])
        for text in readings:
            hands.enter(text)
            typed += len(text)
    assert [len(s.readings) for s in bench_mill.job.all(TravelSurvey)] == [2, 2]
    assert hands.presses - typed == 2 * (2 + 2)


def test_the_fit_check_is_an_enter_a_figure(window, hands, tmp_path):
    """Story 5's kit, in inches: figures in the order of the form, an Enter for each field."""
    scope = dict.fromkeys("YW", ("none", "none")) | {"X": ("none", "new"), "Z": ("none", "none")}
    window.session.new_job(tmp_path / "f.vernus", "Feed", "knee-mill-turret", "in", "", scope)
    hands.press(KEYS["fit"])
    before = hands.presses
    figures = (
        "0.787",
        "2.9",
        "0.188",
        "0.47",
        "13 tpi",
        "0.75",
        "0.18",
        "34",
        "2.9",
        "0.55",
        "21",
        "1.9",
        "1.1",
        "1.7",
        "115",
        "230",
    )
    for text in figures:
        hands.enter(text)
    (feed,) = window.session.job.all(PowerFeed)
    assert (feed.shaft.mm, feed.end_pitch.text, feed.gear_teeth, feed.volts) == (0.787 * 25.4, "13 tpi", 34, 115)
    assert feed.shop_volts == 230
    assert hands.presses - before - sum(map(len, figures)) == len(figures)
