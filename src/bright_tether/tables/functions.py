"""What can be done with a column in an expression, and what each function takes."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Literal, NamedTuple

import numpy as np

from bright_tether.tables.clock import SECONDS, Floats

#: What an argument is: cells of numbers, moments of a date column in seconds, a whole number of at least 1, a text such
#: as "1 hour", or a day such as "2021-03-04".
Argument = Literal["numbers", "date", "count", "duration", "day"]
_EPOCH = datetime(1970, 1, 1)
#: Seconds by which two moments may differ that are meant to be one.
_ALIKE = 1e-3


class Function(NamedTuple):
    """A function of expressions. takes : its arguments in order; least : how many must be there."""

    run: Callable[..., Floats]
    takes: tuple[Argument, ...] = ("numbers",)
    least: int = 1


def _rank(values: Floats) -> Floats:
    """Mid-ranks, lowest first; missing stays missing."""
    ranks = np.full(values.size, np.nan)
    present = np.isfinite(values)
    _, place, counts = np.unique(values[present], return_inverse=True, return_counts=True)
    ends = np.cumsum(counts)
    ranks[present] = (ends - (counts - 1) / 2)[place]
    return ranks


def _z(values: Floats) -> Floats:
    """Distance from the mean in sd (n − 1)."""
    present = values[np.isfinite(values)]
    if present.size < 2:
        return np.full(values.size, np.nan)
    return np.asarray((values - present.mean()) / present.std(ddof=1))


def _lag(values: Floats, rows: int = 1) -> Floats:
    """So many rows before; nothing before the first."""
    blank = np.full(min(rows, values.size), np.nan)
    return np.concatenate((blank, values[: values.size - blank.size]))


def _earlier(values: Floats, times: Floats, ago: float, tolerance: float = 0.0) -> Floats:
    """The value so many seconds before each moment, (rows,): the nearest within the tolerance, else none.

    Where two rows stand equally near, there is none: which one is meant cannot be told.
    """
    found = np.full(values.size, np.nan)
    order = np.argsort(times, kind="stable")[: int(np.count_nonzero(np.isfinite(times)))]
    if not order.size:
        return found
    along = times[order]
    wanted = along - ago
    after = np.clip(np.searchsorted(along, wanted), 1, max(along.size - 1, 1))
    after = np.minimum(after, along.size - 1)
    before = np.maximum(after - 1, 0)
    nearer_before = np.abs(along[before] - wanted) <= np.abs(along[after] - wanted)
    near = np.where(nearer_before, before, after)
    away = np.abs(along[near] - wanted)
    rivals = np.searchsorted(along, wanted + away + _ALIKE, "right") - np.searchsorted(
        along, wanted - away - _ALIKE
    )
    certain = (away <= tolerance + _ALIKE) & (rivals == 1)
    found[order[certain]] = values[order[near[certain]]]
    return found


def _calendar(part: Callable[[datetime], float]) -> Callable[[Floats], Floats]:
    """A part of each moment, by its different days and times."""

    def read(times: Floats) -> Floats:
        distinct, places = np.unique(times, return_inverse=True)
        parts = [
            part(_EPOCH + timedelta(seconds=one)) if np.isfinite(one) else np.nan for one in distinct.tolist()
        ]
        return np.array(parts or [np.nan], float)[places.reshape(-1)] if times.size else times

    return read


FUNCTIONS: dict[str, Function] = {
    "log": Function(np.log),
    "log10": Function(np.log10),
    "exp": Function(np.exp),
    "sqrt": Function(np.sqrt),
    "abs": Function(np.abs),
    "round": Function(np.round),
    "rank": Function(_rank),
    "z": Function(_z),
    "total": Function(lambda values: np.cumsum(values)),
    "lag": Function(_lag, ("numbers", "count")),
    "change": Function(lambda values, rows=1: values - _lag(values, rows), ("numbers", "count")),
    "earlier": Function(_earlier, ("numbers", "date", "duration", "duration"), 3),
    "days": Function(lambda times: times / SECONDS["days"], ("date",)),
    "days_since": Function(lambda times, since: (times - since) / SECONDS["days"], ("date", "day"), 2),
    "year": Function(_calendar(lambda at: at.year), ("date",)),
    "month": Function(_calendar(lambda at: at.month), ("date",)),
    "day": Function(_calendar(lambda at: at.day), ("date",)),
    "day_of_year": Function(_calendar(lambda at: at.timetuple().tm_yday), ("date",)),
    "weekday": Function(_calendar(lambda at: at.isoweekday()), ("date",)),
    "hour": Function(_calendar(lambda at: at.hour + at.minute / 60 + at.second / 3600), ("date",)),
}
