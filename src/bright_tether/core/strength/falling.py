"""Pairs that stand in falling order, counted and found by parting values again and again."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from bright_tether.core.results import Ints

#: Powers of two: values parted in one go, and values compared each with each.
_HELD, _OUTRIGHT = 15, 5
_NONE = np.zeros(0, np.int32)


def inversions(values: Ints) -> int:
    """How many pairs stand in falling order, in O(n log n).

    values : (n,), whole numbers from 0 to n − 1 in any order, repeats allowed. Equal values are told apart by their
    place, so that they never fall.
    """
    n = values.size
    return falls((np.sort(values * n + np.arange(n)) % n).astype(np.int32))


def falls(order: NDArray[np.int32]) -> int:
    """How many pairs fall along an order, (n,) each of 0..n − 1 once, or along its inverse, which has as many.

    The values are parted into lower and higher halves again and again, in place; what falls across is counted, and
    the last small blocks are compared outright.
    """
    n = order.size
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
    one, _, ones, goes = _parted(values, bit)
    ones *= 1 - one
    values[goes] = values.copy()
    return int(ones.sum(dtype=np.int64))


def _parted(values: NDArray[np.int32], bit: int) -> tuple[NDArray[np.int32], ...]:
    """Whether each has the bit, where its block starts, how many before it in the block have it, where it goes."""
    one = (values >> bit) & 1
    start = (values >> (bit + 1)) << (bit + 1)
    ones = np.cumsum(one, dtype=np.int32)
    ones -= start >> 1  # those before in its own block: half of all values below the block have the bit
    return (
        one,
        start,
        ones,
        np.where(one, start + ones + ((1 << bit) - 1), np.arange(values.size, dtype=np.int32) - ones),
    )


def falling_pairs(order: Ints, taken: Ints | None = None) -> tuple[Ints, Ints]:
    """The places (i, j), i < j, of every pair that falls, or of some of them.

    order : (n,) each of 0..n − 1 once. taken : which of the pairs, numbers from 0 in rising order; they are numbered in
    an order of their own, which is the same each time.
    """
    current, places = order.astype(np.int32), np.arange(order.size, dtype=np.int32)
    firsts, seconds, passed = [_NONE], [_NONE], 0
    for bit in range(max(order.size - 1, 0).bit_length() - 1, -1, -1):
        one, start, ones, goes = _parted(current, bit)
        moved, moved_places = np.empty_like(current), np.empty_like(places)
        moved[goes], moved_places[goes] = current, places
        zero = np.flatnonzero((one == 0) & (ones > 0))
        many = ones[zero].astype(np.int64)
        ends = np.cumsum(many)
        count = int(ends[-1]) if ends.size else 0
        if taken is None:
            which = np.repeat(np.arange(zero.size), many)
            step = np.arange(count) - np.repeat(ends - many, many)
        else:
            mine = taken[slice(*np.searchsorted(taken, (passed, passed + count)))] - passed
            which = np.searchsorted(ends, mine, side="right")
            step = mine - (ends - many)[which]
        # The ones before a zero in its block stand, once parted, right behind the block's zeros.
        firsts.append(moved_places[start[zero][which] + (1 << bit) + step])
        seconds.append(places[zero[which]])
        passed += count
        current, places = moved, moved_places
    return np.concatenate(firsts), np.concatenate(seconds)


def _falling_in_blocks(values: NDArray[np.int32]) -> int:
    """Falling pairs inside each block of 2^_OUTRIGHT values, compared outright."""
    size = 1 << _OUTRIGHT
    padded = np.full(-(-values.size // size) * size, size - 1, np.uint8)
    padded[: values.size] = values & (size - 1)
    side = np.ascontiguousarray(padded.reshape(-1, size).T)
    return sum(int(np.count_nonzero(side[:-gap] > side[gap:])) for gap in range(1, size))
