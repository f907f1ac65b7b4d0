"""The frame of every plot: axis numbers, ranges, and where points are taken."""

import numpy as np
import pytest
from PyQt6.QtCore import QRect, QSize

from bright_tether.pictures.frame import Axis, with_room
from bright_tether.pictures.press import as_svg
from bright_tether.study import cell_changes, changes


@pytest.mark.parametrize(
    ("values", "spacing", "shown"),
    [
        ([0, 50, 100], 50, ["0", "50", "100"]),
        ([-0.5, 0, 0.5], 0.5, ["−0.5", "0.0", "0.5"]),
        ([0, 0.002], 0.002, ["0.000", "0.002"]),
        ([10000, 20000], 10000, ["10\u202f000", "20\u202f000"]),
    ],
)
def test_axis_numbers_have_the_decimals_their_spacing_needs(qtbot, values, spacing, shown):
    assert Axis("bottom").tickStrings(values, 1.0, spacing) == shown


def test_ranges_leave_room_and_a_single_value_gets_some():
    assert with_room(0, 100) == (-5, 105)
    low, high = with_room(7, 7)
    assert low < 7 < high
    assert with_room(0, 0)[0] < 0


def test_axis_names_are_never_read_as_markup(open_window, csv_file):
    window = open_window(csv_file("<b>x</b> & y,z\n1,2\n2,3\n3,5\n"))
    label = window.steps["gather"].picture.main.getAxis("bottom").labelText
    assert label == "&lt;b&gt;x&lt;/b&gt; &amp; y"
    window.session.show_step("line")
    assert window.steps["line"].picture.strip.getAxis("bottom").labelText == label
    assert window.steps["gather"].slots["x"]._name.text() == "<b>x</b> & y"


def test_points_keep_to_their_groups_and_looks(open_window):
    window = open_window("--demo")
    picture = window.steps["line"].picture
    cloud, points = picture.cloud, picture.points
    shown = np.concatenate([look.x for look in points._groups])
    hollow = np.concatenate([look.x for look in points._hollow])
    assert np.array_equal(np.sort(shown), np.sort(cloud.x[~cloud.aside]))
    assert np.array_equal(np.sort(hollow), np.sort(cloud.x[cloud.aside]))
    assert [look.x.size for look in points._groups[:2]] == list(cloud.counts())


def test_axes_are_painted_anew_where_they_change_and_only_there(open_window, monkeypatch):
    window = open_window("--demo")
    picture = window.steps["line"].picture
    picture.grab()
    painted = []
    plain = Axis.paint

    def paint(axis, *more):
        painted.append(axis)
        plain(axis, *more)

    monkeypatch.setattr(Axis, "paint", paint)
    before = picture.grab().toImage()
    assert not painted
    picture.main.setXRange(-40, 500)
    after = picture.grab().toImage()
    assert picture.main.getAxis("bottom") in painted
    rows = range(before.height() - 60, before.height())  # the numbers below
    assert any(before.pixel(x, y) != after.pixel(x, y) for y in rows for x in range(before.width()))


def test_a_page_gets_the_numbers_of_axes_as_words_and_the_screen_keeps_its_pixels(open_window):
    picture = open_window("--demo").steps["line"].picture
    picture.grab()
    svg = as_svg([(picture, QRect(0, 0, 600, 400))], QSize(600, 400))
    assert "<image" not in svg
    assert ">250<" in svg.replace("\n", "")
    axis = picture.main.getAxis("left")
    assert axis.cacheMode() == axis.CacheMode.DeviceCoordinateCache


def test_rows_set_aside_stand_hollow_among_many_points(open_window, csv_file, qtbot):
    draw = np.random.default_rng(2)
    x = draw.normal(size=21_000)
    y = 2 * x + draw.normal(size=x.size)
    lines = "\n".join(f"{a:.4f},{b:.4f}" for a, b in zip(x, y, strict=True))
    window = open_window(csv_file(f"x,y\n{lines}\n"))
    session = window.session
    qtbot.waitUntil(lambda: not session.busy and session.table.rows > 0)
    session.show_step("line")
    session.mark_rows(frozenset(range(5, 60)))
    session.do(changes.set_aside(session.study, session.tether, set(range(5, 9)), "ice"))
    qtbot.waitUntil(lambda: not session.busy)
    picture = window.step("line").picture
    assert int(picture.cloud.aside.sum()) == 4
    assert picture.points._hollow[0].x.size == 4
    assert "set aside: ice" in picture.row_in_words(5)


def test_a_picture_without_data_is_drawn_once_and_keeps_its_range(open_window):
    window = open_window()
    window.session.show_step("strength")
    view = window.step("look").picture.main.getViewBox()
    assert view.state["autoRange"] == [False, False]
    axis = window.step("look").picture.main.getAxis("bottom")
    window.session.show_step("look")
    assert not axis.style["showValues"]
    window.session.do(cell_changes.type_block(window.session.study, "t1", 0, 0, [["1", "2"], ["2", "5"]]))
    assert axis.style["showValues"]


def test_numbers_that_no_picture_can_show_are_said(open_window, csv_file):
    from hand import read

    window = open_window(csv_file("a,b\n1,2\n2,3\n1e308,4\n4,1\n5,7\n"))
    for step in ("look", "strength", "line", "doubts", "compare", "forecast", "rehearse"):
        window.session.show_step(step)
        assert "which no picture can show" in read(window, "sentences"), step


def test_a_column_wider_than_double_precision_is_said_and_not_drawn(open_window, csv_file):
    from hand import read

    window = open_window(csv_file("a,b\n1,-1.7e308\n2,1.7e308\n3,4\n4,1\n5,7\n"))
    window.session.show_step("look")
    window.step("look").look_at("c2")
    assert "which no picture can show" in read(window, "five numbers")


def test_a_comparison_without_any_group_draws_the_points(open_window, csv_file):
    from bright_tether.study import changes, column_changes

    window = open_window(csv_file("a,b,g\n1,2,\n2,3,\n3,5,\n4,4,\n"))
    session = window.session
    session.do(column_changes.change_kind(session.study, session.table.id, "c3", "category"))
    session.do(changes.change_choice(session.study, session.tether, "compare", "by g", group="c3"))
    session.show_step("compare")
    assert window.step("compare").picture.cloud.x.size == 4
