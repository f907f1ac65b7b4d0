"""Doubts about the line with columns held, in the real window."""

import pytest
from PyQt6.QtWidgets import QComboBox, QPushButton

from account.test_page import TODAY
from bright_tether.account.composing import page_of
from bright_tether.live.longer import LongerFindings
from bright_tether.study import changes
from hand import choose, click, named, read


@pytest.fixture
def window(open_window):
    """The springs with rock held."""
    window = open_window("--demo")
    window.session.show_tether("k4")
    rock = next(one.id for one in window.session.table.columns if one.short == "rock")
    hold(window, rock)
    window.session.show_step("doubts")
    return window


def hold(window, *columns):
    session = window.session
    session.do(changes.change_choice(session.study, session.tether, "held", "hold", columns=columns))


def said(window):
    window.session.settle()
    return [str(one) for one in window.step("doubts").reading().sentences]


def test_the_residuals_looked_at_are_chosen_and_come_back(window):
    stage = window.step("doubts")
    box = named(window, "Whose residuals", QComboBox)
    assert [box.itemText(at) for at in range(2)] == ["of the line alone", "with rock held"]
    alone = {name: one.number.text() for name, one in stage.cards.items()}
    assert not said(window)[0].startswith("These are")
    choose(box, "with rock held")
    assert said(window)[0] == "These are the residuals with rock held. The line alone shows no sign either."
    held = {name: one.number.text() for name, one in stage.cards.items()}
    assert held != alone
    assert isinstance(stage.looked_at, LongerFindings)
    assert not named(window, "Try the lineup", QPushButton).isEnabled()
    click(stage.cards["spread"])
    window.session.settle()
    shown = stage.picture.present.y
    assert shown.size == 42
    assert f"{stage.looked_at.checks.spread_ratio:.2g}"[:3] in read(window, "headline") + " ".join(
        said(window)
    )
    offered = [one for one in stage.extra.findChildren(QPushButton) if one.isVisibleTo(stage.extra)]
    assert offered == []  # what could be done is offered for the line alone
    window.session.undo()
    window.session.settle()
    assert stage.looked_at is window.session.findings


def test_the_account_and_the_table_are_of_the_residuals_looked_at(window):
    choose(named(window, "Whose residuals", QComboBox), "with rock held")
    window.session.settle()
    for part in ("reading", "table", "picture", "working"):
        window.panel.pin_wanted.emit(part)
    study = window.session.study
    page = str(page_of(study, today=TODAY))
    assert "These are the residuals with rock held" in page
    one = window.step("doubts").looked_at.checks.breusch_pagan.lm
    assert f"{one:.6g}"[:6] in page


def test_with_nothing_held_there_is_nothing_to_choose(window):
    box = named(window, "Whose residuals", QComboBox)
    choose(box, "with rock held")
    hold(window)
    assert not box.isVisible()
    assert not said(window)[0].startswith("These are")
