"""The box and its fences."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.results import Floats, Ints
from bright_tether.core.summary import quartiles

REACH = 1.5


class Fences(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Quartiles (type 7), fences 1.5 interquartile ranges beyond them, whisker ends, places beyond.

    low_whisker, high_whisker : the outermost values inside the fences.
    """

    q1: float
    median: float
    q3: float
    lower: float
    upper: float
    low_whisker: float
    high_whisker: float
    beyond: Ints


def fences(values: Floats, ordered: Floats | None = None) -> Fences:
    """Fence a column. values : (n,), n ≥ 1; ordered : the same in rising order, where that is known.

    Source: Tukey 1977; quartiles as in quantities §1.
    """
    ordered = np.sort(values) if ordered is None else ordered
    _, q1, median, q3, _ = quartiles(ordered)
    lower, upper = q1 - REACH * (q3 - q1), q3 + REACH * (q3 - q1)
    return Fences(
        q1=q1,
        median=median,
        q3=q3,
        lower=lower,
        upper=upper,
        low_whisker=float(ordered[np.searchsorted(ordered, lower)]),
        high_whisker=float(ordered[np.searchsorted(ordered, upper, side="right") - 1]),
        beyond=np.flatnonzero((values < lower) | (values > upper)),
    )
