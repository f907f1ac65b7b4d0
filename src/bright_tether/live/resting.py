"""Rows that the decision, or a doubt about all rows, rests on: without them it would come out otherwise."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np

from bright_tether.core.decision import Decision
from bright_tether.core.doubts.statistics import Design
from bright_tether.core.doubts.verdicts import Doubt
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.results import Interval, Ints

#: So many rows are left out at most: what takes more of them is no matter of single rows.
MOST_LEFT_OUT = 3
#: Doubts about all rows together that a few can bring about, and the fewest rows that are left to tell.
BY_FEW, LEAST_LEFT = ("bend", "spread", "shape"), 8
#: Among more rows than this none is looked for.
MOST_ROWS = 60_000


class Resting(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The rows left out, as places among the pairs, and the decision without them; None where a column is left that
    does not vary.
    """

    rows: Ints
    without: Decision | None


class LeftOut(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The rows left out, as places among the pairs, and the p of each doubt with a sign without them."""

    rows: Ints
    p: dict[str, float | None]


class Without(msgspec.Struct, frozen=True, kw_only=True):
    """The slope without the rows that carry the line, by the errors in force."""

    slope: float
    ci: Interval


def noticed(doubts: Sequence[Doubt], design: Design, rows: RowByRow, far_x: Ints) -> Ints:
    """Places of single rows that stand out, the most influential first.

    A doubt about single rows names them, they carry the line, or they lie far out in x: few together, of which each
    may hide the other.
    """
    places = {int(at) for one in doubts if one.sign and one.name in ("far-out", "pull") for at in one.rows}
    places |= set(design.carried.tolist())
    places |= set(far_x.tolist()) if far_x.size <= MOST_LEFT_OUT else set()
    found = np.array(sorted(places), np.int64)
    if not found.size:
        return found
    pull = np.nan_to_num(rows.cooks_d[found], nan=np.inf)
    return found[np.argsort(-pull, kind="stable")][:MOST_LEFT_OUT]


def turns(with_all: Decision, without: Decision) -> bool:
    """Whether a rejected null is rejected no more or on the other side, or one that was not is rejected."""
    if without.p is None or without.statistic is None or with_all.statistic is None:
        return False
    if not with_all.reject:
        return bool(without.reject)
    return not without.reject or (without.statistic > 0) != (with_all.statistic > 0)
