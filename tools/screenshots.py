"""Takes one picture of each main view from the demo job. Run by `make screenshots` on a virtual screen.

Usage: tools/screenshots.py FOLDER [NAME …]
"""

import os
import sys
import tempfile
from pathlib import Path

_home = tempfile.mkdtemp()
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "HOME"):
    os.environ[_name] = _home

from PySide6.QtCore import QEventLoop, QPoint, QTimer  # noqa: E402
from PySide6.QtGui import QColor, QImage, QPainter  # noqa: E402

from vernus.desktop.app import application  # noqa: E402
from vernus.desktop.session import Session  # noqa: E402
from vernus.desktop.window import Window  # noqa: E402
from vernus.job.fields import LengthEntry  # noqa: E402
from vernus.job.keep.photo import clicked  # noqa: E402

VIEWS = (
    # name, axis, sheet, dark, demo job, bench view
    ("machine", "y", "machine", False, "mill", False),
    ("travel", "z", "travel", False, "lathe", False),
    ("scale", "y", "scale", False, "mill", False),
    ("face", "x", "faces", False, "mill", False),
    ("envelope", "x", "envelope", False, "mill", False),
    ("order", "x", "order", False, "mill", False),
    ("align", "y", "align", False, "mill", False),
    ("mounts", "y", "mounts", False, "mill", False),
    ("reader", "x", "reader", True, "mill", False),
    ("cables", "x", "cables", False, "mill", False),
    ("calibrate", "x", "calibrate", False, "mill", False),
    ("positioning", "x", "positioning", False, "mill", False),
    ("part", "x", "part", False, "mill", False),
    ("feed", "x", "fit", False, "mill", False),
    ("card", "x", "card", False, "mill", False),
    ("paper", "x", "paper", False, "mill", False),
)


def wait_ms(duration: int) -> None:
    """Let the event loop, and what works beside it, run."""
    loop = QEventLoop()
    QTimer.singleShot(duration, loop.quit)
    loop.exec()


def main(folder: Path, wanted: list[str]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    app = application()
    window = Window(Session())
    window.resize(1280, 800)
    window.show()

    def take(name: str) -> None:
        if wanted and name not in wanted:
            return
        window.statusBar().clearMessage()
        wait_ms(2500 if name == "machine" else 120)  # what to measure next is worked out beside the window
        app.processEvents()
        window.grab().save(str(folder / f"{name}.png"))

    take("start")
    opened = ""
    for name, axis, sheet, dark, demo, bench in VIEWS:
        if wanted and name not in wanted:
            continue
        if opened != demo:
            window.files.open_demo(demo)
            opened = demo
        window.session.show_axis(f"axis-{axis}")
        if window.session.dark != dark:
            window.session.show_theme("dark" if dark else "light")
        window.show_sheet(sheet)
        if name == "mounts":
            window.sheets["mounts"].parts.choose("part-2")
            window.sheets["mounts"].refresh()
        if bench:
            window.other_bench()
        take(name)
        if bench:
            window.other_bench()
    if not wanted or "log" in wanted:
        _measured_picture(window)
        take("log")
    if not wanted or "practice" in wanted:
        window.practise()
        _half_a_lesson(window)
        take("practice")
    os._exit(0)


def _measured_picture(window: Window) -> None:
    """A painted face with a sheet of paper on it, measured in on the log of the demo mill."""
    from vernus.desktop.sheets.keep.photo_intake import Source
    from vernus.paper.photo import encode

    window.files.open_demo("mill")
    window.session.show_axis("axis-x")
    window.show_sheet("log")
    sheet = window.sheets["log"]
    sheet.tabs.buttons["pictures"].click()
    sheet.pictures.intake.begin([Source("face", data=encode(_face()))], keep_original=False, axis_id="axis-x")
    while sheet.pictures.intake.busy:
        wait_ms(20)
    sheet.tabs.buttons["measure"].click()
    photo = sheet.pictures.photo()
    if photo is None:
        return
    paper = ((0.3, 0.7), (0.7, 0.65), (0.68, 0.39), (0.29, 0.42))
    places = (*paper, (0.1, 0.56), (0.9, 0.48), (0.2, 0.553), (0.8, 0.433))
    for x, y in places:
        photo = clicked(photo, x, y, 0.5)
    sizes = {"known_length": LengthEntry.read("297"), "known_width": LengthEntry.read("210")}
    window.session.apply("measure", [photo.with_(**sizes, known_within=LengthEntry.read("0.3"), click_px=0.6)])


def _face() -> QImage:
    image = QImage(2000, 1200, QImage.Format.Format_RGB32)
    image.fill(QColor("#5b6264"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for colour, corners in (
        ("#8e9794", ((60, 480), (1920, 360), (1960, 840), (70, 920))),
        ("#f4f1e8", ((600, 840), (1400, 780), (1360, 468), (580, 504))),
    ):
        painter.setBrush(QColor(colour))
        painter.drawPolygon([QPoint(*c) for c in corners])
    painter.setBrush(QColor("#15181a"))
    for x, y in ((400, 664), (1600, 520)):
        painter.drawEllipse(QPoint(x, y), 14, 12)
    painter.end()
    return image


def _half_a_lesson(window: Window) -> None:
    """A body half dialled in: all readings taken and typed, the right screw loose."""
    panel = window.practice
    panel.begin_lesson("held", 7)
    sheet = window.sheets["align"]
    for station in (18, 104, 190, 276, 362, 448, 534, 18):
        panel.attempt.do("crank", station - 3.0)
        panel.attempt.do("crank", float(station))
        reading = panel.attempt.do("read")
        sheet.reading.line.setText(f"{reading.value:.3f}")
        sheet.reading.line.setModified(True)
        sheet.reading.accept()
    panel._pick("dial")
    panel._work()
    panel._pick("screw-right")
    panel._work()


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2:])
