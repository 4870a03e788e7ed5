"""A painter that remembers what it was asked to draw."""

import pytest
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QImage, QPainter

from vernus.paper.ink import load_fonts


class Reader(QPainter):
    """A painter that remembers words, rectangles, lines and round marks."""

    def __init__(self, image):
        super().__init__(image)
        self.words, self.rects, self.lines, self.dots, self.paths, self.circles = [], [], [], [], [], []

    def drawText(self, *args):
        self.words.append(args[-1])
        super().drawText(*args)

    def drawRect(self, *args):
        if isinstance(args[0], QRectF):
            self.rects.append(QRectF(args[0]))
        super().drawRect(*args)

    def drawLine(self, *args):
        self.lines.append(args)
        super().drawLine(*args)

    def drawEllipse(self, *args):
        if isinstance(args[0], QPointF):
            self.dots.append(QPointF(args[0]))
            self.circles.append((QPointF(args[0]), args[1]))
        super().drawEllipse(*args)

    def drawPolyline(self, *args):
        self.paths.append([QPointF(p) for p in args[0]])
        super().drawPolyline(*args)


@pytest.fixture
def painter(qapp):
    load_fonts()
    image = QImage(520, 320, QImage.Format.Format_ARGB32)
    made = Reader(image)
    yield made
    made.end()
