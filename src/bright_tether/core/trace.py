"""Pixels of a printed plot into data units."""

from __future__ import annotations

import math

import msgspec

Spot = tuple[float, float]


class AxisMarks(msgspec.Struct, frozen=True, kw_only=True):
    """Two known points of an axis: where they stand in pixels, and what they say; log for powers."""

    first: Spot
    second: Spot
    low: float
    high: float
    log: bool = False

    @property
    def usable(self) -> bool:
        """Whether the points are apart and their values differ (and are positive on a log axis)."""
        apart = math.dist(self.first, self.second) >= 1
        return apart and self.low != self.high and not (self.log and min(self.low, self.high) <= 0)


class Calibration(msgspec.Struct, frozen=True, kw_only=True):
    """Both axes of a printed plot; they may be turned or skewed in the picture.

    A pixel is written as a walk along both axes, p = p₀ + a·u + b·v; a gives x and b gives y.
    """

    x: AxisMarks
    y: AxisMarks

    @property
    def usable(self) -> bool:
        """Whether both axes are set and do not lie along each other."""
        return self.x.usable and self.y.usable and abs(self._turn()) > 1e-6

    def read(self, spot: Spot) -> tuple[float, float]:
        """The data values at a pixel."""
        return self._along(spot, self.x, self.y), self._along(spot, self.y, self.x)

    def pixel_error(self, spot: Spot) -> tuple[float, float]:
        """By how much x and y change for one pixel there, the larger of both directions."""
        here = self.read(spot)
        moved = [self.read((spot[0] + dx, spot[1] + dy)) for dx, dy in ((1, 0), (0, 1))]
        return max(abs(m[0] - here[0]) for m in moved), max(abs(m[1] - here[1]) for m in moved)

    def _turn(self) -> float:
        u, v = _direction(self.x), _direction(self.y)
        return u[0] * v[1] - u[1] * v[0]

    def _along(self, spot: Spot, axis: AxisMarks, other: AxisMarks) -> float:
        u, v = _direction(axis), _direction(other)
        away = (spot[0] - axis.first[0], spot[1] - axis.first[1])
        length = math.dist(axis.first, axis.second)
        share = (away[0] * v[1] - away[1] * v[0]) / (u[0] * v[1] - u[1] * v[0]) / length
        if not axis.log:
            return axis.low + share * (axis.high - axis.low)
        return 10 ** (math.log10(axis.low) + share * (math.log10(axis.high) - math.log10(axis.low)))


def _direction(axis: AxisMarks) -> Spot:
    length = math.dist(axis.first, axis.second) or 1.0
    return (axis.second[0] - axis.first[0]) / length, (axis.second[1] - axis.first[1]) / length
