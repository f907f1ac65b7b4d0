"""Separate clumps of points, found by the longest links of their shortest tree."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Bools, Floats, Ints

#: Fewer pairs than this are not searched for clumps, nor are more than that.
LEAST_PAIRS, MOST_SEARCHED = 8, 60_000
#: With so few different x, or y, the columns of points, or their rows, are no clumps.
FEW = 3
#: More pairs than this are thinned evenly before they are searched.
MOST_PAIRS = 1500
#: Fewer different points than this are not searched either.
LEAST_SPOTS = 4
#: How many times longer than the links inside (their upper decile) the link between clumps must be.
APART = 4.0
#: A clump holds at least this share of the pairs, and at least LEAST_IN_CLUMP.
LEAST_SHARE, LEAST_IN_CLUMP = 0.1, 4


class Clumps(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Points in separate clumps.

    of : (n,) the clump of each pair from 0, by place of its first pair; −1 for points in none.
    count : clumps found, 0 where the points hang together. apart : link between over links inside.
    """

    of: Ints
    count: int
    apart: float | None


def clumps(pairs: Pairs) -> Clumps:
    """Find clumps set apart by a gap.

    x and y are taken in units of their sd; of the tree of shortest links between different points the
    longest are cut, and the cut that leaves most clumps is kept where the links cut are APART times those
    inside. Where x, or y, has one value in most they are no clumps.
    In thinned data a point left out joins the clump of its nearest neighbour kept.
    Source: single linkage; Gower & Ross 1969; the limits are our own, see LEAST_SHARE and APART.
    """
    none = Clumps(of=np.broadcast_to(np.int64(-1), pairs.n), count=0, apart=None)
    if not LEAST_PAIRS <= pairs.n <= MOST_SEARCHED or pairs.centred_x.constant or pairs.centred_y.constant:
        return none
    if pairs.distinct_x <= FEW or pairs.codes_y[1].size <= FEW:
        return none
    x, y = (c.high / math.sqrt(c.sum_squares / c.n) for c in (pairs.centred_x, pairs.centred_y))
    thinned = np.unique(np.linspace(0, pairs.n - 1, min(pairs.n, MOST_PAIRS)).astype(np.int64))
    spots, first, of_spot, rows = np.unique(
        np.stack((x[thinned], y[thinned]), axis=1), axis=0, return_index=True, return_inverse=True,
        return_counts=True,
    )  # fmt: skip
    if len(spots) < LEAST_SPOTS:
        return none
    ends, lengths = _shortest_tree(spots[:, 0], spots[:, 1])
    found, apart = _best_cut(spots, ends, lengths, rows, thinned[first])
    if found is None:
        return none
    of = found[of_spot.ravel()]
    kept, found = thinned, of
    if kept.size < pairs.n:
        of = np.empty(pairs.n, np.int64)
        for part in np.array_split(np.arange(pairs.n), max(pairs.n // 2000, 1)):
            away = np.hypot(x[part, None] - x[kept], y[part, None] - y[kept])
            of[part] = found[np.argmin(away, axis=1)]
    return Clumps(of=of, count=int(of.max()) + 1, apart=apart)


def _shortest_tree(x: Floats, y: Floats) -> tuple[Ints, Floats]:
    """The links (n − 1, 2) of the shortest tree and their lengths. Source: Prim 1957."""
    n, here = x.size, 0
    away, near = np.full(n, np.inf), np.zeros(n, np.int64)
    across, up, closer = x.copy(), np.empty(n), np.empty(n, bool)
    distance = np.empty(n)
    ends, lengths = np.empty((n - 1, 2), np.int64), np.empty(n - 1)
    for k in range(n - 1):
        across[here] = away[here] = np.inf  # in the tree already: it comes no nearer
        np.subtract(across, x[here], out=distance)
        np.subtract(y, y[here], out=up)
        np.hypot(distance, up, out=distance)
        np.less(distance, away, out=closer)
        np.copyto(near, here, where=closer)
        np.minimum(away, distance, out=away)
        there = int(away.argmin())
        ends[k], lengths[k] = (near[there], there), away[there]
        here = there
    return ends, lengths


def _upper_decile(rising: list[float], number: int) -> float:
    """The upper decile of the first so many of some lengths in rising order, between two of them by parts."""
    place = 0.9 * (number - 1)
    low = int(place)
    return rising[low] + (place - low) * (rising[min(low + 1, number - 1)] - rising[low])


def _best_cut(
    spots: Floats, ends: Ints, lengths: Floats, rows: Ints, first: Ints
) -> tuple[Ints | None, float | None]:
    """The clump of each different point, (k, 2). rows : how many pairs lie there; first : the place of the first."""
    n = rows.size
    least = max(LEAST_IN_CLUMP, math.ceil(int(rows.sum()) * LEAST_SHARE))
    by_length = np.argsort(lengths, kind="stable")[::-1]
    rising = lengths[by_length[::-1]].tolist()
    best: tuple[int, float, Ints] | None = None
    for cut in range(1, min(n - 1, 40)):
        between, rest = float(lengths[by_length[cut - 1]]), by_length[cut:]
        if between < APART * _upper_decile(rising, len(rest)):
            continue
        of = _pieces(ends[rest], n)
        sizes = np.bincount(of, weights=rows, minlength=n)
        in_order = of[np.argsort(first)].tolist()
        large = [piece for piece in dict.fromkeys(in_order) if sizes[piece] >= least]
        within = lengths[rest][sizes[of[ends[rest][:, 0]]] >= least]
        if len(large) < 2 or not within.size or _levels(spots, [of == piece for piece in large]):
            continue
        apart = between / max(float(np.quantile(within, 0.9)), 1e-300)
        if apart >= APART and (best is None or len(large) > best[0]):
            named = np.full(n, -1)
            for number, piece in enumerate(large):
                named[of == piece] = number
            best = len(large), apart, named
    return (None, None) if best is None else (best[2], best[1])


def _levels(spots: Floats, pieces: list[Bools]) -> bool:
    """Whether x, or y, has one value inside most pieces: levels that were set or graded, and no clumps."""
    flat = [[np.ptp(spots[piece, column]) == 0 for piece in pieces] for column in (0, 1)]
    return any(2 * sum(each) > len(pieces) for each in flat)


def _pieces(ends: Ints, n: int) -> Ints:
    """Which piece each point belongs to, (n,)."""
    parent = list(range(n))

    def root(at: int) -> int:
        while parent[at] != at:
            parent[at] = parent[parent[at]]
            at = parent[at]
        return at

    for a, b in ends.tolist():
        parent[root(a)] = root(b)
    return np.array([root(at) for at in range(n)])
