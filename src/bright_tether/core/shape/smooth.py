"""A smooth local trend."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Floats

#: Above this many pairs the trend is drawn through the means of narrow strips.
BINNED_ABOVE = 20_000
_STRIPS = 2_000


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Smooth:
    """The trend at points across x. x, y : (k,), in data units. share : of the pairs in each window."""

    x: Floats
    y: Floats
    share: float


def smooth(pairs: Pairs, *, share: float = 0.6, points: int = 61) -> Smooth:
    """Local straight lines through the nearest pairs, weighted by tricube distance.

    pairs : n ≥ 3.
    Source: Cleveland 1979, one pass (without the robust steps).
    """
    require(pairs, 3)
    return smooth_of(pairs.x, pairs.y, share=share, points=points)


def smooth_of(x: Floats, y: Floats, *, share: float = 0.6, points: int = 61) -> Smooth:
    """The same for two arrays, (n,) each."""
    order = np.argsort(x, kind="stable")
    x, y = x[order], y[order]
    weight = np.ones(x.size)
    if x.size > BINNED_ABOVE:
        x, y, weight = _strips(x, y)
    at = np.unique(np.linspace(x[0], x[-1], points))
    near = min(max(int(np.ceil(share * x.size)), 3), x.size)
    trend = np.array([_local(x, y, weight, float(here), near) for here in at])
    return Smooth(x=at, y=trend, share=share)


def _strips(x: Floats, y: Floats) -> tuple[Floats, Floats, Floats]:
    starts = np.linspace(0, x.size, _STRIPS + 1).astype(np.int64)[:-1]
    weight = np.diff(np.append(starts, x.size)).astype(float)
    return np.add.reduceat(x, starts) / weight, np.add.reduceat(y, starts) / weight, weight


def _local(x: Floats, y: Floats, weight: Floats, here: float, near: int) -> float:
    """The height at one x of the line through its nearest pairs. x in rising order."""
    first = int(np.searchsorted(x, here))
    low, high = max(first - near, 0), min(first + near, x.size)
    away = np.abs(x[low:high] - here)
    reach = float(np.partition(away, near - 1)[near - 1])
    inside = away <= reach
    w = weight[low:high][inside]
    if reach > 0:
        w = w * (1 - np.minimum(away[inside] / (reach * 1.000001), 1) ** 3) ** 3
    dx, dy = x[low:high][inside] - here, y[low:high][inside]
    mean_x, mean_y = np.average(dx, weights=w), np.average(dy, weights=w)
    spread = float(np.sum(w * (dx - mean_x) ** 2))
    if spread <= 1e-12 * float(np.sum(w)) * max(reach, 1e-300) ** 2:
        return float(mean_y)
    slope = float(np.sum(w * (dx - mean_x) * (dy - mean_y))) / spread
    return float(mean_y - slope * mean_x)
