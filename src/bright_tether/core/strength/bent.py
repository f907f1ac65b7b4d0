"""The percentage-bend correlation: what lies far out is bent inward to where the middle of its column ends.

Source: Wilcox 1994, The percentage bend correlation coefficient, Psychometrika 59.
"""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Floats, Interval, Why, reasons
from bright_tether.core.tails import t_both

#: The share of each column that may be bent.
SHARE = 0.2
#: Samples of the interval and their seed; columns longer than this have none.
DRAWS, SEED, MOST = 1000, 1, 2000
_BLOCK = 250_000


class Bent(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """r of the bent columns; t on n − 2, two-sided against 0; the percentile interval of rows drawn again.

    bent_x, bent_y : how many values of each were bent.
    """

    r: float | None
    t: float | None
    p: float | None
    df: int
    ci: Interval | None
    bent_x: int
    bent_y: int
    why: Why


def bent(pairs: Pairs, *, level: float) -> Bent:
    """pairs : n ≥ 4 for a value. None where most of a column is one value, so that nothing says how wide its middle is.

    The interval is that of rows drawn again from a fixed seed, for up to MOST pairs.
    """
    n, df = pairs.n, pairs.n - 2
    if n < 4:
        return _none(df, Cause.NO_DEGREES_OF_FREEDOM)
    x, y = (_unit(one) for one in (pairs.x, pairs.y))
    sides = [_bent(one[None, :]) for one in (x, y)]
    if any(np.isnan(one).any() for one in sides):
        return _none(df, Cause.MIDDLE_ONE_VALUE)
    r = float(_together(*sides)[0])
    bent_x, bent_y = (int(np.count_nonzero(np.abs(one[0]) >= 1.0)) for one in sides)
    why: dict[str, Cause] = {}
    t = p = None
    if 1 - r * r > 1e-15:
        t = r * math.sqrt(df / (1 - r * r))
        p = t_both(t, df)
    else:
        why |= dict.fromkeys(("t", "p"), Cause.PERFECT_CORRELATION)
    ci = _interval(x, y, level) if n <= MOST else None
    if ci is None:
        why["ci"] = Cause.TOO_MANY_ROWS if n > MOST else Cause.MIDDLE_ONE_VALUE
    return Bent(r=r, t=t, p=p, df=df, ci=ci, bent_x=bent_x, bent_y=bent_y, why=reasons(why))


def bent_columns(pairs: Pairs) -> tuple[Floats, Floats] | None:
    """Both columns bent, (n,) each, from −1 to 1; None where there are none."""
    if pairs.n < 4:
        return None
    x, y = (_bent(_unit(one)[None, :])[0] for one in (pairs.x, pairs.y))
    return None if np.isnan(x).any() or np.isnan(y).any() else (x, y)


def _none(df: int, cause: Cause) -> Bent:
    return Bent(r=None, t=None, p=None, df=df, ci=None, bent_x=0, bent_y=0,
                why=reasons(dict.fromkeys(("r", "t", "p", "ci"), cause)))  # fmt: skip


def _unit(values: Floats) -> Floats:
    """From the middle of the range, no larger than 1: r is the same, and nothing leaves float64."""
    low, high = float(values.min()), float(values.max())
    wide = high / 2 - low / 2
    return (values / 2 - (low / 4 + high / 4)) / wide * 2 if wide else np.zeros(values.size)


def _bent(rows: Floats) -> Floats:
    """Each row of values in its own units and bent, (m, n); NaN throughout where its middle has no width."""
    n = rows.shape[1]
    middle = np.median(rows, axis=1, keepdims=True)
    away = np.abs(rows - middle)
    place = math.floor((1 - SHARE) * n + 0.5) - 1
    width = np.partition(away, place, axis=1)[:, place : place + 1]
    with np.errstate(divide="ignore", invalid="ignore"):
        scaled = (rows - middle) / width
        below, above = (scaled < -1).sum(axis=1), (scaled > 1).sum(axis=1)
        inside = np.where(np.abs(scaled) <= 1, rows, 0.0).sum(axis=1)
        centre = (width[:, 0] * (above - below) + inside) / (n - below - above)
        found: Floats = np.clip((rows - centre[:, None]) / width, -1.0, 1.0)
    found[width[:, 0] == 0] = np.nan
    return found


def _together(x: Floats, y: Floats) -> Floats:
    """r of each row, (m,), not centred: the bent values are about their centre already."""
    with np.errstate(divide="ignore", invalid="ignore"):
        sums = np.sqrt((x * x).sum(axis=1) * (y * y).sum(axis=1))
        return np.asarray(np.clip((x * y).sum(axis=1) / sums, -1.0, 1.0))


def _interval(x: Floats, y: Floats, level: float) -> Interval | None:
    """The middle of r over rows drawn again; None where more than a tenth of the samples have no value."""
    draw, n = np.random.default_rng(SEED), x.size
    found: list[Floats] = []
    many = max(1, min(DRAWS, _BLOCK // n))
    for start in range(0, DRAWS, many):
        rows = draw.integers(0, n, (min(many, DRAWS - start), n))
        found.append(_together(_bent(x[rows]), _bent(y[rows])))
    values = np.concatenate(found)
    values = values[np.isfinite(values)]
    if values.size < 0.9 * DRAWS:
        return None
    low, high = np.quantile(values, ((1 - level) / 2, (1 + level) / 2))
    return float(low), float(high)
