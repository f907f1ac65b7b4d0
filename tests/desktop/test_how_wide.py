"""Intervals for one case that follow the spread, and a smooth beside the line: chosen, read, dragged, taken back."""

import msgspec
import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QPushButton, QTableWidget

from account.test_page import TODAY
from bright_tether.account.composing import page_of
from bright_tether.account.markdown import markdown_file
from bright_tether.pictures.press import press_alone
from bright_tether.study.package import open_study, save_study
from bright_tether.study.pins import Drawing, Pin
from hand import choose, click, drag, named, press, read, spot, write


@pytest.fixture
def window(open_window):
    """The demo in Forecast, with what is rarely changed open."""
    window = open_window("--demo")
    window.session.show_step("forecast")
    window.step("forecast").entries.open()
    window.session.settle()
    return window


def enter(window, name, text):
    field = named(window, name, QLineEdit)
    field.setFocus()
    field.selectAll()
    press(field, Qt.Key.Key_Delete)
    write(field, text)
    press(field, Qt.Key.Key_Return)
    window.session.settle()


def said(window):
    return " ".join(str(one) for one in window.step("forecast").reading().sentences)


def looked_at(window, qtbot):
    window.step("forecast").show_view("widths")
    part = window.step("forecast").ways
    qtbot.waitUntil(lambda: part.outcome is not None and not part.run.work.busy, timeout=60_000)
    window.session.settle()
    return part


def table_of(window):
    table = named(window, "Forecasts", QTableWidget)
    heads = [table.horizontalHeaderItem(at).text() for at in range(table.columnCount())]
    return dict(zip(heads, (table.item(0, at).text() for at in range(len(heads))), strict=True))


def test_ranks_stand_beside_the_plain_interval_and_are_in_force_everywhere(window):
    plain = table_of(window)["one new case"]
    choose(named(window, "Interval for one case by"), "ranks of residuals")
    window.session.settle()
    told = table_of(window)
    assert told["by the spread"] == plain
    low, high = (float(one) for one in told["one new case by ranks"].split(" … "))
    assert f"between {low} and {high} mg/L (95 %), by the ranks of residuals" in said(window)
    assert "Of new cases drawn as the 64 rows were, at least 95 % lie inside" in said(window)
    picture = window.step("forecast").picture
    assert picture.edges["spread"][0].getData()[0].size == 121
    width = picture._told.pi[:, 1] - picture._told.pi[:, 0]
    assert width[-1] > 1.5 * width[0]  # it follows the spread
    findings = window.session.findings
    (x,) = findings.forecast_x
    assert findings.expected[0].pi == pytest.approx((low, high), abs=0.06)
    for y, words in ((high + 1, "outside the 95 % interval"), (high - 1, "inside the 95 % interval")):
        enter(window, "An actual case: x y", f"{x} {y}")
        assert words in read(window, "actual against expected")
        assert "of 65, the rows and this case," in read(window, "actual against expected")
    enter(window, "Which x gives y", f"{high}")
    assert findings.backwards(high)[0].ci[0] == pytest.approx(x, rel=1e-3)
    window.session.undo()
    window.session.undo()
    assert table_of(window)["one new case"] == plain


def test_the_mean_of_several_has_no_ranks_and_says_so(window):
    window.step("forecast")._put("x", width="ranks", mean_of=3)
    window.session.settle()
    assert "Nothing is said of the mean of 3 new cases: ranks tell of one case" in said(window)
    enter(window, "An actual case: x y", "100 120")
    assert "inside the 95 % interval" in read(window, "actual against expected")  # one case has them


