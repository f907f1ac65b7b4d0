"""Edits of a long table: beside the window, in the order they were asked for, and what is typed meanwhile stays."""

import threading

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton, QTableWidget

from bright_tether.desktop.grid_model import NOTE_ROLE
from bright_tether.desktop.parts import drawer
from bright_tether.desktop.parts import remedies as parts
from bright_tether.desktop.steps import rereading
from bright_tether.live import one_column
from bright_tether.study import cell_changes, row_changes
from bright_tether.study.history import History
from bright_tether.study.package import open_study
from bright_tether.study.study import empty_study
from bright_tether.words.digits import grouped
from hand import click, named, press, read, settle, write

ROWS = 6_000
CONTROL = Qt.KeyboardModifier.ControlModifier
X = np.random.default_rng(7).permutation(ROWS) / 100


def content(x, y):
    return "x,y\n" + "\n".join(f"{a},{b:.2f}" for a, b in zip(x, y, strict=True)) + "\n"


def file_of(csv_file, x=X, name="long.csv"):
    return csv_file(content(x, 2 * x + np.arange(x.size) % 7), name)


@pytest.fixture
def window(open_window, csv_file, qtbot):
    """Two numbers in each of so many rows that they are not worked out in place."""
    window = open_window(file_of(csv_file))
    settle(window, qtbot)
    return window


@pytest.fixture
def grid(window):
    return named(window, "Table")


@pytest.fixture
def in_window(monkeypatch):
    """Note of each call of a function of a module or class whether the window had to wait for it."""

    def note(owner, name):
        calls, before = [], getattr(owner, name)

        def noted(*arguments, **named):
            calls.append(threading.current_thread() is threading.main_thread())
            return before(*arguments, **named)

        monkeypatch.setattr(owner, name, noted)
        return calls

    return note


@pytest.fixture
def changes_made(window, in_window):
    return in_window(History, "after")


def cells(window, column=0):
    return window.session.table.columns[column].cells


def type_in(grid, row, column, text):
    grid.setCurrentIndex(grid.grid.index(row, column))
    grid.setFocus()
    for one in (*text, Qt.Key.Key_Return):
        editor = QApplication.focusWidget()
        press(editor, one) if isinstance(one, Qt.Key) else QTest.keyClicks(editor, one)
    QApplication.processEvents()


def test_cells_are_typed_one_after_the_other_while_the_first_is_under_way(window, grid, qtbot, changes_made):
    type_in(grid, 1, 0, "12.5")
    type_in(grid, 2, 0, "13.5")
    settle(window, qtbot)
    assert cells(window)[1:3].tolist() == [12.5, 13.5]
    assert changes_made == [False, False]


def test_a_head_counts_what_is_missing_beside_the_window(window, grid, qtbot, in_window):
    looked, model = in_window(np, "count_nonzero"), grid.grid
    assert model.headerData(0, Qt.Orientation.Horizontal, NOTE_ROLE) == "number"
    for row, said in ((3, "number · 1 missing"), (8, "number · 2 missing")):
        grid.setCurrentIndex(model.index(row, 0))
        press(grid, Qt.Key.Key_Delete)
        qtbot.waitUntil(lambda told=said: model.headerData(0, Qt.Orientation.Horizontal, NOTE_ROLE) == told)
    window.session.undo()
    qtbot.waitUntil(lambda: model.headerData(0, Qt.Orientation.Horizontal, NOTE_ROLE) == "number · 1 missing")
    assert looked
    assert not any(looked)


def test_what_is_typed_below_the_last_row_makes_rows_at_once(window, grid, qtbot):
    type_in(grid, ROWS, 0, "61")
    assert grid.currentIndex().row() == ROWS + 1
    type_in(grid, ROWS + 1, 0, "62")
    settle(window, qtbot)
    assert window.session.table.rows == ROWS + 2
    assert cells(window)[-2:].tolist() == [61, 62]
    assert grid.grid.rowCount() == ROWS + 3


def test_a_typed_cell_follows_its_case_through_rows_that_move(window, grid, qtbot):
    session = window.session
    row = int(session.table.row_ids[5])
    session.do_made(lambda study: row_changes.move_rows(study, session.table.id, [row], -5))
    type_in(grid, 5, 0, "99")  # the rows have not moved yet, as far as one sees
    settle(window, qtbot)
    assert session.table.row_ids[0] == row
    assert cells(window)[0] == 99


def test_a_long_clipboard_is_read_and_pasted_beside_the_window(window, grid, qtbot, changes_made):
    new = np.arange(5_000) + 0.125
    QGuiApplication.clipboard().setText("\n".join(f"{one}\t{2 * one}" for one in new.tolist()) + "\n")
    grid.setCurrentIndex(grid.grid.index(10, 0))
    press(grid, Qt.Key.Key_V, CONTROL)
    assert cells(window)[10] == X[10]
    settle(window, qtbot)
    assert cells(window)[10:5010].tolist() == new.tolist()
    assert cells(window)[5010] == X[5010]
    assert changes_made == [False]
    grid.deeds._show_by(False)
    settle(window, qtbot)
    press(grid, Qt.Key.Key_V, CONTROL)
    assert "several cannot be pasted at once" in read(window, "notice text")


