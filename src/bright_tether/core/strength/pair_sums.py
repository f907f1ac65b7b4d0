"""The sums of two columns, to check a set against the paper that it came from."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.exact import dot
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Floats

#: Up to this many pairs a sum is exact to the last digit; beyond, to the rounding of pairwise sums.
_EXACT = 200_000


class PairSums(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Σ over the pairs in play, in the columns' units; None where no double holds it.

    population_sd_x, population_sd_y, population_covariance : with n where the others have n − 1.
    """

    n: int
    sum_x: float | None
    sum_y: float | None
    sum_xx: float | None
    sum_yy: float | None
    sum_xy: float | None
    population_sd_x: float | None
    population_sd_y: float | None
    population_covariance: float | None


def pair_sums(pairs: Pairs) -> PairSums:
    """Add up x, y, their squares and their products. Raises TooFewPairs where there is none."""
    require(pairs, 1)
    x, y, n = pairs.centred_x, pairs.centred_y, pairs.n
    joint = dot(x.high, x.low, y.high, y.low)
    return PairSums(
        n=n,
        sum_x=_total(pairs.x),
        sum_y=_total(pairs.y),
        sum_xx=_total(_product(pairs.x, pairs.x)),
        sum_yy=_total(_product(pairs.y, pairs.y)),
        sum_xy=_total(_product(pairs.x, pairs.y)),
        population_sd_x=unscaled(math.sqrt(x.sum_squares / n), x.exponent),
        population_sd_y=unscaled(math.sqrt(y.sum_squares / n), y.exponent),
        population_covariance=unscaled(joint / n, x.exponent + y.exponent),
    )


def _product(a: Floats, b: Floats) -> Floats:
    with np.errstate(over="ignore"):  # what leaves float64 is none
        return a * b


def _total(values: Floats) -> float | None:
    if not np.isfinite(values).all():
        return None
    found = math.fsum(values.tolist()) if values.size <= _EXACT else float(values.sum())
    return found if math.isfinite(found) else None
