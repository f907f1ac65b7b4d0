"""What a further term would take from the residuals of a line."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Why, reasons
from bright_tether.core.tails import f_above

_EPSILON = 2.0**-52


class FTest(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """F on (df1, df2) with its upper tail."""

    f: float | None
    df1: int | None
    df2: int | None
    p: float | None
    why: Why


def no_test(cause: Cause) -> FTest:
    """An F that has no value."""
    why = reasons(dict.fromkeys(("f", "df1", "df2", "p"), cause))
    return FTest(f=None, df1=None, df2=None, p=None, why=why)


def beyond_measure(df1: int, df2: int) -> FTest:
    """An F of which nothing is left over below: infinite, so that its p is 0."""
    return FTest(f=None, df1=df1, df2=df2, p=0.0, why=reasons({"f": Cause.NOTHING_LEFT}))


def f_test(explained: float, df1: int, left: float, df2: int) -> FTest:
    """The ratio of two mean squares."""
    f = explained / df1 / (left / df2)
    return FTest(f=f, df1=df1, df2=df2, p=f_above(f, df1, df2), why=reasons())


def why_none(fit: Fit) -> Cause | None:
    """Why no check of the residuals has a value, or None."""
    if fit.exact:
        return Cause.CONSTANT_Y if fit.y.constant else Cause.EXACT_FIT
    return None


def why_no_rows(fit: Fit) -> Cause | None:
    """Why no check that goes from row to row has a value, or None."""
    return why_none(fit) or (Cause.EVERY_ROW if fit.elsewhere else None)


def centred_x(fit: Fit) -> Floats:
    """x of the pairs from its mean in units of its spread, (n,), whatever the line's own origin."""
    x = fit.pairs.centred_x
    return np.asarray(x.high / np.sqrt(x.sum_squares / x.n))


def with_weights(fit: Fit, term: Floats) -> Floats:
    """A term as the rows multiplied by √w carry it."""
    return term if fit.root_weights is None else term * fit.root_weights


def own_x(fit: Fit) -> Floats:
    """x from where the line has its own, in units of its spread, (n,): from its mean, or from 0."""
    if not fit.origin:
        return centred_x(fit)
    return np.asarray(fit.x.high / np.sqrt(fit.x.sum_squares / fit.n))


def rounding(fit: Fit) -> float:
    """The sum of squares that rounding alone may leave."""
    if fit.root_weights is None:
        largest = math.ldexp(fit.y.largest, -fit.y.exponent)
    else:
        largest = float(np.max(np.abs(with_weights(fit, np.ldexp(fit.pairs.y, -fit.y.exponent)))))
    return fit.n * (8 * _EPSILON * largest) ** 2
