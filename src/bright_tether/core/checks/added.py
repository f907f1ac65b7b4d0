"""What a further term would take from the residuals of a line."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Why, reasons
from bright_tether.core.tails import f_above

_EPSILON = 2.0**-52


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FTest:
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


def f_test(explained: float, df1: int, left: float, df2: int) -> FTest:
    """The ratio of two mean squares."""
    f = explained / df1 / (left / df2)
    return FTest(f=f, df1=df1, df2=df2, p=f_above(f, df1, df2), why=reasons())


def why_none(fit: Fit) -> Cause | None:
    """Why no check of the residuals has a value, or None."""
    if fit.exact:
        return Cause.CONSTANT_Y if fit.y.constant else Cause.EXACT_FIT
    return None


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


def square_left(fit: Fit) -> Floats:
    """What is left of the square of its own x, (n,): several checks look at it, so a line keeps it."""
    kept: Floats | None = fit.__dict__.get("square_left")
    if kept is None:
        x = own_x(fit)
        kept = fit.__dict__["square_left"] = fit.left_of(x * x)
    return kept


def nothing_left(term: Floats, of: Floats) -> bool:
    """Whether what is left of a term, (n,), is no more than rounding of the term itself."""
    largest = float(np.max(np.abs(of)))
    return float(np.dot(term, term)) <= term.size * (8 * _EPSILON * largest) ** 2


def rounding(fit: Fit) -> float:
    """The sum of squares that rounding alone may leave."""
    largest = float(np.max(np.abs(with_weights(fit, np.ldexp(fit.pairs.y, -fit.y.exponent)))))
    return fit.n * (8 * _EPSILON * largest) ** 2
