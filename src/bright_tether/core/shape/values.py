"""How the values of both columns recur: in a few levels, in a pile at one end, in pairs that are copies of others."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Floats, Ints

#: A response of so many values, and no more, in so many rows of each on average, has set levels.
LEAST_LEVELS, MOST_LEVELS, ROWS_OF_EACH = 3, 5, 4
#: A pile has so many rows, so large a share of all, and so many times those of any value between the ends; of fewer
#: different values none is told.
LEAST_IN_PILE, SHARE_IN_PILE, TIMES_OTHERS, LEAST_DIFFERENT = 4, 0.1, 3, 8
#: Pairs are copies where so large a share of those with the same x have the same y, which others hardly ever have.
SAME_WITHIN, SAME_BEYOND = 0.8, 0.05


class Pile(msgspec.Struct, frozen=True, kw_only=True):
    """Rows at the lowest, or the highest, value of a column: far more than at any value between the ends."""

    value: float
    rows: int
    lowest: bool


class Recurring(msgspec.Struct, frozen=True, kw_only=True):
    """levels : the values of y where it takes three to five in many rows, else none. copies : pairs equal to another
    that stands before them, where that is no matter of rounding.
    """

    levels: tuple[float, ...]
    x: tuple[Pile, ...]
    y: tuple[Pile, ...]
    copies: int


def recurring(pairs: Pairs) -> Recurring:
    """What recurs in these pairs."""
    (_, times_x), (_, times_y) = pairs.codes_x, pairs.codes_y
    few = LEAST_LEVELS <= times_y.size <= MOST_LEVELS and pairs.n >= ROWS_OF_EACH * times_y.size
    return Recurring(levels=tuple(np.unique(pairs.y).tolist()) if few else (), x=_piles(pairs.x, times_x),
                     y=_piles(pairs.y, times_y), copies=_copies(pairs, times_x, times_y))  # fmt: skip


def _piles(values: Floats, times: Ints) -> tuple[Pile, ...]:
    """Those at the ends. times : how often each different value occurs, lowest first."""
    if times.size < LEAST_DIFFERENT:
        return ()
    least = max(LEAST_IN_PILE, SHARE_IN_PILE * times.sum(), TIMES_OTHERS * times[1:-1].max())
    ends = ((values.min(), times[0], True), (values.max(), times[-1], False))
    return tuple(
        Pile(value=float(end), rows=int(rows), lowest=low) for end, rows, low in ends if rows >= least
    )


def _copies(pairs: Pairs, times_x: Ints, times_y: Ints) -> int:
    times = np.unique(pairs.codes_x[0] * times_y.size + pairs.codes_y[0], return_counts=True)[1]
    copies = pairs.n - times.size
    if times.size < LEAST_DIFFERENT or copies < max(LEAST_IN_PILE, SHARE_IN_PILE * pairs.n):
        return 0
    same_x, same_y, both = (_ties(one) for one in (times_x, times_y, times))
    others = pairs.n * (pairs.n - 1) // 2 - same_x
    alike = both >= SAME_WITHIN * same_x and same_y - both <= SAME_BEYOND * others
    return copies if alike else 0


def _ties(times: Ints) -> int:
    """Comparisons between rows that share a value."""
    return int((times * (times - 1) // 2).sum())
