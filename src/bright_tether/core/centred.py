"""A column taken from its mean, with the digits that centring usually loses."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from bright_tether.core.exact import COMPENSATED_UP_TO, dot, scaled_by, total, two_sum
from bright_tether.core.results import Floats

#: Powers of two within which squares of squares are still ordinary doubles: no scaling is needed.
_SQUARES_HOLD = 200


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Centred:
    """Values less their mean, as value = (mean + high + low)·2^exponent.

    high, low : (n,); low is one zero where n is too large for it to pay.
    """

    high: Floats
    low: Floats
    mean: Fraction
    exponent: int
    sum_squares: float
    largest: float

    @property
    def n(self) -> int:
        """How many values there are."""
        return self.high.size

    @property
    def constant(self) -> bool:
        """Whether every value is the same."""
        return self.sum_squares == 0.0


def centre(values: Floats) -> Centred:
    """Centre twice, after an exact scaling by a power of two where the values are very large or small.

    values : (n,), finite, n ≥ 1, any magnitude. A column of one value has exact zeros.
    Source: quantities §0; scaling by 2^k is exact, so squares can neither overflow nor vanish.
    """
    lowest, highest = float(values.min()), float(values.max())
    largest = max(-lowest, highest)
    exponent = exponent_for(largest)
    scaled = scaled_by(values, -exponent)
    first = math.ldexp(lowest, -exponent) if lowest == highest else total(scaled) / scaled.size
    if scaled.size > COMPENSATED_UP_TO:
        high, low = scaled - first, np.zeros(1)
        second = total(high) / high.size
        high -= second
    else:
        high, low = two_sum(scaled, -first)
        second = (total(high) + total(low)) / high.size
        high, dropped = two_sum(high, -second)
        low = low + dropped
    return Centred(
        high=high,
        low=low,
        mean=Fraction(first) + Fraction(second),
        exponent=exponent,
        sum_squares=dot(high, low, high, low),
        largest=largest,
    )


def exponent_for(largest: float) -> int:
    """The power of two by which values up to this magnitude are scaled; 0 where none is needed."""
    exponent = math.frexp(largest)[1] if largest > 0 else 0
    return 0 if abs(exponent) <= _SQUARES_HOLD else exponent


def unscaled(value: float, exponent: int) -> float | None:
    """value·2^exponent, or None where no double holds it."""
    try:
        result = math.ldexp(value, exponent)
    except OverflowError:
        return None
    return None if value != 0 and result == 0 else result


def fraction_unscaled(value: Fraction, exponent: int) -> float | None:
    """The double nearest to value·2^exponent, or None where no double holds it."""
    try:
        result = float(value * Fraction(2) ** exponent)
    except OverflowError:
        return None
    return None if value != 0 and result == 0 else result
