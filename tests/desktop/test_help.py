"""Help in the real window: the guide at a step, terms by hover and by key, what the program is."""

import re

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QPushButton, QTextBrowser, QToolTip

from bright_tether.desktop.parts.help import guide_section
from bright_tether.steps.catalogue import STEPS
from bright_tether.words.terms import terms_in
from hand import click, named, press, read, write

#: Names of figures that are the analyst's own words or plain English.
PLAIN = re.compile(
    r"(mean|median|range|pairs|widest gap|largest by luck|truth|by formula|by simulation|bend takes up|your |.*, mean)"
)


@pytest.fixture
def window(open_window):
    return open_window("--demo")


def hover(widget):
    """Rest the pointer on a widget, and read the hint."""
    spot = widget.rect().center()
    QToolTip.showText(widget.mapToGlobal(spot), "nothing said yet", widget)
    QApplication.sendEvent(widget, QHelpEvent(QHelpEvent.Type.ToolTip, spot, widget.mapToGlobal(spot)))
    QApplication.processEvents()
    return QToolTip.text().replace("nothing said yet", "")


def test_f1_opens_the_guide_at_the_step_with_its_terms_and_their_workings(window):
    window.session.show_step("doubts")
    press(window, Qt.Key.Key_F1)
    assert read(window, "guide title") == "5 Doubts"
    words = named(window, "Guide", QTextBrowser).toPlainText()
    assert "judged as one family" in words
    assert "leverage: How far a row’s x lies" in words
    assert "Its working" in words
    click(named(window, "The step after ▸", QPushButton))
    assert read(window, "guide title") == "6 Compare"
    press(named(window, "Help"), Qt.Key.Key_Escape)


def test_a_working_is_opened_from_its_term(window):
    press(window, Qt.Key.Key_F1)
    page = named(window, "Guide", QTextBrowser)
    page.anchorClicked.emit(page.source())
    assert window.panel.working_open
    assert named(window, "working: slope", QLabel).text()


@pytest.mark.parametrize("step", STEPS, ids=lambda step: step.id)
def test_the_guide_has_every_step(step):
    assert len(guide_section(step.id)) > 200


def test_terms_are_explained_where_the_pointer_rests(window):
    figure = next(one for one in window.panel.findChildren(QLabel) if one.text() == "s, typical residual")
    assert "typical residual" in hover(figure)
    assert "square" in hover(figure)
    assert hover(named(window, "Tie a new tether", QPushButton)) == ""


def test_every_figure_of_every_step_has_its_term(window):
    unknown = set()
    for tether in window.session.study.tethers:
        window.session.show_tether(tether.id)
        columns = {one.short for one in window.session.table.columns}
        for step in STEPS:
            if step.id == "write-up":
                continue
            window.session.show_step(step.id)
            QApplication.processEvents()
            for row in window.panel._figures.rows:
                name, text = row.name, row.name.text()
                own = any(column in text for column in columns)
                if name.isVisible() and not (terms_in([text]) or PLAIN.match(text) or own):
                    unknown.add((step.id, text))
    assert not unknown


def test_what_the_program_is_can_be_read(window):
    press(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    write(named(window, "Find an action", QLineEdit), "about licence")
    press(named(window, "Find an action", QLineEdit), Qt.Key.Key_Return)
    assert "GPL-3.0-or-later" in read(window, "version")
    shown = [one.text() for one in named(window, "About Bright Tether").findChildren(QLabel)]
    assert {"numpy", "scipy", "PyQt6"} <= set(shown)
