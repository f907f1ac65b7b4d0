"""Gather as a new analyst would: type, paste, open, mend, filter, set aside, lose power, come back."""

import os
import signal
import subprocess
import sys
import textwrap

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QGuiApplication, QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QListWidget, QPushButton

from bright_tether.study.package import open_study
from hand import click, named, press, read, read_figure, write

CONTROL = Qt.KeyboardModifier.ControlModifier
MESSY = """sample;lamp (lx);hum (dB);room;when
S1;1.5;30,5;A;2021-03-01
S2;2.5;31;A;2021-03-02
S3;3.1;-999;B;2021-03-03
S4;4.2;33.5;B;2021-03-04
S5;5.0;34;A;2021-03-05
S6;61;35.2;B;2021-03-06
S7;6.9;about 36;A;2021-03-07
S8;8.1;37.5;B;2021-03-08
S9;8.8;38;A;2021-03-09
S10;9.9;39.5;B;2021-03-10
S11;11.2;40;A;2021-03-11
S11;11.2;40;A;2021-03-11
"""


def choose(window, name, words):
    box = named(window, name, QComboBox)
    at = box.findText(words)
    assert at >= 0, [box.itemText(i) for i in range(box.count())]
    box.setCurrentIndex(at)
    box.activated.emit(at)
    box.textActivated.emit(words)
    QApplication.processEvents()


def test_typing_then_pasting(open_window):
    window = open_window()
    grid = named(window, "Table")
    for column, values in enumerate((("1", "2", "3", "4"), ("2.1", "3.9", "6,2", "7.8"))):
        for row, value in enumerate(values):
            grid.setCurrentIndex(grid.grid.index(row, column))
            QTest.keyClicks(grid, value[0])
            field = next(f for f in grid.findChildren(QLineEdit) if f.isVisible())
            QTest.keyClicks(field, value[1:])
            QTest.keyClick(field, Qt.Key.Key_Return)
    assert "4 rows in play" in read(window, "sentences")
    QGuiApplication.clipboard().setText("\n".join(f"{v}\t{2 * v + 0.1:.1f}" for v in range(5, 13)))
    grid.setCurrentIndex(grid.grid.index(4, 0))
    press(grid, Qt.Key.Key_V, CONTROL)
    assert "12 rows in play" in read(window, "sentences")
    assert read(window, "column sum") == "78"
    press(window, Qt.Key.Key_H, CONTROL)
    changes = named(window, "Changes", QListWidget)
    assert changes.item(0).text() == "Paste 8 × 2 cells"
    assert changes.count() == 10
    changes.itemActivated.emit(changes.item(1))
    assert "4 rows in play" in read(window, "sentences")
    press(window, Qt.Key.Key_Z, CONTROL | Qt.KeyboardModifier.ShiftModifier)
    assert "12 rows in play" in read(window, "sentences")


def test_a_messy_file_is_previewed_corrected_and_mended(open_window, csv_file):
    window = open_window()
    window.opening.open_path(csv_file(MESSY, "messy.csv"))
    assert "12 rows, 5 columns; 2 cells" in read(window, "preview says")
    choose(window, "Separator", "comma")
    assert not named(window, "Take the file in").isEnabled()
    choose(window, "Separator", "semicolon")
    write(named(window, "More codes for missing", QLineEdit), "-999")
    choose(window, "Kind of sample", "label")
    click(named(window, "Take the file in"))
    table = window.session.table
    assert [column.kind for column in table.columns] == ["label", "number", "number", "category", "date"]
    assert np.isnan(table.columns[2].cells[2])
    for words in ("Read as numbers", "Shift the point", "Blank", "Take the repeats out"):
        slips = window.steps["gather"].slips
        click(next(b for b in slips.findChildren(QPushButton) if b.text() == words and b.isVisible()))
    assert not window.steps["gather"].slips.isVisible()
    table = window.session.table
    assert table.rows == 11
    assert table.columns[1].cells[5] == 6.1
    assert table.columns[2].cells[0] == 30.5