def test_rows_are_put_in_and_moved_and_the_cursor_goes_with_them(window, grid, qtbot, changes_made):
    session = window.session
    grid.setCurrentIndex(grid.grid.index(20, 1))
    window.session.settle()
    grid.deeds._insert_row(1)
    settle(window, qtbot)
    assert session.table.rows == ROWS + 1
    assert np.isnan(cells(window)[21])
    assert [grid.currentIndex().row(), grid.currentIndex().column()] == [21, 1]
    grid.deeds._move_rows(-2)
    settle(window, qtbot)
    assert np.isnan(cells(window)[19])
    assert grid.currentIndex().row() == 19
    assert changes_made == [False, False]


def test_rows_are_set_aside_beside_the_window_with_what_that_changes_told(
    window, qtbot, changes_made, in_window
):
    session, told = window.session, in_window(drawer, "with_and_without")
    session.mark_rows(frozenset(range(30)))
    click(named(window, "Set aside…"))
    write(named(window, "Reason for setting aside"), "la")
    qtbot.waitUntil(lambda: "working out" not in read(window, "effect of setting aside"))
    assert "slope" in read(window, "effect of setting aside")
    assert told == [False]
    write(named(window, "Reason for setting aside"), "te")
    assert named(window, "Reason for setting aside").text() == "late"  # whatever was worked out meanwhile
    click(named(window, "Set the marked rows aside"))
    settle(window, qtbot)
    assert session.findings.pairs.n == ROWS - 30
    click(named(window, "Bring back"))
    settle(window, qtbot)
    assert session.findings.pairs.n == ROWS
    assert changes_made == [False, False]


@pytest.fixture
def bent(window, qtbot):
    """The same with a bend, and its doubt open."""
    window.session.show_step("doubts")
    settle(window, qtbot)
    y = (X / 10) ** 2 + 1 + np.arange(ROWS) % 3
    table, column = window.session.table.id, window.session.table.columns[1].id
    values = {(row, column): float(one) for row, one in enumerate(y.tolist())}
    window.session.do_made(lambda study: cell_changes.set_cells(study, table, values, "Bend it"))
    settle(window, qtbot)
    window.step("doubts").open("bend")
    qtbot.waitUntil(lambda: any(b.text() == "Log of y" for b in window.findChildren(QPushButton)))
    return window


def test_what_is_typed_stays_while_the_effect_of_a_remedy_comes(bent, qtbot):
    click(named(bent, "Try: Log of y", QPushButton))
    field = named(bent, "Reason to let the doubt stand")
    field.setFocus()
    write(QApplication.focusWidget(), "known ")
    qtbot.waitUntil(lambda: read(bent, "what the remedy changes").startswith("Slope"))
    write(QApplication.focusWidget(), "before")
    press(QApplication.focusWidget(), Qt.Key.Key_Return)
    settle(bent, qtbot)
    assert [(one.doubt, one.reason) for one in bent.session.tether.answers] == [("bend", "known before")]


def test_a_remedy_is_taken_of_the_study_as_it_is_by_then(bent, qtbot):
    click(named(bent, "Try: Log of y", QPushButton))
    session, x = bent.session, bent.session.table.columns[0].id
    session.do_made(lambda study: cell_changes.set_cells(study, session.table.id, {(3, x): 12.5}))
    click(named(bent, "Take: Log of y", QPushButton))
    settle(bent, qtbot)
    assert bent.session.findings.y_column.name == "log10 y"
    assert cells(bent)[3] == 12.5


def test_what_cannot_be_worked_out_is_said_in_its_place(bent, qtbot, monkeypatch):
    def broken(*arguments):
        raise MemoryError

    monkeypatch.setattr(parts, "remedy_sentence", broken)
    click(named(bent, "Try: Log of y", QPushButton))
    qtbot.waitUntil(lambda: read(bent, "what the remedy changes").startswith("This could not be worked out"))


def test_a_remedy_of_a_long_table_is_worked_out_beside_the_window(in_window, request, qtbot):
    offered, told = (in_window(parts, name) for name in ("remedies", "_effect_of"))
    window = request.getfixturevalue("bent")
    click(named(window, "Try: Log of y", QPushButton))
    qtbot.waitUntil(lambda: read(window, "what the remedy changes").startswith("Slope"))
    click(named(window, "Take: Log of y", QPushButton))
    settle(window, qtbot)
    assert window.session.findings.y_column.name == "log10 y"
    assert set(offered) == {False}
    assert told == [False]


