"""The step Look in the real window."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton

from bright_tether.theme.tokens import DARK, LIGHT
from hand import click, drag, named, press, read, read_figure, spot_of, write


@pytest.fixture
def window(open_window):
    made = open_window("--demo")
    press(made, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    return made


def picture(window):
    return named(window, "Scatter picture")


def switch(window, words):
    return named(window, f"Picture: {words}", QPushButton)


def limits(window, axis=0):
    return picture(window).main.viewRange()[axis]


def test_the_springs_tell_opposite_stories(window):
    window.session.show_tether("k4")
    found = window.session.findings
    assert "all together it turns round" in read(window, "headline")
    sentences = read(window, "sentences")
    assert "r = +0.944 (p < 0.001); within rock, pooled, r = −0.930" in sentences
    assert "opposite stories" in sentences
    assert read_figure(window, "r, within groups") == "−0.930"
    assert found.within_groups.r == pytest.approx(-0.930, abs=5e-4)
    assert "populations of their own" in read(window, "beware")


def test_a_bend_is_seen_and_a_log_scale_straightens_it(window):
    window.session.show_tether("k2")
    assert read(window, "headline") == "A tight rising band that bends."
    click(switch(window, "log x"))
    click(switch(window, "log y"))
    plot, found = picture(window), window.session.findings
    assert np.allclose(plot.cloud.x, np.log10(found.pairs.x))
    assert plot.axis_name("x") == "stage (m) (log scale)"
    assert np.corrcoef(plot.cloud.x, plot.cloud.y)[0, 1] > found.pearson.r
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert not switch(window, "log y").isChecked()


def test_values_at_or_below_zero_are_counted_on_a_log_scale(open_window, csv_file):
    window = open_window(csv_file("a,b\n-1,2\n0,3\n1,4\n2,5\n10,9\n"))
    window.session.show_step("look")
    click(switch(window, "log x"))
    assert read(window, "picture note") == "2 rows at or below 0 cannot stand on a log scale."
    assert picture(window).cloud.x.tolist() == pytest.approx([0, np.log10(2), 1])


def test_zero_and_typed_limits(window):
    assert limits(window)[0] > 0
    click(switch(window, "zero"))
    assert limits(window)[0] < 0
    click(named(window, "Limits…", QPushButton))
    for name, text in (("x from", "0"), ("x to", "400")):
        field = named(window, name, QLineEdit)
        field.setFocus()
        write(field, text)
        press(field, Qt.Key.Key_Return)
    assert limits(window) == [0, 400]
    title = named(window, "Title", QLineEdit)
    title.setFocus()
    write(title, "Muddy water")
    press(title, Qt.Key.Key_Return)
    assert read(window, "picture title") == "Muddy water"
    field = named(window, "x from", QLineEdit)
    field.selectAll()
    write(field, "500")
    press(field, Qt.Key.Key_Return)
    assert read(window, "limits note") == "The first limit must be below the second."
    assert limits(window) == [0, 400]


def test_pulling_at_an_axis_moves_its_limit_and_can_be_undone(window):
    plot = picture(window)
    before = limits(window)
    axis = plot.main.getAxis("bottom").sceneBoundingRect()
    start = QPoint(int(axis.right()) - 20, int(axis.bottom()) - 28)
    drag(plot, start, start - QPoint(80, 0))
    after = limits(window)
    assert after[1] > before[1] * 1.1
    assert after[0] == pytest.approx(before[0], rel=1e-3)
    assert window.session.tether.view.x == pytest.approx(tuple(after), rel=1e-4)
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.tether.view.x is None
    assert limits(window) == pytest.approx(before)


def test_names_shared_spots_and_parts(window):
    window.session.show_tether("k3")
    plot = picture(window)
    click(switch(window, "names"))
    assert {item.toPlainText() for item in plot._words} >= {"R01", "R15"}
    assert plot.trend.xData.size > 0
    click(switch(window, "trend"))
    assert plot.trend.xData.size == 0
    click(switch(window, "line"))
    assert plot.straight.xData.size == 0
    click(switch(window, "margins"))
    assert not plot.margins["x"].item.isVisible()


def test_neither_explains_the_other_draws_both_lines(window):
    plot = picture(window)
    click(switch(window, "both lines"))
    assert "both lines are drawn" in read(window, "sentences")
    x, y = window.session.findings.pairs.x, window.session.findings.pairs.y
    slope, height = np.polyfit(y, x, 1)
    assert np.allclose(plot.back.xData, height + slope * plot.back.yData)


def test_one_column_with_bins_by_hand(window):
    choice = named(window, "What to look at", QComboBox)
    choice.setFocus()
    choice.setCurrentIndex(choice.findText("turbidity"))
    choice.activated.emit(choice.currentIndex())
    plot = named(window, "Column picture")
    assert read(window, "five numbers").startswith("n = 64   mean 82.6")
    width = named(window, "Bins: width", QLineEdit)
    width.selectAll()
    write(width, "50")
    press(width, Qt.Key.Key_Return)
    assert np.diff(plot.counted.edges) == pytest.approx(50)
    assert plot.counted.counts.sum() == 64
    assert "6 bins of 50 from 0, by hand" in read(window, "bins and fences")
    edge = plot._edges[1]
    at = plot.mapFromScene(plot.top.getViewBox().mapViewToScene(edge.pos())) - QPoint(0, 30)
    end = plot.mapFromScene(plot.top.getViewBox().mapViewToScene(plot._edges[2].pos())) - QPoint(0, 30)
    drag(plot, at, end)
    assert plot.bins.width == pytest.approx(100, rel=0.05)
    assert plot.bins.width == float(f"{plot.bins.width:.2g}") or plot.bins.width % 5 == 0  # readable edges
    kept = window.session.tether.view.bins[window.session.tether.x]
    assert kept == (plot.bins.start, plot.bins.width, plot.bins.number)
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert plot.bins.width == 50
    click(named(window, "Bins by rule", QPushButton))
    assert "by rule" in read(window, "bins and fences")


def test_a_dot_marks_its_row_and_fills_its_bar(window):
    window.step("look").look_at(window.session.tether.x)
    plot = named(window, "Column picture")
    row = int(plot.cloud.row_ids[int(np.argmax(plot.cloud.x))])
    click(plot.viewport(), spot_of(plot, row))
    assert window.session.mark == frozenset({row})
    assert sum(plot.marked_bars.opts["y1"]) == 1


def test_far_out_rows_can_be_marked_from_the_reading(open_window, csv_file):
    rows = "".join(f"{i},{2 * i + (i * 7) % 3}\n" for i in range(12))
    window = open_window(csv_file("a,b\n" + rows + "5,60\n"))
    window.session.show_step("look")
    assert "Far from the straight line lies row 13" in read(window, "sentences")
    click(named(window, "Mark 1 far-out row", QPushButton))
    assert len(window.session.mark) == 1


def test_built_in_strength_is_warned_of(open_window, csv_file):
    rows = "".join(f"{i * i + i},{3 * i + 1 + i % 2}\n" for i in range(10))
    window = open_window(csv_file("a,b\n" + rows))
    window.session.show_step("look")
    assert "both rise at every row" in read(window, "beware")


def test_many_points_are_drawn_as_a_density(open_window, qtbot, monkeypatch):
    from bright_tether.live.cloud import DENSE_ABOVE
    from bright_tether.study.changes import set_aside
    from bright_tether.study.history import History
    from bright_tether.study.study import Study
    from bright_tether.study.tether import Tether
    from bright_tether.tables.column import Column
    from bright_tether.tables.table import Table

    n, draw = DENSE_ABOVE + 10, np.random.default_rng(1)
    x = draw.normal(size=n)
    cells = (x, x + draw.normal(size=n))
    columns = tuple(Column(id=i, name=i, kind="number", cells=c) for i, c in zip("ab", cells, strict=True))
    table = Table(id="t1", name="many", columns=columns, row_ids=np.arange(n))
    study = Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="a", y="b", chosen=True),))
    window = open_window()
    window.session.take_over(History(study), "look")
    qtbot.waitUntil(lambda: not window.session.busy)
    plot = picture(window)
    assert plot.density.isVisible()
    assert plot.density.counts.sum() == pytest.approx(n, rel=1e-3)
    half = plot.cloud.row_ids[plot.cloud.x < 0]
    monkeypatch.setattr("bright_tether.pictures.scatter.DENSE_ABOVE", half.size - 1)
    monkeypatch.setattr("bright_tether.live.cloud.DENSE_ABOVE", half.size - 1)
    window.session.do(set_aside(window.session.history.study, window.session.tether, half, "tried"))
    qtbot.waitUntil(lambda: not window.session.busy)
    assert plot.aside_density.isVisible()
    assert plot.aside_density.counts.sum() == pytest.approx(half.size, rel=1e-3)
    assert plot.density.counts.sum() == pytest.approx(n - half.size, rel=1e-3)
    box = plot.main.getViewBox()
    for at in (17, 4_321):  # one of them far out in the crowd, perhaps: none of all is nearer
        here = QPointF(plot.cloud.x[at], plot.cloud.y[at])
        found = plot._nearest(box, plot.cloud.y, box.mapViewToScene(here))
        away = np.hypot(plot.cloud.x - here.x(), plot.cloud.y - here.y())
        assert away[found] == pytest.approx(away.min(), abs=1e-6)
    plot.main.setXRange(0, 10, padding=0)
    inside = (plot.cloud.x >= 0) & (plot.cloud.x <= 10) & ~plot.cloud.aside
    assert plot.density.counts.sum() == pytest.approx(np.count_nonzero(inside), rel=1e-3)
    window.session.undo()
    qtbot.waitUntil(lambda: not window.session.busy)
    assert not plot.aside_density.isVisible()
    plot.main.setXRange(0, 10, padding=0)
    inside = (plot.cloud.x >= 0) & (plot.cloud.x <= 10)
    assert plot.density.counts.sum() == pytest.approx(np.count_nonzero(inside), rel=1e-3)


def test_no_bar_of_a_margin_hangs_out_beyond_the_axis(window):
    plot = picture(window)
    plot.grab()
    main, up, across = (
        one.vb.sceneBoundingRect() for one in (plot.main, plot.margins["y"].item, plot.margins["x"].item)
    )
    assert up.bottom() == pytest.approx(main.bottom(), abs=1)
    assert up.top() == pytest.approx(main.top(), abs=1)
    assert across.left() == pytest.approx(main.left(), abs=1)
    assert across.right() == pytest.approx(main.right(), abs=1)


def test_a_picture_out_of_sight_takes_the_theme_too(window):
    look = window.step("look")
    look.look_at(window.session.tether.x)
    look.look_at(None)
    for theme in (DARK, LIGHT):
        window._theme.take(theme)
        assert look.alone.backgroundBrush().color().name() == theme.card
        assert look.scatter.backgroundBrush().color().name() == theme.card
