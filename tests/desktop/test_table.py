"""The table in the real window: rows, columns and tables by menu and keys, names, order, slips, draws."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLabel, QLineEdit, QPushButton

from bright_tether.desktop.grid_model import NOTE_ROLE
from bright_tether.study.changes import change_choice, rename_column, set_aside
from bright_tether.study.column_changes import add_formula, keep_figure
from bright_tether.tables.computed import expression
from hand import ask_menu, click, named, pick, press, read, write
from room import check_room, settled

CONTROL, ALT, SHIFT = (
    getattr(Qt.KeyboardModifier, f"{name}Modifier") for name in ("Control", "Alt", "Shift")
)
ROWS = "depth (m),flow (m3/s),note\n3,6.2,c\n1,2.1,a\n4,7.8,d\n2,,b\n5,10.1,e\n"


@pytest.fixture
def window(open_window, csv_file):
    return open_window(str(csv_file(ROWS)))


@pytest.fixture
def grid(window):
    return named(window, "Table")


def cursor_to(grid, row, column):
    grid.setFocus()
    grid.setCurrentIndex(grid.grid.index(row, column))
    return grid.visualRect(grid.grid.index(row, column)).center()


def fill(grid, text, then=Qt.Key.Key_Return):
    def opened():
        return next((field for field in grid.findChildren(QLineEdit) if field.isVisible()), None)

    if opened() is None:  # Tab has opened the next one already
        QTest.keyClicks(grid, text[0])
        text = text[1:]
    field = opened()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, then)
    QApplication.processEvents()


def shown(grid, column=0):
    return [grid.grid.data(grid.grid.index(row, column)) for row in range(grid.grid.rowCount() - 1)]


def cells(window, column=0):
    return window.session.table.columns[column].cells.tolist()


def heads(window):
    return [column.short for column in window.session.table.columns]


def test_rows_are_put_in_moved_and_taken_out_from_their_menu(window, grid):
    ask_menu(grid.viewport(), cursor_to(grid, 1, 0))
    pick(window, "Insert a row above")
    assert np.isnan(cells(window)[1])
    assert grid.currentIndex().row() == 1
    fill(grid, "9")
    assert cells(window) == [3, 9, 1, 4, 2, 5]
    cursor_to(grid, 1, 0)
    press(grid, Qt.Key.Key_Down, ALT | SHIFT)
    assert cells(window) == [3, 1, 9, 4, 2, 5]
    assert grid.currentIndex().row() == 2
    ask_menu(grid.viewport(), by_keys=True)
    pick(window, "Delete the rows")
    assert cells(window) == [3, 1, 4, 2, 5]
    numbers = grid.verticalHeader()
    ask_menu(numbers.viewport(), QPoint(8, numbers.sectionViewportPosition(4) + 8))
    pick(window, "Delete the rows")
    assert cells(window) == [3, 1, 4, 2]


def test_columns_are_put_in_moved_renamed_and_taken_out_from_their_heads(window, grid):
    def menu(section, words):
        ask_menu(grid.heads.viewport(), QPoint(grid.heads.sectionViewportPosition(section) + 20, 10))
        pick(window, words)

    menu(1, "Insert a column to the left")
    assert heads(window) == ["depth", "column 2", "flow", "note"]
    menu(1, "Move the column right")
    assert heads(window) == ["depth", "flow", "column 2", "note"]
    menu(2, "Rename the column")
    write(named(window, "Column name", QLineEdit), "spare\r")
    assert window.session.table.columns[2].name == "spare"
    cursor_to(grid, 0, 2)
    press(grid, Qt.Key.Key_Delete, ALT | SHIFT)
    assert heads(window) == ["depth", "flow", "note"]
    assert grid.grid.headerData(1, Qt.Orientation.Horizontal, NOTE_ROLE) == "number · 1 missing"


def test_the_last_column_stays_and_says_so(window, grid):
    for _ in range(3):
        cursor_to(grid, 0, 0)
        press(grid, Qt.Key.Key_Delete, ALT | SHIFT)
    assert heads(window) == ["note"]
    assert "last column stays" in read(window, "notice text")


def test_rows_are_shown_in_the_order_of_a_column_and_the_table_stays(window, grid):
    cursor_to(grid, 0, 0)
    press(grid, Qt.Key.Key_R, ALT | SHIFT)
    assert shown(grid) == ["1", "2", "3", "4", "5"]
    assert cells(window) == [3, 1, 4, 2, 5]
    numbers = [grid.grid.headerData(row, Qt.Orientation.Vertical) for row in range(5)]
    assert numbers == ["2", "4", "1", "3", "5"]
    assert grid.currentIndex().row() == 2  # the cursor stays on its case
    assert read(window, "order of the rows") == "shown by depth, rising"
    cursor_to(grid, 1, 1)
    fill(grid, "4,1")  # into the case that stands in row 4 of the table
    assert cells(window, 1)[3] == 4.1
    grid.selectRow(4)
    press(grid, Qt.Key.Key_Delete)
    assert cells(window) == [3, 1, 4, 2]
    assert shown(grid) == ["1", "2", "3", "4"]
    cursor_to(grid, 2, 0)
    press(grid, Qt.Key.Key_Up, ALT | SHIFT)
    assert "none can be moved by hand" in read(window, "notice text")
    click(named(window, "Show them in table order", QPushButton))
    assert shown(grid) == ["3", "1", "4", "2"]


def test_rows_sorted_for_good_keep_their_marks_and_reasons(window, grid):
    session = window.session
    session.do(set_aside(session.study, session.tether, {2}, "stick slipped"))
    session.mark_rows(frozenset({1}))
    cursor_to(grid, 0, 1)
    press(grid, Qt.Key.Key_F, ALT | SHIFT)
    click(named(window, "Sort the rows for good as shown", QPushButton))
    assert cells(window) == [5, 4, 3, 1, 2]  # what is missing comes last
    assert "order of flow, falling" in read(window, "notice text")
    at = session.table.places([aside.row for aside in session.tether.asides])
    assert session.table.columns[0].cells[at].tolist() == [4]
    assert session.table.columns[0].cells[session.table.places(session.mark)].tolist() == [1]
    press(window, Qt.Key.Key_Z, CONTROL)
    assert cells(window) == [3, 1, 4, 2, 5]


def test_tables_are_started_copied_renamed_and_let_go(window):
    session = window.session

    def menu(words):
        click(named(window, "Table menu", QPushButton))
        pick(window, words)

    menu("Call this table something else…")
    write(named(window, "New name", QLineEdit), "soundings\r")
    assert session.table.name == "soundings"
    menu("Copy this table")
    assert session.table.name == "soundings, copy"
    assert cells(window) == [3, 1, 4, 2, 5]
    cards = [card.accessibleName() for card in window.shelf._cards.values()]
    assert cards == ["Tether depth ⟶ flow (soundings)", "Tether depth ⟶ flow (soundings, copy)"]
    menu("Start another table")
    assert session.table.rows == 0
    assert named(window, "Ways in").isVisible()
    menu("Go to the table soundings")
    assert session.table.name == "soundings"
    menu("Let this table go")
    assert [one.name for one in session.study.tables] == ["soundings, copy", "Table 3"]


def test_a_tether_is_called_something_else_and_by_its_columns_again(window):
    card = next(iter(window.shelf._cards.values()))
    ask_menu(card)
    pick(window, "Call it something else…")
    write(named(window, "New name", QLineEdit), "the weir\r")
    assert window.session.tether.name == "the weir"
    assert next(iter(window.shelf._cards.values())).accessibleName() == "Tether the weir"
    window.shelf.rename_tether()
    named(window, "New name", QLineEdit).clear()
    press(named(window, "New name", QLineEdit), Qt.Key.Key_Return)
    assert window.session.tether.name == ""


@pytest.mark.parametrize("text", ["depth\tflow\n1\t2\n2\t4\n3\t7\n", "1\t2\n2\t4\n3\t7\n"])
def test_a_pasted_block_over_cells_takes_its_names_along(open_window, text):
    window = open_window()
    grid = named(window, "Table")
    for row in range(2):
        cursor_to(grid, row, 0)
        fill(grid, "8")
    cursor_to(grid, 0, 0)
    QGuiApplication.clipboard().setText(text)
    press(grid, Qt.Key.Key_V, CONTROL)
    names = ["depth", "flow"] if "depth" in text else ["column 1", "column 2"]
    assert [c.name for c in window.session.table.columns] == names
    assert cells(window) == [1, 2, 3]
    cursor_to(grid, 3, 0)
    QGuiApplication.clipboard().setText("\t".join(names) + "\n4\t9\n5\t11\n")  # the names again
    press(grid, Qt.Key.Key_V, CONTROL)
    assert cells(window) == [1, 2, 3, 4, 5]


def test_typed_names_become_names_and_the_cursor_goes_on(open_window):
    window = open_window()
    grid = named(window, "Table")
    cursor_to(grid, 0, 0)
    fill(grid, "depth (m)", Qt.Key.Key_Tab)
    fill(grid, "flow")
    for x, y in ((1, 2), (2, 4), (3, 7)):
        fill(grid, str(x), Qt.Key.Key_Tab)
        fill(grid, str(y))
    assert [c.name for c in window.session.table.columns] == ["depth (m)", "flow"]
    assert [cells(window), cells(window, 1)] == [[1, 2, 3], [2, 4, 7]]
    assert all(c.numeric for c in window.session.table.columns)


def test_doubtful_names_are_one_click(open_window):
    window = open_window()
    grid = named(window, "Table")
    cursor_to(grid, 0, 0)
    for text in ("site 7", "4", "5", "6"):
        fill(grid, text)
    doubt = "Row 1 looks like the names of the columns (site 7)"
    assert read(window, "likely slip") == doubt
    click(named(window, f"Make them the names: {doubt}", QPushButton))
    assert window.session.table.columns[0].name == "site 7"
    assert cells(window) == [4, 5, 6]


def test_slips_are_mended_row_by_row_or_all_alike(open_window, csv_file):
    texts = ["about 30" if at == 3 else "~12" if at == 7 else str(at) for at in range(20)]
    rows = "".join(f"{text},{at}\n" for at, text in enumerate(texts))
    window = open_window(str(csv_file(f"murk,load\n{rows}")))
    sentence = read(window, "likely slip")
    click(named(window, f"Row by row: {sentence}", QPushButton))
    one = "murk: “about 30” is no number and counts as missing (row 4)"
    click(named(window, f"Read as 30: {one}", QPushButton))
    assert cells(window)[3] == 30
    assert np.isnan(cells(window)[7])
    named(window, "Row by row").close()
    left = read(window, "likely slip")
    click(named(window, f"Read as 12: {left}", QPushButton))
    assert cells(window)[7] == 12
    press(window, Qt.Key.Key_Z, CONTROL)
    press(window, Qt.Key.Key_Z, CONTROL)
    click(named(window, f"Read the numbers: {sentence}", QPushButton))
    assert [cells(window)[at] for at in (3, 7)] == [30, 12]


def test_columns_are_drawn_for_rows_there_and_to_come(open_window):
    window = open_window()

    def draw(kind, name, **typed):
        press(window, Qt.Key.Key_R, ALT)
        box = named(window, "How to draw", QComboBox)
        box.setCurrentIndex(box.findData(kind))
        for field, text in typed.items():
            named(window, f"Draw {field}", QLineEdit).setText(text)
        write(named(window, "Name of the random column", QLineEdit), name)
        click(named(window, "Add the random column"))

    draw("steps", "setting", a="5", b="5", c="2", rows="6")
    table = window.session.table
    assert table.named("setting").cells.tolist() == [5, 5, 10, 10, 15, 15]
    draw("noise", "answer", c="0.5")
    draw("category", "site", names="Weir")
    assert read(window, "draw says") == "Give two names or more, with commas between them."
    named(window, "Draw names", QLineEdit).setText("Weir, Ford")
    named(window, "Draw seed", QLineEdit).setText("1")
    click(named(window, "Add the random column"))
    assert "columns of one seed go together" in read(window, "draw says")
    named(window, "Draw seed", QLineEdit).setText("9")
    click(named(window, "Add the random column"))
    table = window.session.table
    assert set(table.named("site").cells) <= {"Weir", "Ford"}
    before = table.named("answer").cells.tolist()
    grid = named(window, "Table")
    cursor_to(grid, 6, 0)
    fill(grid, "1")
    table = window.session.table
    assert table.named("setting").cells.tolist() == [5, 5, 10, 10, 15, 15, 20]
    assert np.isfinite(table.named("answer").cells).all()
    assert table.named("answer").cells.tolist()[:6] == before
    cursor_to(grid, 0, [c.name for c in table.columns].index("answer"))
    click(named(window, "Draw the column at the cursor again", QPushButton))
    assert window.session.table.named("answer").cells.tolist()[:6] != before


def test_entries_go_to_the_other_unit_or_are_gone_and_said(window):
    session = window.session
    for part, fields in (
        ("forecast", {"at": (2.5,)}),
        ("line", {"slope_0": 1.5}),
        ("view", {"x": (0.0, 6.0)}),
    ):
        session.do(change_choice(session.study, session.tether, part, "typed", **fields))
    press(window, Qt.Key.Key_S, ALT)
    tether = session.tether
    assert (tether.forecast.at, tether.forecast.back) == ((), (2.5,))
    assert (tether.view.x, tether.view.y) == (None, (0.0, 6.0))
    assert tether.line.slope_0 == 0
    assert "the slope that is tested against" in read(window, "notice text")
    press(window, Qt.Key.Key_Z, CONTROL)
    assert session.tether.line.slope_0 == 1.5


def test_a_card_off_the_stage_is_told_from_one_that_comes_to_read_alike(window):
    session = window.session
    first = session.tether_id
    session.add_tether()  # takes the stage
    click(named(window, "Table menu", QPushButton))
    pick(window, "Copy this table")
    names = {key: card.accessibleName() for key, card in window.shelf._cards.items()}
    assert names[first] == "Tether depth ⟶ flow (pairs)"
    assert names[session.tether_id] == "Tether depth ⟶ flow (pairs, copy)"


def test_what_is_worked_out_is_shown_to_sensible_digits(open_window):
    window = open_window("--demo")
    session = window.session
    session.do(keep_figure(session.study, session.tether, "residual"))
    session.do(
        add_formula(session.study, session.table.id, "third", expression("turbidity / 3", session.table))
    )
    window.session.show_step("gather")
    grid = named(window, "Table")
    at = len(session.table.columns)
    residuals, thirds = ([text for text in shown(grid, place) if text] for place in (at - 2, at - 1))
    assert max(map(len, residuals + thirds)) <= 8
    cursor_to(grid, 0, at - 2)
    assert read(window, "column mean") == "0"


def test_limits_and_names_hold_in_every_step_that_shows_the_axes(open_window):
    window = open_window("--demo")
    session = window.session
    limits = change_choice(session.study, session.tether, "view", "Limits", x=(None, 400.0), x_label="murk")
    session.do(limits)
    for step in ("gather", "look", "line", "forecast", "compare"):
        session.show_step(step)
        QApplication.processEvents()
        picture = window.step(step).picture if step != "look" else window.step(step).scatter
        if step == "compare":
            picture.draw(session.findings, frozenset())
        low, high = picture.main.viewRange()[0]
        assert high == 400
        assert low < 14  # the end that nobody set is the picture's own
        assert picture.axis_name("x").startswith("murk")
    press(window, Qt.Key.Key_Z, CONTROL)
    assert window.step("compare").picture.main.viewRange()[0][1] < 300


def test_undo_goes_where_the_change_shows(open_window):
    window = open_window("--demo")
    session = window.session
    session.show_step("forecast")
    session.do(change_choice(session.study, session.tether, "forecast", "Forecast at x", at=(77.0,)))
    session.show_tether("k2")
    session.show_step("line")
    press(window, Qt.Key.Key_Z, CONTROL)
    assert (session.tether_id, session.step) == ("k1", "forecast")
    assert "taken back: Forecast at x" in window.head.name.subtitle.toolTip()
    session.do(rename_column(session.study, session.table.id, "c1", "day"))
    press(window, Qt.Key.Key_Z, CONTROL)
    assert session.step == "gather"
    session.show_step("line")
    session.do(set_aside(session.study, session.tether, {5}, "tried"))
    press(window, Qt.Key.Key_Z, CONTROL)
    assert session.step == "line"  # it shows here


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800)])
def test_slips_can_be_read_at_every_width(open_window, csv_file, size):
    texts = ["about 30" if at == 3 else "~12" if at == 7 else str(at) for at in range(20)]
    window = open_window(csv_file("murk,load\n" + "".join(f"{text},{at}\n" for at, text in enumerate(texts))))
    settled(window, size)
    check_room(window, "gather")
    slip = named(window, "likely slip", QLabel)
    assert slip.width() > 200
    assert window.step("gather").slips.height() < 90
