"""Take the pictures in docs/screenshots again, from the demo study: ``./tether shots``."""

from __future__ import annotations

import sys
import tempfile
from datetime import date, datetime
from pathlib import Path
from unittest.mock import patch

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QScrollArea

from bright_tether.demo.make_loggers import write_files
from bright_tether.desktop.start import build
from bright_tether.study import changes

sys.path.insert(0, str(Path(__file__).parent))
from hand import let_go

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"


def gather(window) -> None:
    """The table with both axes tied."""
    window.session.show_step("gather")


def look(window) -> None:
    """Springs of three rocks: the groups tell the opposite of the whole."""
    window.session.show_tether("k4")
    window.session.show_step("look")


def screening(window) -> None:
    """Every column of the visits against sediment."""
    window.session.show_step("look")
    window.opening.look_at_columns()
    QTest.qWait(300)


def stacking(window) -> None:
    """Six months of the second demo as one table."""
    folder = loggers()
    window.opening.open_paths(sorted(folder.glob("tarrow_level_*.csv")))
    QTest.qWait(300)


def rereading(window) -> None:
    """The second round of visits in place of the first."""
    folder = loggers()
    place = folder / "visits.csv"
    place.write_bytes((folder / "tarrow_round_1.csv").read_bytes())
    window.session.open_file(place)
    window.session.do(changes.set_aside(window.session.study, window.session.tether, {3}, "ice"))
    place.write_bytes((folder / "tarrow_round_2.csv").read_bytes())
    window.session.reread()
    QTest.qWait(300)


def loggers() -> Path:
    """The files of the second demo in a folder of their own."""
    folder = Path(tempfile.mkdtemp())
    write_files(folder)
    return folder


def strength(window) -> None:
    """The ruler over signed products and ranks."""
    window.session.show_step("strength")


def line(window) -> None:
    """The fitted line."""
    window.session.show_step("line")


def doubts(window) -> None:
    """Six doubts about the demo's line."""
    window.session.show_step("doubts")


def remedy(window) -> None:
    """A doubt opened, with a remedy tried beside the present line."""
    window.session.show_tether("k2")
    window.session.show_step("doubts")
    step = window.step("doubts")
    step.open("bend")
    step.extra._tried = "Log of both"
    step.extra.show_doubt("bend")


def lineup(window) -> None:
    """The real residuals among those of true lines."""
    window.session.show_step("doubts")
    window.step("doubts").try_lineup()


def compare(window) -> None:
    """Two stations, their slopes on one scale, and a margin."""
    window.session.show_step("compare")
    window.step("compare")._put("Compare stations", group=window.session.tether.tint, margin=0.3)


def forecast(window) -> None:
    """Three x, one beyond the data, and the other way round."""
    window.session.show_step("forecast")
    window.step("forecast")._put("forecast", at=(50.0, 150.0, 300.0), levels=(0.8, 0.99), back=(200.0,))


def rehearse(window) -> None:
    """Samples of a stated truth that fans out: the intervals promise more than they keep."""
    window.session.show_step("rehearse")
    step = window.step("rehearse")
    step.entries._put("Draw from", source="truth", pattern="fanning")
    while step.work.busy or window.session.busy or step.view not in step.outcomes:
        QTest.qWait(20)
    QTest.qWait(200)  # the words of the whole run, not of its beginning
    step.step_to(4)


def write_up(window) -> None:
    """Pins of four steps, and the page."""
    for step, parts in (
        ("line", ("reading", "figures", "picture")), ("doubts", ("table",)), ("forecast", ("table",)),
    ):  # fmt: skip
        window.session.show_step(step)
        for part in parts:
            window.panel.pin_wanted.emit(part)
    window.session.show_step("write-up")
    window.notice.hide()
    stage = window.step("write-up")
    stage.pins.list.setCurrentRow(1)
    stage.freeze(window.session.study.pins[1].id)
    QTest.qWait(1500)
    stage.page.verticalScrollBar().setValue(250)


def aside(window) -> None:
    """Marked rows, the drawer, and what setting them aside would change."""
    window.session.show_step("line")
    window.drawer.toggle()
    rows = window.session.findings.rows
    worst = int(abs(rows.studentised).argmax())
    window.session.mark_rows(frozenset({int(window.session.table.row_ids[rows.row[worst] - 1])}))
    window.drawer.ask_reason()


