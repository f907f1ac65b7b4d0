"""What the line expects at a given x, and how far off that may be."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

import msgspec
import numpy as np

from bright_tether.core.exact import blocks, scaled_by
from bright_tether.core.line.errors import Errors, NoErrors, errors_of
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.weights import NewWeight, new_weights, plain_heights
from bright_tether.core.results import Bools, Cause, Floats, Why, names_of, read_only, reasons
from bright_tether.core.tails import f_beyond, t_beyond

_MEAN = ("se_mean", "ci", "half_ci", "band")
_CASE = ("se_individual", "pi", "half_pi")
#: Places that are forecast together, so that what is worked out between stays in the processor's cache.
_AT_ONCE = 1 << 14


class Forecasts(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One entry for each x asked for; intervals as (m, 2), heights in y units; NaN where there is no value.

    distance : how many sd of x beyond the measured range, 0 inside it. why : one reason a name.
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
    why: Why


_BESIDE_X = tuple(name for name in names_of(Forecasts) if name not in ("x", "why"))


def forecast(
    fit: Fit,
    x: Floats,
    *,
    level: float,
    mean_of: int = 1,
    errors: Errors | Cause | None = None,
    new: NewWeight | None = None,
) -> Forecasts:
    """Fitted value, interval for the mean and for one new case at each x.

    x : (m,), finite. mean_of : cases averaged in the new observation, at least 1. errors : those in force for
    the line, or why there are none; classical ones when not given. new : the weight of a new case on a line
    with weights; without it nothing is said of a case there. band is Working & Hotelling's of 1929.
    Source: quantities §0, §7.
    """
    with np.errstate(all="ignore"):
        if x.size <= _AT_ONCE:
            return _forecast(fit, x, level, mean_of, errors, new)
        parts = (_forecast(fit, x[part], level, mean_of, errors, new) for part in blocks(x.size, _AT_ONCE))
        return _end_to_end(parts, x)


def _forecast(
    fit: Fit, x: Floats, level: float, mean_of: int, errors: Errors | Cause | None, new: NewWeight | None
) -> Forecasts:
    away = away_from_mean(fit, x)
    leverage = 1 / fit.base + away * away * (1 / fit.x.sum_squares)
    fitted = heights_at(fit, away)
    why: dict[str, Cause] = {}
    named = errors is not None
    if errors is None:
        try:
            errors = errors_of(fit, "classical")
        except NoErrors as none:
            errors = none.cause
    share: Floats | float
    share, cause = (1.0, None) if fit.weights is None else new_weights(fit, x, new)
    if cause is not None:
        why |= dict.fromkeys(_CASE, cause)
    if isinstance(errors, Cause):
        nothing = np.full(x.size, np.nan)
        se_mean = se_individual = nothing
        t = half = np.full(1, np.nan)
        why |= dict.fromkeys((*_MEAN, *_CASE), errors)
    else:
        if named:
            variance = errors.at(away)
            se_mean = scaled_by(np.sqrt(variance), fit.y.exponent)
            of_case = np.sqrt(fit.s_scaled**2 / (mean_of * share) + variance)
        else:
            se_mean = scaled_by(fit.s_scaled * np.sqrt(leverage), fit.y.exponent)
            of_case = fit.s_scaled * np.sqrt(1 / (mean_of * share) + leverage)
        se_individual = scaled_by(of_case, fit.y.exponent)
        dfs = dfs_at(fit, x, errors.df, new)
        t = _each(dfs, lambda df: t_beyond((1 - level) / 2, df))
        half = _each(dfs, lambda df: math.sqrt(fit.parameters * f_beyond(1 - level, fit.parameters, df)))
    half_ci, half_pi = t * se_mean, t * se_individual
    low, high = fit.pairs.ends_x
    outside = (x < low) | (x > high)
    beyond = np.maximum(np.maximum(low - x, x - high), 0.0)
    spread = fit.pairs.centred_x
    sd = math.sqrt(spread.sum_squares / (fit.n - 1)) if fit.n > 1 else 0.0
    if sd:
        distance = scaled_by(beyond, -spread.exponent) / sd
    else:
        distance = np.where(outside, np.nan, 0.0)
        why["distance"] = Cause.CONSTANT_X
    figures = {
        "fitted": fitted, "leverage": scaled_by(leverage, -fit.weight_exponent), "se_mean": se_mean,
        "ci": _ends(fitted, half_ci), "half_ci": half_ci, "se_individual": se_individual,
        "pi": _ends(fitted, half_pi), "half_pi": half_pi, "band": _ends(fitted, half * se_mean),
        "distance": distance,
    }  # fmt: skip
    for name, values in figures.items():
        lost = np.zeros(1, bool) if math.isfinite(values.sum()) else ~np.isfinite(values)
        if lost.any():
            why.setdefault(name, Cause.OUT_OF_RANGE)
            values = np.array(values)
            values[lost.any(axis=1) if values.ndim == 2 else lost] = np.nan
            figures[name] = values
    return Forecasts(
        x=x,
        outside=outside,
        why=reasons(why),
        **{name: read_only(values) for name, values in figures.items()},
    )


def _end_to_end(parts: Iterable[Forecasts], x: Floats) -> Forecasts:
    """The forecasts of each part as one. x : of all, (m,)."""
    whole: dict[str, Floats] = {}
    why: dict[str, Cause] = {}
    start = 0
    for part in parts:
        end = start + part.x.size
        for name in _BESIDE_X:
            values = getattr(part, name)
            if name not in whole:
                whole[name] = np.empty((x.size, *values.shape[1:]), values.dtype)
            whole[name][start:end] = values
        why = {**part.why, **why}
        start = end
    return Forecasts(x=x, why=reasons(why), **{name: read_only(values) for name, values in whole.items()})  # type: ignore[arg-type]


def _ends(middle: Floats, half: Floats) -> Floats:
    """Both ends of each interval, (m, 2)."""
    ends = np.empty((middle.size, 2))
    np.subtract(middle, half, out=ends[:, 0])
    np.add(middle, half, out=ends[:, 1])
    return ends


def dfs_at(fit: Fit, x: Floats, df: int, new: NewWeight | None) -> Floats:
    """The df of each place, (m,), or one for all, (1,): fewer where a fitted power tells less of the spread there."""
    if new is None or new.power is None:
        return np.array([df], float)
    size = x if new.power.of == "x" else plain_heights(fit, x)
    return new.power.df_at(size, df)


def _each(dfs: Floats, quantile: Callable[[float], float]) -> Floats:
    return np.array([quantile(df) if df > 0 else math.nan for df in dfs.tolist()])


def _high(fit: Fit) -> float:
    return float(fit.x.mean)


def _low(fit: Fit) -> float:
    """What rounding drops from x̄."""
    return float(fit.x.mean - type(fit.x.mean)(_high(fit)))


def away_from_mean(fit: Fit, x: Floats) -> Floats:
    """x − x̄ of each x, (m,), scaled as x."""
    return (scaled_by(x, -fit.x.exponent) - _high(fit)) - _low(fit)


def heights_at(fit: Fit, away: Floats) -> Floats:
    """ȳ + b·(x − x̄), in y units. away : x − x̄, scaled as x."""
    heights = away * fit.slope_scaled
    heights += float(fit.y.mean)
    return scaled_by(heights, fit.y.exponent)
