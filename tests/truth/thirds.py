"""Whether a third column makes one of three out of the two others, worked out in decimals on the other road."""

from __future__ import annotations

from decimal import Decimal, localcontext
from itertools import permutations

import numpy as np


def made_of(road, case):
    """The names of what is the two others together in every row, and of those, or None."""
    if road.n < 8:
        return None
    names = [name for name in case.columns if name not in "xy" and not isinstance(case.columns[name][0], str)]
    for name in names:
        cells = np.asarray(case.columns[name], float)[road.places]
        columns = {"x": road.x, "y": road.y, name: cells}
        if not np.isfinite(cells).all() or any(np.ptp(one) == 0 for one in columns.values()):
            continue
        for whole, a, b in permutations(columns):
            if a < b and any(_is(columns[whole], columns[a], columns[b], how) for how in ("plus", "times")):
                return whole, a, b
    return None


def _is(whole, a, b, how):
    with localcontext() as context:
        context.prec = 40
        told = [[Decimal(repr(value)) for value in one.tolist()] for one in (whole, a, b)]
        decimals = max(max(0, -one.as_tuple().exponent) for one in told[0])
        half = Decimal(10) ** -decimals / 2
        if decimals > 9 or half > Decimal(0.02 * float(np.std(whole))):
            half = Decimal(0)
        made = [p + q if how == "plus" else p * q for p, q in zip(told[1], told[2], strict=True)]
        off = [abs(one - other) for one, other in zip(told[0], made, strict=True)]
        return all(
            gap <= half + Decimal("3e-12") * (abs(one) + abs(p) + abs(q))
            for gap, one, p, q in zip(off, *told, strict=True)
        )
