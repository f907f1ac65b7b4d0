"""Holding further columns in the real window: ticked, seen, marked, taken off; and the same from the command."""

import json

import numpy as np
import pytest
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton, QTableWidget

from bright_tether.command import parser
from bright_tether.study.package import open_study, save_study
from hand import choose, click, named, read


@pytest.fixture
def window(open_window):
    """The springs at their line, with others held."""
    window = open_window("--demo")
    window.session.show_tether("k4")
    window.session.show_step("line")
    click(named(window, "Show others held", QPushButton))
    return window


def tick(window, name):
    menu = named(window, "Columns held", QPushButton).menu()
    menu.aboutToShow.emit()
    next(one for one in menu.actions() if one.text() == name).toggle()


def test_a_column_is_held_and_the_slope_turns_round(window, tmp_path):
    assert "No further column is held yet" in read(window, "what is held")
    tick(window, "rock")
    table = named(window, "Slopes held", QTableWidget)
    assert [table.item(row, 1).text() for row in range(2)] == ["5.80", "−4.45"]
    assert "With rock held, each extra mg/L goes with about 4.45 uS/cm less" in read(window, "headline")
    picture = window.step("line").held_page.left
    assert picture.cloud.x.size == 42
    assert picture.main.getAxis("bottom").labelText == "what is left of calcium (mg/L)"
    window.session.mark_rows(frozenset({3, 4}))
    assert picture.mask().sum() == 2
    against = named(window, "rock is held against", QComboBox)
    assert against.currentText() == "rock against shale"
    choose(against, "rock against limestone")
    assert table.item(2, 0).text() == "rock: shale against limestone"
    assert table.item(1, 1).text() == "−4.45"
    save_study(window.session.study, tmp_path / "s.tether")
    assert open_study(tmp_path / "s.tether").tether("k4").held == window.session.tether.held
    window.session.undo()
    tick(window, "rock")
    assert "No further column is held yet" in read(window, "what is held")
    assert picture.cloud is None


def test_what_was_not_measured_is_drawn_with_the_measured_as_yardsticks(window):
    window.session.show_tether("k1")
    tick(window, "water temperature (°C)")
    click(named(window, "Draw what was not measured", QPushButton))
    stage = window.step("line")
    assert stage.held_page.unseen.isVisible()
    assert not stage.held_page.left.isVisible()
    assert [one.toPlainText() for one in stage.held_page.unseen.labels][-1] == "like water temperature"
    told = stage.held_page.unseen.accessibleDescription()
    assert told.startswith("nothing left at 9")
    assert "; like water temperature: " in told
    x, y = stage.held_page.unseen.nothing.getData()
    good = np.isfinite(y)
    assert (np.diff(y[good]) < 0).all()
    assert x[good].min() > 80
    click(named(window, "Draw what is left", QPushButton))
    assert stage.held_page.left.isVisible()


def test_the_picture_leaves_as_a_figure_and_stands_in_the_account(window, tmp_path):
    tick(window, "rock")
    click(named(window, "Pin the picture", QPushButton))
    click(named(window, "Pin the table", QPushButton))
    from datetime import date

    from bright_tether.account.composing import page_of
    from bright_tether.pictures.press import press_alone

    page = page_of(window.session.study, press_alone(), today=date(2026, 1, 2))
    (drawing,) = page.drawings
    assert "what is left of conductance (uS/cm)" in drawing.svg
    assert any("Slopes held" in block.title for block in page.blocks)


def test_the_command_holds_columns_and_refuses_those_that_are_tied(tmp_path, capsys):
    path = tmp_path / "a.csv"
    path.write_text(
        'x,y,z,"g, h"\n' + "".join(f"{i},{2 * i + i % 3},{(i * 7) % 5},{'ab'[i % 2]}\n" for i in range(20))
    )
    call = ["analyse", str(path), "--x", "x", "--y", "y", "--format", "json"]
    assert parser.run([*call, "--with", "z,y"], lambda files: 9) == 2
    assert "--with takes further columns, beside x and y" in capsys.readouterr().err
    assert parser.run([*call, "--with", "none"], lambda files: 9) == 2
    assert "none" in capsys.readouterr().err
    assert parser.run([*call, "--with", "g, h", "--readings"], lambda files: 9) == 0
    told = json.loads(capsys.readouterr().out)
    assert [(one["column"], one["level"], one["reference"]) for one in told["with"]["terms"]] == [
        ("g, h", "b", "a")
    ]
    assert "held" in {one["kind"] for one in told["readings"]}
    assert parser.run([*call, "--with", "z"], lambda files: 9) == 0
    section = json.loads(capsys.readouterr().out)["with"]
    assert set(section) == {"n", "lost", "errors", "alone", "held", "terms", "along", "forecasts", "partial_r", "r2",
                            "partial_t", "partial_p", "partial_ci", "partial_df", "r2_alone", "unseen",
                            "checks", "doubts"}  # fmt: skip
    path.write_text("x,y,z\n" + "".join(f"{i},{2 * i + i % 3},4\n" for i in range(20)))
    assert parser.run([*call, "--with", "z"], lambda files: 9) == 0
    none = json.loads(capsys.readouterr().out)["with"]
    assert none["held"]["slope"] is None
    assert "has one value" in none["why"]
    assert set(section) - {"lost", "errors"} <= set(none)


