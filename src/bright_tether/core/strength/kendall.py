"""Kendall's τ: pairs of pairs counted by sorting, with its test, exact p, interval and critical value."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Alternative, Cause, Interval, Ints, Why, reasons
from bright_tether.core.special import special
from bright_tether.core.strength.compared import Compared, compared_codes, compared_of
from bright_tether.core.tails import z_beyond

#: Largest n for which the whole null distribution of S is worked out.
EXACT_UP_TO = 60


class Kendall(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Counts over the n(n − 1)/2 pairs of pairs; τ-a, τ-b; normal p by the alternative; p_exact two-sided.

    critical : the |τ_b| at which the normal p equals α.
    """

    concordant: int
    discordant: int
    tied_x: int
    tied_y: int
    tied_both: int
    tau_a: float
    tau_b: float | None
    z: float | None
    p: float | None
    p_exact: float | None
    ci: Interval | None
    critical: float | None
    why: Why


def kendall(pairs: Pairs, *, alpha: float, alternative: Alternative, level: float) -> Kendall:
    """Count and test concordance in O(n log n).

    pairs : n ≥ 2. τ_b, z and p are None where x or y does not vary; the interval needs n > 4.
    Source: quantities §2; Knight 1966; Kendall & Gibbons 1990; Fieller, Hartley & Pearson 1957.
    """
    require(pairs, 2)
    return kendall_of(compared_of(pairs), alpha=alpha, alternative=alternative, level=level)


def kendall_of(found: Compared, *, alpha: float, alternative: Alternative, level: float) -> Kendall:
    """The same where every two pairs were held against each other, wherever they are."""
    n, total, score, same = found.n, found.total, found.score, found.same
    figures: dict[str, Any] = {
        "concordant": found.concordant,
        "discordant": found.discordant,
        "tied_x": found.same_x - same,
        "tied_y": found.same_y - same,
        "tied_both": same,
        "tau_a": score / total,
    }
    if found.room == 0:
        cause = Cause.CONSTANT_Y if found.same_y == total else Cause.CONSTANT_X
        why = dict.fromkeys(("tau_b", "z", "p", "p_exact", "ci", "critical"), cause)
        return Kendall(**figures, tau_b=None, z=None, p=None, p_exact=None, ci=None, critical=None,
                       why=reasons(why))  # fmt: skip
    root, spread = found.root, math.sqrt(found.variance)
    z, of_all = score / spread, found.tau_b
    why = {}
    exact = None
    if n > EXACT_UP_TO:
        why["p_exact"] = Cause.TOO_MANY_FOR_EXACT
    elif found.same_x or found.same_y:
        why["p_exact"] = Cause.TIES
    else:
        exact = _exact_p(n, score)
    ci = None
    if abs(of_all) == 1 or n <= 4:
        why["ci"] = Cause.PERFECT_CORRELATION if abs(of_all) == 1 else Cause.TOO_FEW_PAIRS
    else:
        half = z_beyond((1 - level) / 2) * math.sqrt(0.437 / (n - 4))
        ci = math.tanh(math.atanh(of_all) - half), math.tanh(math.atanh(of_all) + half)
    limit = z_beyond(alpha / 2 if alternative == "two-sided" else alpha) * spread / root
    p = _normal_p(z, alternative)
    return Kendall(**figures, tau_b=of_all, z=z, p=p, p_exact=exact, ci=ci, critical=limit, why=reasons(why))


def tau_b(x: Ints, y: Ints) -> float | None:
    """τ-b alone, of values told by codes from 0; None where x or y does not vary. x, y : (n,)."""
    found = compared_codes(x, np.bincount(x), y, np.bincount(y))
    return found.tau_b if found.room else None


def _normal_p(z: float, alternative: Alternative) -> float:
    if alternative == "two-sided":
        return float(2 * special.ndtr(-abs(z)))
    return float(special.ndtr(-z if alternative == "greater" else z))


def _exact_p(n: int, score: int) -> float:
    counts = _score_counts(n)
    middle = n * (n - 1) // 2
    far = sum(c for inversions, c in enumerate(counts) if abs(middle - 2 * inversions) >= abs(score))
    return float(far / math.factorial(n)) if n < 20 else _ratio(far, math.factorial(n))


def _ratio(part: int, whole: int) -> float:
    from fractions import Fraction

    return float(Fraction(part, whole))


@lru_cache(maxsize=16)
def _score_counts(n: int) -> tuple[int, ...]:
    """How many orders of n have each number of inversions (Mahonian numbers), in whole numbers."""
    counts = [1]
    for size in range(2, n + 1):
        longer, running = [], 0
        for k in range(len(counts) + size - 1):
            running += counts[k] if k < len(counts) else 0
            running -= counts[k - size] if 0 <= k - size < len(counts) else 0
            longer.append(running)
        counts = longer
    return tuple(counts)
