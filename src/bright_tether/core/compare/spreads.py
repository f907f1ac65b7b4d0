"""Whether several lines scatter alike."""

from __future__ import annotations

import math

import msgspec

from bright_tether.core.compare.groups import Group
from bright_tether.core.tails import chi_above


class Spreads(msgspec.Struct, frozen=True, kw_only=True):
    """One spread for all lines, tested. narrow, wide : the group that scatters least and most, and its s in y units.

    chi2 on df.
    """

    narrow: tuple[str, float]
    wide: tuple[str, float]
    chi2: float
    df: int
    p: float


def spreads(groups: tuple[Group, ...]) -> Spreads | None:
    """Hold the residual spreads of the lines against one another; None with fewer than two that have one.

    Lines that their points lie on to the last digit are left out. Source: Bartlett 1937.
    """
    found = [(one.name, one.line.s, one.n - 2) for one in groups if one.line is not None and one.line.s]
    if len(found) < 2:
        return None
    narrow, wide = (pick(found, key=lambda one: one[1]) for pick in (min, max))
    whole = sum(df for *_, df in found)
    ratios = [(s / wide[1], df) for _, s, df in found]
    pooled = sum(df * ratio * ratio for ratio, df in ratios) / whole
    apart = whole * math.log(pooled) - 2 * sum(df * math.log(ratio) for ratio, df in ratios)
    few = (sum(1 / df for _, df in ratios) - 1 / whole) / (3 * (len(found) - 1))
    chi2 = max(apart, 0.0) / (1 + few)
    return Spreads(
        narrow=narrow[:2],
        wide=wide[:2],
        chi2=chi2,
        df=len(found) - 1,
        p=chi_above(chi2, len(found) - 1),
    )
