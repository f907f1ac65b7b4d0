"""With how many decimals the numbers of a column are shown."""

from __future__ import annotations

import math

import numpy as np

from bright_tether.tables.column import Column


def usual_decimals(column: Column) -> int | None:
    """The decimals that show every number of a column's first thousand; None beyond eight.

    Of a column that is worked out, no more than tell its values apart: five digits of their range.
    """
    filled = column.numbers[:1000]
    filled = filled[np.isfinite(filled)]
    most = 8
    if not column.measured and filled.size:
        with np.errstate(over="ignore"):
            wide = float(np.ptp(filled))
        if 0 < wide < np.inf:
            most = int(np.clip(4 - math.floor(math.log10(wide)), 0, 8))
    for decimals in range(most + 1):
        with np.errstate(
            over="ignore"
        ):  # a number near the end of float64 has no decimals that could be seen
            if (np.round(filled, decimals) == filled).all():
                return decimals
    return most if most < 8 else None
