"""Agreement of two columns in one unit: what no correlation can see."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.centred import centre, fraction_unscaled, unscaled
from bright_tether.core.exact import dot
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Cause, Interval, Why, reasons
from bright_tether.core.tails import t_beyond, t_both, z_beyond


class Agreement(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Differences y − x in the columns' unit, with t on n − 1; concordance without unit.

    limits_ci : one interval for each limit.
    """

    mean_difference: float | None
    sd_difference: float | None
    ci: Interval | None
    t: float | None
    df: int
    p: float | None
    limits: Interval | None
    limits_ci: tuple[Interval, Interval] | None
    exact_matches: int
    concordance: float | None
    why: Why


def agreement(pairs: Pairs, level: float) -> Agreement:
    """Compare two columns that measure the same thing in one unit.

    pairs : n ≥ 1; all but the mean needs two. t and p are None where every difference is the same.
    Source: quantities §2b; Bland & Altman 1999; Lin 1989.
    """
    require(pairs, 1)
    n, why = pairs.n, dict[str, Cause]()
    gaps = centre(pairs.y - pairs.x)
    mean = fraction_unscaled(gaps.mean, gaps.exponent)
    sd = None if n < 2 else unscaled(math.sqrt(gaps.sum_squares / (n - 1)), gaps.exponent)
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
    concordance = _concordance(pairs)
    if concordance is None:
        why["concordance"] = Cause.CONSTANT_Y
    return Agreement(
        mean_difference=mean,
        sd_difference=sd,
        **figures,
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


def _concordance(pairs: Pairs) -> float | None:
    x, y = pairs.centred_x, pairs.centred_y
    apart = x.mean * Fraction(2) ** x.exponent - y.mean * Fraction(2) ** y.exponent
    scale = Fraction(2) ** (x.exponent + y.exponent)
    shared = Fraction(dot(x.high, x.low, y.high, y.low)) * scale
    spread = Fraction(x.sum_squares) * Fraction(2) ** (2 * x.exponent)
    spread += Fraction(y.sum_squares) * Fraction(2) ** (2 * y.exponent)
    whole = spread + pairs.n * apart * apart
    return None if whole == 0 else float(2 * shared / whole)
