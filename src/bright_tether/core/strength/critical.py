"""Critical values around an n: the table that nobody needs to have in print."""

from __future__ import annotations

import math

import msgspec

from bright_tether.core.results import Alternative, TooFewPairs
from bright_tether.core.strength.pearson import critical_r
from bright_tether.core.tails import z_beyond

ALPHAS = (0.10, 0.05, 0.02, 0.01)
#: Rows on either side of the present one.
AROUND = 6


class CriticalTable(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """|r| (and, by the same t, |ρ|) and |τ| needed. n, df : by row; alphas : by column.

    r, tau : one row a number of pairs, one value an α. present : the row of the study's own n.
    """

    n: tuple[int, ...]
    df: tuple[int, ...]
    alphas: tuple[float, ...]
    r: tuple[tuple[float, ...], ...]
    tau: tuple[tuple[float, ...], ...]
    present: int


def critical_table(n: int, alpha: float, alternative: Alternative) -> CriticalTable:
    """The values around n ≥ 3, with the study's own α among the columns.

    Source: quantities §2; τ without ties, normal (Kendall & Gibbons 1990).
    """
    if n < 3:
        raise TooFewPairs(n, 3)
    first = max(3, n - AROUND)
    counts = tuple(range(first, first + 2 * AROUND + 1))
    alphas = tuple(sorted({*ALPHAS, alpha}, reverse=True))
    return CriticalTable(
        n=counts,
        df=tuple(one - 2 for one in counts),
        alphas=alphas,
        r=tuple(tuple(critical_r(one - 2, a, alternative) or 1.0 for a in alphas) for one in counts),
        tau=tuple(tuple(_critical_tau(one, a, alternative) for a in alphas) for one in counts),
        present=counts.index(n),
    )


def _critical_tau(n: int, alpha: float, alternative: Alternative) -> float:
    spread = math.sqrt(2 * (2 * n + 5) / (9 * n * (n - 1)))
    return z_beyond(alpha / 2 if alternative == "two-sided" else alpha) * spread
