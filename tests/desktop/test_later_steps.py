"""The tables of Line, and the steps Compare and Forecast, in the real window."""

import json

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QPushButton, QSpinBox, QTableWidget

from bright_tether.account.comparison import comparison_record
from bright_tether.account.record import Wanted, record
from bright_tether.live.findings import Findings
from bright_tether.study import changes
from bright_tether.study.names import tether_name
from bright_tether.words import digits as d
from hand import click, drag, named, press, read, read_figure, spot, write


def at_step(open_window, key):
    made = open_window("--demo")
    press(made, key, Qt.KeyboardModifier.AltModifier)
    return made


def choose(window, name, words):
    field = named(window, name, QComboBox)
    field.setCurrentIndex(field.findText(words))
    field.activated.emit(field.currentIndex())


def enter(window, name, text):
    field = named(window, name, QLineEdit)
    field.setFocus()
    field.selectAll()
    write(field, text)
    press(field, Qt.Key.Key_Return)


def with_more(window):
    """The window with what is rarely changed open."""
    click(named(window, "More entries", QPushButton))
    return window


def cells(table):
    return [[table.item(r, c).text() for c in range(table.columnCount())] for r in range(table.rowCount())]


@pytest.fixture
def on_line(open_window):
    return at_step(open_window, Qt.Key.Key_4)


@pytest.fixture
def on_compare(open_window):
    return at_step(open_window, Qt.Key.Key_6)


@pytest.fixture
def on_forecast(open_window):
    return with_more(at_step(open_window, Qt.Key.Key_7))


def test_errors_stand_side_by_side_and_one_is_put_in_force(on_line):
    window = on_line
    click(named(window, "Show errors", QPushButton))
    table = named(window, "Errors side by side", QTableWidget)
    found = window.session.findings
    told = cells(table)
    assert [row[0] for row in told][:3] == ["classical", "robust (HC0)", "robust (HC1)"]
    assert told[4][1] == d.figure(found.line.robust["HC3"].se_slope, 3)
    click(table.viewport(), table.visualItemRect(table.item(4, 1)).center())
    assert window.session.tether.line.errors == "HC3"
    low, high = found.line.robust["HC3"].ci_slope
    assert f"{low:.3f} and {high:.3f}" in read(window, "sentences")
    assert table.item(4, 0).font().bold()


def test_variation_adds_up_and_alternatives_are_drawn(on_line):
    window = on_line
    click(named(window, "Show variation", QPushButton))
    line = window.session.findings.line
    assert line.ss_model + line.ss_residual == pytest.approx(line.ss_total, rel=1e-12)
    told = cells(named(window, "Split of variation", QTableWidget))
    assert told[0][4] == d.figure(line.f, 4)
    window.session.show_tether("k2")
    click(named(window, "Show other lines", QPushButton))
    table, plot = named(window, "Other lines", QTableWidget), named(window, "Other lines picture")
    names = [row[0] for row in cells(table)]
    wanted = {"plain", "through the origin", "resistant (Theil–Sen)", "errors in both (Deming)"}
    assert wanted | {"second degree", "log of both"} <= set(names)
    said = table.item(0, 4)
    assert said.toolTip() == said.text() > "each extra "
    before = len(plot.others)
    table.item(names.index("second degree"), 0).setCheckState(Qt.CheckState.Checked)
    assert len(plot.others) == before + 1
    residuals = {row[0]: float(row[3]) for row in cells(table)}
    assert residuals["log of both"] < residuals["plain"]
    x, y = window.session.findings.pairs.x, window.session.findings.pairs.y
    left = y - np.polyval(np.polyfit(x, y, 2), x)
    assert residuals["second degree"] == pytest.approx(np.sqrt(np.sum(left**2) / (x.size - 3)), rel=0.01)


