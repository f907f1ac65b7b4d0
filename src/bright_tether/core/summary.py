"""One column in figures."""

from __future__ import annotations

import math
from collections.abc import Mapping

import msgspec
import numpy as np

from bright_tether.core.centred import Centred, centre, fraction_unscaled, unscaled
from bright_tether.core.results import Cause, Floats, Why, reasons


class ColumnSummary(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Size, centre, spread and the five numbers, in the column's own unit."""

    n: int
    mean: float | None
    sd: float | None
    min: float | None
    q1: float | None
    median: float | None
    q3: float | None
    max: float | None
    sum: float | None
    why: Why


#: Minimum, lower quartile, median, upper quartile, maximum.
Five = tuple[float, float, float, float, float]


def quartiles(ordered: Floats) -> Five:
    """Minimum, lower quartile, median, upper quartile, maximum.

    ordered : (n,), rising, n ≥ 1. Linear interpolation between order statistics.
    Source: Hyndman & Fan 1996, type 7.
    """
    first, q1, median, q3, last = (at_place((ordered.size - 1) * part / 4, ordered) for part in range(5))
    return first, q1, median, q3, last


def at_place(place: float, ordered: Floats | Mapping[int, float]) -> float:
    """The value at a place, from 0, among values in rising order."""
    below, above = float(ordered[math.floor(place)]), float(ordered[math.ceil(place)])
    part = place - math.floor(place)
    gap = above - below
    return below + part * gap if math.isfinite(gap) else below * (1 - part) + above * part


def summarise(values: Floats, centred: Centred | None = None, ordered: Floats | None = None) -> ColumnSummary:
    """Summarise a column.

    values : (n,), finite, n ≥ 0; centred, ordered : the same from their mean and in rising order, where known.
    sd needs two values. Source: quantities §1.
    """
    if values.size == 0:
        names = ("mean", "sd", "min", "q1", "median", "q3", "max", "sum")
        blank = dict.fromkeys(names)
        return ColumnSummary(n=0, **blank, why=reasons(dict.fromkeys(names, Cause.NO_PAIRS)))
    return summary_of(
        centred or centre(values), values.size, quartiles(np.sort(values) if ordered is None else ordered)
    )


def summary_of(centred: Centred, n: int, five: Five) -> ColumnSummary:
    """A column of n ≥ 1 values by its sums and its five numbers."""
    why: dict[str, Cause] = {}
    sd = None
    if n < 2:
        why["sd"] = Cause.TOO_FEW_PAIRS
    else:
        sd = unscaled(math.sqrt(centred.sum_squares / (n - 1)), centred.exponent)
        if sd is None:
            why["sd"] = Cause.OUT_OF_RANGE
    low, q1, median, q3, high = five
    mean = fraction_unscaled(centred.mean, centred.exponent)
    total = fraction_unscaled(centred.mean * n, centred.exponent)
    why |= {key: Cause.OUT_OF_RANGE for key, value in (("mean", mean), ("sum", total)) if value is None}
    return ColumnSummary(n=n, mean=mean, sd=sd, min=low, q1=q1, median=median, q3=q3, max=high, sum=total,
                         why=reasons(why))  # fmt: skip
