"""The step Gather in the real window: typing, pasting, tying, opening, and bad files."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit

from hand import click, drop_files, named, press, read, write

CONTROL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def window(open_window):
    return open_window()


def cursor_to(grid, row, column):
    grid.setFocus()
    grid.setCurrentIndex(grid.grid.index(row, column))


def type_cell(grid, text, then):
    QTest.keyClicks(grid, text[0])
    field = next(field for field in grid.findChildren(QLineEdit) if field.isVisible())
    QTest.keyClicks(field, text[1:])
    QTest.keyClick(field, then)
    QApplication.processEvents()


def test_a_blank_study_claims_nothing(window):
    assert read(window, "headline") == "Type, paste or open pairs."
    assert read(window, "rows out of play") == "no rows yet"


def test_four_pairs_are_typed_with_enter_and_tab(window):
    grid = named(window, "Table")
    cursor_to(grid, 0, 0)
    for value in ("1", "2,5", "4", "5"):
        type_cell(grid, value, Qt.Key.Key_Return)
    assert grid.currentIndex().row() == 4
    cursor_to(grid, 0, 1)
    for at, value in enumerate(("10", "21", "39", "-4e1")):
        cursor_to(grid, at, 1)
        type_cell(grid, value, Qt.Key.Key_Tab)
        assert grid.currentIndex().column() == 2
    table = window.session.table
    assert table.columns[0].cells.tolist() == [1, 2.5, 4, 5]
    assert table.columns[1].cells.tolist() == [10, 21, 39, -40]
    assert read(window, "sentences").startswith("Of 4 rows: 4 rows in play.")
    assert len(window.session.history.done) == 8
    for _ in range(8):
        press(window, Qt.Key.Key_Z, CONTROL)
    assert window.session.table.rows == 0


def test_a_block_with_headers_is_pasted_and_taken_back(window):
    grid = named(window, "Table")
    QGuiApplication.clipboard().setText("murk (NTU)\tload (mg/L)\n1\t2\n2\t5\n4\t7\n")
    cursor_to(grid, 0, 0)
    press(grid, Qt.Key.Key_V, CONTROL)
    assert read(window, "headline") == "murk explains, load responds."
    assert read(window, "x column") == "murk (NTU)"
    press(grid, Qt.Key.Key_Z, CONTROL)
    assert window.session.table.rows == 0
    press(grid, Qt.Key.Key_Z, CONTROL | Qt.KeyboardModifier.ShiftModifier)
    cursor_to(grid, 3, 0)
    QGuiApplication.clipboard().setText("6\t9\n8\t12\n")
    press(grid, Qt.Key.Key_V, CONTROL)
    assert window.session.table.rows == 5
    press(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert read(window, "equation").startswith("load = ")


def test_cells_and_rows_are_cleared_and_come_back(window, short_file):
    window.session.open_file(short_file)
    grid = named(window, "Table")
    cursor_to(grid, 1, 0)
    press(grid, Qt.Key.Key_Delete)
    assert np.isnan(window.session.table.columns[0].cells[1])
    assert "1 without a number" in read(window, "sentences")
    grid.selectRow(3)
    press(grid, Qt.Key.Key_Delete)
    assert window.session.table.rows == 4
    press(grid, Qt.Key.Key_Z, CONTROL)
    press(grid, Qt.Key.Key_Z, CONTROL)
    assert window.session.table.columns[0].cells.tolist() == [1, 2, 3, 4, 5]


def test_copied_cells_read_back(window, short_file):
    window.session.open_file(short_file)
    grid = named(window, "Table")
    grid.selectRow(1)
    press(grid, Qt.Key.Key_C, CONTROL)
    assert QGuiApplication.clipboard().text() == "2\t3.9\tb\n"


def test_text_in_a_number_column_is_kept_and_counted_as_missing(window, short_file):
    window.session.open_file(short_file)
    grid = named(window, "Table")
    cursor_to(grid, 2, 1)
    type_cell(grid, "6.2?", Qt.Key.Key_Return)
    assert grid.grid.data(grid.grid.index(2, 1)) == "6.2?"
    assert "4 rows in play, 1 without a number" in read(window, "sentences")
    press(grid, Qt.Key.Key_Z, CONTROL)
    assert grid.grid.data(grid.grid.index(2, 1)) == "6.2"


def heads(grid, section):
    return QPoint(grid.heads.sectionViewportPosition(section) + 20, grid.heads.height() // 2)


def carry(grid, section, target):
    port, left = grid.heads.viewport(), Qt.MouseButton.LeftButton
    start = heads(grid, section)
    end = port.mapFromGlobal(target.mapToGlobal(target.rect().center()))
    QTest.mousePress(port, left, pos=start)
    for part in (0.3, 0.7, 1.0):
        send_move(port, start + (end - start) * part)
    QTest.mouseRelease(port, left, pos=end)
    QApplication.processEvents()


def send_move(port, at):
    from PyQt6.QtCore import QEvent
    from PyQt6.QtGui import QMouseEvent

    left = Qt.MouseButton.LeftButton
    spot, far = QPointF(at), QPointF(port.mapToGlobal(at))
    event = QMouseEvent(QEvent.Type.MouseMove, spot, far, left, left, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(port, event)


def test_a_column_head_is_dragged_onto_an_axis(window, csv_file):
    window.session.open_file(csv_file("a,b,c\n1,5,2\n2,7,3\n4,6,9\n7,1,4\n"))
    grid = named(window, "Table")
    carry(grid, 2, window.steps["gather"].slots["x"])
    assert read(window, "x column") == "c"
    carry(grid, 2, window.steps["gather"].slots["y"])
    assert (read(window, "x column"), read(window, "y column")) == ("b", "c")
    assert grid.grid.headerData(2, Qt.Orientation.Horizontal) == "y · c"


def test_columns_are_tied_and_swapped_by_keyboard(window, csv_file):
    window.session.open_file(csv_file("a,b,c\n1,5,2\n2,7,3\n4,6,9\n7,1,4\n"))
    grid = named(window, "Table")
    assert "stands first among the measurements" in read(window, "beware")
    cursor_to(grid, 0, 2)
    press(window, Qt.Key.Key_Y, Qt.KeyboardModifier.AltModifier)
    assert read(window, "headline") == "a explains, c responds."
    press(window, Qt.Key.Key_S, Qt.KeyboardModifier.AltModifier)
    assert read(window, "headline") == "c explains, a responds."
    press(window, Qt.Key.Key_Z, CONTROL)
    assert read(window, "headline") == "a explains, c responds."


def test_rows_marked_in_the_table_are_ringed_in_the_picture(window, short_file):
    window.session.open_file(short_file)
    grid, picture = named(window, "Table"), named(window, "Pairs picture")
    grid.selectRow(2)
    press(grid, Qt.Key.Key_Space)
    assert picture.points._ring.x.tolist() == [3.0]
    assert read(window, "rows marked") == "1 marked"


def test_a_column_is_renamed_in_its_head(window, short_file):
    window.session.open_file(short_file)
    grid = named(window, "Table")
    QTest.mouseDClick(grid.heads.viewport(), Qt.MouseButton.LeftButton, pos=heads(grid, 0))
    field = named(window, "Column name", QLineEdit)
    write(field, "tiefe (cm)")
    press(field, Qt.Key.Key_Return)
    assert read(window, "headline") == "tiefe explains, flow responds."


def test_a_dropped_file_opens(window, short_file):
    drop_files(window, short_file)
    assert "5 rows, 3 columns" in read(window, "preview says")
    click(named(window, "Take the file in"))
    assert read(window, "headline") == "depth explains, flow responds."


def test_a_file_on_the_command_line_opens(open_window, short_file):
    assert read(open_window(short_file), "x column") == "depth (m)"


@pytest.mark.parametrize(
    ("content", "words"),
    [(b"", "is empty"), (b"x\n1\n", "only one column"), (b"x,y\n1,2\n3\n", "is ragged"),
     (b"x,y\n\xff,2\n", "not text in UTF-8"), (b"x,y\na,b\n", "no column of numbers")],
)  # fmt: skip
def test_a_bad_file_is_one_sentence_and_changes_nothing(open_window, csv_file, content, words):
    window = open_window("--demo")
    study = window.session.study
    window.session.open_file(csv_file(content))
    assert words in read(window, "notice text")
    assert window.session.study is study
    click(named(window, "Close the notice"))
    assert not window.notice.isVisible()


def test_missing_files_and_folders_are_said(window, tmp_path):
    window.session.open_file(tmp_path / "none.csv")
    assert "There is no file “none.csv”" in read(window, "notice text")
    window.session.open_file(tmp_path)
    assert "is a folder" in read(window, "notice text")


def test_too_few_pairs_and_constant_x_are_said_in_place(window, csv_file):
    window.session.open_file(csv_file("x,y\n1,2\n2,3\n"))
    assert "at least 3 pairs" in read(window, "sentences")
    press(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert read(window, "headline") == "No line yet."
    window.session.open_file(csv_file("x,y\n4,2\n4,3\n4,5\n", "c.csv"))
    assert "Every x is 4" in read(window, "sentences")
    assert read(window, "equation") == "no line yet"


def test_long_tables_are_worked_out_beside_the_window(open_window, qtbot, csv_file):
    x = np.arange(70_000)
    text = "x,y\n" + "".join(f"{v},{2 * v + (v % 7)}\n" for v in x)
    window = open_window(csv_file(text))
    assert window.session.busy
    qtbot.waitUntil(lambda: not window.session.busy, timeout=20_000)
    assert "70\u202f000 rows in play" in read(window, "sentences")


def test_several_dropped_files_are_looked_at_one_after_the_other(window, csv_file):
    files = [csv_file(f"a,b\n1,{at}\n2,{at + 4}\n3,{at + 5}\n", f"month {at}.csv") for at in range(4)]
    drop_files(window, files[0], csv_file("", "empty.csv"), *files[1:])
    assert "empty.csv" in read(window, "stacking says")
    click(named(window, "A table each"))
    assert read(window, "preview title") == "Before “month 0.csv” is taken in (4 further files after it)"
    click(named(window, "Take the file in"))
    assert "empty.csv" in read(window, "notice text")
    assert read(window, "preview title") == "Before “month 1.csv” is taken in (2 further files after it)"
    click(named(window, "Leave the file"))
    click(named(window, "Take the file in"))
    assert read(window, "preview title") == "Before “month 3.csv” is taken in"
    press(named(window, "Take the file in"), Qt.Key.Key_Return)
    assert [one.name for one in window.session.study.tables[-3:]] == ["month 0", "month 2", "month 3"]
    assert window.session.step == "gather"


def test_files_that_wait_are_not_lost_without_a_word(window, csv_file):
    files = [csv_file(f"a,b\n1,{at}\n2,4\n3,5\n", f"m{at}.csv") for at in range(3)]
    drop_files(window, *files)
    click(named(window, "A table each"))
    window.session.show_step("line")
    assert "2 further files not looked at" in read(window, "notice text")
    drop_files(window, files[0])
    assert read(window, "preview title") == "Before “m0.csv” is taken in"