def test_settings_of_the_line_change_every_figure(on_line):
    window = on_line
    click(named(window, "Settings of the line", QPushButton))
    enter(window, "Smallest slope that matters", "1")
    assert "shown to matter" in read(window, "sentences")
    enter(window, "Test the slope against", "1.4")
    assert "H0, slope = 1.4, against H1, slope ≠ 1.4" in read(window, "sentences")
    choose(window, "Weights of the rows", "turbidity")
    assert "rows are weighted by turbidity" in read(window, "sentences").lower()
    window.session.undo()
    assert window.session.tether.line.weights is None
    enter(window, "Error variance of y over that of x", "-3")
    assert read(window, "settings note") == "This one must be above 0."


def test_a_change_of_any_size_in_x(on_line):
    field = named(on_line, "Change in x", QLineEdit)
    field.selectAll()
    write(field, "100")
    assert "A change of 100 NTU in turbidity goes with 142.9 mg/L more sediment" in read(
        on_line, "what a change goes with"
    )


def test_fitted_against_observed(on_line):
    click(named(on_line, "Show fitted", QPushButton))
    plot = named(on_line, "Fitted against observed")
    assert np.allclose(plot.cloud.x, on_line.session.findings.rows.fitted)


def test_groups_are_compared_and_agree_with_the_record(on_compare):
    window = on_compare
    assert read(window, "headline") == "Compare this line with which?"
    choose(window, "Compare with", "the groups of station")
    assert read(window, "headline") == "The slopes differ."
    made = window.session.findings.comparison
    told = json.loads(json.dumps(comparison_record(window.session.findings)))
    assert told["slopes"]["separate"]["df"] == 60
    assert f"t = {d.figure(made.slopes.separate.t, 3)}, 60 df" in read(window, "sentences")
    click(named(window, "Show differences", QPushButton))
    rows = cells(named(window, "Differences", QTableWidget))
    assert rows[0][0] == "slopes, separate"
    assert rows[0][3] == d.figure(told["slopes"]["separate"]["t"], 3)
    click(named(window, "Show rungs", QPushButton))
    assert cells(named(window, "Rungs", QTableWidget))[0][1] == d.figure(told["parallel"]["f"], 4)
    press(window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    assert read(window, "working: df") == "60"


def test_another_tether_in_other_units_is_shown_beside_and_not_subtracted(on_compare):
    window = on_compare
    choose(window, "Compare with", "the line stage ⟶ discharge")
    click(named(window, "More entries", QPushButton))
    assert "their slopes cannot" in read(window, "headline")
    plot = named(window, "Compare picture")
    assert plot.axis_name("x") == "turbidity (NTU) and stage (m)"
    assert plot.axis_name("y") == "sediment (mg/L) and discharge (m3/s)"
    assert window.step("compare").scale.height() == 0
    assert not named(window, "Draw parallel", QPushButton).isEnabled()
    assert not named(window, "Margin of equivalence").isEnabled()
    for view in ("Differences", "Rungs", "Every two"):
        click(named(window, f"Show {view.lower()}", QPushButton))
        assert "19.6" not in str(cells(named(window, view, QTableWidget)))


def test_a_margin_is_dragged_on_the_scale(on_compare):
    window = with_more(on_compare)
    choose(window, "Compare with", "the groups of station")
    QApplication.processEvents()
    scale = named(window, "Slopes on one scale")
    from PyQt6.QtTest import QTest

    scale.repaint()
    y = int(scale._difference_top + 10)
    QTest.mousePress(scale, Qt.MouseButton.LeftButton, pos=QPoint(scale.width() - 60, y))
    QTest.mouseRelease(scale, Qt.MouseButton.LeftButton, pos=QPoint(scale.width() - 60, y))
    margin = window.session.tether.compare.margin
    assert margin is not None
    assert "within ±" in read(window, "sentences")
    enter(window, "Margin of equivalence", "5")
    assert "shown to be within ±5 mg/L per NTU of each other" in read(window, "sentences")


def test_two_responses_ask_what_a_row_is(on_compare):
    window = on_compare
    window.session.show_tether("k7")
    choose(window, "Compare with", "a second response, drying")
    assert "Is a row one case measured twice" in read(window, "sentences")
    assert "the paired test decides" in read(window, "sentences")
    paired = window.session.findings.comparison.same_rows.slope
    assert f"t = {d.figure(paired.t, 3)}, 26 df" in read(window, "sentences")
    choose(window, "A row is", "two experiments at one x")
    apart = window.session.findings.comparison.slopes.separate
    assert f"t = {d.figure(apart.t, 3)}, 52 df" in read(window, "sentences")
    assert "Is a row" not in read(window, "sentences")


def test_another_tether_is_compared_and_lower_rungs_are_drawn(on_compare):
    window = on_compare
    session = window.session
    session.show_tether("k3")
    window.step("strength")
    edit, _ = changes.tie(session.study, session.tether, x="c2", y="c4")
    session.do(edit)
    choose(window, "Compare with", f"the line {tether_name(session.study, edit.tether)}")
    click(named(window, "More entries", QPushButton))
    plot = named(window, "Compare picture")
    assert plot.cloud.x.size == 15 + Findings(session.study, edit.tether).pairs.n
    own = plot.lines[0].yData.copy()
    click(named(window, "Draw one line for all", QPushButton))
    assert not np.allclose(own, plot.lines[0].yData)


def test_groups_too_small_are_said(open_window, csv_file):
    window = open_window(
        csv_file("x,y,g\n" + "".join(f"{i},{i * i},{'a' if i < 7 else 'b'}\n" for i in range(9)))
    )
    window.session.show_step("compare")
    choose(window, "Compare with", "the groups of g")
    assert "The line of b has no error of its own: n = 2" in read(window, "sentences")


def test_forecast_by_typing_with_levels_and_back(on_forecast):
    window = on_forecast
    enter(window, "Forecast at x", "50 300")
    enter(window, "More levels, %", "80 99")
    enter(window, "Which x gives y", "200")
    found = window.session.findings
    told = record(found, Wanted(at=(50.0,), inverse_at=(200.0,)))
    first = told["predictions"][0]
    assert read_figure(window, "fitted") == d.fixed(first["fitted"], 1)
    table = cells(named(window, "Forecasts", QTableWidget))
    assert [row[2] for row in table] == ["80 %", "95 %", "99 %"] * 2
    widths = [one.pi[1] - one.pi[0] for one in found.expected[:3]]
    assert widths == sorted(widths)
    assert found.expected[1].pi == tuple(first["pi"])
    assert "sd beyond" in table[-1][-1]
    low, high = told["inverse"][0]["ci"]
    assert f"{low:.0f} … {high:.0f}" in read(window, "sentences")
    assert "More confidence, wider interval" in read(window, "sentences")
    many = named(window, "Mean of how many new cases", QSpinBox)
    many.setValue(4)
    many.editingFinished.emit()
    assert "The mean of 4 new cases" in read(window, "sentences")


def test_the_mark_is_dragged_beyond_the_data(on_forecast):
    window = on_forecast
    plot = named(window, "Forecast picture")
    (_left, _right), (low, high) = plot.main.viewRange()
    mark = plot.marks[0].value()
    before = window.session.tether.forecast.at
    start, end = spot(plot, mark, low + (high - low) * 0.08), spot(plot, 268, low + (high - low) * 0.08)
    drag(plot, start, end)
    assert window.session.tether.forecast.at != before
    assert window.session.tether.forecast.at[0] == pytest.approx(268, abs=8)
    assert len(window.session.history.done) == 1
    assert "turbidity 26" in read(window, "headline") or "turbidity 27" in read(window, "headline")


def test_an_actual_case_is_held_against_its_forecast(on_forecast):
    enter(on_forecast, "An actual case: x y", "100 260")
    said = read(on_forecast, "actual against expected")
    assert "above the line" in said
    assert "unusual for one case" in said
    enter(on_forecast, "An actual case: x y", "100 150")
    assert "not unusual" in read(on_forecast, "actual against expected")
    enter(on_forecast, "Forecast at x", "12 abc")
    assert "not a list of numbers" in read(on_forecast, "actual against expected")


def test_a_marked_case_is_judged_and_the_table_is_written(on_forecast, tmp_path):
    window = on_forecast
    found = window.session.findings
    row = int(found.table.row_ids[found.pairs.at[2]])
    window.session.mark_rows(frozenset({row}))
    said = read(window, "actual against expected")
    assert said.startswith(f"Row {found.pairs.at[2] + 1}: sediment")
    assert said.endswith("It helped to draw the line.")
    enter(window, "Forecast at x", "50 60")
    window.step("forecast").write_to(tmp_path / "f.csv")
    window.session.files.wait()
    lines = (tmp_path / "f.csv").read_text().splitlines()
    assert len(lines) == 3
    assert float(lines[1].split(",")[3]) == window.session.findings.expected[0].fitted
    window.step("forecast").write_to(tmp_path / "none" / "f.csv")
    window.session.files.wait()
    assert "could not be written" in read(window, "notice text")


def test_an_actual_case_is_kept_in_the_study_and_drawn(on_forecast):
    window = on_forecast
    keep, forget = window.step("forecast").keep, window.step("forecast").forget
    assert not keep.isVisible()
    assert not forget.isVisible()
    enter(window, "An actual case: x y", "50 200")
    assert "unusual for one case" in read(window, "actual against expected")
    click(keep)
    assert window.session.tether.forecast.cases == ((50.0, 200.0),)
    assert "Kept, at turbidity 50 NTU: sediment 200 lies 126 mg/L above the line" in read(window, "sentences")
    x, y = window.step("forecast").picture.kept.getData()
    assert (x.tolist(), y.tolist()) == ([50.0], [200.0])
    click(forget)
    assert window.session.tether.forecast.cases == ()
    assert "Kept, at" not in read(window, "sentences")
    window.session.undo()
    assert "Kept, at" in read(window, "sentences")


def test_a_logged_line_forecasts_in_original_units(on_forecast):
    window = on_forecast
    window.session.show_tether("k2")
    from bright_tether.study.remedies import remedies

    remedy = remedies(window.session.study, window.session.tether, "bend", frozenset())[0]
    window.session.do(remedy.edit)
    enter(window, "Forecast at x", "1.5")
    found = window.session.findings
    inner = found.forecasts((float(np.log10(1.5)),))
    assert found.expected[0].fitted == pytest.approx(10 ** float(inner.fitted[0]))
    assert found.expected[0].pi == pytest.approx(tuple(10 ** inner.pi[0]))
    assert "The geometric mean discharge of all cases at stage 1.5 m" in read(window, "sentences")
    enter(window, "Forecast at x", "-1")
    assert read(window, "headline").startswith("Type an x above 0")


def test_forecasts_by_group(on_forecast):
    window = on_forecast
    window.step("compare")._put("by station", group=window.session.tether.tint)
    assert {row[1] for row in cells(named(window, "Forecasts", QTableWidget))} == {"all", "Weir", "Ford"}
    click(named(window, "Copy the table", QPushButton))
    assert QApplication.clipboard().text().startswith("x\tline\tlevel (%)\tfitted\tmean response, low")


def test_residuals_are_kept_as_a_live_column(on_line):
    window = on_line
    click(named(window, "Settings of the line", QPushButton))
    click(named(window, "Keep residuals as a column", QPushButton))
    column = window.session.table.columns[-1]
    assert column.name == "residual of sediment (mg/L)"
    found = window.session.findings
    assert np.array_equal(column.cells[found.pairs.at], found.rows.residual)
    assert np.isnan(column.cells).sum() == found.table.rows - found.pairs.n
    rows = frozenset(found.table.row_ids[found.pairs.at[:3]].tolist())
    from bright_tether.study import changes
    from bright_tether.study.package import read_package, write_package

    window.session.do(
        changes.set_aside(window.session.history.study, window.session.tether, set(rows), "try")
    )
    found, column = window.session.findings, window.session.table.columns[-1]
    assert np.array_equal(column.cells[found.pairs.at], found.rows.residual)
    import io

    file = io.BytesIO()
    write_package(window.session.study, file)
    again = read_package(file.getvalue(), "s.tether")
    assert np.array_equal(again.tables[0].columns[-1].cells, column.cells, equal_nan=True)
    assert again.tables[0].columns[-1].formula == column.formula
    window.session.undo()
    window.session.undo()
    assert window.session.table.columns[-1].name != "residual of sediment (mg/L)"
