"""What a new case weighs on a line with weights."""

from __future__ import annotations

import math
from typing import Literal, get_args

import msgspec
import numpy as np

from bright_tether.core.exact import scaled_by
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.spread_power import SpreadOf, SpreadPower
from bright_tether.core.results import Cause, Floats, Refusal

WeightPattern = Literal["inverse-x", "inverse-x2", "inverse-fitted2", "power-x", "power-fitted"]
PATTERNS: tuple[WeightPattern, ...] = get_args(WeightPattern)


class NewWeight(msgspec.Struct, frozen=True, kw_only=True):
    """How a new case weighs: as stated, or by the pattern at its own x. One of the two is given."""

    stated: float | None = None
    pattern: WeightPattern | None = None
    power: SpreadPower | None = None


#: Patterns whose power is fitted, by what it is a power of; and those that look at fitted values.
POWERS: dict[str, SpreadOf] = {"power-x": "x", "power-fitted": "fitted"}
BY_FITTED = ("inverse-fitted2", "power-fitted")


def pattern_weights(
    x: Floats, pattern: WeightPattern, fitted: Floats | None = None, power: SpreadPower | None = None
) -> Floats:
    """w = 1/|x|, 1/x², 1/fitted² or a fitted power of either, (n,); NaN where that is not positive and finite.

    fitted : of the plain line at x, for those that look at it. power : as fitted; without one every row weighs 1.
    Source: quantities §0; quantities-with for powers.
    """
    if pattern in POWERS:
        size = x if pattern == "power-x" or fitted is None else fitted
        return np.ones(x.size) if power is None else power.weights(size)
    with np.errstate(all="ignore"):
        if pattern == "inverse-x":
            weights = 1 / np.abs(x)
        else:
            size = x if pattern == "inverse-x2" or fitted is None else fitted
            weights = 1 / (size * size)
    weights[~((weights > 0) & np.isfinite(weights))] = np.nan
    return weights


def plain_heights(fit: Fit, x: Floats) -> Floats:
    """Fitted values of the plain line of the same pairs at x, (m,), in y units."""
    plain = fit_line(fit.pairs)
    away = (scaled_by(x, -plain.x.exponent) - float(plain.x.mean)) * plain.slope_scaled
    return scaled_by(away + float(plain.y.mean), plain.y.exponent)


def new_weights(fit: Fit, x: Floats, new: NewWeight | None) -> tuple[Floats, Cause | None]:
    """Weights of new cases at x in the fit's own scale, (m,), NaN where there is none, and why."""
    nothing = np.full(x.size, np.nan)
    if new is None or (new.stated is None and new.pattern is None):
        return nothing, Cause.WEIGHT_UNSTATED
    if new.pattern is None:
        assert new.stated is not None
        return np.full(x.size, math.ldexp(new.stated, -fit.weight_exponent)), None
    try:
        heights = plain_heights(fit, x) if new.pattern in BY_FITTED else None
    except Refusal:
        return nothing, Cause.PATTERN_OUTSIDE
    weights = scaled_by(pattern_weights(x, new.pattern, heights, new.power), -fit.weight_exponent)
    return weights, Cause.PATTERN_OUTSIDE if np.isnan(weights).any() else None
