"""The rows in play of one column by itself, put in order where that does not hold up the hand."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.order import order_of
from bright_tether.core.results import Bools, Floats, Ints
from bright_tether.core.shape.dots import stacked_dots
from bright_tether.core.shape.fences import Fences, fences
from bright_tether.core.shape.histogram import Bins, usual_bins
from bright_tether.core.summary import ColumnSummary, summarise
from bright_tether.live.cloud import Cloud, drawable


class OneColumn(msgspec.Struct, frozen=True, eq=False, kw_only=True):
    """What a picture of a column needs.

    n : rows with a value. dots : each at its value, stacked where they would lie on each other; rising : (n,) their
    values in that order; beyond : (k,) those outside the fences. Without dots, where there are none that a picture
    can put on a page, the rest is empty too.
    """

    n: int
    dots: Cloud | None
    rising: Floats
    fenced: Fences | None
    beyond: Floats
    summary: ColumnSummary
    usual: Bins | None


def one_column(
    cells: Floats, paired: Ints | None, kept: Bools | None, row_ids: Ints, asides: Ints, whole: Cloud | None
) -> OneColumn:
    """Take the rows in play of a column. cells, row_ids : (rows,), NaN where missing.

    paired : where the pairs stand, for one of their columns. kept : (rows,) what the conditions let through. asides :
    ids of rows set aside. whole : the points of both columns, whose groups tint the dots.
    """
    at = _in_play(cells, kept, row_ids, asides) if paired is None else paired
    values = cells[at] if drawable(cells) else np.zeros(0)
    order = order_of(values)
    rising = values[order]
    if not values.size:
        return OneColumn(n=at.size, dots=None, rising=rising, fenced=None, beyond=values,
                         summary=summarise(values), usual=None)  # fmt: skip
    groups: tuple[str, ...] = ()
    group = np.zeros(at.size, np.int64)
    if whole is not None and np.isin(at, whole.at).all():
        group, groups = whole.group[np.searchsorted(whole.at, at)], whole.groups
    dots = Cloud(x=values, y=stacked_dots(values), at=at, row_ids=row_ids[at], aside=np.zeros(at.size, bool),
                 group=group, groups=groups)  # fmt: skip
    dots.__dict__["rising"] = order
    fenced = fences(values, rising)
    return OneColumn(n=at.size, dots=dots.ready(), rising=rising, fenced=fenced, beyond=values[fenced.beyond],
                     summary=summarise(values, ordered=rising), usual=Bins(*usual_bins(rising)))  # fmt: skip


def _in_play(cells: Floats, kept: Bools | None, row_ids: Ints, asides: Ints) -> Ints:
    there = np.isfinite(cells)
    if kept is not None:
        there &= kept
    return np.flatnonzero(there & ~np.isin(row_ids, asides))
