"""The other way round: which x gives this y?"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

from bright_tether.core.centred import fraction_unscaled
from bright_tether.core.line.errors import Errors, errors_of
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Interval, Why, reasons
from bright_tether.core.tails import t_beyond


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Inverse:
    """The x at which the line reaches y, with Fieller's interval; g ≥ 1 leaves none.

    y in y units, x and ci in x units.
    """

    y: float
    x: float | None
    ci: Interval | None
    g: float | None
    why: Why


def inverse(
    fit: Fit, y: float, *, level: float, mean_of: int | None = 1, errors: Errors | None = None
) -> Inverse:
    """Read the line backwards.

    mean_of : new cases averaged in y; None where y is the mean response itself.
    None where the slope is not clearly different from 0 (g ≥ 1) or the line has no misses to judge by.
    Source: Fieller 1954; quantities §7.
    """
    made = errors or errors_of(fit, "classical")
    slope = fit.slope_scaled
    t = t_beyond((1 - level) / 2, made.df)
    g = math.inf if slope == 0 else t * t * made.slope / (slope * slope)
    if g >= 1:
        why = reasons(dict.fromkeys(("x", "ci"), Cause.SLOPE_UNCLEAR))
        return Inverse(y=y, x=None, ci=None, g=g if math.isfinite(g) else None, why=why)
    rise = float(Fraction(y) / Fraction(2) ** fit.y.exponent - fit.y.mean)
    new = 0.0 if mean_of is None else fit.s_scaled**2 / mean_of
    # (b·d − rise)² = t²(new + V(d)) in d = x − x̄
    lead = slope * slope - t * t * made.slope
    half = slope * rise + t * t * made.cross
    # half² − lead·(rise² − t²(new + centre)), with rise² taken out by hand so that it cannot cancel
    room = (
        t
        * t
        * (
            made.slope * rise * rise
            + 2 * slope * rise * made.cross
            + t * t * made.cross**2
            + lead * (new + made.centre)
        )
    )
    root = math.sqrt(max(room, 0.0))
    ends = sorted(((half - root) / lead, (half + root) / lead))
    x = fit.x.mean + Fraction(rise) / fit.slope_exact
    low, high = (fraction_unscaled(fit.x.mean + Fraction(end), fit.x.exponent) for end in ends)
    ci = None if low is None or high is None else (low, high)
    return Inverse(y=y, x=fraction_unscaled(x, fit.x.exponent), ci=ci, g=g, why=reasons())
