"""The nearest of many, without putting all of them in order."""

from __future__ import annotations

import numpy as np

from bright_tether.core.results import Floats, Ints


def nearest_places(away: Floats, most: int) -> Ints:
    """Places of the smallest distances, (n,) in data units, up to so many; of those alike the first ones."""
    furthest = np.partition(away, most - 1)[most - 1] if most < away.size else np.inf
    close = np.flatnonzero(away <= furthest)
    found: Ints = close[np.argsort(away[close], kind="stable")][:most]
    return found
