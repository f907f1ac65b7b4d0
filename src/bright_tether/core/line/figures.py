"""What the fitted line says: coefficients, fit, and the split of variation."""

from __future__ import annotations

import math
from collections.abc import Mapping
from fractions import Fraction
from typing import Any

import msgspec

from bright_tether.core.centred import fraction_unscaled
from bright_tether.core.line.coefficients import Coefficients, Hypotheses, coefficients
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.robust_errors import robust_errors
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Alternative, Cause, Interval, Why, reasons
from bright_tether.core.tails import t_both, z_beyond


class Line(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The fitted line in figures: heights in y units, slopes in y units per x unit, ss in y units²."""

    slope: float | None
    intercept: float | None
    residual_df: int
    s: float | None
    mse: float | None
    se_slope: float | None
    t_slope: float | None
    p_slope: float | None
    ci_slope: Interval | None
    se_intercept: float | None
    t_intercept: float | None
    p_intercept: float | None
    ci_intercept: Interval | None
    slope_0: float
    intercept_0: float
    alternative: Alternative
    level: float
    ss_total: float | None
    ss_model: float | None
    ss_residual: float | None
    f: float | None
    p_f: float | None
    r: float | None
    r2: float | None
    adj_r2: float | None
    robust: Mapping[str, Coefficients]
    log10_condition: float | None
    why: Why


def line(fit: Fit, against: Hypotheses) -> Line:
    """Every figure of the plain line.

    t, f and p are None when every residual is zero; r and its kin when y does not vary.
    Source: quantities §3.
    """
    df = fit.residual_df
    cause = no_test_of(fit)
    model = fit.sum_products * (fit.sum_products / fit.x.sum_squares)
    plain = coefficients(fit, *classical_errors(fit), against, cause)
    squares: dict[str, Any] = {
        "ss_total": fit.square_unscaled(fit.y.sum_squares),
        "ss_model": fit.square_unscaled(model),
        "ss_residual": fit.square_unscaled(fit.sse),
        "mse": fit.square_unscaled(fit.sse / df) if df > 0 else None,
        "s": fit.spread_unscaled(fit.s_scaled) if df > 0 else None,
    }
    f = None if fit.exact or df < 1 else model / (fit.sse / df)
    shares = dict.fromkeys(("r", "r2", "adj_r2")) if fit.y.constant else _shares(fit, model)
    why = dict(plain.why)
    lost = Cause.OUT_OF_RANGE
    why |= {
        key: Cause.NO_DEGREES_OF_FREEDOM if df < 1 and key in ("mse", "s") else lost
        for key, value in squares.items()
        if value is None
    }
    why |= {
        key: Cause.CONSTANT_Y if fit.y.constant else Cause.NO_DEGREES_OF_FREEDOM
        for key, value in shares.items()
        if value is None
    }
    why |= {} if f is not None else {"f": cause, "p_f": cause}
    condition = None if fit.origin else _log10_condition(fit.pairs)
    if fit.origin:
        why |= dict.fromkeys(("r", "intercept", "log10_condition"), Cause.NO_INTERCEPT)
    elif condition is None:
        why["log10_condition"] = Cause.CONSTANT_X
    slope = fraction_unscaled(fit.slope_exact, fit.y.exponent - fit.x.exponent)
    intercept = fraction_unscaled(fit.intercept_exact, fit.y.exponent)
    why |= {key: lost for key, value in (("slope", slope), ("intercept", intercept)) if value is None}
    return Line(
        slope=slope,
        intercept=None if fit.origin else intercept,
        residual_df=df,
        **squares,
        **_figures_of(plain),
        slope_0=against.slope_0,
        intercept_0=against.intercept_0,
        alternative=against.alternative,
        level=against.level,
        f=f,
        p_f=None if f is None else t_both(math.sqrt(f), df),
        **shares,
        robust=robust_errors(fit, against, cause),
        log10_condition=condition,
        why=reasons(why),
    )


def no_test_of(fit: Fit) -> Cause:
    """Why a test of the line has no value, where it has none."""
    if fit.y.constant:
        return Cause.CONSTANT_Y
    return Cause.EXACT_FIT if fit.residual_df > 0 else Cause.NO_DEGREES_OF_FREEDOM


def classical_errors(fit: Fit) -> tuple[float, float]:
    """Scaled standard errors of slope and intercept: s/√Sxx and s√(1/n + x̄²/Sxx)."""
    spread = fit.x.sum_squares
    height = math.sqrt(max(1 / fit.base + fit.mean_x_scaled**2 / spread, 0.0))
    return fit.s_scaled / math.sqrt(spread), fit.s_scaled * height


def correlation_of(fit: Fit) -> float:
    """r with its sign; exactly ±1 where every residual is zero and rounding alone hides it.

    y must vary.
    """
    r = fit.sum_products / math.sqrt(fit.x.sum_squares) / math.sqrt(fit.y.sum_squares)
    if abs(r) > 1 or (fit.exact and 1 - abs(r) < 1e-12):
        return math.copysign(1.0, r)
    return r


def fisher_interval(r: float, unshared: float, df: int, level: float) -> Interval | None:
    """tanh(atanh r ± z/√(df − 1)), df = n − 2 less the columns held; None where df is below 2.

    unshared : 1 − r², from summed residuals, where r is near ±1. Source: Fisher 1921; Fisher 1924 for columns held.
    """
    if df < 2:
        return None
    # atanh r = ½ log((1 + |r|)²/(1 − r²)), signed; loses nothing as |r| nears 1.
    size = math.atanh(abs(r)) if abs(r) < 0.5 else math.log1p(abs(r)) - math.log(unshared) / 2
    middle, half = math.copysign(size, r), z_beyond((1 - level) / 2) / math.sqrt(df - 1)
    return math.tanh(middle - half), math.tanh(middle + half)


def _figures_of(errors: Coefficients) -> dict[str, Any]:
    return {name: getattr(errors, name) for name in Coefficients.__struct_fields__ if name != "why"}


def _shares(fit: Fit, model: float) -> dict[str, float | None]:
    unshared = fit.sse / fit.y.sum_squares
    return {
        "r": None if fit.origin else correlation_of(fit),
        "r2": min(model / fit.y.sum_squares, 1.0),
        "adj_r2": None
        if fit.residual_df < 1
        else 1 - unshared * (fit.n if fit.origin else fit.n - 1) / fit.residual_df,
    }


def _log10_condition(pairs: Pairs) -> float | None:
    """log10 of the 2-norm condition number of [1, x] as entered; None where x does not vary.

    κ = (T + √(T² − 4n·Sxx))/(2√(n·Sxx)), T = n + Σx². Worked in logarithms of exact fractions,
    since Σx² may lie beyond double range.
    Source: quantities §3.
    """
    n, x = pairs.n, pairs.centred_x
    if x.constant:
        return None
    scale = Fraction(2) ** (2 * x.exponent)
    spread = Fraction(x.sum_squares) * scale
    trace = n + spread + n * x.mean**2 * scale
    # κ = u + √(u² − 1) with u = T/(2√(n·Sxx)).
    square = trace * trace / (4 * n * spread)
    log_u = _log(square) / 2
    if log_u > 20:  # κ is 2u to the last digit
        return (log_u + math.log(2)) / math.log(10)
    return math.log(math.sqrt(square) + (math.sqrt(square - 1) if square > 1 else 0.0)) / math.log(10)


def _log(value: Fraction) -> float:
    shift = value.numerator.bit_length() - value.denominator.bit_length()
    return math.log(float(value / 2**shift if shift > 0 else value * 2**-shift)) + shift * math.log(2)
