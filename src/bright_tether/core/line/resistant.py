"""Lines that a minority of rows cannot carry: MM-estimation with its intervals, and repeated medians.

Sources: Yohai 1987, Annals of Statistics 15, 642–656; Rousseeuw & Yohai 1984; Salibián-Barrera & Yohai 2006 for the
search; Siegel 1982, Biometrika 69, 242–244.
"""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Interval, Why, reasons
from bright_tether.core.tails import t_beyond

#: Tuning of Tukey's biweight: of the scale, so that half of the rows may be anything; of the line, so that it is 95 %
#: as efficient as least squares at normal errors.
BREAKDOWN, EFFICIENT = 1.5476450, 4.6850646
#: The mean of the biweight's ρ (at most 1) that the scale is taken at.
_HALF = 0.5
#: Lines through two rows that the search starts from: every one up to so many, else so many drawn from a fixed seed.
_EVERY, _DRAWN, _LONG, _SEED = 1500, 500, 2000, 5
#: The least scale that is told from 0, of columns scaled to about 1.
_LEAST = 1e-140
#: Best starts that are followed to their end; steps at most; and when a step is none.
_BEST, _STEPS, _STILL, _RESTS = 3, 200, 1e-12, 1e-9
#: Rows up to which every two of them are gone through, while a hand may be moving a point.
MOST_ROWS = 800


