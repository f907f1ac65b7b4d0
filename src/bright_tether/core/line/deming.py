"""The line for errors in both columns."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.centred import fraction_unscaled, unscaled
from bright_tether.core.line.coefficients import interval
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Interval, Why, reasons
from bright_tether.core.sums.partial import NO_ENDS, Partial
from bright_tether.core.sums.residual import LineAt
from bright_tether.core.sums.summed import SummedPairs


class Deming(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Slope in y per x, intercept in y units; jackknife se and interval, t on n − 2.

    error_ratio : variance of the errors of y over that of x, in y units² per x unit².
    """

    slope: float | None
    intercept: float | None
    se_slope: float | None
    ci_slope: Interval | None
    se_intercept: float | None
    ci_intercept: Interval | None
    error_ratio: float
    why: Why


def deming(fit: Fit, *, error_ratio: float, level: float) -> Deming:
    """The line that is nearest when both columns err.

    fit : the plain line of the pairs. error_ratio > 0. None where x and y do not go together at all.
    Source: quantities §3; Deming 1943; Linnet 1990 for the jackknife.
    """
    n = fit.n
    tilt = fit.y.exponent - fit.x.exponent
    ratio = math.ldexp(error_ratio, -2 * tilt)
    whole = [np.array([v]) for v in (fit.x.sum_squares, fit.y.sum_squares, fit.sum_products)]
    slope = float(_slope(whole[0], whole[1], whole[2], ratio)[0])
    if fit.sum_products == 0 or not math.isfinite(slope):
        names = ("slope", "intercept", "se_slope", "ci_slope", "se_intercept", "ci_intercept")
        cause = Cause.CONSTANT_Y if fit.y.constant else Cause.OUT_OF_RANGE
        absent: dict[str, Any] = dict.fromkeys(names)
        return Deming(**absent, error_ratio=error_ratio, why=reasons(dict.fromkeys(names, cause)))
    mean_x, mean_y = fit.x.mean, fit.y.mean
    height = mean_y - Fraction(slope) * mean_x
    left_out = LeftOut(n=n, sums=(fit.x.sum_squares, fit.y.sum_squares, fit.sum_products), ratio=ratio, slope=slope,
                       mean_x=float(mean_x))  # fmt: skip
    with np.errstate(over="ignore", invalid="ignore"):
        spreads = _spreads(fit, left_out).tolist()
    why: dict[str, Cause] = {}
    found: dict[str, Any] = {}
    for name, centre, spread, exponent in (
        ("slope", Fraction(slope), spreads[0], tilt),
        ("intercept", height, spreads[1], fit.y.exponent),
    ):
        se = _jackknife(spread, n)
        found[f"se_{name}"] = None if se is None else unscaled(se, exponent)
        found[f"ci_{name}"] = None if se is None or n < 3 else interval(centre, se, exponent, n - 2, level)
        cause = Cause.OUT_OF_RANGE if se is not None else Cause.LEVERAGE_ONE
        cause = Cause.NO_DEGREES_OF_FREEDOM if n < 3 else cause
        why |= {key: cause for key in (f"se_{name}", f"ci_{name}") if found[key] is None}
    figures: dict[str, Any] = {
        "slope": unscaled(slope, tilt),
        "intercept": fraction_unscaled(height, fit.y.exponent),
    }
    why |= {key: Cause.OUT_OF_RANGE for key, value in figures.items() if value is None}
    return Deming(
        **figures,
        **found,
        error_ratio=error_ratio,
        why=reasons(why),
    )


def _slope(sxx: Floats, syy: Floats, sxy: Floats, ratio: float) -> Floats:
    """The slope, (k,), by the root that loses no digits."""
    gap = syy - ratio * sxx
    root = np.hypot(gap, 2 * math.sqrt(ratio) * sxy)
    with np.errstate(divide="ignore", invalid="ignore"):
        rising = (gap + root) / (2 * sxy)
        falling = 2 * ratio * sxy / (root - gap)
    return np.where(gap >= 0, rising, falling)


class LeftOut(msgspec.Struct, frozen=True, kw_only=True):
    """What each row changes when it is left out. sums : Σ of x², y² and x·y from the means; mean_x : scaled as x."""

    n: int
    sums: tuple[float, float, float]
    ratio: float
    slope: float
    mean_x: float

    def changes(self, x: Floats, y: Floats) -> Floats:
        """Of slope and height, (2, k). x, y : from their means, (k,)."""
        n, (sxx, syy, sxy) = self.n, self.sums
        shrink = n / (n - 1)  # the sums about the new means follow from the old
        slopes = _slope(sxx - shrink * x * x, syy - shrink * y * y, sxy - shrink * x * y, self.ratio)
        heights = -y / (n - 1) - slopes * (self.mean_x - x / (n - 1)) + self.slope * self.mean_x
        return np.stack((slopes - self.slope, heights))


class LeftOutSums(msgspec.Struct, frozen=True):
    """Σ of those changes and of their squares, (4,), over pairs as they are measured."""

    line: LineAt
    left_out: LeftOut

    def __call__(self, x: Floats, y: Floats) -> Partial:
        """Of one block."""
        changes = self.left_out.changes(*self.line.from_means(x, y))
        found = np.concatenate((changes.sum(axis=1), np.einsum("ij,ij->i", changes, changes)))
        return Partial(found, np.zeros(4), *NO_ENDS)


def _spreads(fit: Fit, left_out: LeftOut) -> Floats:
    """Σ of the squares of the changes of slope and height from their means, (2,)."""
    if isinstance(fit.pairs, SummedPairs):
        found = fit.pairs.where.total(LeftOutSums(fit.at, left_out)).rounded()
        return np.asarray(found[2:] - found[:2] ** 2 / fit.n)
    changes = left_out.changes(fit.x.high, fit.y.high)
    away = changes - changes.mean(axis=1)[:, None]
    return np.array([np.dot(one, one) for one in away])


def _jackknife(spread: float, n: int) -> float | None:
    """Standard error from Σ of the squares from their mean of the estimates with each row left out."""
    return math.sqrt((n - 1) / n * spread) if math.isfinite(spread) else None
