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
    n, x, y = fit.n, fit.x.high, fit.y.high
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
    # Each row left out in turn: the sums about the new means follow from the old.
    shrink = n / (n - 1)
    slopes = _slope(
        fit.x.sum_squares - shrink * x * x,
        fit.y.sum_squares - shrink * y * y,
        fit.sum_products - shrink * x * y,
        ratio,
    )
    heights = -y / (n - 1) - slopes * (float(mean_x) - x / (n - 1)) + slope * float(mean_x)
    why: dict[str, Cause] = {}
    found: dict[str, Any] = {}
    for name, centre, left_out, exponent in (
        ("slope", Fraction(slope), slopes - slope, tilt),
        ("intercept", height, heights, fit.y.exponent),
    ):
        se = _jackknife(left_out, n)
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


def _jackknife(left_out: Floats, n: int) -> float | None:
    """Standard error from the estimates with each row left out, (n,)."""
    if not np.isfinite(left_out).all():
        return None
    away = left_out - left_out.mean()
    return math.sqrt((n - 1) / n * float(np.dot(away, away)))
