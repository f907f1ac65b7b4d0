"""Forecasts of a line with other columns held, at stated values of all of them."""

from __future__ import annotations

import math
from collections.abc import Sequence

import msgspec
import numpy as np

from bright_tether.core.exact import scaled_by
from bright_tether.core.line.errors import ErrorKind, NoErrors
from bright_tether.core.line.held import sandwich_of
from bright_tether.core.line.terms import Design, TermsFit, fit_terms
from bright_tether.core.results import Cause, Floats, Interval, Ints
from bright_tether.core.tails import t_beyond


class HeldForecast(msgspec.Struct, frozen=True, kw_only=True):
    """At one x: fitted in y units, the interval for the mean of y there and for one new case; t on df.

    outside : whether x or a held value lies beyond what was measured. Values beyond doubles are None.
    """

    x: float
    fitted: float | None
    ci: Interval | None
    pi: Interval | None
    df: int
    outside: bool


def held_forecasts(
    x: Floats, others: Sequence[Floats], y: Floats, at: Sequence[float], held_at: Sequence[float], level: float, *,
    along: Sequence[int] = (), kind: ErrorKind = "classical", order: Ints | None = None, clusters: Ints | None = None,
) -> tuple[HeldForecast, ...]:  # fmt: skip
    """x, others, y : (n,) each. at : values of x; held_at : one value for each of the others.

    along : places among the others of the terms along which the slope of x differs, by products about the means.

    The mean by the errors in force; a new case adds the residual variance of the fit.
    Raises TooFewPairs, ConstantColumn, Collinear, NoErrors. Source: quantities-with.
    """
    terms, middle = (x, *others), float(x.mean())
    turned = [(one, float(others[one].mean())) for one in along]
    products = ((x - middle) * (others[one] - mean) for one, mean in turned)
    fit = fit_terms(Design(terms=(*terms, *products)), y)
    if fit.residual_df < 1:
        raise NoErrors(Cause.NO_DEGREES_OF_FREEDOM)
    sandwich = sandwich_of(fit, kind, order, clusters, height=True)
    covariance, half = sandwich.covariance, t_beyond((1 - level) / 2, sandwich.df)
    s2 = fit.sse / fit.residual_df
    slopes = np.array([float(one) for one in fit.slopes_exact])
    ends = [(float(one.min()), float(one.max())) for one in terms]
    found = []
    for value in at:
        place = (float(value), *map(float, held_at))
        products_at = ((place[0] - middle) * (place[1 + one] - mean) for one, mean in turned)
        away = np.array([_away(fit, term, one) for term, one in enumerate((*place, *products_at))])
        pull = np.append(away, 1.0)
        variance = max(float(pull @ covariance @ pull), 0.0)
        height = float(fit.y.mean) + float(slopes @ away)
        outside = any(not low <= one <= high for one, (low, high) in zip(place, ends, strict=True))
        ci, pi = (_ends(fit, height, half * math.sqrt(one)) for one in (variance, variance + s2))
        fitted = _unscaled(fit, height)
        found.append(HeldForecast(x=place[0], fitted=fitted, ci=ci, pi=pi, df=sandwich.df, outside=outside))
    return tuple(found)


def _away(fit: TermsFit, term: int, value: float) -> float:
    """From the mean of a term, scaled as it."""
    one = fit.terms[term]
    return float(scaled_by(np.array([value]), -one.exponent)[0]) - float(one.mean)


def _unscaled(fit: TermsFit, height: float) -> float | None:
    value = float(np.ldexp(height, fit.y.exponent))
    return value if math.isfinite(value) else None


def _ends(fit: TermsFit, height: float, half: float) -> Interval | None:
    low, high = _unscaled(fit, height - half), _unscaled(fit, height + half)
    return None if low is None or high is None else (low, high)
