"""One column in figures."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from bright_tether.core.centred import Centred, centre, fraction_unscaled, unscaled
from bright_tether.core.results import Cause, Floats, Why, reasons


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ColumnSummary:
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


def quartiles(values: Floats) -> tuple[float, float, float, float, float]:
    """Minimum, lower quartile, median, upper quartile, maximum.

    values : (n,), n ≥ 1. Linear interpolation between order statistics.
    Source: Hyndman & Fan 1996, type 7.
    """
    n = values.size
    places = [(n - 1) * part / 4 for part in range(5)]
    ordered = np.sort(values)  # sooner than partitioning at six places

    def at(place: float) -> float:
        below, above = float(ordered[math.floor(place)]), float(ordered[math.ceil(place)])
        part = place - math.floor(place)
        gap = above - below
        return below + part * gap if math.isfinite(gap) else below * (1 - part) + above * part

    first, q1, median, q3, last = map(at, places)
    return first, q1, median, q3, last


def summarise(values: Floats, centred: Centred | None = None) -> ColumnSummary:
    """Summarise a column.

    values : (n,), finite, n ≥ 0. sd needs two values.
    Source: quantities §1.
    """
    if values.size == 0:
        names = ("mean", "sd", "min", "q1", "median", "q3", "max", "sum")
        blank = dict.fromkeys(names)
        return ColumnSummary(n=0, **blank, why=reasons(dict.fromkeys(names, Cause.NO_PAIRS)))
    centred = centred or centre(values)
    why: dict[str, Cause] = {}
    sd = None
    if values.size < 2:
        why["sd"] = Cause.TOO_FEW_PAIRS
    else:
        sd = unscaled(math.sqrt(centred.sum_squares / (values.size - 1)), centred.exponent)
        if sd is None:
            why["sd"] = Cause.OUT_OF_RANGE
    low, q1, median, q3, high = quartiles(values)
    mean = fraction_unscaled(centred.mean, centred.exponent)
    total = fraction_unscaled(centred.mean * values.size, centred.exponent)
    why |= {key: Cause.OUT_OF_RANGE for key, value in (("mean", mean), ("sum", total)) if value is None}
    return ColumnSummary(
        n=values.size,
        mean=mean,
        sd=sd,
        min=low,
        q1=q1,
        median=median,
        q3=q3,
        max=high,
        sum=total,
        why=reasons(why),
    )
