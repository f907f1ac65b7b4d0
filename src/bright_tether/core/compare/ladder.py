"""From one line for all to a line each: the tests between the rungs, and every two groups."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.checks.added import FTest, f_test, no_test
from bright_tether.core.compare.differences import Difference, judged
from bright_tether.core.compare.groups import Group, holm, moments, units_of, with_lines
from bright_tether.core.line.coefficients import interval
from bright_tether.core.results import Cause, Interval, Why, reasons

#: Beyond this many groups the table of every two is not made.
MOST_GROUPS = 60


class Ladder(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Parallel, same height given parallel, and one line for all, each against the rung above.

    common_slope, one_slope, one_intercept : the lines that the lower rungs imply; heights : of each
    group with a line, at x = 0 with the common slope.
    """

    parallel: FTest
    same_height: FTest
    coincident: FTest
    common_slope: float | None
    heights: tuple[float, ...]
    one_slope: float | None
    one_intercept: float | None


class TwoGroups(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Two of the groups by name: difference of slopes with the variance pooled over all."""

    groups: tuple[str, str]
    difference: float | None
    ci: Interval | None
    p: float | None
    p_holm: float | None
    why: Why


def ladder(groups: tuple[Group, ...]) -> Ladder:
    """Compare nested models by what each rung gives up. Source: quantities §6; Chow 1960.

    What a rung gives up is summed from the gaps between the lines, never by subtraction of SSEs.
    """
    lined = with_lines(groups)
    k = len(lined)
    if k < 2:
        none = no_test(Cause.NOT_TWO_GROUPS)
        return Ladder(parallel=none, same_height=none, coincident=none, common_slope=None, heights=(),
                      one_slope=None, one_intercept=None)  # fmt: skip
    fits = [group.fit for group in lined if group.fit is not None]
    tilt, rise = units_of(fits)
    origin_x = fits[0].x.mean * Fraction(2) ** (fits[0].x.exponent - tilt)
    origin_y = fits[0].y.mean * Fraction(2) ** (fits[0].y.exponent - rise)
    parts = [moments(fit, origin_x, origin_y, tilt, rise) for fit in fits]
    n = sum(one.n for one in parts)
    sse = math.fsum(one.sse for one in parts)
    sxx, sxy = math.fsum(one.sxx for one in parts), math.fsum(one.sxy for one in parts)
    common = sxy / sxx
    tilted = math.fsum(one.sxx * (one.slope - common) ** 2 for one in parts)
    mean_x = math.fsum(one.n * one.mean_x for one in parts) / n
    mean_y = math.fsum(one.n * one.mean_y for one in parts) / n
    between_x = math.fsum(one.n * (one.mean_x - mean_x) ** 2 for one in parts)
    between = math.fsum(one.n * (one.mean_x - mean_x) * (one.mean_y - mean_y) for one in parts)
    whole = (sxy + between) / (sxx + between_x)
    raised = sxx * (common - whole) ** 2 + math.fsum(
        one.n * (one.mean_y - mean_y - whole * (one.mean_x - mean_x)) ** 2 for one in parts
    )
    own_df, common_df = n - 2 * k, n - k - 1
    exact = all(fit.exact for fit in fits) or own_df < 1
    none = no_test(Cause.EXACT_FIT if own_df >= 1 else Cause.NO_DEGREES_OF_FREEDOM)
    left = sse + tilted
    return Ladder(
        parallel=none if exact else f_test(tilted, k - 1, sse, own_df),
        same_height=none if left <= 0 or common_df < 1 else f_test(raised, k - 1, left, common_df),
        coincident=none if exact else f_test(tilted + raised, 2 * (k - 1), sse, own_df),
        common_slope=unscaled(common, rise - tilt),
        heights=tuple(
            height_of(float(origin_y) + one.mean_y - common * (float(origin_x) + one.mean_x), rise)
            for one in parts
        ),
        one_slope=unscaled(whole, rise - tilt),
        one_intercept=unscaled(float(origin_y) + mean_y - whole * (float(origin_x) + mean_x), rise),
    )


def height_of(value: float, rise: int) -> float:
    """A height in y units, NaN where no double holds it."""
    height = unscaled(value, rise)
    return math.nan if height is None else height


class CommonSlope(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One slope within all groups, each at its own height; t on df = N − k − 1. y units per x unit."""

    slope: float | None
    se_slope: float | None
    df: int
    ci_slope: Interval | None
    why: Why


def common_slope(groups: tuple[Group, ...], level: float) -> CommonSlope:
    """The slope that the groups share. None without a group of two distinct x. Source: quantities §3."""
    names = ("slope", "se_slope", "ci_slope")
    absent: dict[str, None] = dict.fromkeys(names)
    lined = with_lines(groups)
    fits = [group.fit for group in lined if group.fit is not None]
    df = sum(fit.n for fit in fits) - len(fits) - 1
    if not fits:
        none = reasons(dict.fromkeys(names, Cause.CONSTANT_X))
        return CommonSlope(**absent, df=df, why=none)
    tilt, rise = units_of(fits)
    parts = [moments(fit, Fraction(0), Fraction(0), tilt, rise) for fit in fits]
    sxx, sxy = math.fsum(one.sxx for one in parts), math.fsum(one.sxy for one in parts)
    common = sxy / sxx
    left = math.fsum(one.sse for one in parts)
    left += math.fsum(one.sxx * (one.slope - common) ** 2 for one in parts)
    slope = unscaled(common, rise - tilt)
    why: dict[str, Cause] = {} if slope is not None else {"slope": Cause.OUT_OF_RANGE}
    if df < 1:
        why |= dict.fromkeys(("se_slope", "ci_slope"), Cause.NO_DEGREES_OF_FREEDOM)
        return CommonSlope(slope=slope, se_slope=None, df=df, ci_slope=None, why=reasons(why))
    se = math.sqrt(left / df / sxx)
    figures: dict[str, Any] = {
        "se_slope": unscaled(se, rise - tilt),
        "ci_slope": interval(Fraction(common), se, rise - tilt, df, level),
    }
    why |= {key: Cause.OUT_OF_RANGE for key, value in figures.items() if value is None}
    return CommonSlope(slope=slope, df=df, why=reasons(why), **figures)


def every_two(groups: tuple[Group, ...], level: float) -> tuple[TwoGroups, ...]:
    """Slopes of every two groups, the variance pooled over all, p adjusted for their number.

    Beyond MOST_GROUPS nothing is made. Source: quantities §6; Holm 1979.
    """
    lined = with_lines(groups)
    k = len(lined)
    if not 2 <= k <= MOST_GROUPS:
        return ()
    fits = [group.fit for group in lined if group.fit is not None]
    tilt, rise = units_of(fits)
    parts = [moments(fit, Fraction(0), Fraction(0), tilt, rise) for fit in fits]
    df = sum(one.n for one in parts) - 2 * k
    names = [group.name for group in lined]
    if df < 1:
        return ()
    variance = math.fsum(one.sse for one in parts) / df
    gaps = []
    for a in range(k):
        for b in range(a + 1, k):
            se = math.sqrt(variance * (1 / parts[a].sxx + 1 / parts[b].sxx))
            gap = judged(parts[a].slope - parts[b].slope, se, df, level, rise - tilt)
            gaps.append(((names[a], names[b]), gap))
    return told_apart(gaps)


def told_apart(gaps: Sequence[tuple[tuple[str, str], Difference]]) -> tuple[TwoGroups, ...]:
    """Every two groups by name with their difference, p adjusted for their number where each has one."""
    ps = np.array([np.nan if one.p is None else one.p for _, one in gaps])
    adjusted = holm(ps) if np.isfinite(ps).all() else np.full(ps.size, np.nan)
    return tuple(
        TwoGroups(
            groups=pair,
            difference=one.difference,
            ci=one.ci,
            p=one.p,
            p_holm=None if one.p is None or math.isnan(adjusted[at]) else float(adjusted[at]),
            why=reasons({"p": one.why["p"], "p_holm": one.why["p"]} if one.p is None else {}),
        )
        for at, (pair, one) in enumerate(gaps)
    )
