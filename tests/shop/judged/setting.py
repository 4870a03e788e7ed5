"""What came of aligning by the targets and of keying in what was said."""

from tests.shop.judged.plan import Broken

TOLERANCE_MM = 0.05
"""What is accepted from end to end; common practice, no source."""


def judge_setting(lived):
    """Everything that is broken of what was set and keyed in."""
    return [*_aligned(lived), *_turned(lived), *_checked(lived), *_elsewhere(lived)]


def _aligned(lived):
    tolerance = TOLERANCE_MM
    for done in lived.aligned:
        where = f"{done.plane} of the body"
        if done.early is not None:
            yield Broken(
                "dial too soon", done.axis, f"{where}: {done.early['text']} after three readings, one of them a slip"
            )
        for n, (rise, verdict, dial) in enumerate(done.passes):
            if verdict is None:
                continue
            if verdict["verdict"] == "pass" and abs(rise) > 1.25 * tolerance:
                yield Broken("align verdict", done.axis, f"{where} passes, and leans {rise:.3f} over {done.over:.0f}")
            if verdict["verdict"] == "fail" and abs(rise) < 0.8 * tolerance:
                yield Broken("align verdict", done.axis, f"{where} fails, and leans {rise:.3f} over {done.over:.0f}")
            if verdict["verdict"] == "fail" and dial is None:
                yield Broken("no dial", done.axis, f"{where} fails, pass {n + 1}, and no target for the dial is said")
        last, moved = done.passes[-1][0], any(dial is not None for _, _, dial in done.passes)
        if moved and abs(last) > tolerance:
            yield Broken(
                "dial",
                done.axis,
                f"{where} leans {last:.3f} after {len(done.passes) - 1} targets, {done.passes[0][0]:.3f} before",
            )


def _turned(lived):
    for axis, (wrong, said) in lived.turned.items():
        if wrong != (said == "reverse"):
            yield Broken(
                "direction", axis, f"it counts {'the wrong' if wrong else 'the right'} way, and “{said}” is said"
            )


def _checked(lived):
    for done in lived.checked:
        key, wanted = done.said, lived.truth.wanted_mm[done.axis]
        if key is None:
            yield Broken("key in", done.axis, "checked, and nothing is said of what to key in")
            continue
        if done.refused:
            yield Broken("key in", done.axis, f"the display doesn't take {done.refused}")
            continue
        if not key["keyed"] and done.stations < 3:
            yield Broken("keyed from two", done.axis, f"{key['text']} Two lengths were looked at once each.")
        over = key["over_mm"] or lived.truth.machine.ways[done.axis].travel
        off, u = done.after.off(over), key["u_mm"]
        if key["keyed"] and abs(off) > 20 * wanted:
            yield Broken(
                "not keyed", done.axis, f"it is off by {off:.3f} over {over:.0f}, and it is said that it {key['text']}"
            )
            continue
        if u is None or not key["keyed"] or (done.verdict is not None and done.verdict["verdict"] == "pass"):
            allowed = wanted + (u or 0.0) + done.after.step_mm
            if abs(off) > allowed:
                yield Broken(
                    "key in", done.axis, f"{key['text']} leaves {off:.4f} over {over:.0f}, {wanted} is wanted, U {u}"
                )
        told = done.verdict
        if told is not None and key["over_mm"]:
            short = abs(abs(told["value_mm"]) - abs(done.before.off(over))) - 3 * told["u_mm"] - done.before.step_mm
            if short > 0:
                said = f"{told['value_mm']:.4f} ± {told['u_mm']:.4f} is said, {done.before.off(over):.4f} is so"
                yield Broken("U too small", done.axis, said)
        if told is not None and told["verdict"] == "fail" and abs(done.before.off(over)) < 0.8 * wanted:
            yield Broken(
                "display verdict", done.axis, f"fails, and is off by {done.before.off(over):.4f}, {wanted} allowed"
            )
        if told is not None and told["verdict"] == "pass" and abs(done.before.off(over)) > 1.25 * wanted:
            yield Broken(
                "display verdict", done.axis, f"passes, and is off by {done.before.off(over):.4f}, {wanted} allowed"
            )


def covered(lived):
    """(axis, whether U covers the truth) of every display that was judged: the error said against the one there is."""
    for done in lived.checked:
        told = done.verdict
        if told is not None and done.said is not None and done.said["over_mm"]:
            true = abs(done.before.off(done.said["over_mm"]))
            yield (
                done.axis,
                abs(abs(told["value_mm"]) - true) <= told["u_mm"],
                told["value_mm"],
                true,
                told["u_mm"],
            )


OF_A_FACE = ("dial", "gap", "shim")
"""Kinds of statements that hold only on the face they were read on."""


def _elsewhere(lived):
    """On another face nothing read, or laid out to drill, on the old one is said; once back all of it is."""
    for axis, (old, said) in lived.elsewhere.items():
        mine = [s for s in said if s["axis"] == axis]
        stale = [s for s in mine if s["kind"] in OF_A_FACE or (s["kind"] == "verdict" and s["of"].startswith("align"))]
        stale += [s for s in mine if s["kind"] == "hole" and s["on"] == old]
        for s in stale[:1]:
            yield Broken("of the old face", axis, f"hung elsewhere, it is still said: {s['text']}")
    before, back = ({s["text"] for s in said} for said in (lived.said, lived.back))
    if before != back:
        yield Broken("not back", "", f"hung back, it says otherwise: {sorted(before ^ back)[0]}")
