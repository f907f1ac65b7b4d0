"""Curvature: does a squared term fit what the line misses?"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Why, reasons
from bright_tether.core.tails import t_both

_EPSILON = 2.0**-52


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Curvature:
    """t and two-sided p of an added (x − x̄)² term on df = n − 3.

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

    The squared term is taken from its own line on x first (Frisch & Waugh 1933), so the line's misses
    and what is left of the term decide alone. None with fewer than 3 distinct x or n < 4.
    Source: quantities §5.
    """
    df = fit.n - 3
    cause: Cause | None = None
    if df < 1:
        cause = Cause.NO_DEGREES_OF_FREEDOM
    elif fit.pairs.codes_x[1].size < 3:
        cause = Cause.TOO_FEW_VALUES
    elif fit.exact:
        cause = Cause.CONSTANT_Y if fit.y.constant else Cause.EXACT_FIT
    if cause:
        why = dict.fromkeys(("t", "p", "share", "turn"), cause)
        return Curvature(t=None, df=df, p=None, share=None, turn=None, why=reasons(why))
    size = math.sqrt(fit.x.sum_squares / fit.n)
    x = fit.x.high / size
    square = x * x
    square -= square.mean()
    slant = float(np.dot(square, x) / np.dot(x, x))
    term = square - slant * x
    term -= term.mean()
    term -= float(np.dot(term, x) / np.dot(x, x)) * x
    spread = float(np.dot(term, term))
    bend = float(np.dot(term, fit.residual)) / spread
    left = fit.residual - bend * term
    sse = float(np.dot(left, left))
    reach = abs(math.ldexp(fit.y.largest, -fit.y.exponent))
    if sse <= fit.n * (8 * _EPSILON * reach) ** 2:
        why = dict.fromkeys(("t", "p"), Cause.EXACT_FIT)
        t = p = None
    else:
        why, t = {}, bend / math.sqrt(sse / df / spread)
        p = t_both(t, df)
    steep = fit.slope_scaled * size - slant * bend
    away = -steep / (2 * bend) * size if bend else math.inf
    turn = fit.mean_x_scaled + away
    return Curvature(
        t=t,
        df=df,
        p=p,
        share=min(bend * bend * spread / fit.sse, 1.0),
        turn=unscaled(turn, fit.x.exponent) if math.isfinite(turn) else None,
        why=reasons(why),
    )
