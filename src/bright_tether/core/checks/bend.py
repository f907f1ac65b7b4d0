"""Does the line bend? Curvature, powers of the fitted values, and repeated x."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.checks.added import (
    FTest,
    f_test,
    no_test,
    nothing_left,
    own_x,
    rounding,
    square_left,
    why_none,
    with_weights,
)
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Why, reasons
from bright_tether.core.tails import t_both


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Curvature:
    """t and two-sided p of an added (x − x̄)² term on df = n − 3; of x² on n − 2 through the origin.

    share : of SSE that the term takes up. turn : x at which the bent line turns round.
    """

    t: float | None
    df: int
    p: float | None
    share: float | None
    turn: float | None
    why: Why


def curvature(fit: Fit) -> Curvature:
    """Test the bend of a line.

    The squared term is taken from its own line on x first (Frisch & Waugh 1933), so the line's residuals
    and what is left of the term decide alone. None with fewer than 3 distinct x or n < 4.
    Source: quantities §5.
    """
    df = fit.residual_df - 1
    cause = why_none(fit)
    if df < 1:
        cause = Cause.NO_DEGREES_OF_FREEDOM
    elif fit.pairs.distinct_x < 3:
        cause = Cause.TOO_FEW_VALUES
    if cause:
        why = dict.fromkeys(("t", "p", "share", "turn"), cause)
        return Curvature(t=None, df=df, p=None, share=None, turn=None, why=reasons(why))
    x, term = own_x(fit), square_left(fit)
    if nothing_left(term, with_weights(fit, x * x)):  # two clumps so far apart that each is one value
        why = dict.fromkeys(("t", "p", "share", "turn"), Cause.TOO_FEW_VALUES)
        return Curvature(t=None, df=df, p=None, share=None, turn=None, why=reasons(why))
    spread = float(np.dot(term, term))
    bend = float(np.dot(term, fit.weighted_residual)) / spread
    left = fit.weighted_residual - bend * term
    sse = float(np.dot(left, left))
    if sse <= rounding(fit):
        why = dict.fromkeys(("t", "p"), Cause.EXACT_FIT)
        t = p = None
    else:
        why, t = {}, bend / math.sqrt(sse / df / spread)
        p = t_both(t, df)
    turn = _turn(fit, x, bend)
    why |= {} if turn is not None else {"turn": Cause.NO_TURN}
    share = min(bend * bend * spread / fit.sse, 1.0)
    return Curvature(t=t, df=df, p=p, share=share, turn=turn, why=reasons(why))


def _turn(fit: Fit, x: Floats, bend: float) -> float | None:
    """Where the parabola through the same pairs turns, in x units."""
    if not bend or fit.origin or fit.weights is not None:
        return None
    plain = fit.pairs.centred_x
    size = math.sqrt(plain.sum_squares / plain.n)
    own = fit.own_x.high
    slant = float(np.dot(x * x, own) / np.dot(own, own)) * size
    steep = fit.slope_scaled * size - slant * bend
    turn = float(plain.mean) - steep / (2 * bend) * size
    return unscaled(turn, plain.exponent) if math.isfinite(turn) else None


def reset(fit: Fit) -> FTest:
    """F of the squares and cubes of the fitted values. None with fewer than 4 distinct x.

    Source: Ramsey 1969; quantities §5.
    """
    df2 = fit.residual_df - 2
    cause = why_none(fit)
    if df2 < 1:
        cause = Cause.NO_DEGREES_OF_FREEDOM
    elif fit.pairs.distinct_x < 4 or not fit.slope_scaled:
        cause = Cause.TOO_FEW_VALUES
    if cause:
        return no_test(cause)
    # With a height, powers of the fitted values and of x from its mean span the same.
    x = own_x(fit) if fit.index is None else fit.index
    square, cube = square_left(fit) if fit.index is None else fit.left_of(x * x), fit.left_of(x * x * x)
    if nothing_left(square, with_weights(fit, x * x)):
        return no_test(Cause.TOO_FEW_VALUES)
    cube = cube - float(np.dot(cube, square) / np.dot(square, square)) * square
    if nothing_left(cube, with_weights(fit, x * x * x)):
        return no_test(Cause.TOO_FEW_VALUES)
    left, explained = fit.weighted_residual, 0.0
    for term in (square, cube):
        spread = float(np.dot(term, term))
        part = float(np.dot(term, left)) / spread
        explained += part * part * spread
        left = left - part * term
    sse = float(np.dot(left, left))
    return no_test(Cause.EXACT_FIT) if sse <= rounding(fit) else f_test(explained, 2, sse, df2)


def lack_of_fit(fit: Fit) -> FTest:
    """Scatter of the means at each x about the line, against the scatter at each x.

    None where no x repeats. Source: quantities §5; Fisher 1922.
    """
    codes, distinct = fit.places
    df1, df2 = distinct - fit.parameters, fit.n - distinct
    cause = why_none(fit)
    if df2 < 1:
        cause = Cause.NO_REPEATS
    elif df1 < 1:
        cause = Cause.TOO_FEW_VALUES
    if cause:
        return no_test(cause)
    weight = np.ones(fit.n) if fit.weights is None else fit.weights
    total = np.bincount(codes, weights=weight)
    means = np.bincount(codes, weights=weight * fit.residual) / total
    pure = fit.residual - means[codes]
    inside = float(np.dot(weight * pure, pure))
    if inside <= rounding(fit):
        return no_test(Cause.EXACT_FIT)
    return f_test(float(np.dot(total, means * means)), df1, inside, df2)
