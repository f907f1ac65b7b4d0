"""The step Line in the real window: what is dragged, typed and read."""

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QToolTip

from bright_tether.words import digits as d
from bright_tether.words.readings.decision import hypotheses
from hand import click, drag, move, named, press, read, read_figure, spot, spot_of, write


@pytest.fixture
def window(open_window):
    return open_window("--demo")


def picture(window):
    return named(window, "Line picture")


def test_opens_on_the_demo_at_the_line(window):
    found = window.session.findings
    assert read(window, "headline").startswith("Each extra NTU goes with about 1.4")
    assert read_figure(window, "slope") == d.fixed(found.line.slope, 3)
    assert read_figure(window, "r") == d.coefficient(found.pearson.r, 3)
    assert read(window, "equation").startswith("sediment = ")
    assert read(window, "rows in play") == "64 of 71 rows"
    assert "2 set aside: “probe fouled”" in read(window, "rows out of play")


def test_dragging_over_points_marks_them_everywhere(window):
    plot = picture(window)
    row = window.session.findings.pairs.at[0]
    at = spot_of(plot, int(row))
    drag(plot, at - QPoint(25, 25), at + QPoint(25, 25))
    assert int(row) in window.session.mark
    assert read(window, "rows marked") == f"{len(window.session.mark)} marked"
    assert plot.points._ring.x.size == len(window.session.mark) == plot.below._ring.x.size
    click(named(window, "Show or hide the rows"))
    grid = named(window, "Rows")
    shown = grid.grid.data(grid.grid.index(int(row), 0), Qt.ItemDataRole.BackgroundRole)
    assert shown.name() == window._theme.tokens.tether_soft
    click(named(window, "Clear the mark"))
    assert read(window, "rows marked") == "0 marked"


def test_moving_a_point_moves_every_figure_and_undo_brings_them_back(window):
    plot = picture(window)
    before = {name: read_figure(window, name) for name in ("slope", "intercept", "r", "s, typical residual")}
    line_before, strip_before = plot.bright.yData.copy(), plot.residuals.copy()
    row = int(window.session.findings.pairs.at[5])
    click(named(window, "Move points by dragging"))
    start = spot_of(plot, row)
    drag(plot, start, start - QPoint(0, 160), let_go=False)
    during = {name: read_figure(window, name) for name in before}
    assert all(during[name] != before[name] for name in before)
    assert (plot.bright.yData != line_before).any()
    assert (plot.residuals != strip_before)[~plot.cloud.aside].all()
    assert not window.session.history.done
    from PyQt6.QtTest import QTest

    QTest.mouseRelease(plot.viewport(), Qt.MouseButton.LeftButton, pos=start - QPoint(0, 160))
    QApplication.processEvents()
    assert len(window.session.history.done) == 1
    assert window.session.history.done[0].label == f"Move the point of row {row + 1}"
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert {name: read_figure(window, name) for name in before} == before
    assert (plot.bright.yData == line_before).all()
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert read_figure(window, "slope") != before["slope"]


def test_escape_gives_a_move_up(window):
    plot = picture(window)
    before, row = read_figure(window, "slope"), int(window.session.findings.pairs.at[5])
    window.session.mark_rows(frozenset({row}))
    start = spot_of(plot, row)
    drag(plot, start, start - QPoint(0, 160), let_go=False)
    assert read_figure(window, "slope") != before
    press(plot, Qt.Key.Key_Escape)
    from PyQt6.QtTest import QTest

    QTest.mouseRelease(plot.viewport(), Qt.MouseButton.LeftButton, pos=start - QPoint(0, 160))
    assert read_figure(window, "slope") == before
    assert not window.session.history.done


def test_an_unmarked_point_is_not_moved_by_accident(window):
    plot = picture(window)
    start = spot_of(plot, int(window.session.findings.pairs.at[5]))
    drag(plot, start, start - QPoint(0, 60))
    assert not window.session.history.done


