"""Pearson's r with its test, interval and critical value."""

from __future__ import annotations

import math

import msgspec

from bright_tether.core.centred import unscaled
from bright_tether.core.line.figures import correlation_of, fisher_interval
from bright_tether.core.line.plain import Fit
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Alternative, Cause, Interval, Why, reasons
from bright_tether.core.tails import t_beyond, t_tail


class Pearson(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """r without unit, its t on df = n − 2, p by the alternative, Fisher interval, critical |r|."""

    r: float | None
    t: float | None
    df: int
    p: float | None
    ci: Interval | None
    critical: float | None
    why: Why


class Covariance(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Sxy/(n − 1), in x units times y units."""

    covariance: float | None
    why: Why


def covariance(pairs: Pairs) -> Covariance:
    """Covariance of x and y. pairs : n ≥ 2. Raises TooFewPairs. Source: quantities §2."""
    require(pairs, 2)
    x, y = pairs.centred_x, pairs.centred_y
    value = unscaled(pairs.products / (pairs.n - 1), x.exponent + y.exponent)
    why = {} if value is not None else {"covariance": Cause.OUT_OF_RANGE}
    return Covariance(covariance=value, why=reasons(why))


def no_pearson(n: int, cause: Cause, *, alpha: float, alternative: Alternative) -> Pearson:
    """What there is without a coefficient: degrees of freedom, and the critical value where n allows one."""
    why = dict.fromkeys(("r", "t", "p", "ci"), cause)
    limit = critical_r(n - 2, alpha, alternative)
    why |= {} if limit is not None else {"critical": Cause.NO_DEGREES_OF_FREEDOM}
    return Pearson(r=None, t=None, df=n - 2, p=None, ci=None, critical=limit, why=reasons(why))


def pearson(fit: Fit, *, alpha: float, alternative: Alternative, level: float) -> Pearson:
    """Correlate x and y.

    1 − r² is taken as SSE/Syy from the summed residuals. The interval needs n > 3.
    Source: quantities §2; Fisher 1921.
    """
    df = fit.residual_df
    limit = critical_r(df, alpha, alternative)
    if fit.y.constant:
        return no_pearson(fit.n, Cause.CONSTANT_Y, alpha=alpha, alternative=alternative)
    r = correlation_of(fit)
    if fit.exact:
        why = dict.fromkeys(("t", "p", "ci"), Cause.PERFECT_CORRELATION)
        why |= {} if limit is not None else {"critical": Cause.NO_DEGREES_OF_FREEDOM}
        return Pearson(r=r, t=None, df=df, p=None, ci=None, critical=limit, why=reasons(why))
    t = r * math.sqrt(df / (fit.sse / fit.y.sum_squares))
    ci = fisher_interval(r, fit.sse / fit.y.sum_squares, df, level)
    return Pearson(
        r=r,
        t=t,
        df=df,
        p=t_tail(t, df, alternative),
        ci=ci,
        critical=limit,
        why=reasons({} if ci else {"ci": Cause.TOO_FEW_PAIRS}),
    )


def critical_t(df: int, alpha: float, alternative: Alternative) -> float | None:
    """The |t| at which p equals α; None without degrees of freedom."""
    return t_beyond(alpha / 2 if alternative == "two-sided" else alpha, df) if df >= 1 else None


def critical_r(df: int, alpha: float, alternative: Alternative) -> float | None:
    """The |r| at which p equals α: t*/√(df + t*²); None without degrees of freedom."""
    t = critical_t(df, alpha, alternative)
    if t is None:
        return None
    return t / math.hypot(math.sqrt(df), t) if math.isfinite(t) else 1.0
