"""What takes as long as a table is long: beside the window, in turns, and never where it was not meant."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QListWidget

from bright_tether.core.line.row_by_row import EACH_ROW
from bright_tether.desktop.grid_model import GridModel
from bright_tether.desktop.parts.joining import JoinPanel
from bright_tether.desktop.parts.tether_card import TetherCard
from bright_tether.desktop.parts.work_out import WorkOut
from bright_tether.live.findings import Findings
from bright_tether.study import cell_changes, changes, column_changes
from bright_tether.study.history import History
from bright_tether.study.study import empty_study
from bright_tether.words.digits import grouped
from bright_tether.words.readings.alternatives import left_out
from hand import choose, click, named, press, read, settle, write

ROWS = 6_000
CONTROL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def window(open_window, csv_file, qtbot):
    """A table that is not worked out in place: a name in each row, a site, two numbers, one y in a hundred blank."""
    x = np.random.default_rng(5).permutation(ROWS) / 100
    lines = (
        f"S-{at:05},{'AB'[at % 2]},{value},{'' if at % 100 == 7 else f'{2 * value + at % 3:.2f}'}"
        for at, value in enumerate(x.tolist())
    )
    window = open_window(csv_file("label,site,x,y\n" + "\n".join(lines) + "\n", "long.csv"))
    settle(window, qtbot)
    return window


@pytest.fixture
def grid(window):
    return named(window, "Table")


def column(window, name):
    return window.session.table.named(name)


def choose_column(grid, name):
    """A click on its head."""
    at = [one.name for one in grid.grid._table.columns].index(name)
    spot = grid.heads.sectionViewportPosition(at) + 20
    grid.heads.viewport().repaint()
    QTest.mouseClick(grid.heads.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(spot, 8))
    QApplication.processEvents()


def retype(field, text):
    field.clear()
    write(field, text)


def test_a_column_is_chosen_without_asking_its_rows(window, grid, monkeypatch):
    asked, before = [0], GridModel.flags

    def flags(self, index):
        asked[0] += 1
        return before(self, index)

    monkeypatch.setattr(GridModel, "flags", flags)
    choose_column(grid, "x")
    assert len(grid.rows_at_hand()) == ROWS
    grid.heads.viewport().repaint()
    assert asked[0] < ROWS / 4
    press(grid, Qt.Key.Key_Space)
    assert len(window.session.mark) == ROWS


def test_very_many_cells_are_copied_beside_the_window(window, grid, qtbot):
    grid.setFocus()
    grid.selectAll()
    press(grid, Qt.Key.Key_C, CONTROL)
    settle(window, qtbot)
    lines = QGuiApplication.clipboard().text().splitlines()
    assert len(lines) == ROWS
    assert lines[7].split("\t")[::3] == ["S-00007", ""]
    assert float(lines[0].split("\t")[2]) == column(window, "x").cells[0]
    assert read(window, "notice text") == f"Copied: {ROWS} rows of 4 columns."


def test_a_column_is_cleared_taken_back_and_cleared_again(window, grid, qtbot):
    session, was = window.session, column(window, "x").cells
    choose_column(grid, "x")
    press(grid, Qt.Key.Key_Delete)
    settle(window, qtbot)
    assert np.isnan(column(window, "x").cells).all()
    kinds = column_changes.change_kind
    session.do_made(lambda study: kinds(study, session.table.id, column(window, "site").id, "text"))
    settle(window, qtbot)
    assert column(window, "site").kind == "text"
    session.undo()
    session.undo()  # before the first one is done
    settle(window, qtbot)
    assert column(window, "site").kind == "category"
    assert np.array_equal(column(window, "x").cells, was)
    session.go_back_to(3)
    settle(window, qtbot)
    assert column(window, "site").kind == "text"
    assert np.isnan(column(window, "x").cells).all()


def test_what_is_taken_back_is_not_what_was_changed_meanwhile(window, qtbot):
    session, x = window.session, column(window, "x").id
    session.do(cell_changes.set_cells(session.history.study, session.table.id, {(1, x): 12.5}))
    settle(window, qtbot)
    session.undo()
    session.do(cell_changes.set_cells(session.history.study, session.table.id, {(2, x): 13.5}))
    settle(window, qtbot)
    assert read(window, "notice text") == "Nothing was taken back: something else was changed meanwhile."
    assert column(window, "x").cells[1:3].tolist() == [12.5, 13.5]
    session.undo()
    settle(window, qtbot)
    assert column(window, "x").cells[1] == 12.5
    assert column(window, "x").cells[2] != 13.5


def test_a_long_change_is_made_of_the_study_as_it_is_by_then(window, qtbot):
    session, x = window.session, column(window, "x").id
    session.do_made(lambda study: column_changes.change_kind(study, session.table.id, x, "text"))
    session.do(cell_changes.set_cells(session.history.study, session.table.id, {(1, x): 12.5}))
    settle(window, qtbot)
    assert column(window, "x").kind == "text"
    assert column(window, "x").cells[1] == "12.5"


def test_a_long_change_never_lands_in_another_study(window, qtbot):
    session, x = window.session, column(window, "x").id
    session.do_made(lambda study: column_changes.change_kind(study, session.table.id, x, "text"))
    session.take_over(History(empty_study()))
    settle(window, qtbot)
    assert session.history.done == ()


def test_a_long_change_of_a_column_that_is_gone_says_so(window, qtbot):
    session, table = window.session, window.session.table.id
    z = column(window, "site").id
    session.do_made(lambda study: column_changes.change_kind(study, table, z, "text"))
    session.do(column_changes.delete_column(session.history.study, table, z))
    settle(window, qtbot)
    assert read(window, "notice text") == "What this was to change is gone by now: nothing was done."
    assert session.history.done[-1].label == "Delete column site"


def test_rows_are_shown_and_sorted_beside_the_window(window, grid, qtbot):
    session, x = window.session, column(window, "x").id
    grid.setCurrentIndex(grid.grid.index(3, 2))
    grid.deeds._show_by(False)
    session.do(cell_changes.set_cells(session.history.study, session.table.id, {(5, x): -1.0}))
    settle(window, qtbot)
    assert grid.grid.row_id(0) == 5
    grid.deeds.sort_as_shown()
    settle(window, qtbot)
    assert session.table.row_ids[0] == 5
    assert (np.diff(column(window, "x").cells) >= 0).all()
    assert "The table stands in the order of x, rising now." in read(window, "notice text")


def test_a_name_is_found_among_thousands(window, qtbot):
    window.shelf.open_filter()
    choose(named(window, "Filter column", QComboBox), "label")
    settle(window, qtbot)
    field, listed = named(window, "Filter value", QLineEdit), named(window, "Filter choices", QListWidget)
    assert field.placeholderText() == "part of it, to find it among 6000"
    assert listed.count() == 200
    write(field, "0599")
    settle(window, qtbot)
    assert [listed.item(at).text() for at in range(listed.count())] == [
        "S-00599", *(f"S-0599{at}" for at in range(10)),
    ]  # fmt: skip
    listed.item(10).setSelected(True)
    retype(field, "S-00599")
    settle(window, qtbot)
    assert [listed.item(at).text() for at in range(listed.count())] == ["S-05999", "S-00599"]
    click(named(window, "Add this condition"))
    settle(window, qtbot)
    assert read(window, "row filter") == "only rows where label is S-05999"


def test_a_name_that_is_typed_whole_needs_no_list_and_its_column_may_go(window, qtbot):
    session = window.session
    window.shelf.open_filter()
    columns = named(window, "Filter column", QComboBox)
    choose(columns, "label")
    settle(window, qtbot)
    click(named(window, "Add this condition"))
    assert read(window, "filter says") == "Choose one or more of the list."
    write(named(window, "Filter value", QLineEdit), "S-05432")
    click(named(window, "Add this condition"))
    settle(window, qtbot)
    assert read(window, "row filter") == "only rows where label is S-05432"
    label = column(window, "label").id
    session.do(column_changes.delete_column(session.history.study, session.table.id, label))
    assert columns.findText("label") < 0  # before its findings are there
    settle(window, qtbot)


def test_what_is_hidden_is_no_part_of_a_condition(window, qtbot):
    window.shelf.open_filter()
    choose(named(window, "Filter column", QComboBox), "x")
    write(named(window, "Filter value", QLineEdit), "10")
    write(named(window, "Filter second value", QLineEdit), "20")
    choose(named(window, "Filter column", QComboBox), "label")
    choose(named(window, "Filter relation", QComboBox), "has the text")
    write(named(window, "Filter value", QLineEdit), "S-00")
    click(named(window, "Add this condition"))
    settle(window, qtbot)
    assert read(window, "row filter") == "only rows where label has “S-00” in it"


def test_a_column_is_worked_out_of_many_rows(window, qtbot):
    panel = WorkOut(window.session, window)
    panel.show_by(window.shelf.filter)
    write(named(window, "Expression", QLineEdit), "rank(x)")
    settle(window, qtbot)
    assert read(window, "expression says").endswith("…  0 rows without a value")
    retype(named(window, "Expression", QLineEdit), "rank(z)")
    assert "z" in read(window, "expression says")
    retype(named(window, "Expression", QLineEdit), "rank(y)")
    write(named(window, "Name of the new column", QLineEdit), "place")
    click(named(window, "Add the column"))
    settle(window, qtbot)
    made = column(window, "place")
    assert np.isnan(made.cells).sum() == ROWS / 100
    assert np.nanmax(made.cells) == ROWS - ROWS / 100


def test_long_tables_are_joined_beside_the_window(window, csv_file, qtbot):
    session = window.session
    session.open_file(csv_file("site,height (m)\nA,100\nB,210\n", "sites.csv"))
    settle(window, qtbot)
    session.show_tether(session.study.tethers[0].id)
    settle(window, qtbot)
    panel = JoinPanel(session, window)
    panel.show_by(window.head)
    settle(window, qtbot)
    assert read(window, "join says").startswith("6000 of 6000 rows of long find their case in sites.")
    click(named(window, "Join them"))
    settle(window, qtbot)
    assert session.table.name == "long with sites"
    assert column(window, "height (m)").cells[:4].tolist() == [100, 210, 100, 210]


def test_no_step_works_out_a_column_that_it_does_not_show(open_window, csv_file, qtbot, monkeypatch):
    """Ten values a row weigh more than the table: the line shows its residuals, its cards the largest of all."""
    monkeypatch.setattr("bright_tether.core.line.row_by_row._TOGETHER", 100)
    monkeypatch.setattr("bright_tether.live.cloud.DENSE_ABOVE", 100)
    x = np.random.default_rng(6).permutation(ROWS) / 100
    lines = (f"{one},{2 * one + at % 7}" for at, one in enumerate(x.tolist()))
    window = open_window(csv_file("x,y\n" + "\n".join(lines) + "\n", "long.csv"))
    for step in ("line", "compare", "forecast", "look"):
        window.session.show_step(step)
        settle(window, qtbot)
    findings = window.session.findings
    assert set(findings.rows.__dict__) & {*EACH_ROW, "row", "outlier_p"} == {"residual"}
    assert findings.residual_strip.heights is findings.rows.residual
    assert findings.points.at is findings.pairs.at
    assert findings.points.in_play.x is findings.pairs.ordered_x


def test_other_lines_say_which_are_left_out_of_so_many_rows(window, qtbot):
    window.session.show_step("line")
    line = window.step("line")
    line.show_view("errors")
    settle(window, qtbot)
    assert not Findings.theil_sen.kept(window.session.findings)  # 27 s of a million rows, and not shown
    line.show_view("other-lines")
    settle(window, qtbot)
    assert (
        read(line, "lines left out") == "Not here, of so many rows: repeated medians (told up to 800 rows)."
    )
    assert f"the resistant lines (told up to {grouped(20_000)} rows) and repeated" in left_out(20_001)
    assert left_out(800) == ""


def cards(window):
    QApplication.sendPostedEvents()
    return {card.tether_id: card for card in window.shelf.findChildren(TetherCard) if not card.isHidden()}


def test_a_card_says_nothing_of_what_was_there_before(window, qtbot):
    """A tether of a long table that is not on the stage waits for it, and says so."""
    session = window.session
    first = session.tether_id
    table = session.table
    session.do_and_show(
        *changes.tie(session.study, session.tether, x=table.named("y").id, y=table.named("x").id)
    )
    second = session.tether_id
    assert list(cards(window)) == [first, second]  # at once, before anything is worked out
    window.shelf.rename_tether()
    press(QApplication.focusWidget(), Qt.Key.Key_Escape)
    settle(window, qtbot)
    r = cards(window)[second].accessibleDescription()
    assert "pairs r" in r
    session.show_tether(first)
    settle(window, qtbot)
    assert cards(window)[second].accessibleDescription() == r
    session.do(cell_changes.set_cells(session.study, table.id, {(1, table.named("x").id): 900.0}))
    settle(window, qtbot)
    assert cards(window)[second].accessibleDescription() == "to be worked out"
    session.show_tether(second)
    settle(window, qtbot)
    assert "pairs r" in cards(window)[second].accessibleDescription() != r
    session.undo()
    settle(window, qtbot)
    assert cards(window)[second].accessibleDescription() == r
    old = cards(window)[first]
    session.take_over(History(empty_study()))
    assert old not in cards(window).values()
