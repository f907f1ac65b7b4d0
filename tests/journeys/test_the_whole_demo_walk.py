"""The whole demo study, from Gather to Write-up, by hand and keyboard in the real window."""

import json
import re
import subprocess
import sys

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QComboBox,
    QLineEdit,
    QListWidget,
    QPlainTextEdit,
    QPushButton,
    QTableWidget,
)

from hand import click, drag, named, press, read, read_figure, spot, write

ALT = Qt.KeyboardModifier.AltModifier


def choose(window, name, words):
    field = named(window, name, QComboBox)
    field.setCurrentIndex(field.findText(words))
    field.activated.emit(field.currentIndex())
    QApplication.processEvents()


def enter(window, name, text):
    field = named(window, name, QLineEdit)
    field.setFocus()
    field.selectAll()
    write(field, text)
    press(field, Qt.Key.Key_Return)


def pin(window, *parts):
    for part in parts:
        click(named(window, f"Pin the {part}", QPushButton))


def cells(table):
    return [[table.item(r, c).text() for c in range(table.columnCount())] for r in range(table.rowCount())]


def test_the_whole_demo_study_walks_from_gather_to_write_up(open_window, qtbot, tmp_path):
    window = open_window("--demo")
    session = window.session

    # Gather: who explains whom, how many rows, and why the others are out
    press(window, Qt.Key.Key_1, ALT)
    assert "turbidity explains, sediment responds" in read(window, "headline")
    assert "64 of 71 rows" in read(window, "rows in play")
    pin(window, "reading", "table")

    # Look: straight, and both groups tell one story
    press(window, Qt.Key.Key_2, ALT)
    assert "straight" in read(window, "headline")
    picture = window.step("look").picture
    drag(picture, spot(picture, 210, 40), spot(picture, 250, 100))
    assert session.mark == frozenset(one.row for one in session.tether.asides), (
        "the fouled probes, still shown"
    )
    press(window, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    pin(window, "reading", "picture")

    # Strength: r with its sign and its test
    press(window, Qt.Key.Key_3, ALT)
    assert read_figure(window, "r") == "+0.979"
    pin(window, "table")

    # Line: the equation, and a change of any size
    press(window, Qt.Key.Key_4, ALT)
    assert read(window, "equation") == "sediment = 2.2 + 1.429 · turbidity"
    click(named(window, "Show the working", QPushButton))
    pin(window, "reading", "figures", "picture", "working")

    # Doubts: the residuals grow; the eye agrees; robust errors are taken
    press(window, Qt.Key.Key_5, ALT)
    assert "1 of six doubts shows a clear sign." in read(window, "headline")
    click(named(window, "Try the lineup", QPushButton))
    lineup = window.step("doubts").lineup
    click(lineup.cells[lineup.real])
    assert "is yours: it stands out" in read(window, "lineup")
    pin(window, "table", "lineup")
    press(window, Qt.Key.Key_4, ALT)
    click(named(window, "Show errors", QPushButton))
    table = named(window, "Errors side by side", QTableWidget)
    row = [line[0] for line in cells(table)].index("robust (HC3)")
    where = table.visualItemRect(table.item(row, 0)).center()
    click(table.viewport(), QPoint(where))
    assert session.tether.line.errors == "HC3"
    press(window, Qt.Key.Key_5, ALT)
    assert "answered by" in " ".join(window.step("doubts").reading().sentences)

    # Compare: the two stations
    press(window, Qt.Key.Key_6, ALT)
    choose(window, "Compare with", "the groups of station")
    assert read(window, "headline") == "These data are compatible with no difference in slope."
    pin(window, "reading", "picture", "table")

    # Forecast: by typing, with the robust errors in force
    press(window, Qt.Key.Key_7, ALT)
    enter(window, "Forecast at x", "50 300")
    assert "At turbidity 50 NTU, sediment is expected at" in read(window, "headline")
    assert "robust (HC3) errors" in read(window, "beware")
    pin(window, "reading", "table")

    # Rehearse: the intervals keep what they promise
    press(window, Qt.Key.Key_8, ALT)
    step = window.step("rehearse")
    qtbot.waitUntil(lambda: not step.work.busy and "samples" in step.outcomes, timeout=20_000)
    assert "Over 2000 samples" in read(window, "headline")
    pin(window, "reading")

    # Write-up: everything in order, with a word of one's own
    press(window, Qt.Key.Key_9, ALT)
    stage = window.step("write-up")
    found = named(window, "Pins in order", QListWidget)
    assert found.count() == 17
    found.setCurrentRow(found.count() - 1)
    click(named(window, "Add a note", QPushButton))
    write(named(window, "Words of the pin", QPlainTextEdit), "The stations may share one slope.")
    found.setFocus()

    def all_there():
        return not stage._later.isActive() and read(window, "page note") == "18 live, 0 frozen"

    qtbot.waitUntil(all_there, timeout=20_000)
    told = " ".join(stage.page.toPlainText().split())
    for words in (
        "sediment (mg/L) responds, turbidity (NTU) explains",
        "standard errors are robust (HC3)",
        "sediment = 2.2 + 1.429 · turbidity",
        "These data are compatible with no difference in slope.",
        "probe fouled",
        "The stations may share one slope.",
        "Lineup: the real picture was picked in 1 of 1 try",
    ):
        assert words in told, words

    # and out, so that a stranger reaches the same figures
    click(named(window, "With evidence", QCheckBox))
    stage.write_to(tmp_path / "survey.html")
    qtbot.waitUntil(lambda: not stage.writing, timeout=20_000)
    html = (tmp_path / "survey.html").read_text(encoding="utf-8")
    assert html.count("<svg") == 3
    plain = " ".join(re.sub(r"<(style|svg).*?</\1>|<[^>]+>", " ", html, flags=re.S).split())
    assert "The stations may share one slope." in plain
    results = json.loads((tmp_path / "survey-evidence" / "results.json").read_text(encoding="utf-8"))
    first = results["tethers"][0]
    assert first["choices"]["errors"] == "HC3"
    assert f"{first['figures']['slope']:.3f}" == "1.429"
    check = [sys.executable, tmp_path / "survey-evidence" / "reproduce.py"]
    run = subprocess.run(check, capture_output=True, text=True, check=False)
    assert run.returncode == 0, run.stdout
    window.document.save(tmp_path / "survey.tether")
    qtbot.waitUntil(lambda: not window.document.unsaved)
    assert session.walked >= {
        "gather",
        "look",
        "strength",
        "line",
        "doubts",
        "compare",
        "forecast",
        "rehearse",
    }
