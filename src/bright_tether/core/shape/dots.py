"""A row of dots: equal and near values stacked, so that each is seen."""

from __future__ import annotations

import numpy as np

from bright_tether.core.results import Floats

#: Cells along the row in which dots are stacked, and the least dots that fill the height.
_CELLS, _FULL = 90, 8.0


def stacked_dots(values: Floats) -> Floats:
    """The height of each value's dot, (n,), from 0 to 1. values : (n,), n ≥ 1, finite."""
    cell = np.floor((values - values.min()) / (float(np.ptp(values)) or 1.0) * (_CELLS - 1))
    order = np.lexsort((values, cell))
    ordered = cell[order]
    first = np.concatenate(([0], np.flatnonzero(np.diff(ordered)) + 1))
    runs = np.diff(np.append(first, ordered.size))
    heights = np.empty(values.size)
    heights[order] = np.arange(values.size) - np.repeat(first, runs)
    return heights / max(float(heights.max()), _FULL)
