"""Sums over some rows, in pairs of doubles, that can be joined with the sums over others.

Merging any split of the rows gives the same last digits: products are summed in two parts, the first of so few digits
that its sum is exact in any order. Source: Ozaki, Ogita, Oishi & Rump 2012; Knuth, TAOCP 2, 4.2.2.
"""

from __future__ import annotations

import math
import threading
from collections.abc import Callable, Iterable, Iterator
from fractions import Fraction
from functools import reduce
from typing import Protocol, Self, TypeVar, overload

import msgspec
import numpy as np

from bright_tether.core.exact import CACHED_ROWS, blocks, two_sum
from bright_tether.core.results import Floats

#: Columns of a block that a pass needs room for, at most.
_ROOMS = 12
#: Digits of a high part: the sum of CACHED_ROWS products of two such parts is a whole number of steps below 2^53.
_DIGITS = 19
_kept = threading.local()
_ONES = np.ones(CACHED_ROWS)
#: Of sums beside which no ends are looked at.
NO_ENDS = (np.zeros(0), np.zeros(0))


class Partial(msgspec.Struct, frozen=True, eq=False):
    """Sums as high + low, (k,) each; least and most : the smallest and largest of what is looked at, (m,) each."""

    high: Floats
    low: Floats
    least: Floats
    most: Floats

    def joined(self, other: Partial) -> Partial:
        """The sums over the rows of both."""
        high, dropped = two_sum(self.high, other.high)
        return Partial(
            high,
            self.low + other.low + dropped,
            np.minimum(self.least, other.least),
            np.maximum(self.most, other.most),
        )

    def exactly(self, at: int) -> Fraction:
        """One sum without rounding."""
        return Fraction(float(self.high[at])) + Fraction(float(self.low[at]))

    def rounded(self) -> Floats:
        """The sums as doubles, (k,)."""
        return self.high + self.low


#: The sums over one block of pairs: x and y, (b,) each, b ≤ CACHED_ROWS.
Summed = Callable[[Floats, Floats], Partial]


#: What of one block is wanted itself: some columns, of any length.
Picked = Callable[[Floats, Floats], tuple[Floats, ...]]


class Joinable(Protocol):
    """What one stretch of rows comes to."""

    def joined(self, later: Self) -> Self:
        """The same of this stretch and the one right behind it."""


J = TypeVar("J", bound=Joinable)
T = TypeVar("T")


class Rows(Protocol):
    """Pairs that can be gone through, wherever they are."""

    def total(self, of: Summed) -> Partial:
        """The sums over all of them."""

    def gathered(self, of: Picked) -> tuple[Floats, ...]:
        """What is picked from all of them, in any order."""

    def along(self, of: Callable[[Floats, Floats], J]) -> J | None:
        """What all stretches come to in the stated order, else that of the table; None where there is no such order."""

    def by_x(self, of: Callable[[Iterator[tuple[Floats, Floats]]], T]) -> T | None:
        """What is made of x and y, stretch after stretch, in rising x, equal ones as they stand; None where nobody
        puts them so.
        """


class HeldRows(msgspec.Struct, frozen=True, eq=False):
    """Pairs in memory. x, y : (n,), finite, n ≥ 1."""

    x: Floats
    y: Floats

    def total(self, of: Summed) -> Partial:
        """Block after block, each in the processor's cache."""
        return over(self.x, self.y, of)

    def gathered(self, of: Picked) -> tuple[Floats, ...]:
        """Block after block."""
        return gathered(of(self.x[part], self.y[part]) for part in blocks(self.x.size, CACHED_ROWS))

    def along(self, of: Callable[[Floats, Floats], J]) -> J | None:
        """Block after block, as they stand."""
        return in_turn(of(self.x[part], self.y[part]) for part in blocks(self.x.size, CACHED_ROWS))

    def by_x(self, of: Callable[[Iterator[tuple[Floats, Floats]]], T]) -> T | None:
        """Block after block of all put in order."""
        order = np.argsort(self.x, kind="stable")
        parts = (order[part] for part in blocks(self.x.size, CACHED_ROWS))
        return of((self.x[part], self.y[part]) for part in parts)


def in_turn(found: Iterator[J]) -> J | None:
    """All stretches as one, each joined with the next; None without any."""
    first = next(found, None)
    return None if first is None else reduce(lambda before, after: before.joined(after), found, first)


