"""Agreement of two columns in one unit: what no correlation can see."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.centred import centre, fraction_unscaled, unscaled
from bright_tether.core.exact import dot
from bright_tether.core.line.coefficients import Hypotheses, tested
from bright_tether.core.line.fit import no_more_than_rounding
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs, require, take_pairs
from bright_tether.core.results import Cause, Floats, Interval, Why, reasons
from bright_tether.core.tails import t_beyond, t_both, z_beyond


class Agreement(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Differences y − x in the columns' unit, with t on n − 1; concordance without unit.

    limits_ci : one interval for each limit. slope : of the differences on the mean of both columns, without unit, with
    t on n − 2. means : the lowest and the highest mean of both; at_means : the difference on that line there.
    """

    mean_difference: float | None
    sd_difference: float | None
    ci: Interval | None
    t: float | None
    df: int
    p: float | None
    limits: Interval | None
    limits_ci: tuple[Interval, Interval] | None
    slope: float | None
    slope_ci: Interval | None
    slope_t: float | None
    slope_df: int
    slope_p: float | None
    means: Interval | None
    at_means: Interval | None
    exact_matches: int
    concordance: float | None
    why: Why


def agreement(pairs: Pairs, level: float) -> Agreement:
    """Compare two columns that measure the same thing in one unit.

    pairs : n ≥ 1; all but the mean needs two. t and p are None where every difference is the same, to rounding.
    Source: quantities §2b; Bland & Altman 1999; Lin 1989.
    """
    require(pairs, 1)
    n, why = pairs.n, dict[str, Cause]()
    differences = pairs.y - pairs.x
    gaps = centre(differences)
    mean = fraction_unscaled(gaps.mean, gaps.exponent)
    squares = 0.0 if _rounding_alone(gaps.sum_squares, gaps.exponent, pairs) else gaps.sum_squares
    sd = None if n < 2 else unscaled(math.sqrt(squares / (n - 1)), gaps.exponent)
    figures = _with_intervals(mean, sd, n, level)
    t = p = None
    if mean is None or sd is None:
        names = ("sd_difference", "ci", "t", "p", "limits", "limits_ci")
        why = dict.fromkeys(names, Cause.TOO_FEW_PAIRS if n < 2 else Cause.OUT_OF_RANGE)
        why |= {} if mean is not None else {"mean_difference": Cause.OUT_OF_RANGE}
    elif sd == 0:
        why = dict.fromkeys(("t", "p"), Cause.EXACT_FIT)
    else:
        t = mean / (sd / math.sqrt(n))
        p = t_both(t, n - 1)
    along, why_along = _along(pairs, differences, level)
    why |= why_along
    concordance = _concordance(pairs)
    if concordance is None:
        why["concordance"] = Cause.CONSTANT_Y
    return Agreement(
        mean_difference=mean,
        sd_difference=sd,
        **figures,
        **along,
        t=t,
        df=n - 1,
        p=p,
        exact_matches=int(np.count_nonzero(pairs.x == pairs.y)),
        concordance=concordance,
        why=reasons(why),
    )


def _with_intervals(mean: float | None, sd: float | None, n: int, level: float) -> dict[str, Any]:
    if mean is None or sd is None:
        return {"ci": None, "limits": None, "limits_ci": None}
    t, z = t_beyond((1 - level) / 2, n - 1), z_beyond((1 - level) / 2)
    half, wide = t * sd / math.sqrt(n), t * sd * math.sqrt(1 / n + z * z / (2 * (n - 1)))
    low, high = mean - z * sd, mean + z * sd
    return {
        "ci": (mean - half, mean + half),
        "limits": (low, high),
        "limits_ci": ((low - wide, low + wide), (high - wide, high + wide)),
    }


def _rounding_alone(squares: float, exponent: int, pairs: Pairs) -> bool:
    """Whether rounding of x and y leaves such a sum of squares: 0.3 − 0.1 and 0.4 − 0.2 are not the same double."""
    x, y = (replace(one, exponent=exponent) for one in (pairs.centred_x, pairs.centred_y))
    return no_more_than_rounding(squares, pairs.n, x, y, 1.0)


def _along(pairs: Pairs, differences: Floats, level: float) -> tuple[dict[str, Any], dict[str, Cause]]:
    """How the differences change along the mean of both: a line of its own."""
    names = ("slope", "slope_ci", "slope_t", "slope_p", "means", "at_means")
    found: dict[str, Any] = dict.fromkeys(names) | {"slope_df": pairs.n - 2}
    means = pairs.x / 2 + pairs.y / 2
    if pairs.n < 3:
        return found, dict.fromkeys(names, Cause.TOO_FEW_PAIRS)
    if not (np.isfinite(means).all() and np.isfinite(differences).all()):
        return found, dict.fromkeys(names, Cause.OUT_OF_RANGE)
    ends = float(means.min()), float(means.max())
    if ends[0] == ends[1]:
        return found, dict.fromkeys(names, Cause.CONSTANT_X)
    fit = fit_line(take_pairs(means, differences))
    df, tilt = fit.residual_df, fit.y.exponent - fit.x.exponent
    flat = _rounding_alone(fit.y.sum_squares, fit.y.exponent, pairs)
    exact = flat or _rounding_alone(fit.sse, fit.y.exponent, pairs)
    slope = Fraction(0) if flat else fit.slope_exact
    se = 0.0 if exact else math.sqrt(fit.sse / df / fit.x.sum_squares)
    values, _ = tested("slope", slope, se, 0.0, tilt, df, Hypotheses(level=level), Cause.EXACT_FIT)
    found |= {f"slope_{key}": values[f"{key}_slope"] for key in ("ci", "t", "p")}
    heights = [
        fit.y.mean + slope * (Fraction(end) / Fraction(2) ** fit.x.exponent - fit.x.mean) for end in ends
    ]
    low, high = (fraction_unscaled(height, fit.y.exponent) for height in heights)
    found |= {"slope": fraction_unscaled(slope, tilt), "means": ends}
    found["at_means"] = None if low is None or high is None else (low, high)
    return found, {
        key: Cause.EXACT_FIT if exact else Cause.OUT_OF_RANGE for key in names if found[key] is None
    }


def _concordance(pairs: Pairs) -> float | None:
    x, y = pairs.centred_x, pairs.centred_y
    apart = x.mean * Fraction(2) ** x.exponent - y.mean * Fraction(2) ** y.exponent
    scale = Fraction(2) ** (x.exponent + y.exponent)
    shared = Fraction(dot(x.high, x.low, y.high, y.low)) * scale
    spread = Fraction(x.sum_squares) * Fraction(2) ** (2 * x.exponent)
    spread += Fraction(y.sum_squares) * Fraction(2) ** (2 * y.exponent)
    whole = spread + pairs.n * apart * apart
    return None if whole == 0 else float(2 * shared / whole)
