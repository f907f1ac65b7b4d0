"""Kendall's τ: pairs of pairs counted by sorting, with its test, exact p, interval and critical value."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import special

from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Alternative, Cause, Interval, Ints, Why, reasons
from bright_tether.core.tails import z_beyond

#: Largest n for which the whole null distribution of S is worked out.
EXACT_UP_TO = 60
#: Powers of two: values parted in one go, and values compared each with each.
_HELD, _OUTRIGHT = 15, 5


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Kendall:
    """Counts over the n(n − 1)/2 pairs of pairs; τ-a, τ-b; normal p by the alternative; p_exact two-sided.

    critical : the |τ_b| at which the normal p equals α.
    """

    concordant: int
    discordant: int
    tied_x: int
    tied_y: int
    tied_both: int
    tau_a: float
    tau_b: float | None
    z: float | None
    p: float | None
    p_exact: float | None
    ci: Interval | None
    critical: float | None
    why: Why


def kendall(pairs: Pairs, *, alpha: float, alternative: Alternative, level: float) -> Kendall:
    """Count and test concordance in O(n log n).

    pairs : n ≥ 2. τ_b, z and p are None where x or y does not vary; the interval needs n > 4.
    Source: quantities §2; Knight 1966; Kendall & Gibbons 1990; Fieller, Hartley & Pearson 1957.
    """
    require(pairs, 2)
    n = pairs.n
    (x, counts_x), (y, counts_y) = pairs.codes_x, pairs.codes_y
    found = _compared(x, y, counts_x, counts_y)
    total, same_x, same_y, same = found.total, found.same_x, found.same_y, found.same
    concordant, discordant = found.concordant, found.discordant
    score, room = concordant - discordant, found.room
    figures: dict[str, Any] = {
        "concordant": concordant,
        "discordant": discordant,
        "tied_x": same_x - same,
        "tied_y": same_y - same,
        "tied_both": same,
        "tau_a": score / total,
    }
    if room == 0:
        cause = Cause.CONSTANT_Y if same_y == total else Cause.CONSTANT_X
        why = dict.fromkeys(("tau_b", "z", "p", "p_exact", "ci", "critical"), cause)
        return Kendall(**figures, tau_b=None, z=None, p=None, p_exact=None, ci=None, critical=None,
                       why=reasons(why))  # fmt: skip
    root, spread = found.root, math.sqrt(_variance(n, counts_x, counts_y))
    z, of_all = score / spread, found.tau_b
    why = {}
    exact = None
    if n > EXACT_UP_TO:
        why["p_exact"] = Cause.TOO_MANY_FOR_EXACT
    elif same_x or same_y:
        why["p_exact"] = Cause.TIES
    else:
        exact = _exact_p(n, score)
    ci = None
    if abs(of_all) == 1 or n <= 4:
        why["ci"] = Cause.PERFECT_CORRELATION if abs(of_all) == 1 else Cause.TOO_FEW_PAIRS
    else:
        half = z_beyond((1 - level) / 2) * math.sqrt(0.437 / (n - 4))
        ci = math.tanh(math.atanh(of_all) - half), math.tanh(math.atanh(of_all) + half)
    limit = z_beyond(alpha / 2 if alternative == "two-sided" else alpha) * spread / root
    p = _normal_p(z, alternative)
    return Kendall(**figures, tau_b=of_all, z=z, p=p, p_exact=exact, ci=ci, critical=limit, why=reasons(why))


def tau_b(x: Ints, y: Ints) -> float | None:
    """τ-b alone, of values told by codes from 0; None where x or y does not vary. x, y : (n,)."""
    found = _compared(x, y, np.bincount(x), np.bincount(y))
    return found.tau_b if found.room else None


@dataclass(frozen=True, slots=True)
class _Compared:
    """Every two pairs held against each other. same_x, same_y, same : tied in x, in y, in both."""

    total: int
    same_x: int
    same_y: int
    same: int
    discordant: int

    @property
    def concordant(self) -> int:
        return self.total - self.same_x - self.same_y + self.same - self.discordant

    @property
    def room(self) -> int:
        return (self.total - self.same_x) * (self.total - self.same_y)

    @property
    def root(self) -> float:
        # the same count under both roots is taken as it is, so that a perfect order gives exactly 1
        x, y = self.total - self.same_x, self.total - self.same_y
        return float(x) if x == y else math.sqrt(x) * math.sqrt(y)

    @property
    def tau_b(self) -> float:
        return max(-1.0, min(1.0, (self.concordant - self.discordant) / self.root))


def _compared(x: Ints, y: Ints, counts_x: Ints, counts_y: Ints) -> _Compared:
    # One number a pair: sorted, it orders by x and then y, and its repeats are the pairs tied in both.
    together = np.sort(x * counts_y.size + y)
    both = np.diff(np.flatnonzero(np.diff(together, prepend=-1, append=-1)))
    return _Compared(x.size * (x.size - 1) // 2, _choose(counts_x), _choose(counts_y), _choose(both),
                     inversions(together % counts_y.size))  # fmt: skip


def _choose(counts: Ints) -> int:
    """Pairs among equals."""
    return int(np.sum(counts * (counts - 1) // 2))


def inversions(values: Ints) -> int:
    """How many pairs stand in falling order, in O(n log n).

    values : (n,), whole numbers from 0 to n − 1 in any order, repeats allowed.
    Equal values are told apart by their place, so that they never fall; the inverse of the order that
    results has as many falling pairs. Its values are then parted into lower and higher halves again
    and again, what falls across is counted, and the last small blocks are compared outright.
    """
    n = values.size
    order = (np.sort(values * n + np.arange(n)) % n).astype(np.int32)
    bits = max(n - 1, 0).bit_length()
    found = 0
    for bit in range(bits - 1, max(_HELD, _OUTRIGHT) - 1, -1):
        found += _part(order, bit)
    for start in range(0, n, 1 << _HELD):  # in pieces that stay in the processor's cache
        piece = order[start : start + (1 << _HELD)]
        piece -= start
        for bit in range(min(_HELD, bits) - 1, _OUTRIGHT - 1, -1):
            found += _part(piece, bit)
        found += _falling_in_blocks(piece)
    return found


def _part(values: NDArray[np.int32], bit: int) -> int:
    """Part each block of values that differ only below and in this bit, in place; the falls across.

    values : (n,), each of 0..n − 1 once, in blocks of 2^(bit + 1) by size, in any order within.
    """
    one = (values >> bit) & 1
    start = (values >> (bit + 1)) << (bit + 1)
    ones = np.cumsum(one, dtype=np.int32)
    ones -= start >> 1  # those before in its own block: half of all values below the block have the bit
    goes = np.where(one, start + ones + ((1 << bit) - 1), np.arange(values.size, dtype=np.int32) - ones)
    ones *= 1 - one
    values[goes] = values.copy()
    return int(ones.sum(dtype=np.int64))


def falling_pairs(
    order: Ints, *, most: int | None = None, draw: np.random.Generator | None = None
) -> tuple[Ints, Ints]:
    """The places (i, j), i < j, of every pair that falls, or of this many drawn from them all.

    order : (n,) each of 0..n − 1 once.
    """
    current, places = order.astype(np.int64), np.arange(order.size)
    levels = []
    for bit in range(max(order.size - 1, 0).bit_length() - 1, -1, -1):
        one = (current >> bit) & 1
        start = (current >> (bit + 1)) << (bit + 1)
        ones = np.cumsum(one) - (start >> 1)
        goes = np.where(one == 1, start + ones + ((1 << bit) - 1), np.arange(current.size) - ones)
        moved, moved_places = np.empty_like(current), np.empty_like(places)
        moved[goes], moved_places[goes] = current, places
        zero = np.flatnonzero(one == 0)
        # The ones before a zero in its block stand, once parted, right behind the block's zeros.
        levels.append((places[zero], start[zero] + (1 << bit), ones[zero], moved_places))
        current, places = moved, moved_places
    counts = [int(level[2].sum()) for level in levels]
    total = sum(counts)
    taken = None if most is None or draw is None or total <= most else np.sort(draw.integers(0, total, most))
    firsts, seconds, passed = [], [], 0
    for (zeros, begin, ones, after), count in zip(levels, counts, strict=True):
        if taken is None:
            which = np.repeat(np.arange(zeros.size), ones)
            step = np.arange(count) - np.repeat(np.cumsum(ones) - ones, ones)
        else:
            mine = taken[(taken >= passed) & (taken < passed + count)] - passed
            ends = np.cumsum(ones)
            which = np.searchsorted(ends, mine, side="right")
            step = mine - (ends - ones)[which]
        firsts.append(after[begin[which] + step])
        seconds.append(zeros[which])
        passed += count
    return np.concatenate(firsts), np.concatenate(seconds)


def _falling_in_blocks(values: NDArray[np.int32]) -> int:
    """Falling pairs inside each block of 2^_OUTRIGHT values, compared outright."""
    size = 1 << _OUTRIGHT
    padded = np.full(-(-values.size // size) * size, size - 1, np.uint8)
    padded[: values.size] = values & (size - 1)
    side = np.ascontiguousarray(padded.reshape(-1, size).T)
    return sum(int(np.count_nonzero(side[:-gap] > side[gap:])) for gap in range(1, size))


def _variance(n: int, counts_x: Ints, counts_y: Ints) -> float:
    """Var(S) under no association, corrected for ties; at n = 2 the term with n − 2 drops out."""

    def sums(counts: Ints) -> tuple[int, int, int]:
        t = [int(c) for c in counts[counts > 1]]
        return (
            sum(c * (c - 1) * (2 * c + 5) for c in t),
            sum(c * (c - 1) * (c - 2) for c in t),
            sum(c * (c - 1) for c in t),
        )

    (five_x, three_x, two_x), (five_y, three_y, two_y) = sums(counts_x), sums(counts_y)
    variance = (n * (n - 1) * (2 * n + 5) - five_x - five_y) / 18
    if n > 2:
        variance += three_x * three_y / (9 * n * (n - 1) * (n - 2))
    return variance + two_x * two_y / (2 * n * (n - 1))


def _normal_p(z: float, alternative: Alternative) -> float:
    if alternative == "two-sided":
        return float(2 * special.ndtr(-abs(z)))
    return float(special.ndtr(-z if alternative == "greater" else z))


def _exact_p(n: int, score: int) -> float:
    counts = _score_counts(n)
    middle = n * (n - 1) // 2
    far = sum(c for inversions, c in enumerate(counts) if abs(middle - 2 * inversions) >= abs(score))
    return float(far / math.factorial(n)) if n < 20 else _ratio(far, math.factorial(n))


def _ratio(part: int, whole: int) -> float:
    from fractions import Fraction

    return float(Fraction(part, whole))


@lru_cache(maxsize=16)
def _score_counts(n: int) -> tuple[int, ...]:
    """How many orders of n have each number of inversions (Mahonian numbers), in whole numbers."""
    counts = [1]
    for size in range(2, n + 1):
        longer, running = [], 0
        for k in range(len(counts) + size - 1):
            running += counts[k] if k < len(counts) else 0
            running -= counts[k - size] if 0 <= k - size < len(counts) else 0
            longer.append(running)
        counts = longer
    return tuple(counts)
