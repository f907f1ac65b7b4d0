"""What goes with y: looked at, sorted, filtered, tied, and said afterwards."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QLineEdit, QTableView

from bright_tether.study import changes
from hand import click, named, press, read, write

ROWS, PROBES = 60, 14


def probes():
    """Two columns that go together and many that do not."""
    draw = np.random.default_rng(2)
    x = draw.normal(40, 10, ROWS)
    y = 1.4 * x + draw.normal(0, 12, ROWS)
    columns = [x, y, *(draw.normal(size=ROWS) for _ in range(PROBES))]
    heads = ["turbidity (NTU)", "sediment (mg/L)", *(f"probe {at:02}" for at in range(PROBES))]
    return (
        "\n".join(
            [",".join(heads), *(",".join(f"{v:.3f}" for v in row) for row in zip(*columns, strict=True))]
        )
        + "\n"
    )


@pytest.fixture
def page(open_window, csv_file, qtbot):
    """The page over a window, with all looked at."""
    window = open_window(csv_file(probes(), "probes.csv"))
    window.session.show_step("look")
    click(named(window, "What goes with y?"))
    settle(window, qtbot)
    return window


def settle(window, qtbot):
    """Until all is looked at."""
    qtbot.waitUntil(lambda: not window.opening.pages["screening"]._work.busy, timeout=10_000)
    QApplication.processEvents()


def texts(window):
    """The lines on show, without the picture and the place to tie."""
    model = named(window, "Columns looked at", QTableView).model()
    return [
        [model.index(row, at).data() for at in range(1, model.columnCount() - 1)]
        for row in range(model.rowCount())
    ]


def test_every_column_stands_with_what_the_search_does_to_its_p(page):
    assert read(page, "screen title") == "What goes with sediment?"
    assert read(page, "screen says").startswith("15 columns against sediment looked at: ")
    assert "luck alone would give about 0.75" in read(page, "screen says")
    lines = texts(page)
    assert len(lines) == 15
    small = sum(line[4].startswith("<") or float(line[4]) <= 0.05 for line in lines if line[4] != "> 0.999")
    sure = sum(line[5].startswith("<") or float(line[5]) <= 0.05 for line in lines if line[5] != "> 0.999")
    assert f": {small} with p ≤ 0.05" in read(page, "screen says")
    assert read(page, "screen says").endswith(f"; {sure} after Holm.")
    assert lines[0][:2] == ["turbidity", "60"]
    assert lines[0][2].startswith("+0.")
    sizes = [abs(float(line[2].replace("−", "-"))) for line in lines]
    assert sizes == sorted(sizes, reverse=True)


def test_it_is_sorted_and_filtered(page):
    view = named(page, "Columns looked at", QTableView)
    view.horizontalHeader().sectionClicked.emit(1)
    names = [line[0] for line in texts(page)]
    assert names == sorted(names)
    write(named(page, "Part of a name", QLineEdit), "probe 0")
    assert len(texts(page)) == 10
    box = named(page, "Which to show", QComboBox)
    box.setCurrentIndex(1)
    box.activated.emit(1)
    assert texts(page) == []
    named(page, "Part of a name", QLineEdit).clear()
    write(named(page, "Part of a name", QLineEdit), "t")
    assert [line[0] for line in texts(page)] == ["turbidity"]


def test_what_is_surest_comes_first_and_what_has_no_value_last(open_window, csv_file, qtbot):
    lines = probes().splitlines()
    flat = "\n".join([f"{lines[0]},flat", *(f"{line},3" for line in lines[1:])]) + "\n"
    window = open_window(csv_file(flat, "probes.csv"))
    window.session.show_step("look")
    click(named(window, "What goes with y?"))
    settle(window, qtbot)
    head = named(window, "Columns looked at", QTableView).horizontalHeader()
    head.sectionClicked.emit(5)
    assert [texts(window)[at][0] for at in (0, -1)] == ["turbidity", "flat"]
    head.sectionClicked.emit(5)
    assert texts(window)[-1][0] == "flat"
    assert texts(window)[-2][0] == "turbidity"


def test_an_answer_names_the_y_that_it_was_asked_for(page, qtbot):
    screen = page.opening.pages["screening"]
    session = page.session
    screen.start()
    session.do_and_show(
        *changes.tie(session.history.study, session.tether, x=screen._screen.columns[0].id,
                     y=screen._screen.columns[3].id)
    )  # fmt: skip
    settle(page, qtbot)
    assert session.findings.y_column.short == "probe 01"
    assert screen._said.text().startswith("15 columns against sediment looked at")


def test_every_two_columns_and_another_coefficient(page, qtbot):
    click(named(page, "Every two columns", QCheckBox))
    settle(page, qtbot)
    assert len(texts(page)) == 16 * 15 // 2
    assert read(page, "screen says").startswith("120 pairs of columns looked at")
    box = named(page, "Coefficient", QComboBox)
    box.setCurrentIndex(2)
    box.activated.emit(2)
    settle(page, qtbot)
    model = named(page, "Columns looked at", QTableView).model()
    assert model.headerData(3, Qt.Orientation.Horizontal) == "τ-b"
    view = named(page, "Columns looked at", QTableView)
    assert (
        view.columnViewportPosition(model.columnCount() - 1) + 30 < view.viewport().width()
    )  # “tie” is seen
    view.horizontalHeader().sectionClicked.emit(1)
    first = [one[0] for one in texts(page)]
    assert first == sorted(first, key=lambda one: [name.lower() for name in one.split("\n")])


def test_a_click_ties_and_the_search_is_told_afterwards(page):
    view = named(page, "Columns looked at", QTableView)
    model = view.model()
    spot = view.visualRect(model.index(1, model.columnCount() - 1)).center()
    tied = texts(page)[1][0]
    QTest.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spot)
    session = page.session
    assert session.step == "look"
    assert session.findings.x_column.short == tied
    assert session.tether.among == 15
    session.show_step("strength")
    assert "chosen among 15 that were looked at" in read(page.panel, "beware")
    assert "Luck alone would give about 0.75 of 15 with p ≤ 0.05." in read(page.panel, "beware")
    session.undo()
    assert len(session.study.tethers) == 1


def test_the_page_is_left(page):
    click(named(page, "Back to the step"))
    assert page.stage.currentWidget() is page.step("look")
    press(page, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert page.opening.pages["screening"].isVisible()
