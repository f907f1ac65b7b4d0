"""Answers that come late, panels that outlive what they show, and entries that cannot be used."""

import re

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QComboBox, QLineEdit

from bright_tether.account.tables import export_table
from bright_tether.desktop.steps.trace import read_image
from bright_tether.pictures.output import drawing_of
from bright_tether.study import cell_changes, changes, column_changes
from bright_tether.tables.read_plan import read_file
from hand import click, named, press, read, write

CONTROL = Qt.KeyboardModifier.ControlModifier


def slope_now(window):
    return window.session.findings.plain_line.slope


def test_a_run_of_samples_is_filed_under_what_it_was_made_from(open_window, qtbot):
    window = open_window("--demo")
    session = window.session
    session.show_step("rehearse")
    step = window.step("rehearse")
    session.do(changes.change_choice(session.study, session.tether, "rehearse", "more", draws=60_000))
    assert step.work.busy
    session.show_step("gather")
    slope = slope_now(window)
    cells = {(row, "c4"): -float(row) for row in range(0, 71, 2)}
    session.do(cell_changes.set_cells(session.study, "t1", cells))
    assert slope_now(window) != slope
    qtbot.waitUntil(lambda: not step.work.busy, timeout=20_000)
    drawn = session.findings.samples.outcome
    assert float(np.mean(drawn.slope)) * 2.0 ** (drawn.ey - drawn.ex) == pytest.approx(
        slope_now(window), abs=0.2
    )
    session.show_step("rehearse")
    qtbot.waitUntil(lambda: not step.work.busy and step.view in step.outcomes, timeout=20_000)
    told = re.search(r"came out at (−?[\d.]+)", read(window, "headline"))
    assert float(told[1].replace("−", "-")) == pytest.approx(slope_now(window), abs=0.05)


@pytest.mark.parametrize("turn", range(4))
def test_closing_while_shuffles_run_waits_for_their_end(open_window, qtbot, turn):
    window = open_window("--demo")
    window.session.show_step("strength")
    shuffle = window.step("strength").extra
    shuffle.shuffles.setValue(1_000_000)
    shuffle.toggle()
    qtbot.wait(5 + 15 * turn)
    assert shuffle.work.busy
    window.close()  # the fixture asserts that no thread is left
    assert not shuffle.work.busy


def test_the_filter_panel_lives_through_a_column_that_goes(open_window, csv_file):
    window = open_window(csv_file("x,y,site\n1,2,A\n2,4,B\n3,5,A\n4,9,B\n"))
    session = window.session
    window.shelf.open_filter()
    columns = named(window, "Filter column", QComboBox)
    columns.setCurrentIndex(columns.findText("site"))
    session.do(column_changes.delete_column(session.study, session.table.id, "c3"))
    assert columns.findText("site") < 0
    assert columns.currentText() == "x"
    write(named(window, "Filter value", QLineEdit), "2")
    session.do(column_changes.change_kind(session.study, session.table.id, "c1", "text"))
    click(named(window, "Add this condition"))
    session.do(column_changes.change_kind(session.study, session.table.id, "c1", "number"))
    assert session.findings.pairs.rows == 4


def test_everything_in_the_picture_can_be_asked_for_in_rehearse(open_window):
    window = open_window("--demo")
    window.session.show_step("rehearse")
    press(window, Qt.Key.Key_0, CONTROL)
    assert read(window, "headline")


def test_a_table_brought_in_takes_the_place_of_the_whole_blank_study(open_window, short_file):
    window = open_window()
    session = window.session
    session.add_tether()
    session.open_file(short_file)
    assert {tether.table for tether in session.study.tethers} <= {table.id for table in session.study.tables}
    assert session.findings.pairs.n == 5
    while session.history.done:
        session.undo()
    assert len(session.study.tethers) == 1


def test_a_case_on_a_weighted_line_has_an_interval_once_its_weight_is_known(open_window, csv_file):
    rows = "".join(f"{at},{2 * at + (at * 7 % 5)},{1 / at:.4f}\n" for at in range(1, 13))
    window = open_window(csv_file(f"x,y,w\n{rows}"))
    session = window.session
    session.do(changes.change_choice(session.study, session.tether, "line", "weights", weights="c3"))
    session.show_step("forecast")
    assert "the weight of a new case is not stated" in read(window, "sentences")
    field = named(window, "Weight of a new case", QLineEdit)
    write(field, "0.2")
    press(field, Qt.Key.Key_Return)
    assert "One new case there is expected between" in read(window, "sentences")
    low, high = session.findings.expected[0].pi
    made = session.findings.forecasts(session.findings.forecast_x)
    assert (low, high) == tuple(made.pi[0])
    s, lever = session.findings.fit.s_scaled, float(made.leverage[0])
    assert float(made.se_individual[0]) == pytest.approx(s * (1 / 0.2 + lever) ** 0.5)


def test_an_alpha_that_rounds_to_one_is_refused_where_it_is_typed(open_window):
    window = open_window("--demo")
    window.head.rules.open()
    field = named(window, "Significance level α", QLineEdit)
    field.selectAll()
    write(field, "0.9999999999999999")
    assert window.session.findings.rules.alpha < 1
    assert "Type a number between 0 and 1" in " ".join(
        one.text() for one in field.window().findChildren(type(window.notice.words))
    )


def test_a_picture_on_the_command_line_is_read_as_one(open_window, tmp_path):
    image = QImage(80, 60, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFF)
    image.save(str(tmp_path / "plot.png"))
    window = open_window(tmp_path / "plot.png")
    assert type(window.stage.currentWidget()).__name__ == "TracePage"


def test_a_drawing_that_calls_itself_a_picture_is_none(open_window, tmp_path):
    path = tmp_path / "plot.png"
    path.write_text("<svg xmlns='http://www.w3.org/2000/svg'><image href='file:///etc/hostname'/></svg>")
    assert read_image(path).isNull()
    window = open_window(path)
    assert "is no picture that can be read" in read(window, "notice text")


def test_control_characters_reach_every_file_as_something_it_can_hold(open_window, csv_file, tmp_path):
    window = open_window(csv_file("a\x01b,c\x07d,e\n1,2,p\x02q\n2,3,r\n3,5,s\n4,4,t\n"))
    for name in ("t.csv", "t.xlsx", "t.ods", "t.parquet"):
        export_table(window.session.table, tmp_path / name)
        assert read_file(tmp_path / name).rows == 4
    window.session.show_step("line")
    drawing = drawing_of(window.step("line").picture)
    assert "<svg" in drawing.svg


def test_a_cell_whose_place_went_takes_nothing(open_window, short_file):
    window = open_window(short_file)
    session, model = window.session, window.step("gather").grid.model()
    session.do(cell_changes.type_block(session.study, session.table.id, 0, 3, [["7"]]))
    place = model.index(0, 4)
    session.undo()
    study = session.study
    assert not model.setData(place, "9")
    assert session.study is study


@pytest.mark.parametrize(
    ("step", "name"), [("rehearse", "True effect"), ("compare", "Margin of equivalence"),
                       ("gather", "What one row is")],
)  # fmt: skip
def test_what_is_being_typed_stays_when_an_answer_comes(open_window, qtbot, step, name):
    window = open_window("--demo")
    window.session.show_step(step)
    field = next(one for one in window.findChildren(QLineEdit) if one.accessibleName() == name)
    field.setFocus()
    field.selectAll()
    write(field, "0.31")
    window.session.findings_changed.emit()
    assert field.text() == "0.31"
