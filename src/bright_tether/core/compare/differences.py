"""Two lines side by side: difference of slopes, intercepts and heights, equivalence, correlations."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Literal

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.centred import unscaled
from bright_tether.core.compare.groups import Group, moments, units_of
from bright_tether.core.forecast import forecast
from bright_tether.core.line.errors import ErrorKind, NoErrors, errors_in_force
from bright_tether.core.line.figures import correlation_of
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs, take_pairs
from bright_tether.core.results import Cause, Floats, Interval, Ints, Why, reasons
from bright_tether.core.tails import t_above, t_beyond, t_both, z_both

Basis = Literal["separate", "same_rows", "by_case"]


class Difference(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """First less second, with its standard error, t, df, two-sided p and interval."""

    difference: float | None
    se: float | None
    t: float | None
    df: float | None
    p: float | None
    ci: Interval | None
    why: Why


class Differences(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The same difference judged by separate variances, by Welch's df, and by one pooled variance."""

    separate: Difference
    welch: Difference
    pooled: Difference | None


class Equivalence(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Two one-sided tests of a difference against a margin; p is the larger.

    basis : separate lines, or the difference within the same rows.
    """

    margin: float
    p: float | None
    equivalent: bool | None
    basis: Basis
    why: Why


class CorrelationTest(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """z of the difference of Fisher-transformed r, or Williams' t on df for dependent ones."""

    z: float | None
    t: float | None
    df: int | None
    p: float | None
    why: Why


def judged(difference: float, se: float, df: float, level: float, exponent: int = 0) -> Difference:
    """A difference with its test; t and p are None where its error is 0.

    difference, se : in 2^exponent of the units of the result.
    """
    half = t_beyond((1 - level) / 2, df) * se
    t = difference / se if se > 0 else None
    ends = [unscaled(difference + side * half, exponent) for side in (-1, 1)]
    figures = {
        "difference": unscaled(difference, exponent),
        "se": unscaled(se, exponent),
        "t": t,
        "p": None if t is None else t_both(t, df),
        "ci": None if None in ends else (ends[0], ends[1]),
    }
    why = {key: Cause.OUT_OF_RANGE for key, value in figures.items() if value is None}
    why |= {} if se > 0 else dict.fromkeys(("t", "p"), Cause.EXACT_FIT)
    return Difference(df=df, why=reasons(why), **figures)  # type: ignore[arg-type]


def no_difference(cause: Cause, difference: float | None = None) -> Difference:
    """A difference that cannot be judged, for a cause."""
    names = ["se", "t", "df", "p", "ci", *(["difference"] if difference is None else [])]
    absent: dict[str, None] = dict.fromkeys(name for name in names if name != "difference")
    return Difference(difference=difference, why=reasons(dict.fromkeys(names, cause)), **absent)


def slope_differences(first: Group, second: Group, level: float) -> Differences:
    """Slopes of two groups.

    Source: quantities §6; Welch 1947 for the df. The pooled variance is a classical one by its nature.
    """
    assert first.fit is not None
    assert second.fit is not None
    gap = _slope(first) - _slope(second)
    pair = _two(gap, first.slope_error, second.slope_error, first, second, level)
    if any(one.errors is not None and one.errors.kind != "classical" for one in (first, second)):
        return Differences(separate=pair[0], welch=pair[1], pooled=None)
    tilt, rise = units_of((first.fit, second.fit))
    one, two = (moments(fit, Fraction(0), Fraction(0), tilt, rise) for fit in (first.fit, second.fit))
    df = one.n + two.n - 4
    if df < 1:
        none = no_difference(Cause.NO_DEGREES_OF_FREEDOM, gap)
        return Differences(separate=pair[0], welch=pair[1], pooled=none)
    pooled = math.sqrt((one.sse + two.sse) / df * (1 / one.sxx + 1 / two.sxx))
    pooled_gap = judged(one.slope - two.slope, pooled, df, level, rise - tilt)
    return Differences(separate=pair[0], welch=pair[1], pooled=replace(pooled_gap, difference=gap))


def intercept_differences(first: Group, second: Group, level: float) -> Differences:
    """Intercepts of two groups, each with its own error."""
    assert first.line is not None
    assert second.line is not None
    gap = float(first.line.intercept or 0.0) - float(second.line.intercept or 0.0)
    separate, welch = _two(gap, first.intercept_error, second.intercept_error, first, second, level)
    return Differences(separate=separate, welch=welch, pooled=None)


def height_differences(first: Group, second: Group, x: float, level: float) -> Differences:
    """Mean responses of two groups at one x."""
    at = np.array([x])
    assert first.fit is not None
    assert second.fit is not None
    forecasts = [
        forecast(group.fit, at, level=level, errors=group.errors or group.no_errors)
        for group in (first, second)
        if group.fit is not None
    ]
    gap = float(forecasts[0].fitted[0] - forecasts[1].fitted[0])
    errors = [float(one.se_mean[0]) if np.isfinite(one.se_mean[0]) else None for one in forecasts]
    separate, welch = _two(gap, errors[0], errors[1], first, second, level)
    return Differences(separate=separate, welch=welch, pooled=None)


def _two(
    gap: float, se_1: float | None, se_2: float | None, first: Group, second: Group, level: float
) -> tuple[Difference, Difference]:
    gap_told = gap if math.isfinite(gap) else None
    if first.errors is None or second.errors is None or se_1 is None or se_2 is None or gap_told is None:
        cause = first.no_errors or second.no_errors or Cause.OUT_OF_RANGE
        none = no_difference(cause, gap_told)
        return none, none
    df_1, df_2 = first.errors.df, second.errors.df
    se = math.hypot(se_1, se_2)
    if not math.isfinite(se):
        return no_difference(Cause.OUT_OF_RANGE, gap_told), no_difference(Cause.OUT_OF_RANGE, gap_told)
    separate = judged(gap, se, df_1 + df_2, level)
    if se == 0:
        return separate, separate
    share_1, share_2 = (se_1 / se) ** 2, (se_2 / se) ** 2
    return separate, judged(gap, se, 1 / (share_1**2 / df_1 + share_2**2 / df_2), level)


def no_equivalence(margin: float, cause: Cause, basis: Basis) -> Equivalence:
    """Two one-sided tests that have no value, for a cause."""
    why = reasons(dict.fromkeys(("p", "equivalent"), cause))
    return Equivalence(margin=margin, p=None, equivalent=None, basis=basis, why=why)


def equivalence(found: Difference, margin: float, alpha: float, basis: Basis) -> Equivalence:
    """Whether a difference is shown to be within ± margin. Source: Schuirmann 1987.

    basis : which difference it is, of separate lines or of the same rows.
    """
    if found.difference is None or not found.se or found.df is None:
        cause = found.why.get("se", found.why.get("difference", Cause.EXACT_FIT))
        return no_equivalence(margin, cause, basis)
    lower = t_above((found.difference + margin) / found.se, found.df)
    upper = t_above((margin - found.difference) / found.se, found.df)
    p = max(lower, upper)
    return Equivalence(margin=margin, p=p, equivalent=p <= alpha, basis=basis, why=reasons())


def correlations(first: Group, second: Group) -> CorrelationTest:
    """Fisher-transformed r of two separate groups. Source: Fisher 1921."""
    found = []
    for group in (first, second):
        fit = group.fit
        assert fit is not None
        cause = _no_correlation(group)
        if cause:
            return CorrelationTest(
                z=None, t=None, df=None, p=None, why=reasons(dict.fromkeys(("z", "p"), cause))
            )
        found.append(math.atanh(correlation_of(fit)))
    z = (found[0] - found[1]) / math.sqrt(1 / (first.n - 3) + 1 / (second.n - 3))
    return CorrelationTest(z=z, t=None, df=None, p=z_both(z), why=reasons())


def _no_correlation(group: Group) -> Cause | None:
    assert group.fit is not None
    if group.fit.y.constant:
        return Cause.CONSTANT_Y
    if group.n <= 3:
        return Cause.TOO_FEW_PAIRS
    return Cause.PERFECT_CORRELATION if abs(correlation_of(group.fit)) == 1 else None


def dependent_correlations(x: Floats, first: Floats, second: Floats) -> CorrelationTest:
    """r(x, y1) against r(x, y2) in the same cases. Source: Williams 1959; Steiger 1980."""
    n = x.size
    found_r = []
    for a, b in ((x, first), (x, second), (first, second)):
        pairs = take_pairs(a, b)
        if pairs.centred_x.constant or pairs.centred_y.constant:
            cause = Cause.CONSTANT_Y
            return CorrelationTest(z=None, t=None, df=n - 3, p=None, why=reasons({"t": cause, "p": cause}))
        found_r.append(correlation_of(fit_line(pairs)))
    r1, r2, r12 = found_r
    # 1 − r1² − r2² − r12² + 2·r1·r2·r12, kept from below 0
    whole = max((1 - r1 * r1) * (1 - r2 * r2) - (r12 - r1 * r2) ** 2, 0.0)
    if n <= 3 or (whole == 0 and r12 >= 1):
        cause = Cause.NO_DEGREES_OF_FREEDOM if n <= 3 else Cause.PERFECT_CORRELATION
        return CorrelationTest(z=None, t=None, df=n - 3, p=None, why=reasons({"t": cause, "p": cause}))
    below = 2 * (n - 1) / (n - 3) * whole + ((r1 + r2) / 2) ** 2 * (1 - r12) ** 3
    if below <= 0:
        cause = Cause.PERFECT_CORRELATION
        return CorrelationTest(z=None, t=None, df=n - 3, p=None, why=reasons({"t": cause, "p": cause}))
    t = (r1 - r2) * math.sqrt((n - 1) * (1 + r12) / below)
    return CorrelationTest(z=None, t=t, df=n - 3, p=t_both(t, n - 3), why=reasons())


class SameRows(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Two responses on the same cases: the line of their difference on x."""

    slope: Difference
    intercept: Difference
    height: Difference | None


def same_rows(
    pairs: Pairs,
    second: Floats,
    kind: ErrorKind,
    level: float,
    *,
    order: Ints | None = None,
    clusters: Ints | None = None,
    height_at: float | None = None,
) -> SameRows:
    """Fit y1 − y2 on x; its slope and intercept are the differences, with errors that go together.

    pairs : x and the first response. second : (n,) the other. Source: quantities §6.
    """
    fit = fit_line(
        Pairs(
            x=pairs.x, y=pairs.y - second, at=pairs.at, rows=pairs.rows, missing=pairs.missing,
            set_aside=pairs.set_aside, filtered_out=pairs.filtered_out,
        )
    )  # fmt: skip
    tilt = fit.y.exponent - fit.x.exponent
    slope, intercept = fit.slope_scaled, float(fit.intercept_exact)
    try:
        errors = errors_in_force(fit, kind, order=order, clusters=clusters)
    except NoErrors as none:
        pair = [
            no_difference(none.cause, unscaled(value, by))
            for value, by in ((slope, tilt), (intercept, fit.y.exponent))
        ]
        return SameRows(slope=pair[0], intercept=pair[1], height=None)
    height = None
    if height_at is not None:
        at = forecast(fit, np.array([height_at]), level=level, errors=errors)
        height = judged(float(at.fitted[0]), float(at.se_mean[0]), errors.df, level)
    return SameRows(
        slope=judged(slope, math.sqrt(errors.slope), errors.df, level, tilt),
        intercept=judged(intercept, math.sqrt(errors.intercept), errors.df, level, fit.y.exponent),
        height=height,
    )


def _slope(group: Group) -> float:
    assert group.line is not None
    assert group.line.slope is not None  # a group whose slope no double holds has no line
    return group.line.slope
