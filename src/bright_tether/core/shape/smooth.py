"""A smooth local trend."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Floats
from bright_tether.core.shape.form import gaps_in

#: Above this many pairs the trend is drawn through the means of narrow strips.
BINNED_ABOVE = 4_000
_STRIPS = 2_000
#: So many distances are held at once.
_AT_ONCE = 40_000


class Smooth(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The trend at points across x. x, y : (k,), in data units; y is NaN where nothing was measured.

    share : of the pairs in each window.
    """

    x: Floats
    y: Floats
    share: float


def smooth(pairs: Pairs, *, share: float = 0.6, points: int = 61) -> Smooth:
    """Local straight lines through the nearest pairs, weighted by tricube distance; none in a gap of x.

    pairs : n ≥ 3.
    Source: Cleveland 1979, one pass (without the robust steps).
    """
    require(pairs, 3)
    return smooth_of(pairs.x, pairs.y, share=share, points=points)


def smooth_of(x: Floats, y: Floats, *, share: float = 0.6, points: int = 61) -> Smooth:
    """The same for two arrays, (n,) each."""
    order = np.argsort(x, kind="stable")
    x, y = x[order], y[order]
    gaps = gaps_in(x).wide
    weight = np.ones(x.size)
    if x.size > BINNED_ABOVE:
        x, y, weight = _strips(x, y)
    at = np.unique(np.linspace(x[0], x[-1], points))
    near = min(max(int(np.ceil(share * x.size)), 3), x.size)
    at_once = max(_AT_ONCE // x.size, 1)
    trend = [_local(x, y, weight, at[k : k + at_once], near) for k in range(0, at.size, at_once)]
    heights = np.concatenate(trend)
    for low, high in gaps:
        heights[(at > low) & (at < high)] = np.nan
    return Smooth(x=at, y=heights, share=share)


def _strips(x: Floats, y: Floats) -> tuple[Floats, Floats, Floats]:
    starts = np.linspace(0, x.size, _STRIPS + 1).astype(np.int64)[:-1]
    weight = np.diff(np.append(starts, x.size)).astype(float)
    return np.add.reduceat(x, starts) / weight, np.add.reduceat(y, starts) / weight, weight


def _local(x: Floats, y: Floats, weight: Floats, at: Floats, near: int) -> Floats:
    """The heights at some x, (k,), of the lines through the nearest pairs of each. x in rising order."""
    dx = x - at[:, None]
    away, place = np.abs(dx), np.arange(x.size)
    first = np.searchsorted(x, at)[:, None]
    away[(place < first - near) | (place >= first + near)] = np.inf  # as many on either side hold the nearest
    reach = np.partition(away, near - 1, axis=1)[:, near - 1 : near]
    share = np.divide(away, reach * 1.000001, out=np.where(away > 0, np.inf, 0.0), where=reach > 0)
    share = np.minimum(share, 1)
    tricube = 1 - share * share * share
    w = np.where(away <= reach, weight * tricube * tricube * tricube, 0.0)
    total = w.sum(axis=1)
    mean_x, mean_y = (w * dx).sum(axis=1) / total, (w @ y) / total
    dx -= mean_x[:, None]
    spread = (w * dx * dx).sum(axis=1)
    slope = np.divide((w * dx * (y - mean_y[:, None])).sum(axis=1), spread, out=np.zeros(at.size),
                      where=spread > 1e-12 * total * np.maximum(reach[:, 0], 1e-300) ** 2)  # fmt: skip
    return np.asarray(mean_y - slope * mean_x)