class Resistant(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """MM: slope and intercept with standard error and interval, t on n − 2; scale of the residuals in y units.

    lowered : rows whose weight is below one half. None for se and interval where more than half lie on one line.
    """

    slope: float
    intercept: float
    se_slope: float | None
    ci_slope: Interval | None
    scale: float
    lowered: int
    why: Why


def mm_line(fit: Fit, *, level: float) -> Resistant | None:
    """The line by MM-estimation, biweight throughout. fit : the plain line of n ≥ 4 pairs; None where none is found."""
    x, y = fit.x.high, fit.y.high
    if x.size < 4:
        return None
    tilt, base = fit.y.exponent - fit.x.exponent, math.ldexp(1.0, fit.y.exponent)
    start = _least_scale(x, y)
    if start is None:
        return None
    slope, height, scale = start
    near = float(np.abs(y).max()) * 1e-12
    if scale <= near:  # more than half on one line: it is that line
        on = np.abs(y - height - slope * x) <= 8 * near
        return _told(
            fit, slope, height, 0.0, None, int(np.count_nonzero(~on)), tilt, base, level, Cause.EXACT_FIT
        )
    for _ in range(_STEPS):
        weight = _weight((y - height - slope * x) / scale, EFFICIENT)
        before = (slope, height)
        found = _weighted(x, y, weight)
        if found is None:
            return None
        slope, height = found
        if (
            abs(slope - before[0]) <= _STILL * max(abs(slope), 1e-300)
            and abs(height - before[1]) <= _STILL * scale
        ):
            break
    u = (y - height - slope * x) / scale
    inner = np.abs(u) < EFFICIENT
    z = (u / EFFICIENT) ** 2
    psi = np.where(inner, u * (1 - z) ** 2, 0.0)
    rise = float(np.mean(np.where(inner, (1 - z) * (1 - 5 * z), 0.0)))
    se = None
    if rise > 0:
        spread = float(np.sum(psi * psi)) / (x.size - 2)
        se = scale * math.sqrt(spread / fit.x.sum_squares) / rise
    weight = _weight(u, EFFICIENT)
    return _told(fit, slope, height, scale, se, int(np.count_nonzero(weight < 0.5)), tilt, base, level,
                 Cause.OUT_OF_RANGE)  # fmt: skip


def _told(
    fit: Fit, slope: float, height: float, scale: float, se: float | None, lowered: int, tilt: int, base: float,
    level: float, none: Cause,
) -> Resistant | None:  # fmt: skip
    """In the columns' own units."""
    try:
        own = math.ldexp(slope, tilt)
        intercept = (
            float(fit.y.mean) * base + height * base - own * math.ldexp(float(fit.x.mean), fit.x.exponent)
        )
        error = None if se is None else math.ldexp(se, tilt)
    except OverflowError:
        return None
    reach = None if error is None else t_beyond((1 - level) / 2, fit.n - 2) * error
    ci = None if reach is None or not math.isfinite(reach) else (own - reach, own + reach)
    if not (math.isfinite(own) and math.isfinite(intercept)):
        return None
    return Resistant(
        slope=own, intercept=intercept, se_slope=error, ci_slope=ci, scale=scale * base, lowered=lowered,
        why=reasons({} if ci is not None else dict.fromkeys(("se_slope", "ci_slope"), none)),
    )  # fmt: skip


def _weight(u: Floats, tuning: float) -> Floats:
    return np.where(np.abs(u) < tuning, (1 - (u / tuning) ** 2) ** 2, 0.0)


def _weighted(x: Floats, y: Floats, weight: Floats) -> tuple[float, float] | None:
    """Slope and height by least squares with weights; None where they leave one x."""
    whole = float(weight.sum())
    if whole <= 0:
        return None
    middle, level = float(weight @ x) / whole, float(weight @ y) / whole
    away = x - middle
    sxx = float(weight @ (away * away))
    if sxx <= 0:
        return None
    slope = float(weight @ (away * (y - level))) / sxx
    return slope, level - slope * middle


def _scale(residual: Floats, start: Floats) -> Floats:
    """The M-scale of each row of residuals, (m,), from a start; 0 where half of them are 0. By Newton's steps."""
    found = np.maximum(start, _LEAST)
    narrow, wide = np.zeros_like(found), np.full_like(found, np.inf)
    for _ in range(60):
        u = np.minimum((residual / found[:, None] / BREAKDOWN) ** 2, 1.0)
        rho = (u * (3 - u * (3 - u))).mean(axis=1)
        narrow, wide = np.where(rho > _HALF, found, narrow), np.where(rho < _HALF, found, wide)
        falls = 6 * (u * (1 - u) ** 2).mean(axis=1)  # of ρ as the scale grows by its own size
        with np.errstate(divide="ignore", invalid="ignore"):
            after = found * (1 + (rho - _HALF) / falls)
        plain = ~((after > narrow) & (after < wide))  # such a step leads on slowly, but always leads on
        after[plain] = found[plain] * np.sqrt(rho[plain] / _HALF)
        rests = np.abs(after - found) <= 1e-13 * found
        found = np.maximum(after, _LEAST)
        if rests.all():
            break
    on = np.abs(residual) <= 1e-13 * np.abs(residual).max(axis=1, initial=0.0)[:, None]
    return np.where(on.mean(axis=1) >= 1 - _HALF, 0.0, found)


def _least_scale(x: Floats, y: Floats) -> tuple[float, float, float] | None:
    """The line with the least M-scale of its residuals: slope, height, scale."""
    first, other = _pairs_of(x)
    if not first.size:
        return None
    slopes = (y[other] - y[first]) / (x[other] - x[first])
    away = y - slopes[:, None] * x
    heights = _medians(away.copy())
    away -= heights[:, None]
    rough = _medians(np.abs(away, out=away)) / 0.6744897501960817
    best = np.argsort(rough, kind="stable")[: 4 * _BEST]
    scales = _scale(y - heights[best, None] - slopes[best, None] * x, rough[best])
    kept = np.argsort(scales, kind="stable")[:_BEST]
    slope, height, scale = _followed(x, y, slopes[best[kept]], heights[best[kept]], scales[kept])
    at = int(
        np.flatnonzero(scale <= float(scale.min()) * (1 + _RESTS))[0]
    )  # of equals the first, whatever rounding says
    return float(slope[at]), float(height[at]), float(scale[at])


def _followed(
    x: Floats, y: Floats, slope: Floats, height: Floats, scale: Floats
) -> tuple[Floats, Floats, Floats]:
    """Weighted steps of each start, (m,), with one step of the scale each, until that rests; then it to its end."""
    slope, height, scale = slope.copy(), height.copy(), scale.copy()
    going = np.flatnonzero(scale > _LEAST)
    for _ in range(_STEPS):
        if not going.size:
            break
        wide = scale[going, None]
        weight = _weight((y - height[going, None] - slope[going, None] * x) / wide, BREAKDOWN)
        whole = weight.sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            middle, level = weight @ x / whole, weight @ y / whole
            away = x - middle[:, None]
            sxx = np.einsum("ij,ij->i", weight, away * away)
            steep = np.einsum("ij,ij->i", weight, away * (y - level[:, None])) / sxx
        there = (whole > 0) & (sxx > 0)  # else they leave one x, and the start stays where it is
        going, steep, middle, level = going[there], steep[there], middle[there], level[there]
        slope[going], height[going] = steep, level - steep * middle
        before = scale[going]
        gap = y - height[going, None] - slope[going, None] * x
        u = np.minimum((gap / before[:, None] / BREAKDOWN) ** 2, 1.0)
        scale[going] *= np.sqrt(np.mean(u * (3 - u * (3 - u)), axis=1) / _HALF)
        going = going[(np.abs(scale[going] - before) > _RESTS * before) & (scale[going] > _LEAST)]
    return slope, height, _scale(y - height[:, None] - slope[:, None] * x, scale)


def _medians(rows: Floats) -> Floats:
    """The median of each row, (m,); the rows, (m, n), are put in order, which is sooner than to part them."""
    rows.sort(axis=1)
    middle = rows.shape[1] // 2
    return np.asarray((rows[:, (rows.shape[1] - 1) // 2] + rows[:, middle]) / 2)


def _pairs_of(x: Floats) -> tuple[np.ndarray, np.ndarray]:
    """Two rows of different x for each start."""
    n = x.size
    if n * (n - 1) // 2 <= _EVERY:
        first, other = np.triu_indices(n, 1)
    else:
        draw = np.random.Generator(np.random.PCG64(_SEED))
        first, other = draw.integers(0, n, (2, _DRAWN if n <= _LONG else _DRAWN // 5))
    apart = x[first] != x[other]
    return first[apart], other[apart]


def repeated_median(x: Floats, y: Floats) -> tuple[float, float] | None:
    """Slope and intercept of repeated medians, in the columns' units; None beyond MOST_ROWS, or for one x.

    The slope is the median over rows of the median of each row's slopes to all others of another x.
    """
    if x.size > MOST_ROWS or x.size < 2:
        return None
    medians = []
    for at in range(x.size):
        run = x - x[at]
        there = run != 0
        if there.any():
            medians.append(float(np.median((y[there] - y[at]) / run[there])))
    if not medians:
        return None
    slope = float(np.median(medians))
    return slope, float(np.median(y - slope * x))
