"""Tables copied and written from the window: what a spreadsheet, a paper and a file get."""

import csv

import pytest
from openpyxl import load_workbook
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QComboBox, QPlainTextEdit, QPushButton, QTableWidget

from bright_tether.desktop.parts.table_out import TableOut
from hand import ask_menu, choose, click, named, pick, press, read


@pytest.fixture
def errors(open_window):
    """The window with the errors side by side."""
    window = open_window("--demo")
    window.session.show_step("line")
    click(named(window, "Show errors", QPushButton))
    return window


def popup(window):
    """What can be done with the table, from its menu."""
    table = named(window, "Errors side by side", QTableWidget)
    ask_menu(table.viewport())
    pick(window, "Copy or write…")
    return table.findChildren(TableOut)[-1]


def test_a_pasted_table_arrives_as_numbers(errors):
    table = named(errors, "Errors side by side", QTableWidget)
    table.setFocus()
    press(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    rows = list(csv.reader(QGuiApplication.clipboard().text().splitlines(), delimiter="\t"))
    line = errors.session.findings.coefficients_by("HC3")
    assert rows[0][:6] == [
        "errors",
        "se of slope",
        "t",
        "p",
        "interval of slope, low",
        "interval of slope, high",
    ]
    told = [float(one) for one in rows[5][1:]]
    assert told == pytest.approx([line.se_slope, line.t_slope, line.p_slope, *line.ci_slope, line.se_intercept,
                                  *line.ci_intercept], rel=0.02)  # fmt: skip
    assert '<td style="text-align:right">-3.6</td>' in QGuiApplication.clipboard().mimeData().html()


def test_what_comes_of_it_is_seen_before_and_the_choice_is_kept(errors):
    out = popup(errors)
    choose(named(out, "Form of the table", QComboBox), "LaTeX")
    seen = named(out, "What comes of it", QPlainTextEdit)
    assert (
        r"classical & 0.0379 & 37.7 & 1.84e-44 & 1.353 & 1.505 & 3.73 & $-5.3$ & 9.7 \\" in seen.toPlainText()
    )
    choose(named(out, "What stands in the table", QComboBox), "words")
    assert r"classical & 0.0379 & 37.7 & p $<$ 0.001 & 1.353 \ldots{} 1.505" in seen.toPlainText()
    words = seen.toPlainText()
    click(named(out, "Copy the table in this form", QPushButton))
    assert QGuiApplication.clipboard().text() == words
    assert "The table is on the clipboard." in read(errors, "notice text")
    again = popup(errors)
    assert again.content.currentData() == "words"
    again.close()


def test_a_table_is_written_to_a_file_and_trouble_is_said(errors, tmp_path):
    out = popup(errors)
    choose(named(out, "What stands in the table", QComboBox), "every digit")
    out.write_to(tmp_path / "errors.xlsx")
    errors.session.files.wait()
    sheet = load_workbook(tmp_path / "errors.xlsx").worksheets[0]
    assert sheet["B2"].value == errors.session.findings.coefficients_by("classical").se_slope
    out.write_to(tmp_path / "errors.doc")
    assert "Tables can be written as .tsv" in read(errors, "notice text")
    out.write_to(tmp_path / "nowhere" / "errors.csv")
    errors.session.files.wait()
    assert "“errors.csv” could not be written: No such file or directory" in read(errors, "notice text")
    out.close()


def test_every_step_gives_its_table_or_says_that_it_has_none(open_window):
    window = open_window("--demo")
    for step in ("look", "strength", "line", "doubts", "compare", "forecast", "rehearse"):
        window.session.show_step(step)
        next(iter(window.actions_list.found("copy or write the table"))).run()
        QApplication.processEvents()
        panels = window.findChildren(TableOut)
        if panels:
            assert panels[-1].seen.toPlainText().strip(), step
            panels[-1].close()
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        else:
            assert "There is no table to copy or write here." in read(window, "notice text")
