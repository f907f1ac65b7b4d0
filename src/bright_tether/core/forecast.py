"""What the line expects at a given x, and how far off that may be."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from bright_tether.core.exact import scaled_by
from bright_tether.core.line.errors import Errors
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Bools, Floats, read_only
from bright_tether.core.tails import f_beyond, t_beyond


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Forecasts:
    """One entry for each x asked for; intervals as (m, 2), heights in y units.

    distance : how many sd of x beyond the measured range, 0 inside it.
    """

    x: Floats
    fitted: Floats
    leverage: Floats
    se_mean: Floats
    ci: Floats
    half_ci: Floats
    se_individual: Floats
    pi: Floats
    half_pi: Floats
    band: Floats
    outside: Bools
    distance: Floats


def forecast(
    fit: Fit, x: Floats, *, level: float, mean_of: int = 1, errors: Errors | None = None
) -> Forecasts:
    """Fitted value, interval for the mean and for one new case at each x.

    x : (m,), finite. mean_of : cases averaged in the new observation, at least 1.
    errors : those in force for the line; classical ones when not given. A new case has weight 1.
    band is the simultaneous interval of Working & Hotelling 1929.
    Source: quantities §7.
    """
    away = (scaled_by(x, -fit.x.exponent) - _high(fit)) - _low(fit)
    leverage = 1 / fit.base + away * away * (1 / fit.x.sum_squares)
    fitted = _heights(fit, away)
    df = fit.residual_df
    if errors is None:
        se_mean = scaled_by(fit.s_scaled * np.sqrt(leverage), fit.y.exponent)
        se_individual = scaled_by(fit.s_scaled * np.sqrt(1 / mean_of + leverage), fit.y.exponent)
    else:
        variance, df = errors.at(away), errors.df
        se_mean = scaled_by(np.sqrt(variance), fit.y.exponent)
        se_individual = scaled_by(np.sqrt(fit.s_scaled**2 / mean_of + variance), fit.y.exponent)
    t = t_beyond((1 - level) / 2, df)
    half_band = math.sqrt(fit.parameters * f_beyond(1 - level, fit.parameters, df)) * se_mean
    half_ci, half_pi = t * se_mean, t * se_individual
    low, high = float(fit.pairs.x.min()), float(fit.pairs.x.max())
    outside = (x < low) | (x > high)
    beyond = np.zeros(x.size)
    if outside.any():
        beyond[outside] = np.maximum(low - x[outside], x[outside] - high)
    spread = fit.pairs.centred_x
    sd = math.ldexp(math.sqrt(spread.sum_squares / (fit.n - 1)), spread.exponent)
    return Forecasts(
        x=x,
        fitted=read_only(fitted),
        leverage=read_only(leverage),
        se_mean=read_only(se_mean),
        ci=_ends(fitted, half_ci),
        half_ci=read_only(half_ci),
        se_individual=read_only(se_individual),
        pi=_ends(fitted, half_pi),
        half_pi=read_only(half_pi),
        band=_ends(fitted, half_band),
        outside=outside,
        distance=read_only(beyond / sd if sd else np.zeros_like(beyond)),
    )


def _ends(middle: Floats, half: Floats) -> Floats:
    """Both ends of each interval, (m, 2)."""
    told = np.empty((middle.size, 2))
    np.subtract(middle, half, out=told[:, 0])
    np.add(middle, half, out=told[:, 1])
    return read_only(told)


def _high(fit: Fit) -> float:
    return float(fit.x.mean)


def _low(fit: Fit) -> float:
    """What rounding drops from x̄."""
    return float(fit.x.mean - type(fit.x.mean)(_high(fit)))


def _heights(fit: Fit, away: Floats) -> Floats:
    """ȳ + b·(x − x̄), in y units."""
    told = away * fit.slope_scaled
    told += float(fit.y.mean)
    return scaled_by(told, fit.y.exponent)
