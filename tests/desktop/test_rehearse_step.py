"""Rehearse in the real window: samples as they come, luck, broken assumptions, plans."""

import json

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QSpinBox, QTableWidget

from bright_tether.core.resampling.bootstrap import bootstrap
from bright_tether.study import changes
from hand import click, named, press, read, read_figure, write


@pytest.fixture
def rehearse(open_window, qtbot):
    """The demo study with the step Rehearse on the stage, its first run done."""
    window = open_window("--demo")
    window.session.show_step("rehearse")
    click(named(window, "More entries", QPushButton))
    wait_for(window, qtbot)
    return window


def wait_for(window, qtbot):
    step = window.step("rehearse")
    qtbot.waitUntil(lambda: not step.work.busy and step.view in step.outcomes, timeout=20_000)


def enter(field, text):
    """Type into a field in place of what stands there, and leave it."""
    field.setFocus()
    field.selectAll()
    write(field, text)
    press(field, Qt.Key.Key_Return)


def said(window):
    """Every sentence of the reading."""
    return " ".join(label.text() for label in window.panel.findChildren(QLabel) if not label.isHidden())


def pick(window, name, words):
    field = named(window, name, QComboBox)
    field.setCurrentIndex(field.findText(words))
    field.activated.emit(field.currentIndex())


