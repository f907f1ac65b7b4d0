"""Slope and intercept tested against stated values, with intervals."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import msgspec

from bright_tether.core.centred import fraction_unscaled, unscaled
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Alternative, Cause, Interval, Why, reasons
from bright_tether.core.tails import t_beyond, t_tail


class Coefficients(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Slope and intercept with one kind of standard error.

    se_slope in y units per x unit; se_intercept in y units; t on n − 2.
    """

    se_slope: float | None
    t_slope: float | None
    p_slope: float | None
    ci_slope: Interval | None
    se_intercept: float | None
    t_intercept: float | None
    p_intercept: float | None
    ci_intercept: Interval | None
    why: Why


class Hypotheses(msgspec.Struct, frozen=True, kw_only=True):
    """What the coefficients are tested against, and how.

    level : interval level. slope_0 in y units per x unit, intercept_0 in y units.
    """

    level: float = 0.95
    alternative: Alternative = "two-sided"
    slope_0: float = 0.0
    intercept_0: float = 0.0


def coefficients(
    fit: Fit,
    se_slope: float | None,
    se_intercept: float | None,
    against: Hypotheses,
    cause: Cause,
    df: int | None = None,
) -> Coefficients:
    """Test both coefficients with these standard errors.

    se_slope, se_intercept : in the fit's scaled units; None for the cause. df : of t, when not the line's.
    Source: quantities §3; the intercept is always tested two-sided.
    """
    df = fit.residual_df if df is None else df
    tilt = fit.y.exponent - fit.x.exponent
    values, why = tested("slope", fit.slope_exact, se_slope, against.slope_0, tilt, df, against, cause)
    two_sided = Hypotheses(level=against.level)
    if fit.origin:
        names = ("se_intercept", "t_intercept", "p_intercept", "ci_intercept")
        absent: dict[str, Any] = dict.fromkeys(names)
        return Coefficients(**values, **absent, why=reasons(why | dict.fromkeys(names, Cause.NO_INTERCEPT)))
    more, why_more = tested(
        "intercept",
        fit.intercept_exact,
        se_intercept,
        against.intercept_0,
        fit.y.exponent,
        df,
        two_sided,
        cause,
    )
    return Coefficients(**values, **more, why=reasons(why | why_more))


def tested(
    name: str,
    estimate: Fraction,
    se: float | None,
    null: float,
    exponent: int,
    df: int,
    against: Hypotheses,
    cause: Cause,
) -> tuple[dict[str, Any], dict[str, Cause]]:
    """se, t, p and interval of one estimate, each under ``key_name``, and why any is missing.

    estimate, se : scaled by 2^exponent. t and p are None where se is 0.
    """
    values: dict[str, Any] = dict.fromkeys(("se", "t", "p", "ci"))
    if se is not None and not math.isfinite(se):
        se, cause = None, cause if df < 1 else Cause.OUT_OF_RANGE
    if se is not None:
        values["se"] = unscaled(se, exponent)
        values["ci"] = None if df < 1 else interval(estimate, se, exponent, df, against.level)
        if df < 1:
            cause = Cause.NO_DEGREES_OF_FREEDOM
        elif values["se"] is None or values["ci"] is None:
            cause = Cause.OUT_OF_RANGE
        if se > 0 and df > 0:
            t = _ratio(estimate - Fraction(null) / Fraction(2) ** exponent, se)
            values["t"] = t
            values["p"] = None if t is None else t_tail(t, df, against.alternative)
    why = {f"{key}_{name}": cause for key, value in values.items() if value is None}
    return {f"{key}_{name}": value for key, value in values.items()}, why


def interval(centre: Fraction, se: float, exponent: int, df: int, level: float) -> Interval | None:
    """centre ± t·se in data units; None where an end lies beyond double range."""
    t = t_beyond((1 - level) / 2, df)
    if not math.isfinite(t):  # a level that is 1 in double precision
        return None
    half = Fraction(t) * Fraction(se)
    low, high = (fraction_unscaled(end, exponent) for end in (centre - half, centre + half))
    return None if low is None or high is None else (low, high)


def _ratio(gap: Fraction, se: float) -> float | None:
    try:
        return float(gap / Fraction(se))
    except OverflowError:
        return None