def test_filter_log_columns_and_set_aside_survive_a_save(open_window, tmp_path):
    window = open_window("--demo")
    click(named(window, "Filter the rows"))
    choose(window, "Filter column", "station")
    named(window, "Filter choices", QListWidget).item(0).setSelected(True)
    click(named(window, "Add this condition"))
    assert read(window, "filter says").endswith("of 71 rows in play")
    QApplication.activePopupWidget().close()
    assert read(window, "row filter") == "only rows where station is Weir"
    pairs = window.session.findings.pairs
    assert pairs.n + pairs.missing + pairs.set_aside + pairs.filtered_out == 71
    assert "filtered out" in read(window, "rows out of play")
    press(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    click(named(window, "Work out a column from others"))
    choose(window, "Common ways", "log to base 10")
    write(named(window, "Name of the new column", QLineEdit), "log turbidity")
    assert "without a value" in read(window, "expression says")
    click(named(window, "Add the column"))
    column = window.session.table.named("log turbidity")
    assert np.nanmax(column.cells) == pytest.approx(np.log10(262))
    row = int(window.session.findings.pairs.at[0])
    window.session.mark_rows(frozenset({row}))
    press(window, Qt.Key.Key_D, CONTROL)
    write(named(window, "Reason for setting aside", QLineEdit), "ice on the bank")
    click(named(window, "Set the marked rows aside"))
    assert "“ice on the bank”" in read(window, "rows out of play")
    path = tmp_path / "mine.tether"
    assert window.document.save(path)
    window.document.wait()
    QApplication.processEvents()
    assert "saved " in read(window, "subtitle")
    again = open_window(path)
    assert read(again, "row filter") == "only rows where station is Weir"
    assert again.session.findings.pairs.set_aside == window.session.findings.pairs.set_aside
    assert "open in another window" in read(again, "notice text")
    assert again.document.path is None


KILLED = """
import os, signal, sys
from PyQt6.QtWidgets import QApplication
from bright_tether.desktop.start import build
from bright_tether.study import cell_changes, changes
app = QApplication([])
window = build(app, ["--demo"])
session = window.session
session.do(changes.set_aside(session.study, session.tether, {40}, "lamp broke"))
session.do(cell_changes.set_cells(session.study, "t1", {(3, "c3"): 123.0}))
session.undo()
window.document.wait()
os.kill(os.getpid(), signal.SIGKILL)
"""


def test_a_killed_process_loses_nothing(open_window):
    environment = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    ended = subprocess.run([sys.executable, "-c", textwrap.dedent(KILLED)], env=environment, check=False)
    assert ended.returncode == -signal.SIGKILL
    window = open_window()
    window.offer_unfinished()
    assert "was not saved (3 changes)" in read(window, "notice text")
    click(named(window, "Take it up again"))
    assert read(window, "rows in play") == "63 of 71 rows"
    assert "“lamp broke”" in read(window, "rows out of play")
    assert window.session.table.column("c3").cells[3] != 123.0
    window.document.wait()
    window.close()
    later = open_window()
    later.offer_unfinished()
    assert "was not saved" in read(later, "notice text")
    click(named(later, "Throw it away"))
    assert not later.document.unfinished()


def test_points_are_read_off_a_picture(open_window, tmp_path):
    image = QImage(500, 400, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.drawLine(60, 340, 470, 340)
    painter.drawLine(60, 340, 60, 30)
    painter.end()
    image.save(str(tmp_path / "plot.png"))
    window = open_window()
    window.opening.open_path(tmp_path / "plot.png")
    plate = named(window, "Picture to read")

    def touch(x, y):
        spot = plate.spot(x, y).toPoint()
        QTest.mouseClick(plate.viewport(), Qt.MouseButton.LeftButton, pos=spot)
        QApplication.processEvents()

    for x, y in ((60, 340), (460, 338), (60, 330), (60, 40)):
        touch(x, y)
    assert "Type what the four points say" in read(window, "what to click next")
    for name, text in {
        "x low": "0",
        "x high": "40",
        "y low": "0",
        "y high": "80",
        "x name": "lamp (lx)",
    }.items():
        write(named(window, name, QLineEdit), text)
    for x, y in ((110, 295), (160, 246), (240, 186), (310, 152)):
        touch(x, y)
    assert "4 points so far" in read(window, "what to click next")
    start, end = plate.spot(310, 152).toPoint(), plate.spot(410, 100).toPoint()
    QTest.mousePress(plate.viewport(), Qt.MouseButton.LeftButton, pos=start)
    from hand import move

    move(plate, end, Qt.MouseButton.LeftButton)
    QTest.mouseRelease(plate.viewport(), Qt.MouseButton.LeftButton, pos=end)
    assert "one pixel" in read(window, "value under the hand")
    press(plate, Qt.Key.Key_Delete)
    click(named(window, "Make the table"))
    assert read(window, "x column") == "lamp (lx)"
    cells = window.session.table.columns[0].cells
    assert cells.size == 3
    assert np.allclose(cells, [5, 10, 18], atol=0.3)


def test_column_kind_range_order_and_deletion(open_window):
    window = open_window("--demo")
    press(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    grid = named(window, "Table")
    grid.setCurrentIndex(grid.grid.index(0, 3))
    assert read(window, "column at the cursor") == "Column sediment (mg/L)"
    low = named(window, "Lowest possible", QLineEdit)
    write(low, "20")
    press(low, Qt.Key.Key_Return)
    assert "outside the possible range" in " ".join(
        piece.text() for piece in window.steps["gather"].slips.findChildren(type(window.panel._headline))
    )
    click(named(window, "Move the column left"))
    assert window.session.table.columns[2].short == "sediment"
    choose(window, "Column kind", "text")
    assert "holds no numbers" in read(window, "sentences")
    press(window, Qt.Key.Key_Z, CONTROL)
    grid.setCurrentIndex(grid.grid.index(0, 2))
    click(named(window, "Delete the column"))
    assert read(window, "headline") == "What goes with what?"
    press(window, Qt.Key.Key_Z, CONTROL)
    assert read(window, "headline") == "turbidity explains, sediment responds."


def test_random_columns_are_made_and_tied(open_window):
    window = open_window("--demo")
    press(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    click(named(window, "Make a column at random"))
    choose(window, "How to draw", "a line on another column, with noise")
    write(named(window, "Name of the random column", QLineEdit), "tried")
    click(named(window, "Add the random column"))
    column = window.session.table.named("tried")
    assert column.formula.seed == 1
    grid = named(window, "Table")
    grid.setCurrentIndex(grid.grid.index(0, len(window.session.table.columns) - 1))
    assert "seed 1" in read(window, "column formula")
    press(window, Qt.Key.Key_Y, Qt.KeyboardModifier.AltModifier)
    assert read(window, "headline") == "turbidity explains, tried responds."


def test_hostile_studies_leave_the_open_one_alone(open_window, tmp_path):
    window = open_window("--demo")
    study = window.session.study
    (tmp_path / "bad.tether").write_bytes(b"PK\x03\x04 nothing")
    window.opening.open_path(tmp_path / "bad.tether")
    assert "damaged" in read(window, "notice text")
    assert window.session.study is study


def test_saving_where_nothing_can_be_written_says_so(open_window, tmp_path):
    window = open_window("--demo")
    window.document.save(tmp_path / "no such folder" / "x.tether")
    window.document.wait()
    QApplication.processEvents()
    assert "could not be saved" in read(window, "notice text")
    assert read_figure(window, "slope")


def test_recent_studies_and_layout_are_remembered(open_window, tmp_path):
    window = open_window("--demo")
    window.document.save(tmp_path / "mine")
    window.document.wait()
    assert open_study(tmp_path / "mine.tether").title == "Tarrow sediment survey"
    window.resize(1100, 700)
    window.close()
    from bright_tether.desktop.layout import restore_layout

    again = open_window()
    restore_layout(again)
    assert again.height() == 700
    assert any(deed.words == "Open again: mine" for deed in again.actions_list.found("open again"))
