"""The form of a scatter: bend, clumps, gaps and far-out points, each by a stated measure."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bright_tether.core.checks.bend import Curvature
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Floats, Interval, Ints
from bright_tether.core.shape.clumps import Clumps

#: A bend counts when its term takes up at least this share of the residuals.
BEND_SHARE = 0.1
#: A gap in x is wide from this share of the range on, with at least GAP_SIDES pairs on either side.
GAP_SHARE, GAP_SIDES = 0.25, 3
#: Values this many interquartile ranges beyond the quartiles of their own column are far out.
FAR_FENCES = 3.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Form:
    """What the eye is told, in figures.

    bent : whether the curvature is beyond α and takes up BEND_SHARE of the residuals.
    turns_at : x of the turn where that lies inside the middle four fifths of the measured range.
    tightness : s over the sd of y; None where y does not vary.
    gap : the widest empty stretch of x where it counts, with its share of the range.
    far_line, far_x, far_y : places among the pairs that lie far from the line, or far out in a column.
    """

    bent: bool
    turns_at: float | None
    tightness: float | None
    clumps: Clumps
    gap: Interval | None
    gap_share: float
    far_line: Ints
    far_x: Ints
    far_y: Ints


def form(
    pairs: Pairs, rows: RowByRow, curvature: Curvature, clumped: Clumps, tightness: float | None, alpha: float
) -> Form:
    """Measure the form of these pairs. rows, curvature, tightness : of their straight line."""
    bent = (
        curvature.p is not None
        and curvature.p <= alpha
        and curvature.share is not None
        and curvature.share >= BEND_SHARE
    )
    gap, share = _widest_gap(pairs.x)
    unusual = np.nan_to_num(rows.outlier_p, nan=1.0) <= alpha
    return Form(
        bent=bent,
        turns_at=_turn(pairs, curvature.turn) if bent else None,
        tightness=tightness,
        clumps=clumped,
        gap=gap,
        gap_share=share,
        far_line=np.flatnonzero(unusual),
        far_x=_far_out(pairs.x),
        far_y=_far_out(pairs.y),
    )


def _turn(pairs: Pairs, turn: float | None) -> float | None:
    low, high = float(pairs.x.min()), float(pairs.x.max())
    margin = (high - low) / 10
    return turn if turn is not None and low + margin <= turn <= high - margin else None


def _widest_gap(x: Floats) -> tuple[Interval | None, float]:
    ordered = np.sort(x)
    inner = ordered[GAP_SIDES - 1 : ordered.size - GAP_SIDES + 1]
    if inner.size < 2:
        return None, 0.0
    steps = np.diff(inner)
    at = int(np.argmax(steps))
    share = float(steps[at] / (ordered[-1] - ordered[0])) if ordered[-1] > ordered[0] else 0.0
    return ((float(inner[at]), float(inner[at + 1])) if share >= GAP_SHARE else None), share


def _far_out(values: Floats) -> Ints:
    low, high = np.quantile(values, (0.25, 0.75))
    room = FAR_FENCES * (high - low)
    return np.flatnonzero((values < low - room) | (values > high + room))