def test_only_the_newest_preview_of_a_long_table_is_shown_and_none_after_it_was_left(window, qtbot):
    session = window.session
    table, x = session.table.id, session.table.columns[0].id

    def moved(value):
        return cell_changes.set_cells(session.history.study, table, {(3, x): value})

    for value in (1.0, 2.0, 900.0):
        session.preview(moved(value), moving=True)
    assert session.study is session.history.study
    settle(window, qtbot)
    assert session.study.tables[0].columns[0].cells[3] == 900
    assert session.findings.pairs.x.max() == 900
    session.preview(moved(5.0), moving=True)
    session.preview(None)
    settle(window, qtbot)
    assert session.study is session.history.study
    session.preview(moved(7.0), moving=True)
    session.take_over(History(empty_study()))
    settle(window, qtbot)
    assert session.study is session.history.study
    assert session.table.rows == 0


def test_a_point_that_is_let_go_is_one_change_whatever_was_shown(window, qtbot):
    window.session.show_step("look")
    settle(window, qtbot)
    picture = window.step("look").picture
    picture.point_moving.emit(3, 4.0, 5.0)
    picture.point_moved.emit(3, 70.0, 140.0)
    settle(window, qtbot)
    assert cells(window)[3] == 70
    assert not window.session.previewing
    assert [edit.label for edit in window.session.history.done[1:]] == ["Move the point of row 4"]
    picture.point_moving.emit(3, 4.0, 5.0)
    picture.move_given_up.emit()
    settle(window, qtbot)
    assert cells(window)[3] == window.session.study.tables[0].columns[0].cells[3] == 70


def test_a_study_is_saved_with_what_was_asked_for_before(window, grid, qtbot, tmp_path):
    type_in(grid, 1, 0, "12.5")
    assert window.document.save(tmp_path / "s.tether")
    settle(window, qtbot)
    window.document.wait()
    assert open_study(tmp_path / "s.tether").tables[0].columns[0].cells[1] == 12.5
    assert not window.document.unsaved


def test_a_study_is_left_once_its_last_change_is_written_down(window, grid, qtbot):
    type_in(grid, 1, 0, "12.5")
    window.document.new()
    qtbot.waitUntil(lambda: window.session.table.rows == 0)
    settle(window, qtbot)
    qtbot.waitUntil(lambda: "unsaved" in read(window, "notice text"))
    click(named(window, "Take it up again"))
    qtbot.waitUntil(lambda: window.session.table.rows == ROWS)
    settle(window, qtbot)
    assert cells(window)[1] == 12.5


def test_a_long_listing_is_copied_beside_the_window(window, qtbot):
    window.session.show_step("strength")
    settle(window, qtbot)
    click(named(window, "Show row by row", QPushButton))
    settle(window, qtbot)
    QGuiApplication.clipboard().clear()
    click(named(window, "Copy the table"))
    settle(window, qtbot)
    lines = QGuiApplication.clipboard().text().splitlines()
    assert len(lines) == ROWS + 2
    assert read(window, "notice text") == f"Copied: {ROWS} rows with their sums."
    at = lines[0].split("\t").index("x")
    assert [float(line.split("\t")[at]) for line in lines[1:4]] == X[:3].tolist()


def test_one_column_by_itself_is_put_in_order_beside_the_window(window, qtbot, in_window):
    stacked = in_window(one_column, "stacked_dots")
    window.session.show_step("look")
    settle(window, qtbot)
    look = window.step("look")
    look.look_at(window.session.tether.y)
    settle(window, qtbot)
    assert stacked == [False]
    assert look.alone.shown.n == ROWS
    assert look.alone.shown.summary.max == cells(window, 1).max()


def test_a_file_that_changed_is_held_against_a_long_table_beside_the_window(
    window, csv_file, qtbot, changes_made, in_window
):
    session, held = window.session, in_window(rereading, "reread_table")
    session.mark_rows(frozenset({40}))
    file_of(csv_file, X[5:] + 1000 * (np.arange(ROWS - 5) == 3000))
    session.reread()
    qtbot.waitUntil(lambda: "rereading" in window.opening.pages)
    assert "is compared with “long”" in read(window, "notice text")
    page = window.opening.pages["rereading"]
    qtbot.waitUntil(lambda: page.isVisible())
    assert page.by.count() == 3
    table = named(window, "What the file has otherwise", QTableWidget)
    assert table.rowCount() == 301
    taken = page._held.taken
    assert table.item(300, 1).text() == f"and {grouped(taken.new + taken.gone + taken.changed - 300)} more"
    click(named(window, "Take the file in as it is now"))
    settle(window, qtbot)
    assert session.table.rows == ROWS - 5
    assert held == changes_made == [False]
    page.show_file(session.table.id, session.table, lambda: page.setVisible(True))
    page.leave()
    settle(window, qtbot)
    assert page._held is None
    assert not page.isVisible()
    page.show_file(session.table.id, session.table, lambda: page.setVisible(True))
    session.take_over(History(empty_study()))
    qtbot.waitUntil(lambda: not page._work.busy)
    assert page._held is None  # what came late belongs to no study any more
