"""What every result is made of: array types, intervals, causes and refusals."""

from __future__ import annotations

import math
from enum import StrEnum
from types import MappingProxyType
from typing import TYPE_CHECKING, Literal, TypeVar

import msgspec
import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

Result = TypeVar("Result")
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Interval = tuple[float, float]
Alternative = Literal["two-sided", "greater", "less"]
Decider = Literal["pearson", "spearman", "kendall", "slope"]


class Cause(StrEnum):
    """Why a quantity has no value. The words for each stand in ``words.causes``."""

    EXACT_FIT = "exact_fit"
    NOTHING_LEFT = "nothing_left"
    ALIKE_REPEATS = "alike_repeats"
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
    NO_TURN = "no_turn"
    NOT_POOLED = "not_pooled"
    UNITS_DIFFER = "units_differ"
    ALIKE_SQUARES = "alike_squares"
    WEIGHT_UNSTATED = "weight_unstated"
    PATTERN_OUTSIDE = "pattern_outside"
    TOO_FEW_CASES = "too_few_cases"
    ONE_CASE_CARRIES = "one_case_carries"
    CASES_UNLIKE = "cases_unlike"
    MIDDLE_ONE_VALUE = "middle_one_value"
    TOO_MANY_ROWS = "too_many_rows"
    BY_RANKS = "by_ranks"
    RANKS_TOO_FEW = "ranks_too_few"
    RANKS_NO_END = "ranks_no_end"
    RANKS_ONE_CASE = "ranks_one_case"
    RANKS_OF_CASES = "ranks_of_cases"
    EVERY_ROW = "every_row"
    NARROW_WINDOW = "narrow_window"


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


class EveryRow(Refusal):
    """Needs every row at once, where only the sums over them are at hand."""


class OutOfRange(Refusal):
    """The line itself has a slope or height that no double can hold."""


def names_of(record: object) -> tuple[str, ...]:
    """What a record or a kind of record holds, in order; nothing of anything else.

    Records are msgspec structs; those that work something out once are dataclasses, or say what is ``told``.
    """
    for names in ("__struct_fields__", "__dataclass_fields__", "told"):
        held: Iterable[str] | None = getattr(record, names, None)
        if held is not None:
            return tuple(held)
    return ()


def kept_in_range(result: Result) -> Result:
    """A result as it is kept: what left float64 has no value, for the cause ``OUT_OF_RANGE``.

    Only records with reasons are looked into, their numbers and intervals; arrays carry NaN or ±inf where
    a row has no value, and are told as missing where they are told. Source: quantities §0.
    """
    if not isinstance(result, msgspec.Struct) or not hasattr(result, "why"):
        return result
    lost = {
        name
        for name in names_of(result)
        if (isinstance(value := getattr(result, name), float) and not math.isfinite(value))
        or (
            isinstance(value, tuple)
            and any(isinstance(end, float) and not math.isfinite(end) for end in value)
        )
    }
    if not lost:
        return result
    why = {**result.why, **{name: result.why.get(name, Cause.OUT_OF_RANGE) for name in lost}}
    return replace(result, **dict.fromkeys(lost), why=reasons(why))


def left_range(error: Exception) -> bool:
    """Whether an error says that a value left float64, rather than that the program is wrong."""
    return isinstance(error, ArithmeticError) or (
        isinstance(error, ValueError)
        and any(words in str(error) for words in ("NaN", "math domain", "math range", "infinity"))
    )


def read_only(values: Floats) -> Floats:
    """The same array, closed to writing."""
    values.flags.writeable = False
    return values