def test_the_slope_may_differ_along_what_is_held(window, tmp_path):
    tick(window, "rock")
    along = named(window, "The slope differs along", QComboBox)
    assert along.currentText() == "one slope for all"
    choose(along, "differs along rock")
    told = " ".join(map(str, window.step("line").reading().sentences))
    assert "That the slope of calcium differs along rock is not shown" in told
    click(named(window, "Draw slope along", QPushButton))
    stage = window.step("line")
    picture = stage.held_page.along
    assert picture.isVisible()
    assert not stage.held_page.left.isVisible()
    shown = [one.toPlainText() for one in picture.labels if one.isVisible()]
    assert shown == ["rock shale", "rock sandstone", "rock limestone"]
    slopes = [one.slope.slope for one in window.session.findings.along_line.along.places]
    for curve, slope, words in zip(picture.lines, slopes, picture.labels, strict=False):
        x, y = curve.getData()
        assert (y[1] - y[0]) / (x[1] - x[0]) == pytest.approx(slope)
        middle = words.mapToView(
            words.boundingRect().center()
        )  # the words lie upon their own line, in its colour
        assert middle.y() == pytest.approx(np.interp(middle.x(), x, y), abs=0.02 * np.ptp(y))
        assert words.border.color() == curve.opts["pen"].color()
    window.session.mark_rows(frozenset({3}))
    assert picture.mask().sum() == 1
    save_study(window.session.study, tmp_path / "s.tether")
    assert open_study(tmp_path / "s.tether").tether("k4").held.along == window.session.tether.held.columns[0]
    window.session.undo()
    assert along.currentText() == "one slope for all"
    assert not any(one.isVisible() for one in picture.labels)


def test_the_command_lets_the_slope_differ_along_a_held_column(tmp_path, capsys):
    draw = np.random.default_rng(3)
    x, z = draw.normal(size=(2, 40))
    file = tmp_path / "d.csv"
    y = x + x * z + 0.1 * draw.normal(size=40)
    lines = ["x,y,z", *(f"{a},{b},{c}" for a, b, c in zip(x, y, z, strict=True))]
    file.write_text("\n".join(lines), encoding="utf-8")
    call = ["analyse", str(file), "--x", "x", "--y", "y", "--with", "z", "--format", "json"]
    assert parser.run([*call, "--along", "z", "--readings"], lambda files: 77) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["with"]["along"]["difference"]["slope"] == pytest.approx(1.0, abs=0.1)
    assert [one["place"] for one in told["with"]["along"]["places"]] == pytest.approx(
        np.quantile(z, (0.25, 0.5, 0.75))
    )
    claim = next(one for one in told["readings"] if one["kind"] == "slope_along")
    assert claim["facts"]["verdict"] == "differs"
    assert parser.run(call, lambda files: 77) == 0
    assert json.loads(capsys.readouterr().out)["with"]["along"] is None
    assert parser.run([*call[:-4], "--along", "x"], lambda files: 77) == 2
    assert "has to be held too: name it in --with" in capsys.readouterr().err


def test_forecasts_are_made_where_the_fields_say(window):
    tick(window, "rock")
    click(named(window, "Draw forecasts", QPushButton))
    page = window.step("line").held_page
    assert page.ahead.isVisible()
    table = named(window, "Forecasts with others held", QTableWidget)
    assert table.rowCount() == 3
    field = named(window, "Forecast at calcium", QLineEdit)
    field.setText("50")
    field.editingFinished.emit()
    assert (table.rowCount(), table.item(0, 0).text()) == (1, "50")
    at_shale = table.item(0, 1).text()
    choose(named(window, "Forecast at rock", QComboBox), "limestone")
    found = window.session.findings.held_forecast
    assert dict(found.at) == {"rock": "limestone"}
    assert table.item(0, 1).text() != at_shale
    assert float(table.item(0, 1).text()) == pytest.approx(found.forecasts[0].fitted, rel=0.01)
    told = " ".join(map(str, window.step("line").reading().sentences))
    assert "At calcium 50 mg/L with rock limestone, conductance is forecast as" in told
    field.setText("much")
    field.editingFinished.emit()
    assert read(window, "forecast with others held") == "“much” is no number: the forecast stays."
    window.session.undo()
    window.session.undo()
    assert table.rowCount() == 3
    field.setText("5000")
    field.editingFinished.emit()
    assert table.item(0, 4).text() == "beyond"
    assert "That lies beyond what was measured." in " ".join(
        map(str, window.step("line").reading().sentences)
    )


def test_what_is_left_is_framed_anew_when_more_is_held(window):
    window.session.show_tether("k1")
    picture = window.step("line").held_page.left

    def room():
        (left, right), (low, high) = picture.main.viewRange()
        (x0, x1), (y0, y1) = picture.extent()
        return [
            (x0 - left) / (x1 - x0),
            (right - x1) / (x1 - x0),
            (y0 - low) / (y1 - y0),
            (high - y1) / (y1 - y0),
        ]

    tick(window, "water temperature (°C)")
    window.session.settle()
    assert room() == pytest.approx([0.05] * 4)
    tick(window, "stage (m)")
    window.session.settle()
    assert room() == pytest.approx([0.05] * 4)
