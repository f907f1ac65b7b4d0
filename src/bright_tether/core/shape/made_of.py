"""Whether one of three columns is, row by row, the sum or the product of the others, as far as its digits go."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple

import numpy as np

from bright_tether.core.results import Floats, Ints

How = Literal["plus", "times"]
Whole = Literal["y", "x", "third"]
#: Fewer rows may be so by chance.
LEAST_MADE = 8
#: The last digit of the whole may be rounded where it is so small a part of its sd.
_FINE = 0.02
#: Rows looked at before all are: enough to let go of nearly every column that has nothing to do with it.
_FIRST = 64


class MadeOf(NamedTuple):
    """whole : which of the three the other two make up. third : which column."""

    whole: Whole
    how: How
    third: str


def made_of(x: Floats, y: Floats, at: Ints, thirds: Iterable[tuple[str, Floats]]) -> MadeOf | None:
    """The first of these columns of which one of the three is, in every row, the others together; NaN is no value.

    x, y, at : (n,), at saying where their rows stand among those of a third column. A column that does not vary makes
    nothing: the pairs lie on a line then.
    """
    if x.size < LEAST_MADE or np.ptp(x) == 0 or np.ptp(y) == 0:
        return None
    start = slice(_FIRST)
    for name, cells in thirds:
        likely = tuple(_ways(x[start], y[start], cells[at[start]]))
        if likely and np.ptp(third := cells[at]) > 0:
            for whole, how in _ways(x, y, third):
                return MadeOf(whole, how, name)
    return None


def _ways(x: Floats, y: Floats, third: Floats) -> Iterator[tuple[Whole, How]]:
    """Which of the three the others make up, and how."""
    if np.isfinite(third).all():
        for whole, of, a, b in (("y", y, x, third), ("x", x, y, third), ("third", third, x, y)):
            for how in ("plus", "times"):
                if _makes(of, a, b, how):
                    yield whole, how  # type: ignore[misc]


def _makes(whole: Floats, a: Floats, b: Floats, how: str) -> bool:
    with np.errstate(all="ignore"):
        made = a + b if how == "plus" else a * b
        dust = 8 * np.finfo(float).eps * (np.abs(a) + np.abs(b) if how == "plus" else np.abs(made))
        off = np.abs(whole - made)
        if np.all(off <= dust + 1e-12 * np.abs(whole)):
            return True
        rounded = _last_digit(whole) / 2
        return bool(rounded <= _FINE * np.std(whole) and np.all(off <= rounded * (1 + 1e-6) + dust))


def _last_digit(values: Floats) -> float:
    """The unit of the last decimal in which any of these is written; 0 with more than nine."""
    for decimals in range(10):
        if np.all(np.abs(np.round(values, decimals) - values) <= 4e-16 * np.abs(values)):
            return float(10.0**-decimals)
    return 0.0
