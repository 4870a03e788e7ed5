"""An empty sheet shows the act: every word of it in the room, on no other word, and the key that begins."""

from functools import partial
from itertools import combinations

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage

from tests.paper.conftest import Reader
from vernus.paper.drawing import act
from vernus.paper.ink import LIGHT

DRAWN = {
    "known move": partial(act.paint_known_move, moving="table", still="saddle", inks=LIGHT),
    "known move, long names": partial(act.paint_known_move, moving="compound slide", still="cross slide", inks=LIGHT),
    "round": partial(act.paint_round, count=5, both=True, names=("left", "right"), inks=LIGHT),
    "round of many": partial(act.paint_round, count=60, both=False, names=("headstock", "tailstock"), inks=LIGHT),
    "edges": partial(act.paint_edges, inks=LIGHT),
    "parts": partial(act.paint_parts, inks=LIGHT),
}


class Boxes(Reader):
    def __init__(self, image):
        super().__init__(image)
        self.boxes = []

    def drawText(self, *args):
        if isinstance(args[0], QRectF):
            self.boxes.append((args[-1], QRectF(args[0])))
        super().drawText(*args)


@pytest.mark.parametrize("size", [(700, 520), (480, 420), (1200, 700)])
@pytest.mark.parametrize("what", DRAWN)
def test_its_words_are_in_the_room_and_apart(what, size, qapp):
    image = QImage(*size, QImage.Format.Format_RGB32)
    painter = Boxes(image)
    room = QRectF(0, 0, *size)
    DRAWN[what](painter, room)
    painter.end()
    assert painter.boxes
    for words, box in painter.boxes:
        assert room.adjusted(-1, -1, 1, 1).contains(box), words
    for (one, a), (other, b) in combinations(painter.boxes, 2):
        assert not a.adjusted(2, 3, -2, -3).intersects(b.adjusted(2, 3, -2, -3)), (one, other)
