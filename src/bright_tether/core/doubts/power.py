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
DRAWS, FEWEST_DRAWS = 400, 100
SEED = 20
#: Numbers that a simulation draws in all before it makes do with fewer lines, and at a time.
_IN_ALL, _AT_A_TIME = 20_000_000, 1_000_000
#: Rows from which a filter is sooner than a step for each row.
_FILTERED_FROM = 2500


class Seen(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The chance that a check notices a mild, a strong and an extreme departure; limit : its statistic's.

    whole : whether it was not stopped before its end; the chances that it did not reach are 0 then.
    """

    doubt: str
    chances: tuple[float, float, float]
    limit: float
    draws: int
    whole: bool = True


def draws_over(n: int) -> int:
    """How many lines over n rows are simulated: fewer of very many rows."""
    return DRAWS if DRAWS * n <= _IN_ALL else max(_IN_ALL // n, FEWEST_DRAWS)


def could_see(
    design: Design,
    doubt: str,
    alpha: float,
    *,
    draws: int | None = None,
    seed: int = SEED,
    progress: Callable[[tuple[int, int]], bool] = lambda done: True,
) -> Seen:
    """Simulate true lines for the limit at α, then departures for the chance to pass it.

    The simulation error of a chance is at most 1/(2√draws). draws : as many as suit the rows where none is given.
    progress : told how many lines of how many are done; False ends it early.
    """
    draw = np.random.Generator(np.random.PCG64(seed))
    draws = draws_over(design.n) if draws is None else draws
    lot, sizes = max(_AT_A_TIME // design.n, 1), DEPARTURES[doubt]
    done, limit = 0, np.nan
    chances = [0.0, 0.0, 0.0]
    for step, size in enumerate((None, *sizes)):
        found = []
        for first in range(0, draws, lot):
            many = min(lot, draws - first)
            y = (
                draw.normal(size=(many, design.n))
                if size is None
                else _departed(design, doubt, size, many, draw)
            )
            found.append(statistic(design, doubt, design.residuals_of(y)))
            done += many
            if not progress((done, draws * (1 + len(sizes)))):
                return Seen(doubt=doubt, chances=(0.0, 0.0, 0.0), limit=limit, draws=draws, whole=False)
        if size is None:
            limit = float(np.quantile(np.concatenate(found), 1 - alpha, method="higher"))
        else:
            chances[step - 1] = float(np.mean(np.concatenate(found) > limit + ALIKE * abs(limit)))
    return Seen(doubt=doubt, chances=(chances[0], chances[1], chances[2]), limit=limit, draws=draws)


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
        along = _in_turn(errors, size)
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


def _in_turn(errors: Floats, likeness: float) -> Floats:
    """Each error like the one before it: a = likeness·a₋₁ + √(1 − likeness²)·e, the first as it is. errors : (m, n)."""
    own = np.sqrt(1 - likeness * likeness)
    if errors.shape[1] < _FILTERED_FROM:
        along = np.empty_like(errors)
        along[:, 0] = errors[:, 0]
        for at in range(1, errors.shape[1]):
            along[:, at] = likeness * along[:, at - 1] + own * errors[:, at]
        return along
    from scipy.signal import lfilter

    first = errors[:, :1] * (1 - own)
    return np.asarray(lfilter([own], [1.0, -likeness], errors, axis=1, zi=first)[0])
