"""The frame of every plot: axis numbers, ranges, and where points are taken."""

import numpy as np
import pytest

from bright_tether.pictures.frame import Axis, with_room


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
    label = window.steps["Gather"].picture.main.getAxis("bottom").labelText
    assert label == "&lt;b&gt;x&lt;/b&gt; &amp; y"
    window.session.show_step("Line")
    assert window.steps["Line"].picture.strip.getAxis("bottom").labelText == label
    assert window.steps["Gather"].slots["x"]._name.text() == "<b>x</b> & y"


def test_points_keep_to_their_groups_and_looks(open_window):
    window = open_window("--demo")
    picture = window.steps["Line"].picture
    cloud, points = picture.cloud, picture.points
    shown = np.concatenate([look.x for look in points._groups])
    hollow = np.concatenate([look.x for look in points._hollow])
    assert np.array_equal(np.sort(shown), np.sort(cloud.x[~cloud.aside]))
    assert np.array_equal(np.sort(hollow), np.sort(cloud.x[cloud.aside]))
    assert [look.x.size for look in points._groups[:2]] == list(cloud.counts())
