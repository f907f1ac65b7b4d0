"""What a check could have seen at this n and these x, by seeded simulation."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
import numpy as np

from bright_tether.core.doubts.statistics import Design, statistic
from bright_tether.core.results import Floats

#: Departures tried, from mild to extreme, in the measure of each doubt.
DEPARTURES: dict[str, tuple[float, float, float]] = {
    "bend": (0.5, 1.0, 2.0),  # sd of the bend along x over the sd of the errors
    "spread": (2.0, 4.0, 8.0),  # error sd at the highest x over that at the lowest
    "order": (0.3, 0.6, 0.9),  # likeness of neighbouring errors
    "shape": (1.0, 2.0, 4.0),  # skewness of the errors
    "far-out": (3.0, 5.0, 8.0),  # one row away by this many error sd
    "pull": (3.0, 5.0, 8.0),  # the row of most leverage away by this many error sd
}
#: Rounding apart, two statistics are alike: one residual degree of freedom leaves the same one to every line.
ALIKE = 1e-9
DRAWS = 400
SEED = 20


class Seen(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The chance that a check notices a mild, a strong and an extreme departure; limit : its statistic's."""

    doubt: str
    chances: tuple[float, float, float]
    limit: float
    draws: int


def could_see(
    design: Design,
    doubt: str,
    alpha: float,
    *,
    draws: int = DRAWS,
    seed: int = SEED,
    progress: Callable[[int], bool] = lambda done: True,
) -> Seen:
    """Simulate true lines for the limit at α, then departures for the chance to pass it.

    The simulation error of a chance is at most 1/(2√draws). Stops early, with chances of 0 for what was
    not reached, when progress says so.
    """
    draw = np.random.Generator(np.random.PCG64(seed))
    under = statistic(design, doubt, design.residuals_of(draw.normal(size=(draws, design.n))))
    limit = float(np.quantile(under, 1 - alpha, method="higher"))
    chances = []
    for step, size in enumerate(DEPARTURES[doubt]):
        y = _departed(design, doubt, size, draws, draw)
        chances.append(
            float(np.mean(statistic(design, doubt, design.residuals_of(y)) > limit + ALIKE * abs(limit)))
        )
        if not progress(step + 1):
            break
    three = (*chances, 0.0, 0.0, 0.0)[:3]
    return Seen(doubt=doubt, chances=(three[0], three[1], three[2]), limit=limit, draws=draws)


def null_share(design: Design, doubt: str, observed: float, *, draws: int = 999, seed: int = SEED) -> float:
    """How often a true line over these x gives a statistic as large, (b + 1)/(draws + 1)."""
    draw = np.random.Generator(np.random.PCG64(seed))
    reached = 0
    for part in np.array_split(np.arange(draws), max(draws * design.n // 500_000, 1)):
        y = draw.normal(size=(part.size, design.n))
        found = statistic(design, doubt, design.residuals_of(y))
        reached += int(np.count_nonzero(found >= observed - ALIKE * abs(observed)))
    return (reached + 1) / (draws + 1)


def _departed(design: Design, doubt: str, size: float, draws: int, draw: np.random.Generator) -> Floats:
    """Errors of sd 1 with a departure of this size, (draws, n)."""
    n = design.n
    errors = draw.normal(size=(draws, n))
    if doubt == "bend":
        errors += size * np.sqrt(n) * design.square
    elif doubt == "spread":
        low, high = float(design.x.min()), float(design.x.max())
        errors *= size ** ((design.x - low) / max(high - low, 1e-300))
    elif doubt == "order":
        along = np.empty_like(errors)
        along[:, 0] = errors[:, 0]
        for at in range(1, n):
            along[:, at] = size * along[:, at - 1] + np.sqrt(1 - size * size) * errors[:, at]
        if design.order is None:
            errors = along
        else:
            errors[:, design.order] = along
    elif doubt == "shape":
        errors = draw.gamma(4 / size**2, size=(draws, n))
    elif doubt == "far-out":
        errors[np.arange(draws), draw.integers(0, n, draws)] += size
    else:
        errors[:, int(np.argmax(design.leverage))] += size
    return errors
