"""Pairs that stand in falling order, counted and found by parting values again and again."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from bright_tether.core.results import Ints

#: Powers of two: values parted in one go, and values compared each with each.
_HELD, _OUTRIGHT = 15, 5


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
