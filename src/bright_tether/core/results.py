"""What every result is made of: array types, intervals, causes and refusals."""

from __future__ import annotations

from enum import StrEnum
from types import MappingProxyType
from typing import TYPE_CHECKING, Literal

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from collections.abc import Mapping

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Interval = tuple[float, float]
Alternative = Literal["two-sided", "greater", "less"]
Decider = Literal["pearson", "spearman", "kendall", "slope"]


class Cause(StrEnum):
    """Why a quantity has no value. The words for each stand in ``words.causes``."""

    EXACT_FIT = "exact_fit"
    PERFECT_CORRELATION = "perfect_correlation"
    CONSTANT_Y = "constant_y"
    TOO_FEW_PAIRS = "too_few_pairs"
    NO_DEGREES_OF_FREEDOM = "no_degrees_of_freedom"
    LEVERAGE_ONE = "leverage_one"
    OUT_OF_RANGE = "out_of_range"
    NO_PAIRS = "no_pairs"
    CONSTANT_X = "constant_x"
    TIES = "ties"
    TOO_MANY_FOR_EXACT = "too_many_for_exact"
    TOO_FEW_VALUES = "too_few_values"
    NO_INTERCEPT = "no_intercept"
    NO_REPEATS = "no_repeats"
    ONE_SIDED_SIGNS = "one_sided_signs"
    SIZE_OUTSIDE = "size_outside"
    TOO_FEW_CLUSTERS = "too_few_clusters"
    SLOPE_UNCLEAR = "slope_unclear"
    NOT_TWO_GROUPS = "not_two_groups"
    TOO_MANY_GROUPS = "too_many_groups"


Why = MappingProxyType[str, Cause]


def reasons(found: Mapping[str, Cause] | None = None) -> Why:
    """A read-only copy of the reasons, one for each missing value."""
    return MappingProxyType(dict(found or {}))


class Refusal(Exception):
    """An analysis that cannot be done with these pairs at all."""


class TooFewPairs(Refusal):
    """Fewer pairs than the analysis needs.

    found, needed : numbers of pairs.
    """

    def __init__(self, found: int, needed: int = 3) -> None:
        super().__init__(found, needed)
        self.found, self.needed = found, needed


class ConstantColumn(Refusal):
    """Every x is the same, so no line is defined.

    n : pairs; value : the one value of x.
    """

    def __init__(self, n: int, value: float) -> None:
        super().__init__(n, value)
        self.n, self.value = n, value


class NegativeWeight(Refusal):
    """A weight below 0. row : table row from 1; value : the weight."""

    def __init__(self, row: int, value: float) -> None:
        super().__init__(row, value)
        self.row, self.value = row, value


class OutOfRange(Refusal):
    """The line itself has a slope or height that no double can hold."""


def read_only(values: Floats) -> Floats:
    """The same array, closed to writing."""
    values.flags.writeable = False
    return values
