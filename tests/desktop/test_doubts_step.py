"""The step Doubts in the real window: board, cards, remedies, lineup, and doubts that travel."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton

from bright_tether.core.doubts.verdicts import Verdict
from bright_tether.study.changes import set_aside
from hand import click, named, press, read, spot_of, write


@pytest.fixture
def window(open_window):
    made = open_window("--demo")
    press(made, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
    return made


def verdicts(window):
    return {name: card.badge.verdict for name, card in window.step("doubts").cards.items()}


def test_the_board_finds_the_trap_of_each_demo_tether(window):
    told = verdicts(window)
    assert told["spread"] is Verdict.CLEAR
    assert {verdict for name, verdict in told.items() if name != "spread"} == {Verdict.NO}
    assert read(window, "headline") == "1 of six doubts shows a clear sign."
    window.session.show_tether("k2")
    assert verdicts(window)["bend"] is Verdict.CLEAR
    window.session.show_tether("k6")
    assert verdicts(window)["order"] is Verdict.CLEAR
    window.session.show_tether("k5")
    assert Verdict.FEW in verdicts(window).values()
    assert "too few to tell" in read(window, "sentences")


def test_a_card_opens_with_its_tests_and_what_could_be_seen(window):
    click(named(window, "Do the residuals grow?"))
    assert read(window, "question") == "Do the residuals grow?"
    assert read(window, "headline") == "Clear sign that the residuals grow with turbidity."
    found = window.session.findings
    assert read(window, "Breusch–Pagan") == f"{found.checks.breusch_pagan.lm:.1f}"
    assert "times in 100" in read(window, "what could be seen")
    plot = named(window, "Doubt picture")
    assert (plot.cloud.y == abs(found.rows.residual)).all()
    click(named(window, "Show residual on x", QPushButton))
    click(named(window, "Standardised", QPushButton))
    assert (plot.cloud.y == found.rows.standardised).all()
    row = int(found.table.row_ids[found.pairs.at[4]])
    click(plot.viewport(), spot_of(plot, row))
    assert window.session.mark == frozenset({row})
    click(named(window, "All six", QPushButton))
    assert named(window, "Is there a bend?").isVisible()


@pytest.mark.parametrize("name", ["bend", "spread", "order", "shape", "far-out", "pull"])
def test_every_picture_of_every_card_can_be_shown(window, name):
    step = window.step("doubts")
    step.open(name)
    from bright_tether.live.sketches import MODES
    from bright_tether.words.axes import MODE_TITLES

    for mode in MODES[name]:
        click(named(window, f"Show {MODE_TITLES[mode].lower()}", QPushButton))
        assert step.full.sketch.x.size > 0


def test_a_remedy_is_previewed_taken_and_taken_back(window):
    window.session.show_tether("k2")
    window.step("doubts").open("bend")
    click(named(window, "Try: Log of both", QPushButton))
    said = read(window, "what the remedy changes")
    assert "lifts or answers: is there a bend" in said
    assert said.startswith("Slope 21.06 (19.59 … 22.54) → 1.952")
    before = window.session.study
    click(named(window, "Take: Log of both", QPushButton))
    assert window.session.findings.x_column.name == "log10 stage"
    assert window.session.findings.doubt("bend").verdict is Verdict.NO
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.study.tether("k2") == before.tether("k2")
    assert len(window.session.table.columns) == len(before.table("t2").columns)


def test_an_unanswered_doubt_travels_until_it_is_answered(window):
    knot = named(window, "Step Doubts")
    assert knot.badge == 1
    press(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert "not answered: constant spread" in read(window, "beware")
    press(window, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
    window.step("doubts").open("spread")
    click(named(window, "Try: Weights 1/turbidity²", QPushButton))
    click(named(window, "Take: Weights 1/turbidity²", QPushButton))
    assert knot.badge == 0
    press(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    assert "not answered" not in window.panel._beware_text.text()
    assert "Rows are weighted by 1/turbidity²" in read(window, "sentences")


def test_a_doubt_can_be_left_to_stand_with_a_reason(window):
    window.step("doubts").open("spread")
    field = named(window, "Reason to let the doubt stand", QLineEdit)
    write(field, "known from the probe")
    press(field, Qt.Key.Key_Return)
    assert window.session.tether.answers[0].reason == "known from the probe"
    assert "answered by the reason “known from the probe”" in read(window, "sentences")
    assert named(window, "Step Doubts").badge == 0


def test_the_lineup_keeps_what_was_picked(window):
    click(named(window, "Try the lineup", QPushButton))
    step = window.step("doubts")
    assert len(step.lineup.cells) == 20
    real = step.lineup.real
    click(named(window, f"Picture {real + 1}", QPushButton))
    assert f"Picture {real + 1} is yours" in read(window, "lineup")
    kept = window.session.tether.lineups[0]
    assert (kept.picked, kept.real, kept.of) == (real, real, 20)
    click(named(window, f"Picture {(real + 3) % 20 + 1}", QPushButton))
    assert len(window.session.tether.lineups) == 1
    click(named(window, "Back to the board", QPushButton))
    assert "picked in 1 of 1 try" in read(window, "beware")


def test_a_lineup_is_taken_off_the_table_with_its_tether(window):
    step, session = window.step("doubts"), window.session
    step.try_lineup()
    assert len(step.lineup.cells) == 20
    session.show_tether("k2")
    assert step.lineup.cells == []
    assert named(window, "Try the lineup", QPushButton).isVisible()
    step.try_lineup()
    session.do(set_aside(session.history.study, session.tether, [3], "gauge was dry"))
    assert step.lineup.cells == []
    assert not any(tether.lineups for tether in session.study.tethers)


@pytest.fixture
def long(monkeypatch, window):
    """Rows that are too many to be worked out in place."""
    monkeypatch.setattr("bright_tether.desktop.session.IN_PLACE_ROWS", 10)
    return window


def test_what_could_be_seen_in_many_rows_is_worked_out_beside_the_window(long, qtbot):
    step, session = long.step("doubts"), long.session
    step.open("bend")
    qtbot.waitUntil(lambda: step.extra.run.outcome is not None)
    assert "times in 100" in read(long, "what could be seen")
    step.open("far-out")
    step.open(None)  # let go
    qtbot.waitUntil(lambda: not session.busy and not step.extra.run.work.busy)
    step.open("far-out")
    session.show_tether("k2")
    qtbot.waitUntil(lambda: not session.busy and step.extra.run.outcome is not None)
    assert "40 rows" in step.extra._about.text()


def test_a_lineup_of_many_rows_is_drawn_beside_the_window(long, qtbot):
    step, session = long.step("doubts"), long.session
    step.try_lineup()
    assert step.lineup.said.text() == "The others are drawn…"  # before anything can come
    session.show_tether("k2")
    qtbot.waitUntil(lambda: not session.busy and not step.lineup.run.work.busy)
    assert step.lineup.cells == []
    step.try_lineup()
    qtbot.waitUntil(lambda: len(step.lineup.cells) == 20)
    click(step.lineup.cells[step.lineup.real])
    assert session.tether.lineups[0].real == step.lineup.real


def test_the_working_can_be_re_added(window):
    press(window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    found = window.session.findings
    e = found.rows.residual
    d = float(read(window, "working: d"))
    assert d == pytest.approx(sum((e[1:] - e[:-1]) ** 2) / sum(e**2), rel=1e-6)
    assert float(read(window, "working: skewness").replace("−", "-")) == pytest.approx(
        found.checks.skewness, rel=1e-5
    )


def test_a_perfect_line_has_no_doubts_to_show(open_window, csv_file):
    window = open_window(csv_file("a,b\n" + "".join(f"{i},{2 * i}\n" for i in range(9))))
    window.session.show_step("doubts")
    assert read(window, "headline").startswith("There is nothing to doubt")
    window.step("doubts").open("shape")
    window.step("doubts").try_lineup()
    assert isinstance(named(window, "lineup"), QLabel)


def test_bins_of_the_residuals_by_hand_change_no_verdict(window):
    window.step("doubts").open("shape")
    before = window.session.findings.doubt("shape").verdict
    field = named(window, "Residuals: bin width", QLineEdit)
    write(field, "20")
    press(field, Qt.Key.Key_Return)
    bars = window.step("doubts").full.sketch.bars
    assert bars.width == 20
    assert bars.counts.sum() == 64
    assert window.session.findings.doubt("shape").verdict is before
    assert window.session.tether.view.bins["residual"][1] == 20
    field.selectAll()
    write(field, "no")
    press(field, Qt.Key.Key_Return)
    assert "no width for bins" in read(window, "notice text")
    assert window.step("doubts").full.sketch.bars.width == 20


def test_residuals_stand_as_box_and_dots(window):
    window.step("doubts").open("shape")
    click(named(window, "Show box and dots", QPushButton))
    shown, findings = window.step("doubts").full.sketch, window.session.findings
    assert np.allclose(np.sort(shown.x), np.sort(findings.rows.residual))
    box = shown.curves[0]
    assert [box[0].min(), box[0].max()] == pytest.approx(np.quantile(findings.rows.residual, (0.25, 0.75)))
