"""The nearest of many, without putting all of them in order."""

from __future__ import annotations

import numpy as np

from bright_tether.core.results import Floats, Ints

#: Values looked at together: few enough for the processor's cache.
_AT_ONCE = 1 << 15


def nearest_places(values: Floats, to: float, most: int) -> Ints:
    """Places of the values, (n,), nearest to another, up to so many; of those alike the first ones."""
    places, aways = np.zeros(0, np.int64), np.zeros(0)
    for start in range(0, values.size, _AT_ONCE):
        away = np.abs(values[start : start + _AT_ONCE] - to)
        if aways.size == most and not away.min() < aways[-1]:
            continue
        furthest = np.partition(away, most - 1)[most - 1] if most < away.size else np.inf
        close = np.flatnonzero(away <= furthest)
        places, aways = np.concatenate([places, start + close]), np.concatenate([aways, away[close]])
        kept = np.argsort(aways, kind="stable")[:most]
        places, aways = places[kept], aways[kept]
    return places
