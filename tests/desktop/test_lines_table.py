"""A table of lines for a paper: chosen, seen, put on the page, changed, copied."""

import csv

import pytest
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QCheckBox, QComboBox, QPushButton, QTableWidget

from bright_tether.account.composing import page_of
from bright_tether.desktop.parts.lines_table import LinesTable
from bright_tether.desktop.parts.table_out import TableOut
from bright_tether.study import changes
from hand import choose, click, named, read


@pytest.fixture
def window(open_window):
    """The demo with its stations compared, at the write-up."""
    window = open_window("--demo")
    session = window.session
    session.do(
        changes.change_choice(session.study, session.tether, "compare", "Stations", group=session.tether.tint)
    )
    session.show_step("write-up")
    return window


def opened(window):
    click(named(window, "Add a table of lines", QPushButton))
    return window.findChildren(LinesTable)[-1]


def blocks(window):
    from datetime import date

    return page_of(window.session.study, today=date(2026, 1, 2)).blocks


def test_one_line_a_tether_stands_on_the_page_and_follows_the_study(window):
    table = opened(window)
    shown = named(table, "The table as it will stand", QTableWidget)
    assert [shown.horizontalHeaderItem(at).text() for at in range(3)] == ["line", "n", "r"]
    assert shown.rowCount() == len(window.session.study.tethers)
    click(named(table, "Column r²", QCheckBox))
    click(named(table, "Column unit of the slope", QCheckBox))
    click(named(table, "Put the table on the page", QPushButton))
    session = window.session
    pin = session.study.pins[0]
    assert (pin.part, pin.tether) == ("lines", None)
    (grid,) = blocks(window)
    assert "r²" not in grid.heads
    line = session.findings.line
    row = grid.rows[0]
    assert (row[0], row[1]) == ("turbidity ⟶ sediment", "64")
    assert row[grid.heads.index("slope")].numbers == (line.slope,)
    assert row[grid.heads.index("unit of the slope")] == "mg/L per NTU"
    assert window.step("write-up").pins.chosen == pin
    session.do(changes.set_aside(session.study, session.tether, [int(session.table.row_ids[3])], "odd"))
    assert blocks(window)[0].rows[0][1] == "63"


def test_one_line_a_group_is_judged_by_the_errors_in_force(window):
    session = window.session
    session.do(changes.change_choice(session.study, session.tether, "line", "Robust", errors="HC3"))
    table = opened(window)
    choose(named(table, "Lines of the table", QComboBox), "one a group, turbidity")
    assert not named(table, "Column interval of r").isEnabled()
    click(named(table, "Put the table on the page", QPushButton))
    (grid,) = blocks(window)
    groups = session.findings.comparison.groups
    assert [row[0] for row in grid.rows] == ["Weir", "Ford"]
    assert grid.rows[0][grid.heads.index("interval of the slope")].numbers == groups[0].judged.ci_slope
    assert "interval of r" not in grid.heads
    again = opened(window)
    click(named(again, "Column s", QCheckBox))
    click(named(again, "Put the table on the page", QPushButton))
    assert len(session.study.pins) == 1
    assert "s" not in session.study.pins[0].columns
    session.undo()
    assert "s" in session.study.pins[0].columns


def test_lines_that_cannot_be_compared_say_so_and_the_rest_is_copied(window):
    session = window.session
    session.do(changes.change_choice(session.study, session.tether, "line", "Origin", origin=True))
    table = opened(window)
    choose(named(table, "Lines of the table", QComboBox), "one a group, turbidity")
    assert read(table, "lines say") == "These lines cannot be compared as they are: see Compare."
    assert not named(table, "Put the table on the page").isEnabled()
    choose(named(table, "Lines of the table", QComboBox), "one a tether")
    click(named(table, "Copy or write the table of lines", QPushButton))
    window.findChildren(TableOut)[-1].copy()
    rows = list(csv.reader(QGuiApplication.clipboard().text().splitlines(), delimiter="\t"))
    assert rows[0][:5] == ["line", "n", "r", "interval of r, low", "interval of r, high"]
    assert float(rows[2][1]) == 40
