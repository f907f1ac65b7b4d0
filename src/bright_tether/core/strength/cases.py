"""Several rows of one case: what goes on within cases, and between their means."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.centred import centre
from bright_tether.core.exact import dot
from bright_tether.core.pairs import Pairs, take_pairs
from bright_tether.core.results import Cause, Floats, Interval, Ints, Refusal, Why, reasons
from bright_tether.core.strength.within import judged_r
from bright_tether.core.tails import t_beyond


class OneRowEach(Refusal):
    """No case has a second row."""


class CaseStory(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """rows of how many cases; most : rows of the largest.

    r_within : of values taken from their case's mean, with its two-sided p on df_within = n − cases − 1.
    r_between : of the means of cases, with its two-sided p on cases − 2.
    """

    rows: int
    cases: int
    most: int
    r_within: float | None
    p_within: float | None
    df_within: int
    r_between: float | None
    p_between: float | None
    why: Why


class KnownCase(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A further row of one case at x, from its own level and the slope within cases, on df = n − cases − 1.

    ci : for the case's mean there; pi : for one further row.
    """

    x: float
    fitted: float
    ci: Interval
    pi: Interval
    df: int
    rows: int


def case_story(pairs: Pairs, cases: Ints) -> CaseStory:
    """Within and between cases. cases : (n,) codes from 0. Raises OneRowEach.

    Source: Bland & Altman 1995 (within subjects, by analysis of covariance; between, of their means).
    """
    counts = np.bincount(cases)
    if counts.max() < 2:
        raise OneRowEach
    x, y, _, _ = _from_means(pairs, cases, counts)
    within = take_pairs(x, y)
    df, k = pairs.n - counts.size - 1, counts.size
    r = _r(within)
    p, cause = judged_r(r, df) if r is not None else (None, None)
    means = take_pairs(*(np.bincount(cases, weights=values) / counts for values in (pairs.x, pairs.y)))
    between, p_between = None, None
    why: dict[str, Cause] = {}
    if k >= 3 and (between := _r(means)) is not None:
        p_between, _ = judged_r(between, k - 2)
    if r is None:
        why["r_within"] = Cause.CONSTANT_X if within.centred_x.constant else Cause.CONSTANT_Y
    if p is None:
        why["p_within"] = cause or why["r_within"]
    if between is None:
        why["r_between"] = why["p_between"] = Cause.TOO_FEW_PAIRS
    return CaseStory(rows=pairs.n, cases=k, most=int(counts.max()), r_within=r, p_within=p, df_within=df,
                     r_between=between, p_between=p_between, why=reasons(why))  # fmt: skip


def known_case(pairs: Pairs, cases: Ints, case: int, x: float, level: float) -> KnownCase | None:
    """What to expect of a further row of a case; None where the slope within cases has no error.

    case : its code. Source: analysis of covariance, as any regression with one height a case.
    """
    counts = np.bincount(cases)
    inner_x, inner_y, means_x, means_y = _from_means(pairs, cases, counts)
    sxx, df = float(np.dot(inner_x, inner_x)), pairs.n - counts.size - 1
    if df < 1 or sxx == 0:
        return None
    slope = float(np.dot(inner_x, inner_y)) / sxx
    left = inner_y - slope * inner_x
    variance = float(np.dot(left, left)) / df
    away = x - float(means_x[case])
    fitted = float(means_y[case]) + slope * away
    mean = variance * (1 / int(counts[case]) + away * away / sxx)
    half, wide = (t_beyond((1 - level) / 2, df) * math.sqrt(one) for one in (mean, mean + variance))
    return KnownCase(x=x, fitted=fitted, ci=(fitted - half, fitted + half), pi=(fitted - wide, fitted + wide),
                     df=df, rows=int(counts[case]))  # fmt: skip


def _from_means(pairs: Pairs, cases: Ints, counts: Ints) -> tuple[Floats, Floats, Floats, Floats]:
    """x and y from the means of their cases, (n,), and those means, (cases,)."""
    parts, means = [], []
    for values in (pairs.x, pairs.y):
        start = float(values.mean())
        mean = np.bincount(cases, weights=values - start) / counts
        away = values - start - mean[cases]
        rest = np.bincount(cases, weights=away) / counts  # centred twice
        parts.append(away - rest[cases])
        means.append(start + mean + rest)
    return parts[0], parts[1], means[0], means[1]


def _r(pairs: Pairs) -> float | None:
    x, y = centre(pairs.x), centre(pairs.y)
    if x.constant or y.constant:
        return None
    joint = dot(x.high, x.low, y.high, y.low)
    return max(-1.0, min(1.0, joint / math.sqrt(x.sum_squares) / math.sqrt(y.sum_squares)))
