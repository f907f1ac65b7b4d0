"""Mid-ranks and ties."""

from __future__ import annotations

import numpy as np

from bright_tether.core.order import order_of
from bright_tether.core.results import Floats, Ints


def dense_codes(values: Floats) -> tuple[Ints, Ints]:
    """The place of each value among the distinct ones, (n,), and how often each occurs, lowest first.

    Sorts once; sooner than unique-with-inverse for long columns.
    """
    order = order_of(values)
    ordered = values[order]
    fresh = np.empty(values.size, np.int64)
    fresh[:1] = 0
    fresh[1:] = ordered[1:] != ordered[:-1]
    places = np.cumsum(fresh)
    codes = np.empty(values.size, np.int64)
    codes[order] = places
    return codes, np.bincount(places)


def mid_ranks(codes: Ints, counts: Ints, *, highest_first: bool = False) -> Floats:
    """Ranks from 1, equal values sharing the mean of their places, (n,).

    codes, counts : as ``dense_codes`` gives them.
    """
    ends = np.cumsum(counts)
    ranks: Floats = (ends - (counts - 1) / 2)[codes]
    return codes.size + 1 - ranks if highest_first else ranks
