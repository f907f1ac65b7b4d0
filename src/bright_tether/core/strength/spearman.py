"""Spearman's ρ with its test, exact p, interval and critical value."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import permutations

import msgspec
import numpy as np

from bright_tether.core.line.figures import correlation_of
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Alternative, Cause, Interval, Why, reasons
from bright_tether.core.strength.pearson import critical_r, critical_t
from bright_tether.core.tails import t_tail, z_beyond

#: Largest n for which every order of the ranks is gone through.
EXACT_UP_TO = 9


class Spearman(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """ρ without unit, its t on df = n − 2, p by the alternative; p_exact two-sided."""

    rho: float | None
    t: float | None
    df: int
    p: float | None
    p_exact: float | None
    ci: Interval | None
    critical: float | None
    critical_t: float | None
    why: Why


def spearman(pairs: Pairs, *, alpha: float, alternative: Alternative, level: float) -> Spearman:
    """Pearson r of the mid-ranks.

    pairs : n ≥ 3, x not constant. t and p are None where |ρ| is 1; the interval needs n > 3.
    Source: quantities §2; Bonett & Wright 2000.
    """
    fit = fit_line(pairs.ranked)
    df = fit.residual_df
    limit = critical_r(df, alpha, alternative)
    if fit.y.constant:
        return no_spearman(fit.n, Cause.CONSTANT_Y, alpha=alpha, alternative=alternative)
    rho, missing = correlation_of(fit), dict[str, Cause]()
    exact, cause = _exact_p(pairs, fit)
    if cause:
        missing["p_exact"] = cause
    missing |= (
        {} if limit is not None else dict.fromkeys(("critical", "critical_t"), Cause.NO_DEGREES_OF_FREEDOM)
    )
    if fit.exact:
        missing |= dict.fromkeys(("t", "p", "ci"), Cause.PERFECT_CORRELATION)
        t = p = ci = None
    else:
        t = rho * math.sqrt(df / (fit.sse / fit.y.sum_squares))
        p = t_tail(t, df, alternative)
        ci = _interval(rho, fit, level) if fit.n > 3 else None
        missing |= {} if ci else {"ci": Cause.TOO_FEW_PAIRS}
    return Spearman(rho=rho, t=t, df=df, p=p, p_exact=exact, ci=ci, critical=limit,
                    critical_t=critical_t(df, alpha, alternative), why=reasons(missing))  # fmt: skip


def no_spearman(n: int, cause: Cause, *, alpha: float, alternative: Alternative) -> Spearman:
    """What there is without a coefficient: degrees of freedom, and the critical value where n allows one."""
    why = dict.fromkeys(("rho", "t", "p", "p_exact", "ci"), cause)
    limit = critical_r(n - 2, alpha, alternative)
    why |= {} if limit is not None else dict.fromkeys(("critical", "critical_t"), Cause.NO_DEGREES_OF_FREEDOM)
    absent: dict[str, None] = dict.fromkeys(("rho", "t", "p", "p_exact", "ci"))
    at = critical_t(n - 2, alpha, alternative)
    return Spearman(**absent, df=n - 2, critical=limit, critical_t=at, why=reasons(why))


def _interval(rho: float, fit: Fit, level: float) -> Interval:
    half = z_beyond((1 - level) / 2) * math.sqrt((1 + rho * rho / 2) / (fit.n - 3))
    return math.tanh(math.atanh(rho) - half), math.tanh(math.atanh(rho) + half)


def _exact_p(pairs: Pairs, fit: Fit) -> tuple[float | None, Cause | None]:
    if fit.n > EXACT_UP_TO:
        return None, Cause.TOO_MANY_FOR_EXACT
    if fit.elsewhere:
        return None, Cause.EVERY_ROW
    if min(pairs.codes_x[1].size, pairs.codes_y[1].size) < fit.n:
        return None, Cause.TIES
    # ρ = 1 − 6Σd²/(n³ − n); |ρ| is as far from 0 as Σd² is from its middle.
    apart = int(np.rint(np.sum((pairs.ranked.x - pairs.ranked.y) ** 2)))
    counts = _distances(fit.n)
    middle = (fit.n**3 - fit.n) // 6
    far = sum(count for d, count in counts.items() if abs(d - middle) >= abs(apart - middle))
    return far / math.factorial(fit.n), None


@lru_cache(maxsize=8)
def _distances(n: int) -> dict[int, int]:
    """How many orders of n ranks give each Σd²."""
    first = np.arange(n)
    counts: dict[int, int] = {}
    orders = np.fromiter((v for order in permutations(range(n)) for v in order), np.int8).reshape(-1, n)
    found, times = np.unique(((orders - first) ** 2).sum(axis=1), return_counts=True)
    counts.update(zip(found.tolist(), times.tolist(), strict=True))
    return counts
