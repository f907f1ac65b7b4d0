"""r, ρ and τ judged by cases of several rows each: what each would be without one case, then without another."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import partial

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import NoErrors, coefficients_by, errors_in_force
from bright_tether.core.line.plain import Fit
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Alternative, Bools, Cause, Floats, Interval, Ints, Why, reasons
from bright_tether.core.strength.kendall import tau_b
from bright_tether.core.strength.ranks import mid_ranks
from bright_tether.core.strength.within import WithinGroups
from bright_tether.core.tails import t_beyond, t_both, t_tail

#: Pairs gone through over all that is left out; more cases than that allows go together in this many parts or more.
_PAIRS, _PARTS = 200_000, 25


class ByCase(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A coefficient's t on df, its p by the alternative, and its interval, cases taken as a whole."""

    t: float | None
    df: int
    p: float | None
    ci: Interval | None
    why: Why


class CoefficientsByCase(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """parts : how many were left out in turn, each a case unless there are more cases than parts."""

    cases: int
    parts: int
    pearson: ByCase
    spearman: ByCase
    kendall: ByCase


class NoLeftOut(Exception):
    """A coefficient has no value, or none without one of the cases. cause : why."""

    def __init__(self, cause: Cause) -> None:
        super().__init__(cause)
        self.cause = cause


def coefficients_by_case(
    pairs: Pairs, fit: Fit, cases: Ints, *, alternative: Alternative, level: float
) -> CoefficientsByCase:
    """Each coefficient with an interval from the spread of atanh of it as cases are left out in turn.

    fit : the plain line of the pairs. cases : (n,) codes from 0. The t and p of r are those of the slope by errors
    by case, as its t by rows is the slope's; those of ρ and τ rest on the same spread as their intervals.
    Source: Efron & Stein 1981 (jackknife); Kott 2001 (parts); Fisher 1921 (atanh).
    """
    judge = partial(judged_by_case, pairs=pairs, fit=fit, cases=cases, alternative=alternative, level=level)
    r, rho, tau = (judge(name) for name in ("pearson", "spearman", "kendall"))
    return CoefficientsByCase(cases=int(cases.max()) + 1, parts=int(parts_of(cases).max()) + 1, pearson=r,
                              spearman=rho, kendall=tau)  # fmt: skip


def judged_by_case(
    name: str, pairs: Pairs, fit: Fit, cases: Ints, *, alternative: Alternative, level: float
) -> ByCase:
    """One of them. name : pearson, spearman or kendall."""
    parts = parts_of(cases)
    df = int(parts.max())
    measure = {"pearson": straight, "spearman": ranked, "kendall": counted}[name](pairs)
    try:
        middle, away = left_out(measure, parts)
    except NoLeftOut as none:
        found = ByCase(
            t=None, df=df, p=None, ci=None, why=reasons(dict.fromkeys(("t", "p", "ci"), none.cause))
        )
    else:
        found = _judged(middle, math.sqrt(float(away @ away)), df, alternative, level)
    return _with_slope(found, fit, cases, alternative, level) if name == "pearson" else found


def parts_of(cases: Ints) -> Ints:
    """Which part each row is left out with, (n,), codes from 0: its case, or some cases of many.

    Which cases go together rests on their number alone, never on what they hold.
    """
    many = int(cases.max()) + 1
    most = max(_PAIRS // cases.size, _PARTS)
    if many <= most:
        return cases
    return np.asarray(np.random.default_rng(many).permutation(many) % most)[cases]


def left_out(measure: Callable[[Bools | None], float], parts: Ints) -> tuple[float, Floats]:
    """A measure of all rows, and how far it is from their mean without each part in turn, (parts,).

    The square of what comes back sums to the variance of the measure. Raises NoLeftOut.
    """
    whole = measure(None)
    count = int(parts.max()) + 1
    if count < 3:
        raise NoLeftOut(Cause.TOO_FEW_CASES)
    try:
        without = np.array([measure(kept) for kept in _in_turn(parts, count)])
    except NoLeftOut:
        raise NoLeftOut(Cause.ONE_CASE_CARRIES) from None
    return whole, (without - without.mean()) * math.sqrt((count - 1) / count)


def _in_turn(parts: Ints, count: int) -> Iterator[Bools]:
    return (parts != part for part in range(count))


def straight(pairs: Pairs) -> Callable[[Bools | None], float]:
    """atanh r of the rows kept, with 1 − r² from summed residuals."""
    x, y = pairs.centred_x.high, pairs.centred_y.high

    def measure(kept: Bools | None) -> float:
        return _atanh(*((x, y) if kept is None else (x[kept], y[kept])))

    return measure


def ranked(pairs: Pairs) -> Callable[[Bools | None], float]:
    """atanh ρ of the rows kept, ranked among themselves."""
    codes = pairs.codes_x[0], pairs.codes_y[0]

    def measure(kept: Bools | None) -> float:
        mine = codes if kept is None else tuple(one[kept] for one in codes)
        x, y = (mid_ranks(one, np.bincount(one)) for one in mine)
        return _atanh(x - (x.size + 1) / 2, y - (y.size + 1) / 2)

    return measure


def counted(pairs: Pairs) -> Callable[[Bools | None], float]:
    """atanh τ-b of the rows kept."""
    codes = pairs.codes_x[0], pairs.codes_y[0]

    def measure(kept: Bools | None) -> float:
        x, y = codes if kept is None else tuple(one[kept] for one in codes)
        found = tau_b(x, y)
        if found is None:
            raise NoLeftOut(Cause.CONSTANT_Y if x.size and x.min() < x.max() else Cause.CONSTANT_X)
        if abs(found) == 1:
            raise NoLeftOut(Cause.PERFECT_CORRELATION)
        return math.atanh(found)

    return measure


def within(pairs: Pairs, groups: Ints) -> Callable[[Bools | None], float]:
    """atanh of r within groups, of the rows kept. groups : (n,) codes from 0."""
    x, y = pairs.centred_x.high, pairs.centred_y.high

    def measure(kept: Bools | None) -> float:
        mine = groups if kept is None else groups[kept]
        counts = np.maximum(np.bincount(mine), 1)
        both = (x, y) if kept is None else (x[kept], y[kept])
        return _atanh(*(values - (np.bincount(mine, weights=values) / counts)[mine] for values in both))

    return measure


def within_by_case(found: WithinGroups, pairs: Pairs, group: Ints, cases: Ints) -> WithinGroups:
    """r within groups with its two-sided p by case, on as many df as cases, or parts of them, less one."""
    if found.r is None:
        return found
    parts = parts_of(cases)
    df, p, cause = int(parts.max()), None, None
    try:
        middle, away = left_out(within(pairs, np.unique(group, return_inverse=True)[1]), parts)
        error = math.sqrt(float(away @ away))
        p, cause = (t_both(middle / error, df), None) if error else (None, Cause.EXACT_FIT)
    except NoLeftOut as none:
        cause = none.cause
    why = {key: one for key, one in found.why.items() if key != "p"} | ({} if cause is None else {"p": cause})
    return replace(found, p=p, df=df, why=reasons(why))


def _atanh(x: Floats, y: Floats) -> float:
    """½ log((1 + r)/(1 − r)). Raises NoLeftOut where a column does not vary, or r is 1 in size."""
    if not x.size or x.min() == x.max():
        raise NoLeftOut(Cause.CONSTANT_X)
    if y.min() == y.max():
        raise NoLeftOut(Cause.CONSTANT_Y)
    x, y = x - x.mean(), y - y.mean()
    sxx, syy, sxy = float(x @ x), float(y @ y), float(x @ y)
    left = y - sxy / sxx * x
    unshared = float(left @ left) / syy
    if unshared < 1e-28:  # what rounding leaves of an exact line
        raise NoLeftOut(Cause.PERFECT_CORRELATION)
    r = min(abs(sxy) / math.sqrt(sxx) / math.sqrt(syy), 1.0)
    size = math.atanh(r) if r < 0.5 else math.log1p(r) - math.log(unshared) / 2
    return math.copysign(size, sxy)


def _judged(middle: float, error: float, df: int, alternative: Alternative, level: float) -> ByCase:
    half = t_beyond((1 - level) / 2, df) * error
    ci = math.tanh(middle - half), math.tanh(middle + half)
    if error == 0:
        why = reasons(dict.fromkeys(("t", "p"), Cause.EXACT_FIT))
        return ByCase(t=None, df=df, p=None, ci=ci, why=why)
    t = middle / error
    return ByCase(t=t, df=df, p=t_tail(t, df, alternative), ci=ci, why=reasons())


def _with_slope(found: ByCase, fit: Fit, cases: Ints, alternative: Alternative, level: float) -> ByCase:
    """r's interval with the test of the slope by case."""
    against = Hypotheses(level=level, alternative=alternative)
    try:
        errors = errors_in_force(fit, "clustered", clusters=cases)
        by = coefficients_by(fit, errors, against)
    except NoErrors as none:
        why = {**found.why, "t": none.cause, "p": none.cause}
        return ByCase(t=None, df=found.df, p=None, ci=found.ci, why=reasons(why))
    why = {key: cause for key, cause in found.why.items() if key == "ci"}
    why |= {key: by.why[f"{key}_slope"] for key in ("t", "p") if f"{key}_slope" in by.why}
    return ByCase(t=by.t_slope, df=errors.df, p=by.p_slope, ci=found.ci, why=reasons(why))
