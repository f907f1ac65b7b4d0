"""Pixels into data units, on straight, turned and logarithmic axes."""

import math

import pytest

from bright_tether.core.trace import AxisMarks, Calibration

X = AxisMarks(first=(60, 340), second=(460, 340), low=0, high=40)
Y = AxisMarks(first=(60, 340), second=(60, 40), low=0, high=80)


def test_straight_axes():
    found = Calibration(x=X, y=Y)
    assert found.read((160, 190)) == pytest.approx((10, 40))
    assert found.pixel_error((160, 190)) == pytest.approx((0.1, 80 / 300))


def test_turned_and_shifted_axes():
    turn = math.radians(7)

    def turned(x, y):
        return 30 + x * math.cos(turn) - y * math.sin(turn), 20 + x * math.sin(turn) + y * math.cos(turn)

    x = AxisMarks(first=turned(60, 340), second=turned(460, 340), low=0, high=40)
    y = AxisMarks(first=turned(90, 340), second=turned(90, 40), low=0, high=80)
    assert Calibration(x=x, y=y).read(turned(160, 190)) == pytest.approx((10, 40))


def test_logarithmic_axis():
    y = AxisMarks(first=(60, 340), second=(60, 40), low=1, high=1000, log=True)
    found = Calibration(x=X, y=y)
    assert found.read((60, 240))[1] == pytest.approx(10)
    assert found.pixel_error((60, 140))[1] > found.pixel_error((60, 240))[1]


FLAT = {"low": 0, "high": 1}
UNUSABLE = {
    "one place": AxisMarks(first=(0, 0), second=(0, 0), **FLAT),
    "one value": AxisMarks(first=(0, 0), second=(9, 0), low=2, high=2),
    "zero on a log axis": AxisMarks(first=(0, 0), second=(9, 0), log=True, **FLAT),
    "along the other axis": AxisMarks(first=(60, 340), second=(60, 40), **FLAT),
}


@pytest.mark.parametrize("name", UNUSABLE)
def test_axes_that_cannot_be_used(name):
    assert not Calibration(x=UNUSABLE[name], y=Y).usable
