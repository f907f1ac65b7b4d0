"""A smooth beside the line: local straight lines within a stated bandwidth, with bands for the mean and for one case.

At each x a line through the pairs within ± bandwidth, weighted by 1 − (distance / bandwidth)². Its height is a weighted
sum of y, l(x)·y. Without a stated bandwidth that is taken whose heights foretell best the rows left out of them.
Source: Fan & Gijbels 1996, Local Polynomial Modelling, chapters 2 and 3; Stone 1974 for leaving one out; Cleveland &
Devlin 1988 for the variance SSE / (n − 2·tr L + tr LᵀL), whose divisor is the df of t here.
"""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Bools, Cause, Floats
from bright_tether.core.tails import t_beyond

#: Of more rows, so many are drawn at random. seed : of that draw.
MOST_SMOOTHED, SEED = 1_000, 1
#: The fewest pairs that a smooth is drawn through, and the fewest df left for its spread.
FEWEST, FEWEST_DF = 8, 2.0
#: Bandwidths looked at, from a share of the range of x to twice it.
_NARROWEST, _WIDEST, _TRIED = 0.08, 2.0, 25
_POINTS = 121


class LocalBand(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The smooth at x across the range, (m,), in data units; ci and pi as (m, 2). NaN where too few pairs are near.

    bandwidth : half the width of a window, in x units; found : whether it was chosen by leaving rows out.
    df : of its variance; s : its residual sd, y units. drawn : whether it goes through a random draw of the rows.
    """

    bandwidth: float
    found: bool
    x: Floats
    mean: Floats
    ci: Floats
    pi: Floats
    df: float
    s: float
    drawn: bool

    def apart(self, heights: Floats) -> Bools:
        """Where heights of a line at the same x, (m,), lie outside the band for the mean."""
        with np.errstate(invalid="ignore"):
            return np.asarray((heights < self.ci[:, 0]) | (heights > self.ci[:, 1]))


def local_band(pairs: Pairs, level: float, bandwidth: float | None = None) -> LocalBand | Cause:
    """Draw it. pairs : n ≥ 3; bandwidth : above 0, in x units, None to look for one."""
    require(pairs, 3)
    x, y = pairs.x, pairs.y
    if x.size < FEWEST:
        return Cause.TOO_FEW_PAIRS
    drawn = x.size > MOST_SMOOTHED
    if drawn:
        few = np.sort(np.random.default_rng(SEED).choice(x.size, MOST_SMOOTHED, replace=False))
        x, y = x[few], y[few]
    low, wide = float(x.min()), float(np.ptp(x))
    if not (wide > 0 and math.isfinite(wide)):
        return Cause.CONSTANT_X
    unit, middle, tall = (x - low) / wide, float(np.mean(y)), float(np.ptp(y)) or 1.0
    if not math.isfinite(tall):
        return Cause.OUT_OF_RANGE
    height = (y - middle) / tall
    found = bandwidth is None
    share = _best(unit, height) if bandwidth is None else bandwidth / wide
    if share is None:
        return Cause.TOO_FEW_VALUES
    rows = _weights(unit, unit, share)
    residual = height - rows @ height
    df = unit.size - 2 * float(np.trace(rows)) + float(np.sum(rows * rows))
    if not (math.isfinite(df) and df >= FEWEST_DF):
        return Cause.TOO_FEW_VALUES if found else Cause.NARROW_WINDOW
    s = math.sqrt(float(residual @ residual) / df)
    at = np.linspace(0, 1, _POINTS)
    across = _weights(at, unit, share)
    mean, reach = across @ height, np.sqrt(np.sum(across * across, axis=1))
    t = t_beyond((1 - level) / 2, df)
    half, case = t * s * reach, t * s * np.sqrt(1 + reach * reach)

    def up(values: Floats) -> Floats:
        return np.asarray(values * tall + middle)

    return LocalBand(
        bandwidth=share * wide, found=found, x=np.asarray(low + at * wide, np.float64), mean=up(mean),
        ci=np.stack((up(mean - half), up(mean + half)), axis=1),
        pi=np.stack((up(mean - case), up(mean + case)), axis=1), df=df, s=s * tall, drawn=drawn,
    )  # fmt: skip


def _weights(at: Floats, x: Floats, bandwidth: float) -> Floats:
    """What each y adds to the height at some x, (m, n); NaN where the pairs near have fewer than two x."""
    away = x - at[:, None]
    w = np.maximum(1 - (away / bandwidth) ** 2, 0)
    total = w.sum(axis=1, keepdims=True)
    with np.errstate(all="ignore"):
        middle = (w * away).sum(axis=1, keepdims=True) / total
        own = away - middle
        squares = (w * own * own).sum(axis=1, keepdims=True)
        found = w * (1 / total - middle * own / squares)
    found[(squares <= 1e-12 * total * bandwidth**2)[:, 0] | (total[:, 0] == 0)] = np.nan
    return np.asarray(found)


def _best(x: Floats, y: Floats) -> float | None:
    """The bandwidth whose heights foretell best the rows left out; None where none does."""
    found, least = None, math.inf
    for share in np.geomspace(_NARROWEST, _WIDEST, _TRIED).tolist():
        rows = _weights(x, x, share)
        own = np.diag(rows)
        if not np.isfinite(own).all() or float(own.max()) >= 1 - 1e-9:
            continue
        left = float(np.mean(((y - rows @ y) / (1 - own)) ** 2))
        if left < least * (1 - 1e-12):
            found, least = share, left
    return found