def test_every_way_is_shown_at_once_looked_at_beside_and_put_in_force(window, qtbot):
    window.step("forecast").show_view("widths")
    part = window.step("forecast").ways
    assert part.outcome is None
    assert part.picture.edges["ranks"][0].getData()[0].size == 81  # the intervals first, what they hold after
    looked_at(window, qtbot)
    headline = str(window.step("forecast").reading().headline)
    assert headline.startswith(
        "The spread follows the fitted sediment (p < 0.001): 95 % intervals by one spread"
    )
    assert "too narrow at high turbidity and too wide at low and middle turbidity" in headline
    assert "One spread everywhere: of the rows left out it holds 21 of 21, 20 of 22 and 17 of 21" in said(
        window
    )
    assert part.table.rowCount() == 4
    click(named(window, "Take ranks of residuals", QPushButton))
    window.session.settle()
    assert window.session.tether.forecast.width == "ranks"
    assert part.buttons["ranks"].isChecked()
    assert "In force for every forecast: ranks of residuals." in said(window)
    click(named(window, "Take a power of x", QPushButton))
    window.session.settle()
    tether = window.session.tether
    assert (tether.line.weight_pattern, tether.forecast.width) == ("power-x", "spread")
    assert part.outcome is not None  # the ways rest on the plain line, which is the same
    click(named(window, "Take one spread everywhere", QPushButton))
    window.session.settle()
    assert window.session.tether.line.weight_pattern is None
    for _ in range(3):
        window.session.undo()
    assert window.session.tether.forecast.width == "spread"


def test_a_look_that_is_stopped_says_so_and_another_tether_gets_its_own(window, qtbot):
    window.step("forecast").show_view("widths")
    part = window.step("forecast").ways
    qtbot.waitUntil(lambda: part.run.bar.value() > 2, timeout=20_000)
    click(part.run.stop)
    qtbot.waitUntil(lambda: part.outcome is not None, timeout=20_000)
    assert "stopped before its end" in str(window.step("forecast").reading().headline)
    assert "stopped before its end" in read(window, "state of intervals")
    first = part.outcome
    window.session.show_tether("k3")
    window.session.settle()
    assert part.outcome is not first
    looked_at(window, qtbot)
    assert part.outcome.n == window.session.findings.pairs.n == 15


def test_a_smooth_is_drawn_its_bandwidth_dragged_typed_and_undone(window, qtbot):
    window.session.show_tether("k2")
    click(named(window, "Smooth beside it", QPushButton))
    window.session.settle()
    picture, findings = window.step("forecast").picture, window.session.findings
    band = findings.local_band
    assert np.array_equal(picture.smooth.getData()[1], band.mean)
    assert "The line lies outside the band of the smooth for the local mean" in said(window)
    start = spot(picture, picture.reach.value(), float(band.mean.mean()))
    end = spot(picture, picture._centre + band.bandwidth / 2, float(band.mean.mean()))
    drag(picture, start, end)
    window.session.settle()
    assert window.session.tether.forecast.bandwidth == pytest.approx(band.bandwidth / 2, rel=0.1)
    assert window.session.findings.local_band.df < band.df
    enter(window, "Bandwidth of the smooth", "wide")
    assert "one number above 0" in read(window, "actual against expected")
    enter(window, "Bandwidth of the smooth", "0.5")
    assert window.session.tether.forecast.bandwidth == 0.5
    enter(window, "Bandwidth of the smooth", "")
    assert window.session.tether.forecast.bandwidth is None
    click(named(window, "Smooth beside it", QPushButton))
    window.session.settle()
    assert not picture.reach.isVisible()
    assert picture.smooth.getData()[0].size == 0


def test_it_survives_saving_and_stands_on_the_page(window, tmp_path):
    window.step("forecast")._put("x", width="ranks", local=True, bandwidth=40.0)
    study = window.session.history.study
    wanted = ("reading", ""), ("figures", ""), ("table", "widths"), ("picture", "widths")
    pins = tuple(
        Pin(id=f"p{at}", tether="k1", part=part, step="forecast", view=view)
        for at, (part, view) in enumerate(wanted)
    )
    save_study(msgspec.structs.replace(study, pins=pins), tmp_path / "s.tether")
    study = open_study(tmp_path / "s.tether")
    kept = study.tether("k1").forecast
    assert (kept.width, kept.local, kept.bandwidth) == ("ranks", True, 40.0)
    page = page_of(study, press_alone(), today=TODAY)
    words = markdown_file(page, study, "figures")
    assert "by the ranks of residuals near that x" in words
    assert "| ranks of residuals | 19 of 21 | 21 of 22 | 21 of 21 |" in words
    assert "Lei et al. 2018" in words
    assert "Gijbels 1996" in words
    drawings = [block for block in page.blocks if isinstance(block, Drawing)]
    assert "ranks of residuals" in drawings[0].svg