def test_setting_aside_shows_the_effect_before_it_is_done(window):
    plot = picture(window)
    row = int(window.session.findings.pairs.at[5])
    before = read_figure(window, "slope")
    click(plot.viewport(), spot_of(plot, row))
    assert window.session.mark == {row}
    press(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    reason = named(window, "Reason for setting aside", QLineEdit)
    effect = read(window, "effect of setting aside")
    assert effect.startswith(f"slope {before} → ")
    press(reason, Qt.Key.Key_Return)
    assert not window.session.history.done
    write(reason, "bottle cracked")
    press(reason, Qt.Key.Key_Return)
    assert read_figure(window, "slope") == effect.split("→ ")[1].split(" ·")[0]
    assert read(window, "rows in play") == "63 of 71 rows"
    assert "“bottle cracked”" in read(window, "rows out of play")
    assert plot.cloud.aside.sum() == 3
    window.session.mark_rows(frozenset({row}))
    click(named(window, "Bring back"))
    assert read(window, "rows in play") == "64 of 71 rows"


def test_ground_rules_change_in_place_and_back(window):
    click(named(window, "Ground rules"))
    alpha = named(window, "Significance level α", QLineEdit)
    before = read(window, "sentences")
    alpha.selectAll()
    write(alpha, "0.01")
    assert "99 % confidence" in read(window, "sentences")
    assert "α = 0.01" in read(window, "sentences")
    assert named(window, "Interval level, %", QLineEdit).text() == "99"
    click(named(window, "Alternative: greater"))
    click(named(window, "The test that decides: slope"))
    decision = window.session.findings.decision
    assert hypotheses(decision.test, decision.alternative, decision.null)[1] == "slope > 0"
    assert "α 0.01 · 99 % · > · 3 digits" in window.head.rules.text()
    alpha.selectAll()
    write(alpha, "7")
    assert "between 0 and 1" in read(window, "what the rules say")
    assert window.session.findings.rules.alpha == 0.01
    click(named(window, "Significance level α: back to default"))
    click(named(window, "Alternative: back to default"))
    click(named(window, "The test that decides: back to default"))
    window.head.rules.panel.close()
    assert read(window, "sentences") == before


def test_the_working_holds_the_same_figures(window):
    press(window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    slope = named(window, "working: slope").text()
    assert float(slope.replace("\u202f", "")) == pytest.approx(window.session.findings.line.slope, rel=1e-6)
    assert named(window, "working: critical value").isVisible()
    press(window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)


def test_every_action_is_found_by_its_words(window):
    press(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    field = named(window, "Find an action", QLineEdit)
    write(field, "swap")
    press(field, Qt.Key.Key_Return)
    assert read(window, "equation").startswith("turbidity = ")
    assert read(window, "headline").startswith("Each extra mg/L goes with")
    press(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    write(named(window, "Find an action", QLineEdit), "set aside")
    assert "No action has these words" in " ".join(
        label.text() for label in window.finder.findChildren(type(window.finder._none)) if label.isVisible()
    )
    window.finder.close()


def test_points_are_reached_and_marked_by_keyboard(window):
    plot = picture(window)
    plot.setFocus()
    press(plot, Qt.Key.Key_Right)
    first = plot.accessibleDescription()
    press(plot, Qt.Key.Key_Right)
    assert first.startswith("row ")
    assert plot.accessibleDescription() != first
    press(plot, Qt.Key.Key_Space)
    assert len(window.session.mark) == 1


def test_hover_names_the_row(window):
    plot = picture(window)
    row = int(window.session.findings.pairs.at[5])
    move(plot, spot_of(plot, row) + QPoint(1, 1))
    move(plot, spot_of(plot, row))
    assert QToolTip.text().startswith(f"row {row + 1}, ")


def test_another_tether_takes_the_stage(window):
    click(named(window, "Tether stage ⟶ discharge"))
    assert read(window, "equation").startswith("discharge = ")
    assert read(window, "slope unit") == "m3/s per m"
    press(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    assert read(window, "headline") == "stage explains, discharge responds."


def test_picture_follows_the_theme(window):
    from bright_tether.theme.tokens import DARK, LIGHT

    window._theme.take(DARK)
    assert picture(window).bright.opts["pen"].color().name() == DARK.tether
    assert picture(window).backgroundBrush().color().name() == DARK.card
    window._theme.take(LIGHT)


def test_a_mark_outside_the_plot_is_no_mark(window):
    plot = picture(window)
    drag(plot, spot(plot, 20, 350), spot(plot, 60, 300))
    assert not window.session.mark