def gathered(found: Iterable[tuple[Floats, ...]]) -> tuple[Floats, ...]:
    """Each column of what was picked, end to end."""
    return tuple(np.concatenate(columns) for columns in zip(*found, strict=True))


def over(x: Floats, y: Floats, of: Summed) -> Partial:
    """The sums over pairs of any number above 0. x, y : (n,)."""
    return joined(of(x[part], y[part]) for part in blocks(x.size, CACHED_ROWS))


def joined(parts: Iterable[Partial]) -> Partial:
    """All of them as one."""
    return reduce(Partial.joined, parts)


def rooms(many: int, size: int) -> Floats:
    """Room for as many columns of a block, (many, size), that a thread keeps: fresh memory costs more than the sums."""
    kept: Floats | None = getattr(_kept, "rooms", None)
    if kept is None:
        kept = _kept.rooms = np.empty((_ROOMS, CACHED_ROWS))
    return kept[:many, :size]


class Away(msgspec.Struct, frozen=True, eq=False):
    """A block of values less a number: whole is the difference rounded; high + middle + rest is it exactly.

    high and middle hold so few digits each that the products of two such add up over a block without rounding; rest is
    2^-39 of the largest whole, or less.
    """

    whole: Floats
    high: Floats
    middle: Floats
    rest: Floats

    @property
    def sum(self) -> tuple[float, float]:
        """Their sum as high and low."""
        return _exactly(summed(self.high), summed(self.middle), summed(self.rest))

    def times(self, other: Away) -> tuple[float, float]:
        """Σ of the products with others, as high and low."""
        dot, same = np.dot, self is other
        across = float(dot(self.rest, other.whole))
        low = float(dot(self.middle, other.middle)) - float(dot(self.rest, other.rest))
        low += across + (across if same else float(dot(self.whole, other.rest)))
        first, middle = float(dot(self.high, other.high)), float(dot(self.high, other.middle))
        first, low = _exactly(first, middle, low)
        return _exactly(first, middle if same else float(dot(self.middle, other.high)), low)


def summed(values: Floats) -> float:
    """Σ of one block. values : (b,). As a product with ones, which is sooner."""
    return float(np.dot(values, _ONES[: values.size]))


def _exactly(high: float, more: float, low: float) -> tuple[float, float]:
    """high + more + low as high and low."""
    total = high + more
    part = total - high
    return total, low + ((high - (total - part)) + (more - part))


def near(guess: float, lowest: float, highest: float) -> tuple[float, int]:
    """A number near a guess, to take values from without loss, and the power of two that none is as far away as."""
    power = math.frexp(2 * max(highest - guess, guess - lowest))[1]
    return (guess if _far(guess, power) else _few_digits(guess, power)), power


def away(values: Floats, about: float, power: int, room: Floats) -> Away:
    """values − about. values : (b,); about, power : from ``near``; room : (4, b), is written over.

    From afar, a difference of two numbers within a factor of two of each other is exact (Sterbenz 1974); from nearby,
    about is a whole number of the steps that the high part is rounded to.
    """
    whole, high, middle, rest = room
    np.subtract(values, about, out=whole)
    nearby = not _far(about, power)
    taken = values if nearby else whole
    _few_digits(taken, power, high)
    np.subtract(taken, high, out=rest)
    if nearby:
        high -= about
    _few_digits(rest, power - _DIGITS, middle)  # rest is half a step of high, or less
    rest -= middle
    return Away(whole, high, middle, rest)


def _far(about: float, power: int) -> bool:
    """Whether values below 2^power away are nearer to it than half of it."""
    return abs(about) >= math.ldexp(1.0, power + 1)


@overload
def _few_digits(values: float, power: int) -> float: ...
@overload
def _few_digits(values: Floats, power: int, out: Floats) -> Floats: ...
def _few_digits(values: Floats | float, power: int, out: Floats | None = None) -> Floats | float:
    """Values below a few times 2^power, rounded to whole steps of 2^(power − _DIGITS)."""
    step = math.ldexp(1.5, power + 52 - _DIGITS)
    if out is None:
        return (values + step) - step
    np.add(values, step, out=out)
    out -= step
    return out
