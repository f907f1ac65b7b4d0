"""A run of neighbours that goes against the rest."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Ints

#: A reversed run holds at least this share of all broken comparisons, and this many rows.
LEAST_SHARE, LEAST_ROWS = 0.5, 4
MOST_PAIRS = 300


class Reversal(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Rows next to each other along x whose comparisons with each other run the other way.

    places : among the pairs, along x. broken : discordant comparisons inside the run; of_all : in all
    pairs. tau_without : Kendall's τ-b of the other pairs, None where it has no value.
    """

    places: Ints
    broken: int
    of_all: int
    tau_without: float | None


def reversal(pairs: Pairs) -> Reversal | None:
    """The run of rows along x that most clearly goes back and holds most of what breaks the order.

    Looked for where order is mostly kept, in up to MOST_PAIRS pairs; of the run's own comparisons at
    least two thirds must be broken.
    """
    n = pairs.n
    if not 2 * LEAST_ROWS <= n <= MOST_PAIRS:
        return None
    order = np.lexsort((pairs.y, pairs.x))
    x, y = pairs.codes_x[0][order], pairs.codes_y[0][order]
    agree = np.sign(x[None, :] - x[:, None]) * np.sign(y[None, :] - y[:, None])
    broken, kept = np.triu(agree < 0, 1).astype(np.int64), np.triu(agree > 0, 1)
    total = int(broken.sum())
    if total < LEAST_ROWS or total * 2 > int(kept.sum()):
        return None
    inside = np.zeros((n + 1, n + 1), np.int64)
    inside[1:, 1:] = broken.cumsum(axis=0).cumsum(axis=1)
    best: tuple[int, int, int, int] | None = None  # broken less kept, start, length, broken
    for length in range(LEAST_ROWS, n // 2 + 1):
        starts = np.arange(n - length + 1)
        ends = starts + length
        held = inside[ends, ends] - inside[starts, ends] - inside[ends, starts] + inside[starts, starts]
        at = int(np.argmax(held))
        most, all_inside = int(held[at]), length * (length - 1) // 2
        if most >= LEAST_SHARE * total and most * 3 >= all_inside * 2:
            best = max(best or (0, 0, 0, 0), (2 * most - all_inside, -at, length, most))
    if best is None:
        return None
    places = order[-best[1] : best[2] - best[1]]
    return Reversal(places=places, broken=best[3], of_all=total, tau_without=_tau(pairs, places))


def _tau(pairs: Pairs, left_out: Ints) -> float | None:
    kept = np.ones(pairs.n, bool)
    kept[left_out] = False
    x, y = pairs.codes_x[0][kept], pairs.codes_y[0][kept]
    upper = np.triu_indices(x.size, 1)
    by_x, by_y = np.sign(x[upper[1]] - x[upper[0]]), np.sign(y[upper[1]] - y[upper[0]])
    room = float(np.count_nonzero(by_x)) * float(np.count_nonzero(by_y))
    return None if room == 0 else float(np.sum(by_x * by_y) / np.sqrt(room))
