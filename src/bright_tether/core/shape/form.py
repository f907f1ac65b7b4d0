"""The form of a scatter: bend, clumps, gaps and far-out points, each by a stated measure."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.checks.bend import Curvature
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.pairs import Pairs, take_pairs
from bright_tether.core.results import Bools, Floats, Interval, Ints
from bright_tether.core.shape.clumps import Clumps
from bright_tether.core.strength.pearson import pearson

#: A bend counts when its term takes up at least this share of the residuals.
BEND_SHARE = 0.1
#: An empty stretch of x is a gap where it is wider than this share of the range.
GAP_SHARE = 0.25
#: Values this many interquartile ranges beyond the quartiles of their own column are far out.
FAR_FENCES = 3.0


class Gaps(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Empty stretches of x. wide : those that count, from the left. share : of the range, of the widest of all."""

    wide: tuple[Interval, ...]
    share: float

    @property
    def widest(self) -> Interval | None:
        """The widest that counts."""
        return max(self.wide, key=lambda one: one[1] - one[0], default=None)


class Form(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What the eye is told, in figures.

    bent : whether the curvature is beyond α and takes up BEND_SHARE of the residuals.
    turns_at : x of the turn where that lies inside the middle four fifths of the measured range, and a line on either
    side of it goes the other way, each told from level at alpha. Source: Simonsohn 2018 for the two lines.
    tightness : s over the sd of y; None where y does not vary.
    gaps : where nothing was measured inside the range of x.
    far_line, far_x, far_y : places among the pairs that lie far from the line, or far out in a column.
    """

    bent: bool
    turns_at: float | None
    tightness: float | None
    clumps: Clumps
    gaps: Gaps
    far_line: Ints
    far_x: Ints
    far_y: Ints


def form(
    pairs: Pairs, rows: RowByRow, curvature: Curvature, clumped: Clumps, gaps: Gaps, tightness: float | None,
    alpha: float,
) -> Form:  # fmt: skip
    """Measure the form of these pairs. rows, curvature, tightness : of their straight line."""
    bent = (
        curvature.p is not None
        and curvature.p <= alpha
        and curvature.share is not None
        and curvature.share >= BEND_SHARE
    )
    return Form(
        bent=bent,
        turns_at=_turn(pairs, curvature.turn, alpha),
        tightness=tightness,
        clumps=clumped,
        gaps=gaps,
        far_line=rows.standing_out.unusual(alpha),
        far_x=far_out(pairs.x),
        far_y=far_out(pairs.y),
    )


def _turn(pairs: Pairs, turn: float | None, alpha: float) -> float | None:
    low, high = pairs.ends_x
    margin = (high - low) / 10
    if turn is None or not low + margin <= turn <= high - margin:
        return None
    before, behind = (_way(pairs, side, alpha) for side in (pairs.x <= turn, pairs.x >= turn))
    return turn if before * behind < 0 else None


def _way(pairs: Pairs, side: Bools, alpha: float) -> int:
    """Which way the line through some of the pairs goes: 1 up, −1 down, 0 where that is not told from level."""
    part = take_pairs(pairs.x[side], pairs.y[side])
    if part.n < 3 or part.centred_x.constant:
        return 0
    found = pearson(fit_line(part), alpha=alpha, alternative="two-sided", level=1 - alpha)
    if found.r is None or (found.p is not None and found.p > alpha):
        return 0
    return 1 if found.r > 0 else -1


def gaps_in(ordered: Floats) -> Gaps:
    """The gaps between values in rising order, (n,), n ≥ 1: what is wider than GAP_SHARE of the range."""
    whole = ordered[-1] - ordered[0]
    if not whole > 0:
        return Gaps(wide=(), share=0.0)
    steps = np.diff(ordered) / whole
    wide = np.flatnonzero(steps > GAP_SHARE).tolist()
    between = tuple((float(ordered[at]), float(ordered[at + 1])) for at in wide)
    return Gaps(wide=between, share=float(steps.max()))


def far_out(values: Floats) -> Ints:
    """Places of values more than FAR_FENCES interquartile ranges beyond the quartiles. values : (n,), n ≥ 1."""
    low, high = np.quantile(values, (0.25, 0.75))
    if high == low:  # half the values are one: any other would count as far out
        return np.zeros(0, np.int64)
    room = FAR_FENCES * (high - low)
    return np.flatnonzero((values < low - room) | (values > high + room))
