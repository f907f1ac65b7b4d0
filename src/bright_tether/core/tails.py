"""Tail areas and quantiles, each asked for directly and never as one minus the rest."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from bright_tether.core.results import Alternative, Floats
from bright_tether.core.special import special

#: Beyond this an exponential is more than a double holds.
_LOG_LARGEST = math.log(np.finfo(float).max)
_LOG_FAR = math.log(1e100)


def t_both(t: float, df: float) -> float:
    """Two-sided tail area of Student's t: P(|T| ≥ |t|).

    Source: Abramowitz & Stegun 26.7; the leading term of the tail where t² would overflow.
    """
    if math.isinf(t):
        return 0.0
    size = abs(t)
    if size > 1e150:
        log_area = 0.5 * df * (math.log(df) - 2 * math.log(size)) - math.log(df / 2)
        log_area -= float(special.betaln(df / 2, 0.5))
        return math.exp(log_area) if log_area > -745 else 0.0
    if size < 0.1:  # one minus the middle: no tail is lost, and the middle is small
        return 1 - float(special.betainc(0.5, df / 2, size * size / (df + size * size)))
    return 2 * float(special.stdtr(df, -size))


def t_above(t: float, df: float) -> float:
    """Upper tail area of Student's t: P(T ≥ t)."""
    half = t_both(t, df) / 2
    return half if t >= 0 else 1 - half


def t_tail(t: float, df: float, alternative: Alternative) -> float:
    """The p of t by the alternative."""
    if alternative == "two-sided":
        return t_both(t, df)
    return t_above(t if alternative == "greater" else -t, df)


def t_both_many(t: Floats, df: float) -> Floats:
    """``t_both`` for an array of values well away from 0.

    t : (n,); returns (n,).
    """
    return np.asarray(2 * special.stdtr(df, -abs(t)), np.float64)


@lru_cache(maxsize=512)
def t_beyond(area: float, df: float) -> float:
    """The t with this upper tail area, 0 ≤ area < 1; polished by Newton steps on the tail."""
    if area > 0.5:
        return -t_beyond(1 - area, df)
    if area <= 0:
        return math.inf
    log_beta = float(special.betaln(df / 2, 0.5))
    # so far out the leading term of the tail is all of it
    log_t = 0.5 * math.log(df) - (math.log(2 * area) + math.log(df / 2) + log_beta) / df
    if log_t > _LOG_FAR:
        return math.exp(log_t) if log_t < _LOG_LARGEST else math.inf
    t = -float(special.stdtrit(df, area))
    log_scale = -0.5 * math.log(df) - log_beta
    for _ in range(2):
        if not math.isfinite(t):
            break
        density = math.exp(log_scale - 0.5 * (df + 1) * math.log1p(t * t / df))
        if density == 0:
            break
        t += (t_above(t, df) - area) / density
    return t


def z_both(z: float) -> float:
    """Two-sided tail area of the normal curve."""
    return float(2 * special.ndtr(-abs(z)))


def z_above(z: float) -> float:
    """Upper tail area of the normal curve."""
    return float(special.ndtr(-z))


def z_beyond(area: float) -> float:
    """The standard normal value with this upper tail area."""
    return -float(special.ndtri(area))


def f_above(f: float, df1: float, df2: float) -> float:
    """Upper tail area of F on (df1, df2)."""
    if df1 == 1:
        return t_both(math.sqrt(f), df2)
    return float(special.betainc(df2 / 2, df1 / 2, df2 / (df2 + df1 * f)))


def f_beyond(area: float, df1: float, df2: float) -> float:
    """The F with this upper tail area, inf beyond what a double holds; two numerator df have a closed form.

    Source: for df1 = 2 the tail is (1 + 2f/df2)^(−df2/2).
    """
    if area <= 0:
        return math.inf
    if df1 == 1:
        t = t_beyond(area / 2, df2)
        return t * t
    if df1 == 2:
        rise = -2 / df2 * math.log(area)
        return df2 / 2 * math.expm1(rise) if rise < _LOG_LARGEST else math.inf
    return float(special.fdtri(df1, df2, 1 - area))


def chi_above(value: float, df: int) -> float:
    """Upper tail area of χ² on df."""
    return float(special.gammaincc(df / 2, value / 2))
