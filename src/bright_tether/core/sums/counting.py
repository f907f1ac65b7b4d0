"""Order statistics of columns too long to be put in order: exactly, by counting between edges that close in on them."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.results import Floats, Ints
from bright_tether.core.summary import Five, at_place
from bright_tether.core.sums.partial import NO_ENDS, Partial, Rows

#: Parts that a stretch is cut into in one pass.
_PARTS = 1024
#: So many values are taken out and put in order; of more, the stretches they lie in are cut once more.
_GATHERED = 1_000_000

Ends = tuple[float, float]


class Counts(msgspec.Struct, frozen=True, eq=False):
    """How many of x and of y lie between edges. edges : rising, of x and of y."""

    edges: tuple[Floats, Floats]

    def __call__(self, x: Floats, y: Floats) -> Partial:
        """Of one block: before the first edge, from each to the next, from the last on."""
        found = [
            np.bincount(np.searchsorted(edges, values, side="right"), minlength=edges.size + 1)
            for edges, values in zip(self.edges, (x, y), strict=True)
        ]
        high = np.concatenate(found).astype(float)
        return Partial(high, np.zeros_like(high), *NO_ENDS)


class Between(msgspec.Struct, frozen=True, eq=False):
    """The values of x and of y that lie in stretches. stretches : of each, (k, 2), the upper end not in it."""

    stretches: tuple[Floats, Floats]

    def __call__(self, x: Floats, y: Floats) -> tuple[Floats, ...]:
        """Of one block."""
        return tuple(
            np.concatenate([values[:0], *(values[(values >= low) & (values < high)] for low, high in ends)])
            for ends, values in zip(self.stretches, (x, y), strict=True)
        )


def five_numbers(rows: Rows, n: int, ends: tuple[Ends, Ends]) -> tuple[Five, Five]:
    """Minimum, quartiles and maximum of x and of y. n ≥ 1; ends : the smallest and the largest of each.

    Source: Hyndman & Fan 1996, type 7, by their order statistics.
    """
    places = [(n - 1) * part / 4 for part in (1, 2, 3)]
    ranks = sorted({rank for place in places for rank in (math.floor(place), math.ceil(place))})
    known = order_statistics(rows, ranks, ends)
    (x_1, x_2, x_3), (y_1, y_2, y_3) = ([at_place(place, values) for place in places] for values in known)
    (x_0, x_4), (y_0, y_4) = ends
    return (x_0, x_1, x_2, x_3, x_4), (y_0, y_1, y_2, y_3, y_4)


def order_statistics(
    rows: Rows, ranks: list[int], ends: tuple[Ends, Ends]
) -> tuple[dict[int, float], dict[int, float]]:
    """The values at these places, from 0, of x and of y in rising order."""
    searches = [_Search(ranks, low, math.nextafter(high, math.inf)) for low, high in ends]
    while sum(search.inside for search in searches) > _GATHERED:
        edges = searches[0].edges(), searches[1].edges()
        counts = rows.total(Counts(edges)).high.astype(np.int64)
        for search, own, cut in zip(searches, np.split(counts, [edges[0].size + 1]), edges, strict=True):
            search.close_in(cut, own)
    found = rows.gathered(Between((searches[0].stretches, searches[1].stretches)))
    x, y = (search.values(np.sort(own)) for search, own in zip(searches, found, strict=True))
    return x, y


class _Search:
    """Closes in on the values at some places of one column."""

    def __init__(self, ranks: list[int], low: float, high: float) -> None:
        self._ranks = ranks
        self._known: dict[int, float] = {}
        #: Stretches in rising order: their ends, how many values lie before each, and how many in it.
        self._open: list[tuple[float, float, int, float]] = [(low, high, 0, math.inf)]

    @property
    def inside(self) -> float:
        """How many values lie in what is still open."""
        return sum(held for *_, held in self._open)

    @property
    def stretches(self) -> Floats:
        """The ends of what is still open, (k, 2)."""
        return np.array([one[:2] for one in self._open]).reshape(-1, 2)

    def edges(self) -> Floats:
        """Where the open stretches are cut in the next pass."""
        share = np.linspace(0, 1, _PARTS + 1)
        cut = [low * (1 - share) + high * share for low, high, *_ in self._open]
        ends = self.stretches.ravel()  # as they are, whatever rounding makes of the outermost cuts
        inside = [np.clip(one, low, high) for one, (low, high, *_) in zip(cut, self._open, strict=True)]
        return np.unique(np.concatenate([ends, *inside]))

    def close_in(self, edges: Floats, counts: Ints) -> None:
        """Take in how many values lie before the first edge, between each two, and after the last."""
        below = np.cumsum(counts)  # below[k] : values before edge k
        found: dict[float, tuple[float, float, int, float]] = {}
        for rank in self._wanted:
            at = int(np.searchsorted(below, rank, side="right"))
            low, high = float(edges[at - 1]), float(edges[at])
            if high <= math.nextafter(low, math.inf):
                self._known[rank] = low
            else:
                found[low] = (low, high, int(below[at - 1]), float(counts[at]))
        self._open = sorted(found.values())

    def values(self, ordered: Floats) -> dict[int, float]:
        """The value at each place. ordered : all values in the open stretches, rising."""
        start = 0
        for _, high, before, _ in self._open:
            end = int(np.searchsorted(ordered, high, side="left"))
            for rank in self._wanted:
                if before <= rank < before + end - start:
                    self._known[rank] = float(ordered[start + rank - before])
            start = end
        return self._known

    @property
    def _wanted(self) -> list[int]:
        return [rank for rank in self._ranks if rank not in self._known]
