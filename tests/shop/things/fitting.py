"""What hangs on the machine once it is fitted as told: body, reader, bracket and cover as solids, and the stops."""

from dataclasses import dataclass

from tests.shop.things.motion import box

COVER_MM = 3.0
READER_OFF_MM = 3.0
"""How far the reader's back stands off the face, at most; common practice, no source."""


def unit(word):
    """(coordinate, sign) of a direction."""
    return "xyz".index(word[1]), (1 if word[0] == "+" else -1)


@dataclass
class Hung:
    """A scale on the machine: its solids with every axis at its low mark, and where its reader stands."""

    solids: list
    reader_low: float
    """The reader's middle on the body at the axis's low mark, from the contract's end of the body."""
    starts: float
    ends: float
    """The measuring length on the body, from that end, as it really is."""
    on_body: tuple
    """(from, to) of the body along its face."""

    def reader_at(self, axis_mm):
        return self.reader_low + axis_mm


def hang(truth, axis, said, covered):
    """The scale of an axis, hung as said: ``body`` on its face, the reader set at ``place``, cut where ``cut`` says."""
    kit, machine = truth.kits[axis], truth.machine
    face = next(f for f in machine.faces if f.axis == axis and f.name == said["face"]["name"])
    way = machine.ways[axis]
    along, out = unit(face.along), unit(face.out)
    up = next(c for c in range(3) if c not in (along[0], out[0]))
    start = said["body"]["from_mm"]
    long = overall(kit, said)
    other_way = ("-" if way.direction[0] == "+" else "+") + way.direction[1]
    follows = way.direction if face.reader_member == way.moving else other_way
    from_left = follows == face.along
    reader = said["place"]["reader_at_mm"] - said["place"]["axis_at_mm"]
    middle = start + reader if from_left else start + long - reader
    off = said["face"]["stand_off_mm"]
    high, deep = kit.section[0] / 2, kit.section[1]
    reader_long, tall, reader_deep = kit.reader
    bracket_long, bracket_wide, bracket_thick = kit.bracket
    face_near = off + READER_OFF_MM
    far = face_near + reader_deep
    half = max(reader_long, bracket_long) / 2
    hang_down = -high - tall
    spans = {
        "body": (face.member, (start, start + long), (-high, high), (off, off + deep)),
        "reader": (face.reader_member, (middle - reader_long / 2, middle + reader_long / 2), (hang_down, -high),
        (face_near, far)),
    }  # fmt: skip
    rise = (hang_down, hang_down + bracket_wide) if face.reader_hangs == "up" else (-high - bracket_wide, -high)
    spans["bracket"] = (face.reader_member, (middle - half, middle + half), rise, (far, far + bracket_thick))
    if covered:
        spans["cover"] = (
            face.member,
            (start, start + long),
            (-high, high + COVER_MM),
            (off, max(off + deep, far) + COVER_MM),
        )
    solids = []
    for name, (member, a, u, o) in spans.items():
        if name == "cover" and face.reader_hangs == "up":
            continue  # what carries the reader goes up past the body: a cover with a lip below is not in its way
        u = tuple(v + _line(machine, face, up, said) - face.left[up] for v in u)
        solids.append(box(f"{axis}: {name}", member, _placed(face, along, out, up, a, u, o)))
    starts = 0.0 if kit.tape else (long - measuring(kit, said)) / 2
    return Hung(solids, reader, starts, starts + measuring(kit, said), (start, start + long))


def _placed(face, along, out, up, a, u, o):
    spans = [None, None, None]
    for (c, sign), span in ((along, a), ((up, 1), u), (out, o)):
        spans[c] = tuple(face.left[c] + sign * v for v in span)
    return spans


def _line(machine, face, up, said):
    """Where the body's middle line lies across its face: at so much from a side of a casting, as said."""
    body = said["body"]
    if body.get("across_mm") is None:
        return face.left[up] + said["lift"]
    casting = next(s for s in machine.solids if s.name == body["across_on"])
    return casting.high[up] - body["across_mm"] if body["across_from"] == "top" else casting.low[up] + body["across_mm"]


def measuring(kit, said):
    """The measuring length there really is: as it came, or what the saw leaves."""
    cut = said.get("cut")
    if kit.there_mm:
        return kit.there_mm
    if cut is not None:
        return cut["saw_mm"] - 2 * kit.end
    return kit.came_mm or said["scale"]["measuring_mm"] + kit.off_size


def overall(kit, said):
    """The body from end to end."""
    return measuring(kit, said) + 2 * kit.end


def stops_as_made(truth, said):
    """(low, high) each axis can be driven to, from its low mark: by its stops as they are said, else to its marks."""
    ranges = {}
    for name, way in truth.machine.ways.items():
        low, high = 0.0, way.travel
        for s in said:
            if s["axis"] != name or s["kind"] != "stop" or not s["measured"]:
                continue
            if s["end"] == "low":
                low = max(low, s["before_mark_mm"])
            else:
                high = min(high, way.travel - s["before_mark_mm"])
        ranges[name] = (low, max(low, high))
    return ranges
