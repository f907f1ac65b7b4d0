"""Whether the slope of x differs along another column, and what it is at places of that column."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np

from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import ErrorKind, NoErrors
from bright_tether.core.line.held import HeldSlope, sandwich_of, slope_of
from bright_tether.core.line.terms import Design, TermsFit, fit_terms
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Floats, Ints
from bright_tether.core.tails import f_above


class AtPlace(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The line of y on x where the other column has one value, or in one level, all else at its mean.

    place : the value, None of a level. slope : with the errors in force; intercept : None beyond double range.
    """

    place: float | None
    slope: HeldSlope
    intercept: float | None


class SlopeAlong(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The slope of x along another column. difference : by how much it is larger for one unit more, None of levels.

    f, p : of one slope for all, on df1 and df2, by the errors in force; None where every residual is 0.
    places : at three values of it, or in each level.
    """

    n: int
    difference: HeldSlope | None
    f: float | None
    p: float | None
    df1: int
    df2: int
    places: tuple[AtPlace, ...]


def slope_along(
    pairs: Pairs, column: Floats, others: Sequence[Floats], places: Sequence[float], level: float, *,
    kind: ErrorKind = "classical", order: Ints | None = None, clusters: Ints | None = None,
) -> SlopeAlong:  # fmt: skip
    """Along a column of numbers: x, the column, their product about both means, and the others.

    column, others : each (n,), finite. Raises TooFewPairs, ConstantColumn, Collinear, NoErrors.
    Source: quantities-with.
    """
    rest = [one - one.mean() for one in others]

    def fitted(centre: float) -> TermsFit:
        away = column - centre
        return _fit([pairs.x, away, (pairs.x - pairs.x.mean()) * away, *rest], pairs.y)

    fit, against = fitted(float(column.mean())), Hypotheses(level=level)
    sandwich = sandwich_of(fit, kind, order, clusters)
    difference = slope_of(fit, 2, sandwich, against)
    found = []
    for place in places:
        there = fitted(place)
        slope = slope_of(there, 0, sandwich_of(there, kind, order, clusters), against)
        found.append(AtPlace(place=place, slope=slope, intercept=there.intercept))
    t = difference.t_slope
    return SlopeAlong(n=fit.n, difference=difference, f=None if t is None else t * t, p=difference.p_slope, df1=1,
                      df2=sandwich.df, places=tuple(found))  # fmt: skip


def slope_by_level(
    pairs: Pairs, levels: Sequence[Floats], others: Sequence[Floats], level: float, *,
    kind: ErrorKind = "classical", order: Ints | None = None, clusters: Ints | None = None,
) -> SlopeAlong:  # fmt: skip
    """Along a category. levels : (n,) of 0 and 1 for each level, every row in one, the reference first.

    Raises as ``slope_along``.
    """
    rest = [one - one.mean() for one in others]
    away = pairs.x - pairs.x.mean()
    products = [one * away for one in levels[1:]]
    fit, against = _fit([pairs.x, *levels[1:], *products, *rest], pairs.y), Hypotheses(level=level)
    sandwich = sandwich_of(fit, kind, order, clusters)
    tested = slice(len(levels), 2 * len(levels) - 1)
    f, df1 = _wald(fit, sandwich.covariance[tested, tested], tested), len(products)
    nested = _fit([*(one * away for one in levels), *levels[1:], *rest], pairs.y)
    within = sandwich_of(nested, kind, order, clusters)
    found = []
    for at in range(len(levels)):
        slope = slope_of(nested, at, within, against)
        height = 0.0 if at == 0 else nested.slopes[len(levels) - 1 + at]
        start = nested.intercept
        known = None not in (height, start, slope.slope)
        intercept = start + height - slope.slope * float(pairs.x.mean()) if known else None  # type: ignore[operator]
        found.append(AtPlace(place=None, slope=slope, intercept=intercept))
    p = None if f is None else f_above(f, df1, sandwich.df)
    return SlopeAlong(n=fit.n, difference=None, f=f, p=p, df1=df1, df2=sandwich.df, places=tuple(found))


def _fit(terms: list[Floats], y: Floats) -> TermsFit:
    fit = fit_terms(Design(terms=tuple(terms)), y)
    if fit.residual_df < 1:
        raise NoErrors(Cause.NO_DEGREES_OF_FREEDOM)
    return fit


def _wald(fit: TermsFit, covariance: Floats, tested: slice) -> float | None:
    """b′V⁻¹b over the number of slopes; None without a residual, or where too few cases leave V no inverse."""
    slopes = np.array([float(one) for one in fit.slopes_exact[tested]])
    if not fit.sse or np.linalg.matrix_rank(covariance, hermitian=True) < slopes.size:
        return None
    return float(slopes @ np.linalg.solve(covariance, slopes)) / slopes.size
