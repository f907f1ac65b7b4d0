"""Lines side by side where several rows are of one case, and a case may have rows in more than one of them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.checks.added import FTest, no_test
from bright_tether.core.compare.differences import CorrelationTest, Difference, judged, no_difference
from bright_tether.core.compare.groups import Group, Moments, moments, units_of
from bright_tether.core.compare.ladder import MOST_GROUPS, TwoGroups, told_apart
from bright_tether.core.line.errors import cluster_factor
from bright_tether.core.line.meats import influence
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Bools, Cause, Floats, Ints, reasons
from bright_tether.core.strength.by_case import NoLeftOut, left_out, parts_of, straight
from bright_tether.core.tails import f_above, t_both


class ComparedByCase(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What a case adds to the errors of every line it has rows in is taken together.

    cases : in all lines; shared : those with rows in two or more of them. slopes, intercepts, heights, correlations :
    of two lines.
    """

    cases: int
    shared: int
    slopes: Difference | None
    intercepts: Difference | None
    heights: Difference | None
    parallel: FTest
    same_height: FTest
    coincident: FTest
    pairwise: tuple[TwoGroups, ...]
    correlations: CorrelationTest | None


class _Line(msgspec.Struct, frozen=True):
    """One line in units that all share. added : (3, cases), what each case adds to the errors of the height at its
    own x̄, of the slope, and of the height at 0; cause : why these may not judge.
    """

    name: str
    fit: Fit
    codes: Ints
    sums: Moments
    added: Floats
    cause: Cause | None


class _Together(msgspec.Struct, frozen=True):
    """All lines. there : (lines, cases), who has rows where. tilt, rise : powers of two of the units of x and y."""

    lines: tuple[_Line, ...]
    there: Bools
    tilt: int
    rise: int
    level: float


def compared_by_case(
    groups: Sequence[Group], codes: Sequence[Ints], level: float, height_at: float | None
) -> ComparedByCase:
    """Every difference and rung from the sandwich summed by case over all lines at once.

    groups : two or more, each with a line. codes : for each, (n,), the case of its rows, from 0 and alike in all.
    df, ν : cases, less one for every set of lines that no case links to the others. A test of q differences is
    F = W·(ν − q + 1)/(ν·q) on q and ν − q + 1, W their Wald sum.
    Source: Liang & Zeger 1986; Cameron & Miller 2015; Pustejovsky & Tipton 2018 for F.
    """
    fits = [group.fit for group in groups if group.fit is not None]
    tilt, rise = units_of(fits)
    origin = (fits[0].x.mean * Fraction(2) ** (fits[0].x.exponent - tilt),
              fits[0].y.mean * Fraction(2) ** (fits[0].y.exponent - rise))  # fmt: skip
    many = max(int(one.max()) for one in codes) + 1
    lines = tuple(_line(group, fit, mine, many, origin, tilt, rise)
                  for group, fit, mine in zip(groups, fits, codes, strict=True))  # fmt: skip
    there = np.stack([np.bincount(mine, minlength=many) > 0 for mine in codes])
    whole, two = _Together(lines, there, tilt, rise, level), len(lines) == 2
    cause = next((one.cause for one in lines if one.cause is not None), None)
    parallel, same_height, coincident = (no_test(cause),) * 3 if cause is not None else _rungs(whole)
    return ComparedByCase(
        cases=int(there.any(axis=0).sum()),
        shared=int((there.sum(axis=0) > 1).sum()),
        slopes=_slopes(whole, 0, 1) if two else None,
        intercepts=_heights(whole, 0.0) if two else None,
        heights=_heights(whole, height_at) if two and height_at is not None else None,
        parallel=parallel,
        same_height=same_height,
        coincident=coincident,
        pairwise=_every_two(whole),
        correlations=_correlations(whole) if two else None,
    )


