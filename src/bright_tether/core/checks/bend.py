"""Does the line bend? Curvature, powers of the fitted values, and repeated x."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.checks.added import (
    FTest,
    beyond_measure,
    f_test,
    no_test,
    rounding,
    why_none,
)
from bright_tether.core.checks.beside import fewer_x, powers_beside, square_beside
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Why, reasons
from bright_tether.core.tails import t_both


class Curvature(msgspec.Struct, frozen=True, kw_only=True, eq=False):
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
    and what is left of the term decide alone. None with fewer than 3 distinct x or n < 4. Of pairs that all lie on one
    parabola t is infinite, and p is 0.
    Source: quantities §5.
    """
    df = fit.residual_df - 1
    cause = why_none(fit)
    if df < 1:
        cause = Cause.NO_DEGREES_OF_FREEDOM
    elif fewer_x(fit, 3):
        cause = Cause.TOO_FEW_VALUES
    if cause:
        why = dict.fromkeys(("t", "p", "share", "turn"), cause)
        return Curvature(t=None, df=df, p=None, share=None, turn=None, why=reasons(why))
    square, slant = square_beside(fit)
    if square.rounding:  # two clumps so far apart that each is one value
        why = dict.fromkeys(("t", "p", "share", "turn"), Cause.TOO_FEW_VALUES)
        return Curvature(t=None, df=df, p=None, share=None, turn=None, why=reasons(why))
    spread, sse = square.spread, square.left
    bend = square.joint / spread
    if sse <= rounding(fit):
        why = {"t": Cause.NOTHING_LEFT}
        t, p = None, 0.0
    else:
        why, t = {}, bend / math.sqrt(sse / df / spread)
        p = t_both(t, df)
    turn = _turn(fit, slant, bend)
    why |= {} if turn is not None else {"turn": Cause.NO_TURN}
    share = min(bend * bend * spread / fit.sse, 1.0) if t is not None else 1.0
    return Curvature(t=t, df=df, p=p, share=share, turn=turn, why=reasons(why))


def _turn(fit: Fit, slant: float, bend: float) -> float | None:
    """Where the parabola through the same pairs turns, in x units."""
    if not bend or fit.origin or fit.weights is not None:
        return None
    plain = fit.pairs.centred_x
    size = math.sqrt(plain.sum_squares / plain.n)
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
    elif not fit.slope_scaled or fewer_x(fit, 4):
        cause = Cause.TOO_FEW_VALUES
    if cause:
        return no_test(cause)
    square, cube = powers_beside(fit)
    if square.rounding or cube.rounding:
        return no_test(Cause.TOO_FEW_VALUES)
    explained, sse = square.taken + cube.taken, cube.left
    return beyond_measure(2, df2) if sse <= rounding(fit) else f_test(explained, 2, sse, df2)


def lack_of_fit(fit: Fit) -> FTest:
    """Scatter of the means at each x about the line, against the scatter at each x.

    None where no x repeats, or where all that do have the same y. Source: quantities §5; Fisher 1922.
    """
    cause = why_none(fit)
    if fit.elsewhere and fit.levels is None:
        return no_test(cause or Cause.EVERY_ROW)
    distinct = fit.places_many if fit.levels is None else fit.levels.distinct
    df1, df2 = distinct - fit.parameters, fit.n - distinct
    if df2 < 1:
        cause = Cause.NO_REPEATS
    elif df1 < 1:
        cause = Cause.TOO_FEW_VALUES
    if cause:
        return no_test(cause)
    between, inside = _by_x(fit) if fit.levels is None else (fit.levels.between, fit.levels.inside)
    return no_test(Cause.ALIKE_REPEATS) if inside <= rounding(fit) else f_test(between, df1, inside, df2)


def _by_x(fit: Fit) -> tuple[float, float]:
    """Σ of the squared means of the residuals at each x, and of what is left of each there, with weights."""
    codes, weight = fit.places, np.ones(fit.n) if fit.weights is None else fit.weights
    total = np.bincount(codes, weights=weight)
    means = np.bincount(codes, weights=weight * fit.residual) / total
    pure = fit.residual - means[codes]
    return float(np.dot(total, means * means)), float(np.dot(weight * pure, pure))
