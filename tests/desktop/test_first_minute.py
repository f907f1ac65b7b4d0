"""The first minute: ways into an empty study, the sheet behind its name, the walk, the list of actions."""

import threading

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton

from bright_tether.demo.study import demo_study
from bright_tether.desktop.parts import stated_truth
from bright_tether.steps.catalogue import STEPS
from bright_tether.study.column_changes import add_formula
from bright_tether.tables.computed import expression
from bright_tether.tables.simulated import simulated_table
from hand import click, named, press, read, write


def test_an_empty_study_says_how_to_begin_until_there_is_something(open_window):
    window = open_window()
    ways = named(window, "Ways in")
    assert ways.isVisible()
    assert not window.step("gather").picture.isVisible()
    grid = window.step("gather").grid
    assert (grid.currentIndex().row(), grid.currentIndex().column()) == (0, 0)
    grid.setFocus()
    for text in ("1", "2", "3"):
        write(grid, text)
        press(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert window.session.table.rows == 3
    assert not ways.isVisible()
    assert window.step("gather").picture.isVisible()
    window.session.go_back_to(0)
    assert ways.isVisible()


def test_the_demo_is_walked_and_the_walk_does_not_come_back(open_window):
    window = open_window()
    click(named(window, "Walk the demo study", QPushButton))
    assert window.session.study.title == demo_study().title
    seen = []
    while window.tour.isVisible():
        seen.append((window.session.step, read(window, "walk says")))
        click(named(window, "Next step of the walk", QPushButton))
    assert [step for step, _ in seen] == [step.id for step in STEPS]
    assert all(step.gist in said for step, (_, said) in zip(STEPS, seen, strict=True))
    window.session.show_step("look")
    assert not window.tour.isVisible()
    window.tour.begin()
    click(named(window, "Skip the rest", QPushButton))
    assert not window.tour.isVisible()


def test_a_stated_truth_is_drawn(open_window):
    window = open_window()
    click(named(window, "State a truth and draw pairs from it…", QPushButton))
    slope, rows = (named(window, one, QLineEdit) for one in ("True slope", "Number of pairs"))
    for field, text in ((slope, "steep"), (rows, "50")):
        field.selectAll()
        write(field, text)
    click(named(window, "Draw the pairs", QPushButton))
    assert read(window, "truth says") == "True slope: “steep” is not a number."
    assert slope.text() == "steep"
    slope.selectAll()
    write(slope, "3")
    click(named(window, "Draw the pairs", QPushButton))
    assert window.session.table.rows == 50
    assert window.session.findings.line.slope == pytest.approx(3, abs=0.6)
    window.session.undo()
    assert not window.session.table.rows


def test_a_long_truth_is_drawn_off_the_interface_thread(open_window, qtbot, monkeypatch):
    window, threads = open_window(), []

    def drawn(*given, **stated):
        threads.append(threading.current_thread())
        return simulated_table(*given, **stated)

    monkeypatch.setattr(stated_truth, "simulated_table", drawn)
    click(named(window, "State a truth and draw pairs from it…", QPushButton))
    rows = named(window, "Number of pairs", QLineEdit)
    rows.selectAll()
    write(rows, "70000")
    click(named(window, "Draw the pairs", QPushButton))
    qtbot.waitUntil(lambda: window.session.table.rows == 70_000)
    assert threads[0] is not threading.main_thread()


@pytest.mark.parametrize(
    ("field", "text", "said"),
    [("Number of pairs", "2", "whole number from 3"), ("Seed", "-1", "seed is a whole number"),
     ("x to", "0", "from a lower to a higher")],
)  # fmt: skip
def test_a_truth_that_cannot_be_drawn_from_is_said(open_window, field, text, said):
    window = open_window()
    click(named(window, "State a truth and draw pairs from it…", QPushButton))
    one = named(window, field, QLineEdit)
    one.selectAll()
    write(one, text)
    click(named(window, "Draw the pairs", QPushButton))
    assert said in read(window, "truth says")
    assert not window.session.table.rows


def test_the_name_in_the_head_opens_a_sheet(open_window):
    window = open_window("--demo")
    window.session.mark_rows(frozenset({1}))
    press(window, Qt.Key.Key_S, Qt.KeyboardModifier.AltModifier)
    click(window.head.name)
    sheet = named(window, "Study sheet")
    words = [one.accessibleName() for one in sheet.findChildren(QPushButton)]
    assert "Save the study" in words
    assert "Undo: Swap x and y" in words
    click(named(window, "Undo: Swap x and y", QPushButton))
    assert "taken back: Swap x and y" in window.head.name.subtitle.text()
    window.head.name.setFocus()
    press(window.head.name, Qt.Key.Key_Return)
    click(named(window, "Redo: Swap x and y", QPushButton))
    assert "made again: Swap x and y" in window.head.name.subtitle.text()


def test_the_window_bears_the_name_and_the_mark_of_unsaved_work(open_window):
    window = open_window("--demo")
    assert window.windowTitle() == "Tarrow sediment survey[*] – Bright Tether"
    assert not window.isWindowModified()
    press(window, Qt.Key.Key_S, Qt.KeyboardModifier.AltModifier)
    assert window.isWindowModified()


@pytest.mark.parametrize(
    "typed",
    ["residual", "predict", "correlation", "regression", "histogram", "weights", "order", "export", "outlier",
     "normality", "trend line", "leverage", "bootstrap", "power"],
)  # fmt: skip
def test_actions_are_found_by_the_trade_s_words_from_any_step(open_window, typed):
    window = open_window("--demo")
    assert window.session.step == "line"
    assert list(window.actions_list.found(typed))


def test_an_action_of_another_step_leads_there(open_window):
    window = open_window("--demo")
    deed = next(iter(window.actions_list.found("normality")))
    assert deed.step == "doubts"
    deed.run()
    assert window.session.step == "doubts"
    assert read(window, "question") == "Are the residuals lopsided?"


@pytest.mark.parametrize(
    ("typed", "at"), [("20,60", (20.0, 60.0)), (".75,.68", (0.75, 0.68)), ("20; 60 80", (20.0, 60.0, 80.0))]
)
def test_a_list_takes_commas_where_the_decimal_mark_is_a_point(open_window, typed, at):
    window = open_window("--demo")
    window.session.show_step("forecast")
    field = named(window, "Forecast at x", QLineEdit)
    field.selectAll()
    write(field, typed)
    press(field, Qt.Key.Key_Return)
    assert window.session.tether.forecast.at == at


def test_what_cannot_be_used_is_said_beside_its_field_and_kept(open_window):
    window = open_window("--demo")
    window.session.show_step("forecast")
    field = named(window, "Forecast at x", QLineEdit)
    field.selectAll()
    write(field, "abc")
    press(field, Qt.Key.Key_Return)
    assert (
        read(window, "actual against expected")
        == "“abc” is not a list of numbers: set them apart by spaces or commas."
    )
    window.session.mark_rows(frozenset({1}))
    assert field.text() == "abc"
    assert not window.session.history.done
    window.session.show_tether("k2")
    assert field.text() != "abc"


@pytest.mark.parametrize(("typed", "alpha"), [("0.025", 0.025), ("5%", 0.05), ("2.5 %", 0.025)])
def test_alpha_is_one_change_however_it_is_typed(open_window, typed, alpha):
    window = open_window("--demo")
    click(named(window, "Ground rules"))
    field = named(window, "Significance level α", QLineEdit)
    field.selectAll()
    write(field, typed)
    assert window.session.findings.rules.alpha == alpha
    press(field, Qt.Key.Key_Return)
    assert window.session.history.study.rules.alpha == (
        alpha if alpha != 0.05 else window.session.history.study.rules.alpha
    )
    assert len(window.session.history.done) <= 1


def test_a_worked_out_cell_says_that_it_takes_nothing_typed(open_window):
    window = open_window("--demo")
    session = window.session
    session.show_step("gather")
    session.do(
        add_formula(session.study, session.table.id, "double", expression("2 * turbidity", session.table))
    )
    grid = window.step("gather").grid
    grid.setCurrentIndex(grid.model().index(0, len(session.table.columns) - 1))
    grid.setFocus()
    press(grid, Qt.Key.Key_7)
    assert "double is worked out, so its cells cannot be typed into" in read(window, "notice text")


def test_every_card_says_where_its_tether_stands(open_window, qtbot):
    window = open_window("--demo")
    card = named(window, "Tether turbidity ⟶ sediment")
    other = named(window, "Tether calcium ⟶ conductance")
    qtbot.waitUntil(lambda: "turns round inside rock" in other.accessibleDescription())
    assert (
        "no linear relationship: rejected (p < 0.001) · doubts: constant spread"
        in card.accessibleDescription()
    )


def test_enter_after_a_row_goes_to_the_start_of_the_next(open_window):
    window = open_window()
    grid = window.step("gather").grid
    grid.setFocus()
    for x, y in (("1", "2"), ("3", "4"), ("5", "7")):
        write(
            grid if not isinstance(QApplication.focusWidget(), QLineEdit) else QApplication.focusWidget(), x
        )
        press(QApplication.focusWidget(), Qt.Key.Key_Tab)
        write(QApplication.focusWidget(), y)
        press(QApplication.focusWidget(), Qt.Key.Key_Return)
        assert grid.currentIndex().column() == 0
    assert window.session.table.columns[0].cells.tolist() == [1, 3, 5]
    assert window.session.table.columns[1].cells.tolist() == [2, 4, 7]


def test_a_first_choice_falls_on_measurements_and_says_why(open_window, csv_file):
    text = "nr,year,net,depth (m),silt\n" + "".join(
        f"{i},{2001 + i % 5},{i % 2},{1.5 * i + i % 3},{7 - i + i % 4}\n" for i in range(1, 12)
    )
    window = open_window(csv_file(text))
    assert (window.session.findings.x_column.short, window.session.findings.y_column.short) == (
        "depth",
        "silt",
    )
    passed = "(year looks like a column of years and net looks like a column of two values)"
    assert passed in read(window, "beware")