def test_samples_of_the_fitted_line_keep_what_the_formula_promises(rehearse):
    assert "Over 2000 samples the slope came out at 1.4" in read(rehearse, "headline")
    reading = said(rehearse)
    assert "no more than simulation error" in reading
    assert "x kept as measured" in reading
    assert "the same as promised within simulation error" in reading
    assert "it cannot show that it is" in reading
    picture = rehearse.step("rehearse").samples
    assert "2000 samples" in picture.accessibleDescription()
    caught, missed = (curve.getData()[0].size // 2 for curve in (picture.caught, picture.missed))
    assert caught + missed == 100
    assert 0 < missed < 15


def test_rows_drawn_again_are_the_commands_bootstrap(rehearse, qtbot, capsys, tmp_path):
    pick(rehearse, "Draw from", "the rows themselves")
    seed = named(rehearse, "Seed of the samples", QSpinBox)
    seed.setValue(7)
    seed.editingFinished.emit()
    wait_for(rehearse, qtbot)
    findings = rehearse.session.findings
    same = bootstrap(findings.plain, 2000, 7, level=0.95)
    low, high = same.slope.bca
    assert read_figure(rehearse, "BCa, 95 %").split(" … ")[0] == f"{low:.5f}"
    assert read_figure(rehearse, "BCa, 95 %").split(" … ")[1].split()[0] == f"{high:.5f}"
    assert "64 of the 64 rows" in said(rehearse)
    path = tmp_path / "pairs.csv"
    rows = zip(findings.pairs.x, findings.pairs.y, strict=True)
    path.write_text("x,y\n" + "".join(f"{float(x)!r},{float(y)!r}\n" for x, y in rows))
    call = [
        "analyse",
        str(path),
        "--x",
        "x",
        "--y",
        "y",
        "--resample",
        "2000",
        "--seed",
        "7",
        "--format",
        "json",
    ]
    from bright_tether.command.parser import run

    assert run(call, lambda files: 1) == 0
    told = json.loads(capsys.readouterr().out)["resampling"]
    assert told["slope"]["bca"] == pytest.approx(same.slope.bca, rel=1e-12)
    assert told["slope"]["se"] == pytest.approx(findings.sampled(findings.samples.outcome).sd, rel=1e-9)


def test_a_stated_truth_is_typed_and_undone(rehearse, qtbot):
    pick(rehearse, "Draw from", "a truth you state")
    wait_for(rehearse, qtbot)
    enter(named(rehearse, "True slope", QLineEdit), "1.2")
    wait_for(rehearse, qtbot)
    assert "+ 1.200 · turbidity" in said(rehearse)
    assert rehearse.session.tether.rehearse.slope == 1.2
    assert "none of the 2000 samples lie as far" in said(rehearse)
    pick(rehearse, "Residuals have", "fanning with x")
    wait_for(rehearse, qtbot)
    assert "less than promised" in said(rehearse)
    pick(rehearse, "Intervals by", "robust (HC3) errors")
    wait_for(rehearse, qtbot)
    assert float(read_figure(rehearse, "caught").split()[0]) > 88
    rehearse.session.go_back_to(0)
    wait_for(rehearse, qtbot)
    assert "1.429 · turbidity" in said(rehearse)


@pytest.mark.parametrize(
    ("field", "typed", "said"),
    [
        ("True sd of the residuals", "0", "must be above 0"),
        ("True number of pairs", "2.5", "whole number"),
        ("True likeness of neighbours", "1", "between −0.99 and 0.99"),
        ("True slope", "steep", "Type a number."),
    ],
)
def test_an_entry_that_cannot_be_is_said_in_place(rehearse, field, typed, said):
    pick(rehearse, "Draw from", "a truth you state")
    before = rehearse.session.tether.rehearse
    enter(named(rehearse, field, QLineEdit), typed)
    assert said in read(rehearse, "rehearse note")
    assert rehearse.session.tether.rehearse == before


def test_samples_are_stepped_through_one_at_a_time(rehearse):
    click(named(rehearse, "Next sample", QPushButton))
    step = rehearse.step("rehearse")
    assert read(rehearse, "sample looked at").startswith("plum: sample 1, 1.4")
    assert step.samples.step_dots.x.size == 64
    made = step.outcomes["samples"]
    slope = np.polyfit(made.samples_x[0], made.samples_y[0], 1)[0]
    assert step.samples.here.value() == pytest.approx(slope)
    assert f"{slope:.5g}" in read(rehearse, "sample looked at")
    click(named(rehearse, "Previous sample", QPushButton))
    assert "your line" in read(rehearse, "sample looked at")


def test_a_long_run_grows_stops_and_keeps_what_it_has(rehearse, qtbot):
    step = rehearse.step("rehearse")
    many = named(rehearse, "Samples", QSpinBox)
    many.setValue(1_000_000)
    many.editingFinished.emit()
    assert not step.work.busy, "so many samples are drawn only when asked for"
    click(named(rehearse, "Draw samples", QPushButton))
    qtbot.waitUntil(lambda: step.work.busy and step._latest is not None and step._latest.done > 1000)
    click(named(rehearse, "Draw samples", QPushButton))
    wait_for(rehearse, qtbot)
    done = step.outcomes["samples"].done
    assert 1000 < done < 1_000_000
    assert f"Over {done} samples" in read(rehearse, "headline").replace("\u202f", "")
    assert step.go.text() == "Draw"


def test_luck_alone_says_what_r_it_reaches(rehearse, qtbot):
    click(named(rehearse, "Show luck alone", QPushButton))
    wait_for(rehearse, qtbot)
    assert "luck gives |r| ≥ 0.246 in 5 % of samples" in read(rehearse, "headline")
    assert "Not one of them reached the size of your r = +0.979." in said(rehearse)
    assert rehearse.step("rehearse").luck.dots[0].x.size == 64


def numbered(picture):
    """Whether its axes have numbers."""
    return {held["item"].style["showValues"] for one in picture.ci.items if hasattr(one, "axes")
            for held in one.axes.values()}  # fmt: skip


def test_pictures_without_samples_show_nothing_of_those_before(rehearse, qtbot, csv_file, monkeypatch):
    step = rehearse.step("rehearse")
    assert numbered(step.picture) == {True}
    step.show_view("luck")
    wait_for(rehearse, qtbot)
    assert numbered(step.luck) == {True}
    monkeypatch.setattr("bright_tether.desktop.steps.rehearse._AT_ONCE_VALUES", 0)  # as of a long table
    rehearse.session.open_file(csv_file("x,y\n1,1\n2,2\n3,3\n4,6\n5,2\n", "other.csv"))
    rehearse.session.show_step("rehearse")
    qtbot.waitUntil(lambda: not rehearse.session.busy)
    for view, picture in (("luck", step.luck), ("samples", step.picture)):
        step.show_view(view)
        qtbot.waitUntil(lambda: not rehearse.session.busy)
        assert not len(picture.bars.opts["x0"])
        assert numbered(picture) == {False}


def test_broken_assumptions_are_shown_to_break(rehearse, qtbot):
    click(named(rehearse, "Show broken assumptions", QPushButton))
    wait_for(rehearse, qtbot)
    table = named(rehearse, "Broken assumptions", QTableWidget)
    assert table.rowCount() == 5
    shares = [[float(table.item(row, column).text().split()[0]) for column in (3, 4, 5)] for row in range(5)]
    assert 93 < shares[0][0] < 97
    assert shares[1][0] < 85 < shares[1][1]
    assert shares[4][0] < 80
    assert "robust (HC3) errors mend" in said(rehearse)
    assert "promise" not in read(rehearse, "headline")


def test_a_plan_is_made_by_formula_and_tried_out(rehearse, qtbot):
    click(named(rehearse, "Show how many pairs", QPushButton))
    wait_for(rehearse, qtbot)
    assert "pairs are needed for a slope within ± 0.0380 (95 %)" in read(rehearse, "headline")
    pick(rehearse, "Plan for", "power to find an r")
    enter(named(rehearse, "True effect", QLineEdit), "0.3")
    wait_for(rehearse, qtbot)
    assert read_figure(rehearse, "pairs needed") in ("84", "85")
    found, error = (float(part) for part in read_figure(rehearse, "by simulation").split(" % ± "))
    assert abs(found - 80) < 4 * error
    enter(named(rehearse, "Goal", QLineEdit), "2")
    assert "A power lies between" in read(rehearse, "rehearse note")
    pick(rehearse, "Plan for", "one new case, this finely")
    enter(named(rehearse, "Goal", QLineEdit), "10")
    wait_for(rehearse, qtbot)
    assert read(rehearse, "headline").startswith("No number of pairs gives one new sediment")


def test_keys_walk_to_it_and_an_exact_line_has_nothing_to_rehearse(open_window, csv_file, qtbot):
    window = open_window()
    window.session.open_file(csv_file("a,b\n1,2\n2,4\n3,6\n4,8\n"))
    press(window, Qt.Key.Key_8, Qt.KeyboardModifier.AltModifier)
    assert window.session.step == "rehearse"
    assert "Every pair lies on the line" in read(window, "headline")
    for view in ("luck", "assumptions", "pairs"):
        window.step("rehearse").show_view(view)
    assert not window.step("rehearse").work.busy


def test_a_run_stays_with_its_view_when_another_is_shown(rehearse, qtbot):
    step = rehearse.step("rehearse")
    click(named(rehearse, "Show luck alone", QPushButton))
    wait_for(rehearse, qtbot)
    lucky = step.outcomes["luck"]
    click(named(rehearse, "Show samples", QPushButton))
    step.start()
    click(named(rehearse, "Show luck alone", QPushButton))
    qtbot.waitUntil(lambda: not step.work.busy, timeout=20_000)
    assert step.outcomes["luck"] is lucky
    click(named(rehearse, "Show samples", QPushButton))
    wait_for(rehearse, qtbot)
    assert "the slope came out at 1.4" in read(rehearse, "headline")


def test_the_slope_held_over_and_over_beside_the_slope_alone(rehearse, qtbot):
    """Offered while a column is held, drawn anew when another is, and gone with it."""
    session, stage = rehearse.session, rehearse.step("rehearse")
    session.show_tether("k4")
    wait_for(rehearse, qtbot)
    rock = next(one.id for one in session.table.columns if one.short == "rock")
    hold = changes.change_choice(session.study, session.tether, "held", "Hold rock", columns=(rock,))
    session.do(hold)
    wait_for(rehearse, qtbot)
    stage.show_view("held")
    wait_for(rehearse, qtbot)
    assert "the slope with rock held came out at −4.4" in read(rehearse, "headline")
    told = stage.held.accessibleDescription()
    assert told.startswith("2000 samples: slope with rock held −4.4")
    assert "alone 5.8" in told.replace("\u202f", "")
    assert stage.held.aims[0].value() == pytest.approx(-4.452, abs=0.001)
    assert stage.held.main.getAxis("bottom").labelText == "slope with rock held (uS/cm per mg/L)"
    assert stage.held.theory.isVisible()
    assert stage.entries.truth["design"].isHidden()
    pick(rehearse, "Draw from", "the rows themselves")
    wait_for(rehearse, qtbot)
    assert "percentile, 95 %" in [one.name for one in stage.reading().figures]
    assert stage.held.theory.getData()[0].size == 0
    session.undo()
    session.undo()
    wait_for(rehearse, qtbot)
    assert stage.view == "samples"
