"""Dates in the window: asked about, tied, forecast at, filtered, measured otherwise."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton, QTableWidget

from bright_tether.study import axes
from bright_tether.tables.clock import Clock
from hand import click, named, press, read, write

UNCLEAR = """when,level (m)
03/04/2021,1.0
05/04/2021,1.4
09/04/2021,2.3
02/05/2021,7.2
12/05/2021,8.9
11/06/2021,15
"""


@pytest.fixture
def unclear(tmp_path):
    """A file whose dates could be two days."""
    path = tmp_path / "levels.csv"
    path.write_text(UNCLEAR)
    return path


@pytest.fixture
def window(open_window):
    """A window with nothing in it."""
    return open_window()


def taken_in(window, path, order):
    """The file looked at, its dates said, taken in."""
    window.opening.open_path(path)
    click(named(window, f"when: {order}", QPushButton))
    click(named(window, "Take the file in", QPushButton))


def test_unclear_dates_are_asked_before_a_file_is_taken_in(window, unclear):
    window.opening.open_path(unclear)
    assert "can be two different days" in read(window, "date question")
    assert not named(window, "Take the file in", QPushButton).isEnabled()
    assert "Say first how the dates of when are written" in read(window, "preview says")
    click(named(window, "when: month first", QPushButton))
    table = named(window, "Preview table", QTableWidget)
    assert [table.item(at, 0).text() for at in (1, 2)] == ["2021-03-04", "2021-05-04"]
    click(named(window, "when: day first", QPushButton))
    assert table.item(1, 0).text() == "2021-04-03"
    assert isinstance(table.cellWidget(0, 0), QComboBox)
    assert table.cellWidget(0, 0).currentText() == "date"
    click(named(window, "Take the file in", QPushButton))
    assert window.session.table.columns[0].kind == "date"


def test_unclear_dates_in_the_table_are_no_dates_before_it_is_said(open_window, unclear):
    window = open_window(unclear)
    assert (
        read(window, "likely slip")
        == "when: “03/04/2021” can be 2021-04-03 or 2021-03-04: no date before that is said"
    )
    click(named(window, f"Day first: {read(window, 'likely slip')}"))
    session = window.session
    assert session.table.columns[0].cells[0] == "2021-04-03"
    assert (session.tether.x, session.tether.y) == ("c1", "c2")  # nobody had chosen: the date explains
    session.undo()
    assert session.table.columns[0].cells[0] == "03/04/2021"


def test_a_date_explains_in_days_and_is_measured_otherwise(window, unclear):
    taken_in(window, unclear, "day first")
    session = window.session
    window.session.show_step("line")
    assert read(window.panel, "headline").startswith("Each extra day goes with about 0.2")
    picture = window.step("line").picture
    axis = picture.strip.getAxis("bottom")
    (spacing, places), *_ = axis.tickValues(*axis.range, 600)
    assert "3 May 2021" in axis.tickStrings(places, 1, spacing)
    assert "2021-04-03, level 1" in picture.row_in_words(0)
    session.tie(axes.measure_by(session.history.study, session.tether, Clock("weeks", "2021-04-01")))
    assert read(window.panel, "headline").startswith("Each extra week goes with about 1.4")
    session.show_step("gather")
    assert read(window, "x column") == "when, in weeks since 2021-04-01"


def test_a_forecast_at_a_day(window, unclear):
    taken_in(window, unclear, "day first")
    window.session.show_step("forecast")
    field = named(window, "Forecast at x", QLineEdit)
    field.selectAll()
    write(field, "2021-06-01 2021-07-01")
    press(field, Qt.Key.Key_Return)
    assert window.session.tether.forecast.at == (59, 89)
    assert read(window.panel, "headline").startswith("At 2021-06-01, level is expected at")
    table = named(window, "Forecasts", QTableWidget)
    assert [table.item(at, 0).text() for at in range(2)] == ["2021-06-01", "2021-07-01"]
    field.selectAll()
    write(field, "soon")
    press(field, Qt.Key.Key_Return)
    assert "not a list of dates such as 2021-03-04" in read(window, "actual against expected")
    window.step("forecast").entries.open()
    actual = named(window, "An actual case: x y", QLineEdit)
    write(actual, "2021-06-01 14")
    press(actual, Qt.Key.Key_Return)
    assert read(window, "actual against expected").startswith("level 14 lies 0.966 m above the line")


def test_a_date_by_itself_is_binned_along_the_calendar(window, unclear):
    taken_in(window, unclear, "day first")
    window.session.show_step("look")
    step = window.step("look")
    step.look_at("c1")
    assert read(window, "picture title") == "when by itself"
    assert "five numbers 2021-04-03 · 2021-04-06 · 2021-04-20 · 2021-05-09 · 2021-06-11" in step.five.text()
    axis = step.alone.main.getAxis("bottom")
    (spacing, places), *_ = axis.tickValues(*axis.range, 600)
    assert all("2021" in text for text in axis.tickStrings(places, 1, spacing))
    assert "2021-04-03" in step.alone.row_in_words(0)
