"""Values that recur, counted on the other road."""

from __future__ import annotations

from collections import Counter
from itertools import combinations


def piles(values):
    """[value, rows, whether it is the lowest] of each end where far more rows stand than at any other value."""
    times = Counter(values.tolist())
    ends = (min(times), max(times))
    if len(times) < 8:
        return []
    others = max(many for value, many in times.items() if value not in ends)
    least = max(4, 0.1 * len(values), 3 * others)
    return [[end, times[end], end == ends[0]] for end in ends if times[end] >= least]


def copies(road):
    """How many pairs repeat another, 0 where that may be rounding."""
    pairs = list(zip(road.x.tolist(), road.y.tolist(), strict=True))
    many, different = len(pairs), len(set(pairs))
    if different < 8 or many - different < max(4, 0.1 * many):
        return 0
    within, beyond = Counter(), Counter()
    for (x, y), (other_x, other_y) in combinations(pairs, 2):
        (within if x == other_x else beyond)[y == other_y] += 1
    alike = within[True] >= 0.8 * within.total() and beyond[True] <= 0.05 * beyond.total()
    return many - different if alike else 0