def _line(
    group: Group, fit: Fit, codes: Ints, many: int, origin: tuple[Fraction, Fraction], tilt: int, rise: int
) -> _Line:
    clusters, df = np.unique(codes).size, fit.residual_df
    factor = cluster_factor(clusters, fit.n, df) if clusters > 1 and df > 0 else math.nan
    up, across = fit.y.exponent - rise, fit.x.exponent - tilt
    units = math.sqrt(factor) * np.ldexp(np.ones(3), (up, up - across, up))
    scores = influence(fit) * fit.residual * units[:, None]
    added = np.stack([np.bincount(codes, weights=one, minlength=many).astype(np.float64) for one in scores])
    cause = group.no_errors if group.errors is None else None
    return _Line(group.name, fit, codes, moments(fit, *origin, tilt, rise), added, cause)


def _df(there: Bools) -> int:
    """Cases, less one for every set of lines that are linked by cases they share. there : (lines, cases)."""
    sets = list(range(len(there)))
    for a in range(len(there)):
        for b in range(a):
            if sets[a] != sets[b] and bool((there[a] & there[b]).any()):
                sets = [sets[b] if one == sets[a] else one for one in sets]
    return int(there.any(axis=0).sum()) - len(set(sets))


def _judged(
    whole: _Together, at: tuple[int, int], gap: float, errors: Floats, exponent: int, told: float | None
) -> Difference:
    """A difference of two lines. gap, errors : in 2^exponent of its units; told : the difference as it is told."""
    cause = next((whole.lines[one].cause for one in at if whole.lines[one].cause is not None), None)
    if cause is not None or told is None:
        return no_difference(cause or Cause.OUT_OF_RANGE, told)
    df = _df(whole.there[list(at)])
    found = judged(gap, math.sqrt(float(errors @ errors)), df, whole.level, exponent)
    return replace(found, difference=told)


def _slopes(whole: _Together, a: int, b: int) -> Difference:
    first, second = whole.lines[a], whole.lines[b]
    own = [one.fit.slope_unscaled(one.fit.slope_scaled) for one in (first, second)]
    gap = None if own[0] is None or own[1] is None else own[0] - own[1]
    return _judged(whole, (a, b), first.sums.slope - second.sums.slope, first.added[1] - second.added[1],
                   whole.rise - whole.tilt, gap)  # fmt: skip


def _heights(whole: _Together, x: float) -> Difference:
    """The difference of two lines' heights at one x."""
    at, errors, told = [], [], []
    for line in whole.lines:
        fit = line.fit
        away = float(Fraction(x) / Fraction(2) ** fit.x.exponent - fit.x.mean)
        height = float(fit.y.mean) + fit.slope_scaled * away
        at.append(math.ldexp(height, fit.y.exponent - whole.rise))
        across = math.ldexp(away, fit.x.exponent - whole.tilt)
        errors.append(line.added[0] + across * line.added[1] if x else line.added[2])
        told.append(fit.height_unscaled(height if x else float(fit.intercept_exact)))
    gap = None if told[0] is None or told[1] is None else told[0] - told[1]
    return _judged(whole, (0, 1), at[0] - at[1], errors[0] - errors[1], whole.rise, gap)


def _every_two(whole: _Together) -> tuple[TwoGroups, ...]:
    if len(whole.lines) > MOST_GROUPS:
        return ()
    pairs = [(a, b) for a in range(len(whole.lines)) for b in range(a + 1, len(whole.lines))]
    return told_apart([((whole.lines[a].name, whole.lines[b].name), _slopes(whole, a, b)) for a, b in pairs])


def _rungs(whole: _Together) -> tuple[FTest, FTest, FTest]:
    """One slope for all, one height given one slope, one line for all."""
    lines, nu = whole.lines, _df(whole.there)
    slopes = np.array([one.sums.slope for one in lines])
    n = np.array([one.sums.n for one in lines], float)
    away = np.array([one.sums.mean_x for one in lines])
    away = away - away @ n / n.sum()  # of each line's own x̄ from that of all rows
    means, sxx = np.array([one.sums.mean_y for one in lines]), np.array([one.sums.sxx for one in lines])
    tilted = np.stack([one.added[1] for one in lines])
    raised = np.stack([one.added[0] - by * one.added[1] for one, by in zip(lines, away, strict=True)])
    heights = means - slopes * away
    parallel = _wald(_from_first(slopes), _from_first(tilted), nu)
    both = np.concatenate((_from_first(slopes), _from_first(heights)))
    coincident = _wald(both, np.concatenate((_from_first(tilted), _from_first(raised))), nu)
    common = float(np.array([one.sums.sxy for one in lines]).sum() / sxx.sum())
    return (
        parallel,
        _wald(_from_first(means - common * away), _from_first(_given_one_slope(whole, common, away)), nu),
        coincident,
    )


