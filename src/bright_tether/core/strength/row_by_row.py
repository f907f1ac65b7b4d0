"""The coefficients worked out row by row."""

from __future__ import annotations

import math
from dataclasses import dataclass

import msgspec
import numpy as np

from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Floats, Ints, Refusal
from bright_tether.core.strength.ranks import mid_ranks

#: Above this many pairs the comparisons of each row are not listed: there are as many as pairs squared.
MOST_COMPARED = 3000


class TooManyPairs(Refusal):
    """More pairs than a listing can hold. found, most : numbers of pairs."""

    def __init__(self, found: int, most: int) -> None:
        super().__init__(found, most)
        self.found, self.most = found, most


@dataclass(frozen=True, kw_only=True, eq=False)
class Products:
    """z-values (sd with n − 1) and their products, (n,) in table order; r is their sum over n − 1."""

    z_x: Floats
    z_y: Floats

    @once
    def product(self) -> Floats:
        """z_x·z_y of each row."""
        return np.asarray(self.z_x * self.z_y)

    @once
    def total(self) -> float:
        """Σ z_x·z_y."""
        return math.fsum(self.product.tolist())


class RankRows(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Mid-ranks and their differences, (n,) in table order; squares : Σd²."""

    rank_x: Floats
    rank_y: Floats
    difference: Floats
    squares: float


class Comparisons(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Each row compared with the rows after it, once the rows stand in order of x (then y).

    order : (n,) places among the pairs. concordant, discordant, tied : (n,) in that order; they add
    up to n(n − 1)/2. broken : (n,) in the same order, discordant comparisons with any other row.
    """

    order: Ints
    concordant: Ints
    discordant: Ints
    tied: Ints
    broken: Ints


def products(pairs: Pairs) -> Products:
    """z-products row by row. pairs : n ≥ 2, neither column constant. Source: quantities §2."""
    require(pairs, 2)
    z_x, z_y = (
        c.high / math.sqrt(c.sum_squares / (c.n - 1)) if not c.constant else np.zeros(c.n)
        for c in (pairs.centred_x, pairs.centred_y)
    )
    return Products(z_x=z_x, z_y=z_y)


def rank_rows(pairs: Pairs, *, highest_first: bool = False) -> RankRows:
    """Ranks row by row, from the lowest or from the highest: ρ is the same."""
    require(pairs, 2)
    x, y = (mid_ranks(*codes, highest_first=highest_first) for codes in (pairs.codes_x, pairs.codes_y))
    apart = x - y
    return RankRows(rank_x=x, rank_y=y, difference=apart, squares=float(np.dot(apart, apart)))


def comparisons(pairs: Pairs) -> Comparisons:
    """Count concordant, discordant and tied comparisons row by row.

    pairs : 2 ≤ n ≤ MOST_COMPARED, else TooFewPairs or TooManyPairs. Source: Kendall & Gibbons 1990.
    """
    require(pairs, 2)
    if pairs.n > MOST_COMPARED:
        raise TooManyPairs(pairs.n, MOST_COMPARED)
    order = np.lexsort((pairs.y, pairs.x))
    x, y = pairs.codes_x[0][order], pairs.codes_y[0][order]
    counts = np.zeros((3, pairs.n), np.int64)
    broken = np.zeros(pairs.n, np.int64)
    for at in range(pairs.n - 1):
        agree = np.sign(x[at + 1 :] - x[at]) * np.sign(y[at + 1 :] - y[at])
        against = agree < 0
        counts[:, at] = np.count_nonzero(agree > 0), np.count_nonzero(against), np.count_nonzero(agree == 0)
        broken[at] += counts[1, at]
        broken[at + 1 :] += against
    return Comparisons(order=order, concordant=counts[0], discordant=counts[1], tied=counts[2], broken=broken)
