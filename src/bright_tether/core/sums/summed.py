"""Pairs of which the sums are known and the rows are elsewhere.

Every result that rests on sums reads them as it reads those in memory; one that needs the rows is refused.
"""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any, ClassVar, NoReturn

import msgspec
import numpy as np

from bright_tether.core.centred import Centred, exponent_for
from bright_tether.core.pairs import Pairs, products_of
from bright_tether.core.results import EveryRow, Floats
from bright_tether.core.sums.first import FirstSums, spread_of
from bright_tether.core.sums.partial import Rows, near
from bright_tether.core.sums.residual import two_doubles


class Elsewhere:
    """Beside a dataclass: one whose arrays are elsewhere, so that asking for one is refused."""

    __dataclass_fields__: ClassVar[dict[str, Any]]

    def __init__(self, **known: Any) -> None:
        for name, value in known.items():
            object.__setattr__(self, name, value)

    def __getattr__(self, name: str) -> NoReturn:
        if name in type(self).__dataclass_fields__:
            raise EveryRow
        raise AttributeError(name)


class Extent(msgspec.Struct, frozen=True, kw_only=True):
    """What is known before any sum. n : pairs; first : some of them, to guess the means by; the ends of both."""

    n: int
    first: tuple[Floats, Floats]
    x: tuple[float, float]
    y: tuple[float, float]


class Counted(msgspec.Struct, frozen=True, kw_only=True):
    """Every row of a table accounted for; rows = pairs + missing + set_aside + filtered_out."""

    rows: int
    missing: int
    set_aside: int
    filtered_out: int


class SummedCentred(Elsewhere, Centred):
    """A column from its mean, in its sums. count : its values."""

    count: int

    @property
    def n(self) -> int:
        """How many values there are."""
        return self.count


class SummedPairs(Elsewhere, Pairs):
    """Pairs by what one pass over them adds up to. powers : means of 1, z … z⁶ of x, (7,)."""

    count: int
    where: Rows
    powers: Floats
    slope_exact: Fraction
    sse_exact: Fraction
    ends_y: tuple[float, float]

    @property
    def n(self) -> int:
        """Pairs in use."""
        return self.count

    def with_ranks(self, rows: Rows) -> SummedPairs:
        """The same pairs, of which the mid-ranks are known too. rows : the ranks."""
        middle, n = (self.n + 1) / 2, float(self.n)
        ends = [(middle, middle) if low == high else (1.0, n) for low, high in (self.ends_x, self.ends_y)]
        about = np.array([middle])
        extent = Extent(n=self.n, first=(about, about), x=ends[0], y=ends[1])
        counted = Counted(rows=self.n, missing=0, set_aside=0, filtered_out=0)
        return SummedPairs(**self.__dict__ | {"ranked": summed_pairs(rows, extent, counted)})


def summed_pairs(where: Rows, extent: Extent, counted: Counted) -> SummedPairs:
    """Go through the pairs once. Raises TooFewPairs without any."""
    if not extent.n:
        return _no_pairs(where, counted)
    exponents = [exponent_for(max(-low, high)) for low, high in (extent.x, extent.y)]
    by = first_sums(extent, exponents[0], exponents[1])
    found = spread_of(where.total(by), by)
    x, y = (
        SummedCentred(count=found.n, mean=mean, exponent=exponent, sum_squares=float(squares) if low < high else 0.0,
                      largest=max(-low, high))
        for mean, exponent, squares, (low, high) in (
            (found.mean_x, exponents[0], found.sxx, extent.x), (found.mean_y, exponents[1], found.syy, extent.y),
        )
    )  # fmt: skip
    slope = Fraction(0) if x.constant else sum(map(Fraction, two_doubles(found.sxy / found.sxx)), Fraction(0))
    products = products_of(float(found.sxy), x, y)
    return SummedPairs(
        count=found.n, where=where, powers=found.powers, slope_exact=slope if products else Fraction(0),
        sse_exact=found.syy if x.constant else found.syy - found.sxy * found.sxy / found.sxx,
        rows=counted.rows, missing=counted.missing, set_aside=counted.set_aside,
        filtered_out=counted.filtered_out, zero_weight=0, weights=None, centred_x=x, centred_y=y,
        products=products, ends_x=extent.x, ends_y=extent.y,
    )  # fmt: skip


def first_sums(extent: Extent, exponent_x: int = 0, exponent_y: int = 0) -> FirstSums:
    """What the first pass adds up. exponent_x, exponent_y : values count in 2^exponent."""
    scales = exponent_x, exponent_y
    ends = [
        [math.ldexp(end, -exponent) for end in both]
        for both, exponent in zip((extent.x, extent.y), scales, strict=True)
    ]
    guesses = [
        float(math.ldexp(1.0, -exponent) * one.mean()) if abs(exponent) < 1000 else 0.0
        for one, exponent in zip(extent.first, scales, strict=True)
    ]
    about_x, about_y = (near(guess, *both) for guess, both in zip(guesses, ends, strict=True))
    return FirstSums(about_x=about_x, about_y=about_y, exponent_x=exponent_x, exponent_y=exponent_y,
                     unit=ends[0][1] - ends[0][0] or 1.0)  # fmt: skip


def _no_pairs(where: Rows, counted: Counted) -> SummedPairs:
    return SummedPairs(
        count=0, where=where, rows=counted.rows, missing=counted.missing, set_aside=counted.set_aside,
        filtered_out=counted.filtered_out, zero_weight=0, weights=None,
    )  # fmt: skip