def _given_one_slope(whole: _Together, common: float, away: Floats) -> Floats:
    """What each case adds to the error of every line's height at the x̄ of all rows, where they share one slope."""
    lines, many = whole.lines, whole.there.shape[1]
    sxx = sum(one.sums.sxx for one in lines)
    n, cases = sum(one.sums.n for one in lines), int(whole.there.any(axis=0).sum())
    tilted, raised = np.zeros(many), []
    for line in lines:
        fit = line.fit
        x = np.ldexp(fit.x.high, fit.x.exponent - whole.tilt)
        left = np.ldexp(fit.residual, fit.y.exponent - whole.rise) + (line.sums.slope - common) * x
        tilted += np.bincount(line.codes, weights=x * left, minlength=many) / sxx
        raised.append(np.bincount(line.codes, weights=left, minlength=many) / line.sums.n)
    factor = cluster_factor(cases, n, n - len(lines) - 1)
    return np.asarray((np.stack(raised) - away[:, None] * tilted) * math.sqrt(factor))


def _from_first(values: Floats) -> Floats:
    return np.asarray(values[1:] - values[0])


def _wald(gaps: Floats, errors: Floats, nu: int) -> FTest:
    """Whether all gaps are 0. gaps : (q,). errors : (q, cases). Scaled row by row, so that sizes do not matter."""
    q, df2 = len(gaps), nu - len(gaps) + 1
    size = np.sqrt((errors * errors).sum(axis=1))
    if df2 < 1:
        return no_test(Cause.TOO_FEW_CASES)
    if not np.all(size > 0):
        return no_test(Cause.EXACT_FIT)
    unit = errors / size[:, None]
    if np.linalg.matrix_rank(unit) < q:
        return no_test(Cause.TOO_FEW_CASES)
    # W = g′(EE′)⁻¹g, by the triangle of E′ = QR
    _, upper = np.linalg.qr(unit.T)
    solved = np.linalg.solve(upper.T, gaps / size)
    f = float(solved @ solved) * df2 / (nu * q)
    return FTest(f=f, df1=q, df2=df2, p=f_above(f, q, df2), why=reasons())


def _correlations(whole: _Together) -> CorrelationTest:
    """atanh r of one less that of the other, by what both are without each case in turn."""
    first, second = whole.lines
    parts = parts_of(np.concatenate((first.codes, second.codes)))
    named, parts = np.unique(parts, return_inverse=True)
    of = (parts[: first.fit.n], parts[first.fit.n :])
    middles, spread = [], np.zeros(named.size)
    there = np.stack([np.bincount(mine, minlength=named.size) > 0 for mine in of])
    df = _df(there)
    try:
        for line, mine, sign in zip(whole.lines, of, (1, -1), strict=True):
            own, codes = np.unique(mine, return_inverse=True)
            middle, away = left_out(straight(line.fit.pairs), codes)
            middles.append(middle)
            spread[own] += sign * away
    except NoLeftOut as none:
        why = reasons(dict.fromkeys(("t", "p"), none.cause))
        return CorrelationTest(z=None, t=None, df=df, p=None, why=why)
    error = math.sqrt(float(spread @ spread))
    if error == 0:
        why = reasons(dict.fromkeys(("t", "p"), Cause.EXACT_FIT))
        return CorrelationTest(z=None, t=None, df=df, p=None, why=why)
    t = (middles[0] - middles[1]) / error
    return CorrelationTest(z=None, t=t, df=df, p=t_both(t, df), why=reasons())
