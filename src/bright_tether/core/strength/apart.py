"""Every two pairs held against each other where the rows come lot after lot, in order.

Rows in order of x, and then of y, are dealt out by y into stretches. A pair that falls from one stretch into another is
counted as the rows come by; those inside a stretch are counted when it is complete. Source: Knight 1966, by parts.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator

import msgspec
import numpy as np

from bright_tether.core.results import Bools, Floats, Ints
from bright_tether.core.strength.compared import Compared, Ties
from bright_tether.core.strength.falling import inversions
from bright_tether.core.strength.ranks import dense_codes

#: Stretches at most, and values that one takes at least.
_MOST, _LEAST = 200, 1 << 20


class _Runs:
    """How long the runs of equal rows are, whatever lots they come in."""

    def __init__(self) -> None:
        self._sizes: Counter[int] = Counter()
        self._last: tuple[float, ...] | None = None
        self._open = 0

    def take(self, *columns: Floats) -> None:
        new: Bools = np.zeros(columns[0].size, bool)
        for one in columns:
            new[1:] |= one[1:] != one[:-1]
        new[0] = tuple(float(one[0]) for one in columns) != self._last
        starts = np.flatnonzero(new)
        before = int(starts[0]) if starts.size else new.size
        self._open += before
        if starts.size:
            sizes, many = np.unique(np.diff(np.append(starts, new.size))[:-1], return_counts=True)
            self._sizes.update({self._open: 1} if self._open else {})
            self._sizes.update(dict(zip(sizes.tolist(), many.tolist(), strict=True)))
            self._open = int(new.size - starts[-1])
        self._last = tuple(float(one[-1]) for one in columns)

    def ties(self) -> Ties:
        sizes = self._sizes + Counter({self._open: 1} if self._open else {})
        listed = sorted(sizes)
        return Ties(tuple(listed), tuple(sizes[one] for one in listed))


class AlongY(msgspec.Struct, frozen=True, eq=False):
    """What one pass in order of y tells: its ties, and values between which lie stretches of about one size, (k,)."""

    n: int
    ties: Ties
    edges: Floats


def along_y(lots: Iterator[Floats], n: int) -> AlongY:
    """Go along y once. lots : in rising order; n : about how many there are in all."""
    runs, size, done = _Runs(), max(_LEAST, n // _MOST), 0
    edges: list[float] = []
    for y in lots:
        runs.take(y)
        edges += y[np.arange(-done % size, y.size, size)].tolist()
        done += y.size
    return AlongY(done, runs.ties(), np.unique(np.array(edges[1:])))


def compared_along(
    lots: Iterator[tuple[Floats, Floats]], known: AlongY, keep: Callable[[int, Floats], None],
    kept: Callable[[int], Floats],
) -> Compared:  # fmt: skip
    """Go along x, and y where x is equal. keep : puts y of one stretch behind what it has; kept : all of it."""
    x_runs, both_runs, discordant = _Runs(), _Runs(), 0
    before = np.zeros(2 * known.edges.size + 1, np.int64)  # every other stretch is one edge alone
    for x, y in lots:
        x_runs.take(x)
        both_runs.take(x, y)
        codes = np.searchsorted(known.edges, y, "left") + np.searchsorted(known.edges, y, "right")
        above = before.sum() - np.cumsum(before)
        discordant += int(above[codes].sum()) + inversions(codes)
        before += np.bincount(codes, minlength=before.size)
        _dealt(codes, y, keep)
    discordant += sum(
        inversions(dense_codes(kept(at))[0]) for at in range(0, before.size, 2) if before[at] > 1
    )
    return Compared(
        n=known.n, x=x_runs.ties(), y=known.ties, same=both_runs.ties().pairs, discordant=discordant
    )


def _dealt(codes: Ints, y: Floats, keep: Callable[[int, Floats], None]) -> None:
    """Hand each stretch its own, in the order in which they came."""
    order = np.argsort(codes, kind="stable")
    ends = np.cumsum(np.bincount(codes))
    for at in np.unique(codes).tolist():
        if at % 2 == 0:
            keep(at, y[order[(ends[at - 1] if at else 0) : ends[at]]])
