"""The other way round: which x gives this y?"""

from __future__ import annotations

import math
from fractions import Fraction

import msgspec
import numpy as np

from bright_tether.core.centred import fraction_unscaled
from bright_tether.core.line.errors import Errors, NoErrors, errors_of
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.weights import NewWeight, new_weights
from bright_tether.core.results import Cause, Interval, Why, left_range, reasons
from bright_tether.core.tails import t_beyond


class Inverse(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The x at which the line reaches y, with Fieller's interval; g ≥ 1 leaves none.

    y in y units, x and ci in x units.
    """

    y: float
    x: float | None
    ci: Interval | None
    g: float | None
    why: Why


def inverse(
    fit: Fit,
    y: float,
    *,
    level: float,
    mean_of: int | None = 1,
    errors: Errors | Cause | None = None,
    new: NewWeight | None = None,
) -> Inverse:
    """Read the line backwards.

    mean_of : new cases averaged in y; None where y is the mean response itself. errors : those in force, or
    why there are none. new : the weight of a new case on a line with weights; a pattern is taken at the x
    that is found. None where the slope is not clearly different from 0 (g ≥ 1).
    Source: Fieller 1954; quantities §0, §7.
    """
    try:
        used = errors_of(fit, "classical") if errors is None else errors
    except NoErrors as none:
        used = none.cause
    if not isinstance(used, Cause):
        with np.errstate(all="ignore"):
            try:
                return _inverse(fit, y, level, mean_of, used, new)
            except (ArithmeticError, ValueError) as error:
                if not left_range(error):
                    raise
        used = Cause.OUT_OF_RANGE
    return _none(y, None, used)


def _none(y: float, g: float | None, cause: Cause) -> Inverse:
    names = ("x", "ci") if g is not None else ("x", "ci", "g")
    return Inverse(y=y, x=None, ci=None, g=g, why=reasons(dict.fromkeys(names, cause)))


def _inverse(
    fit: Fit, y: float, level: float, mean_of: int | None, errors: Errors, weight: NewWeight | None
) -> Inverse:
    slope = fit.slope_scaled
    t = t_beyond((1 - level) / 2, errors.df)
    g = math.inf if slope == 0 else t * t * errors.slope / (slope * slope)
    if g >= 1:
        return _none(y, g if math.isfinite(g) else None, Cause.SLOPE_UNCLEAR)
    rise = float(Fraction(y) / Fraction(2) ** fit.y.exponent - fit.y.mean)
    x = fit.x.mean + Fraction(rise) / fit.slope_exact
    at = fraction_unscaled(x, fit.x.exponent)
    new = 0.0 if mean_of is None else fit.s_scaled**2 / mean_of
    if fit.weights is not None and mean_of is not None:
        share, cause = new_weights(fit, np.array([math.nan if at is None else at]), weight)
        if cause is not None:
            return _none(y, g, cause)
        new /= float(share[0])
    # (b·d − rise)² = t²(new + V(d)) in d = x − x̄
    lead = slope * slope - t * t * errors.slope
    half = slope * rise + t * t * errors.cross
    # half² − lead·(rise² − t²(new + centre)), with rise² taken out by hand so that it cannot cancel
    room = (
        t
        * t
        * (
            errors.slope * rise * rise
            + 2 * slope * rise * errors.cross
            + t * t * errors.cross**2
            + lead * (new + errors.centre)
        )
    )
    root = math.sqrt(max(room, 0.0))
    ends = sorted(((half - root) / lead, (half + root) / lead))
    low, high = (fraction_unscaled(fit.x.mean + Fraction(end), fit.x.exponent) for end in ends)
    ci = None if low is None or high is None else (low, high)
    lost = {key: Cause.OUT_OF_RANGE for key, value in (("x", at), ("ci", ci)) if value is None}
    return Inverse(y=y, x=at, ci=ci, g=g, why=reasons(lost))
