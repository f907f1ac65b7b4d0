"""The first minute: ways into an empty study, the sheet behind its name, the walk, the list of actions."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton

from bright_tether.demo.study import demo_study
from bright_tether.steps.catalogue import STEPS
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
    click(named(window, "State a truth and draw from it…", QPushButton))
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


@pytest.mark.parametrize(
    ("field", "text", "said"),
    [("Number of pairs", "2", "whole number from 3"), ("Seed", "-1", "seed is a whole number"),
     ("x to", "0", "from a lower to a higher")],
)  # fmt: skip
def test_a_truth_that_cannot_be_drawn_from_is_said(open_window, field, text, said):
    window = open_window()
    click(named(window, "State a truth and draw from it…", QPushButton))
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
