"""What the line expects at a given x, and how far off that may be."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

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
    away = (np.ldexp(x, -fit.x.exponent) - _high(fit)) - _low(fit)
    leverage = 1 / fit.base + away * away * (1 / fit.x.sum_squares)
    fitted = _heights(fit, away)
    df = fit.residual_df
    if errors is None:
        se_mean = np.ldexp(fit.s_scaled * np.sqrt(leverage), fit.y.exponent)
        se_individual = np.ldexp(fit.s_scaled * np.sqrt(1 / mean_of + leverage), fit.y.exponent)
    else:
        variance, df = errors.at(away), errors.df
        se_mean = np.ldexp(np.sqrt(variance), fit.y.exponent)
        se_individual = np.ldexp(np.sqrt(fit.s_scaled**2 / mean_of + variance), fit.y.exponent)
    t = t_beyond((1 - level) / 2, df)
    half_band = math.sqrt(fit.parameters * f_beyond(1 - level, fit.parameters, df)) * se_mean
    half_ci, half_pi = t * se_mean, t * se_individual
    low, high = float(fit.pairs.x.min()), float(fit.pairs.x.max())
    beyond = np.maximum(np.maximum(low - x, x - high), 0)
    spread = fit.pairs.centred_x
    sd = math.ldexp(math.sqrt(spread.sum_squares / (fit.n - 1)), spread.exponent)
    return Forecasts(
        x=x,
        fitted=read_only(fitted),
        leverage=read_only(leverage),
        se_mean=read_only(se_mean),
        ci=read_only(np.stack((fitted - half_ci, fitted + half_ci), axis=-1)),
        half_ci=read_only(half_ci),
        se_individual=read_only(se_individual),
        pi=read_only(np.stack((fitted - half_pi, fitted + half_pi), axis=-1)),
        half_pi=read_only(half_pi),
        band=read_only(np.stack((fitted - half_band, fitted + half_band), axis=-1)),
        outside=(x < low) | (x > high),
        distance=read_only(beyond / sd if sd else np.zeros_like(beyond)),
    )


def _high(fit: Fit) -> float:
    return float(fit.x.mean)


def _low(fit: Fit) -> float:
    """What rounding drops from x̄."""
    return float(fit.x.mean - type(fit.x.mean)(_high(fit)))


def _heights(fit: Fit, away: Floats) -> Floats:
    """ȳ + b·(x − x̄), in y units."""
    return np.ldexp(float(fit.y.mean) + fit.slope_scaled * away, fit.y.exponent)
