"""How strongly something that was not measured would have to go with x and y to explain a slope away.

Strength is a partial r²: the share of what is left of a column that the unseen one takes up.
Source: Cinelli & Hazlett 2020, Journal of the Royal Statistical Society B 82, 39–67.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import msgspec
import numpy as np

from bright_tether.core.line.terms import Design, fit_terms
from bright_tether.core.results import Floats
from bright_tether.core.tails import t_beyond

#: Halvings until an end of the curve of doubt is where it is.
_HALVINGS = 50


class Yardstick(msgspec.Struct, frozen=True, kw_only=True):
    """An unseen column as strong as a measured one: its partial r² with x, and with y once x is held.

    possible : whether one so strong can be at all.
    """

    with_x: float
    with_y: float
    possible: bool


class Unseen(msgspec.Struct, frozen=True, kw_only=True):
    """t, df : classical, of the slope against 0. share : partial r² of y with x, t² ÷ (t² + df).

    to_nothing, to_doubt : the partial r², with x and with y alike, that takes the slope to 0, or its two-sided test
    to α; the first is at least the second. None without degrees of freedom.
    """

    t: float
    df: int
    alpha: float
    share: float
    to_nothing: float
    to_doubt: float | None


def unseen(t: float, df: int, alpha: float) -> Unseen:
    """What it takes. t : finite; df ≥ 1; 0 < alpha < 1."""
    f = abs(t) / math.sqrt(df)
    return Unseen(
        t=t, df=df, alpha=alpha, share=f * f / (1 + f * f), to_nothing=_both(f), to_doubt=_to_doubt(f, df, alpha)
    )  # fmt: skip


def _both(f: float) -> float:
    """The strength at which both partial r² are alike: ½(√(f⁴ + 4f²) − f²), written so that no digit is lost."""
    return 2 * f / (f + math.sqrt(f * f + 4)) if f else 0.0


def _to_doubt(f: float, df: int, alpha: float) -> float | None:
    if df < 2:
        return None
    least = t_beyond(alpha / 2, df - 1) / math.sqrt(df - 1)
    spare = f - least
    if spare <= 0:
        return 0.0
    if spare < 1 / least:
        return _both(spare)
    return (f * f - least * least) / (1 + f * f)


def yardstick(x: Floats, y: Floats, others: Sequence[Floats], measured: Sequence[Floats]) -> Yardstick:
    """An unseen column as strong as measured ones, each (n,). others : what is held beside them.

    Raises Collinear, ConstantColumn, TooFewPairs.
    """
    with_x = _taken_up(x, others, measured)
    with_y = _taken_up(y, [x, *others], measured)
    odds = with_x / (1 - with_x)
    across = odds * odds
    if odds >= 1 or across >= 1 or with_y >= 1:
        return Yardstick(with_x=min(odds, 1.0), with_y=1.0, possible=False)
    grown = ((1 + math.sqrt(across)) / math.sqrt(1 - across)) ** 2 * with_y / (1 - with_y)
    return Yardstick(with_x=odds, with_y=min(grown, 1.0), possible=grown < 1)


def _taken_up(y: Floats, others: Sequence[Floats], measured: Sequence[Floats]) -> float:
    """The share of what the others leave of y that the measured columns take up."""
    whole = fit_terms(Design(terms=(*others, *measured)), y)
    before = fit_terms(Design(terms=tuple(others)), y).sse if others else whole.y.sum_squares
    return 1.0 if not before else min(max(1 - whole.sse / before, 0.0), 1.0)


def slope_left(t: float, df: int, with_x: Floats, with_y: Floats) -> Floats:
    """The share of the slope that is left, beside an unseen column of these strengths; below 0 where it turns round."""
    return 1 - np.sqrt(df * with_y * with_x / (1 - with_x)) / abs(t)


def to_share(t: float, df: int, with_x: Floats, left: float) -> Floats:
    """The strength with y, for each with x in (0, 1), at which this share of the slope is left; NaN beyond 1."""
    found = (1 - left) ** 2 * (t * t / df) * (1 - with_x) / with_x
    return np.where(found <= 1, found, np.nan)


def to_alpha(t: float, df: int, alpha: float, with_x: Floats) -> Floats:
    """The strength with y, for each with x, at which the slope's test comes to α; NaN where none does, 0 where any."""
    if df < 2:
        return np.full(with_x.size, np.nan)
    least = t_beyond(alpha / 2, df - 1)
    # t falls as far as this, and rises again where little of y is left to err by
    pull = np.sqrt(df * with_x / (1 - with_x)) / abs(t)
    low, high = (
        np.zeros(with_x.size),
        np.minimum(np.where(pull < 1, pull, 1 / np.maximum(pull, 1.0)) ** 2, 1 - 1e-12),
    )
    beyond = _t_left(t, df, with_x, high) > least
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        over = _t_left(t, df, with_x, middle) > least
        low, high = np.where(over, middle, low), np.where(over, high, middle)
    return np.where(beyond, np.nan, low)


def _t_left(t: float, df: int, with_x: Floats, with_y: Floats) -> Floats:
    """|t| of the slope beside an unseen column, toward 0."""
    kept = abs(t) * slope_left(t, df, with_x, with_y)
    return kept / np.sqrt((1 - with_y) / (1 - with_x) * df / (df - 1))