MESSY = """sample;lamp (lx);hum (dB);room;when
S1;1.5;30,5;A;2021-03-01\nS2;2.5;31;A;2021-03-02\nS3;3.1;-999;B;2021-03-03\nS4;4.2;33.5;B;2021-03-04
S5;5.0;34;A;2021-03-05\nS6;61;35.2;B;2021-03-06\nS7;6.9;about 36;A;2021-03-07\nS8;8.1;37.5;B;2021-03-08
S9;8.8;38;A;2021-03-09\nS10;9.9;39.5;B;2021-03-10\nS11;11.2;40;A;2021-03-11\nS11;11.2;40;A;2021-03-11
"""


def preview(window) -> None:
    """A messy file before it is taken in."""
    path = Path(tempfile.mkdtemp()) / "lamps.csv"
    path.write_text(MESSY, encoding="utf-8")
    window.opening.open_path(path)


def slips(window) -> None:
    """The same file taken in, with its likely slips."""
    path = Path(tempfile.mkdtemp()) / "lamps.csv"
    path.write_text(MESSY, encoding="utf-8")
    window.session.open_file(path)
    window.session.show_step("gather")


def trace(window) -> None:
    """Points read off a picture of a plot: the demo's own rating curve, drawn and loaded."""
    window.session.show_tether("k5")
    window.session.show_step("gather")
    QTest.qWait(200)
    path = Path(tempfile.mkdtemp()) / "plot.png"
    picture = window.step("gather").picture
    picture.grab().save(str(path))
    spots = [picture.scene_spot(x, y) for x, y in ((4, 60), (16, 60), (4, 60), (4, 110))]
    points = [picture.scene_spot(x, y) for x, y in zip(picture.cloud.x[:4], picture.cloud.y[:4], strict=True)]
    window.opening.open_path(path)
    page = window.opening.pages["trace"]
    scale = page.plate.image.width() / picture.width()
    page.axes = [(p.x() * scale, p.y() * scale) for p in spots]
    page.points = [(p.x() * scale, p.y() * scale) for p in points]
    said = {
        "x low": "4",
        "x high": "16",
        "y low": "60",
        "y high": "110",
        "x name": "days out (d)",
        "y name": "catch (g)",
    }
    for name, text in said.items():
        page.fields[name].setText(text)
    page._refresh()
    page.plate.hovered.emit(*page.points[-1])


def dark(window) -> None:
    """The line in the dark theme."""
    from bright_tether.theme.tokens import DARK

    window.session.show_step("line")
    window._theme.take(DARK)


SHOTS = {
    "look": look, "screening": screening, "strength": strength,
    "doubts": doubts, "remedy": remedy, "lineup": lineup,
    "compare": compare, "forecast": forecast, "rehearse": rehearse, "write-up": write_up,
    "gather": gather, "preview": preview, "slips": slips, "trace": trace, "line": line, "set-aside": aside,
    "line-dark": dark, "stacking": stacking, "rereading": rereading,
}  # fmt: skip


class _Then(datetime):
    """A moment that every picture is taken at."""

    @classmethod
    def now(cls, tz=None):
        """That moment."""
        return cls(2026, 11, 25, 12, 0)


class _Day(date):
    """The day of it."""

    @classmethod
    def today(cls):
        """That day."""
        return cls(2026, 11, 25)


def taken(app: QApplication, name: str, wait: int) -> QPixmap:
    """One picture, from the demo study. wait : milliseconds until every card says where it stands."""
    with patch.multiple("bright_tether.desktop.steps.write_up", datetime=_Then, date=_Day):
        window = build(app, ["--demo"])
        window.show()
        QTest.qWait(200)
        SHOTS[name](window)
        QTest.qWait(wait)
        while window.session.busy:  # on a slow machine
            QTest.qWait(20)
        _laid_out_anew(window)
        focused = (
            QApplication.focusWidget()
        )  # a ring where the keys go comes and goes with the window's being active
        if focused is not None:
            focused.clearFocus()
        picture = window.grab()
        let_go(window)
    return picture


def _laid_out_anew(window) -> None:
    """Text that fits without a bar beside it, and not with one, has two places to rest in: the one without."""
    for area in window.findChildren(QScrollArea):
        shown = area.verticalScrollBarPolicy()
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        QApplication.processEvents()
        area.setVerticalScrollBarPolicy(shown)
    QTest.qWait(20)


def main(wanted: list[str]) -> int:
    """Take the named pictures, or all."""
    app = QApplication.instance() or QApplication([])
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name in SHOTS:
        if not wanted or name in wanted:
            taken(app, name, 1000).save(str(FOLDER / f"{name}.png"))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
