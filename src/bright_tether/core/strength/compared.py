"""Every two pairs held against each other: what Kendall's coefficients and their tests rest on."""

from __future__ import annotations

import math
from dataclasses import dataclass

import msgspec
import numpy as np

from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Ints
from bright_tether.core.strength.falling import inversions


class Ties(msgspec.Struct, frozen=True):
    """Values that are equal: how many groups there are of each size. sizes, many : (k,)."""

    sizes: tuple[int, ...]
    many: tuple[int, ...]

    @property
    def pairs(self) -> int:
        """Pairs among equals."""
        return sum(many * (t * (t - 1) // 2) for t, many in zip(self.sizes, self.many, strict=True))

    @property
    def moments(self) -> tuple[int, int, int]:
        """Σ t(t − 1)(2t + 5), t(t − 1)(t − 2), t(t − 1) over the groups."""
        found = list(zip(self.sizes, self.many, strict=True))
        return (
            sum(many * t * (t - 1) * (2 * t + 5) for t, many in found),
            sum(many * t * (t - 1) * (t - 2) for t, many in found),
            sum(many * t * (t - 1) for t, many in found),
        )


def ties_of(counts: Ints) -> Ties:
    """Of how often each value occurs, (m,)."""
    many = np.bincount(counts)
    sizes = np.flatnonzero(many)
    return Ties(tuple(sizes.tolist()), tuple(many[sizes].tolist()))


@dataclass(frozen=True, kw_only=True)
class Compared:
    """x, y : ties of either; same : pairs tied in both; discordant : pairs that fall."""

    n: int
    x: Ties
    y: Ties
    same: int
    discordant: int

    @property
    def total(self) -> int:
        """All pairs of pairs."""
        return self.n * (self.n - 1) // 2

    @once
    def same_x(self) -> int:
        """Pairs tied in x."""
        return self.x.pairs

    @once
    def same_y(self) -> int:
        """Pairs tied in y."""
        return self.y.pairs

    @property
    def concordant(self) -> int:
        """Pairs that rise."""
        return self.total - self.same_x - self.same_y + self.same - self.discordant

    @property
    def score(self) -> int:
        """Those that rise less those that fall."""
        return self.concordant - self.discordant

    @property
    def room(self) -> int:
        """0 where x or y does not vary."""
        return (self.total - self.same_x) * (self.total - self.same_y)

    @property
    def root(self) -> float:
        """What the score is held against in τ-b."""
        # the same count under both roots is taken as it is, so that a perfect order gives exactly 1
        x, y = self.total - self.same_x, self.total - self.same_y
        return float(x) if x == y else math.sqrt(x) * math.sqrt(y)

    @property
    def tau_b(self) -> float:
        """τ-b, where there is room."""
        return max(-1.0, min(1.0, self.score / self.root))

    @property
    def variance(self) -> float:
        """Of the score under no association, corrected for ties; at n = 2 the term with n − 2 drops out."""
        n = self.n
        (five_x, three_x, two_x), (five_y, three_y, two_y) = self.x.moments, self.y.moments
        variance = (n * (n - 1) * (2 * n + 5) - five_x - five_y) / 18
        if n > 2:
            variance += three_x * three_y / (9 * n * (n - 1) * (n - 2))
        return variance + two_x * two_y / (2 * n * (n - 1))


def compared_of(pairs: Pairs) -> Compared:
    """By sorting. pairs : n ≥ 2. Source: Knight 1966."""
    return compared_codes(*pairs.codes_x, *pairs.codes_y)


def compared_codes(x: Ints, counts_x: Ints, y: Ints, counts_y: Ints) -> Compared:
    """Of values told by codes from 0, (n,), and how often each occurs."""
    # One number a pair: sorted, it orders by x and then y, and its repeats are the pairs tied in both.
    together = np.sort(x * counts_y.size + y)
    both = np.diff(np.flatnonzero(np.diff(together, prepend=-1, append=-1)))
    return Compared(n=x.size, x=ties_of(counts_x), y=ties_of(counts_y), same=ties_of(both).pairs,
                    discordant=inversions(together % counts_y.size))  # fmt: skip
