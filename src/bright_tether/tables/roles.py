"""What a column seems to be, so that a first choice of x and y falls on measurements."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Literal

import numpy as np

from bright_tether.tables.column import Column

Role = Literal[
    "measurement", "running number", "identifier", "years", "two values", "one value", "date", "no numbers"
]
#: Roles from the one that is taken first to the one that is taken last; text is never taken.
_RANKS: tuple[Role, ...] = (
    "measurement", "two values", "date", "years", "running number", "identifier", "one value",
)  # fmt: skip
_IDENTIFIER = re.compile(r"(?:^|[\s_])(id|nr|no|number|code|key|index)(?:$|[\s_.])", re.IGNORECASE)
_YEARS = (1800, 2100)
_LEAST = 3


def role_of(column: Column) -> Role:
    """What the numbers of a column seem to be."""
    if not column.numeric:
        return "date" if column.kind == "date" else "no numbers"
    values = column.cells[np.isfinite(column.cells)]
    if values.size < _LEAST:
        return "measurement"
    low, high = values.min(), values.max()
    if np.all((values == low) | (values == high)):
        return "one value" if low == high else "two values"
    whole = bool(np.all(values == np.round(values)))
    if whole and column.unit is None:
        if np.all(values[1:] == values[:-1] + 1):
            return "running number"
        if _IDENTIFIER.search(column.short) and np.unique(values).size == values.size:
            return "identifier"
        if _YEARS[0] <= low and high <= _YEARS[1]:
            return "years"
    return "measurement"


def first_pair(columns: Iterable[Column]) -> tuple[str | None, str | None]:
    """The columns to tie first as x and y: the first two measurements, else what comes nearest to one.

    A date explains. Two of them do not go together.
    """
    roles = [(column.id, role_of(column)) for column in columns]
    dates = [column_id for column_id, role in roles if role == "date"]
    roles = [one for one in roles if one[0] not in dates[1:]]
    ranked = sorted((one for one in roles if one[1] != "no numbers"), key=lambda one: _RANKS.index(one[1]))[
        :2
    ]
    places = {column_id: at for at, (column_id, _) in enumerate(roles)}
    chosen = sorted((column_id for column_id, _ in ranked), key=lambda one: (one not in dates, places[one]))
    if chosen == dates[:1]:
        return None, None
    x, y = [*chosen, None, None][:2]
    return x, y


def better_pair(columns: Iterable[Column], x: str | None, y: str | None) -> tuple[str | None, str | None]:
    """The columns to tie instead of x and y; these themselves where none are nearer to measurements."""
    held = list(columns)
    roles = {column.id: role_of(column) for column in held}

    def rank(pair: tuple[str | None, str | None]) -> int:
        found = [roles.get(one or "", "no numbers") for one in pair]
        return sum(_RANKS.index(role) if role != "no numbers" else 2 * len(_RANKS) for role in found)

    first = first_pair(held)
    return first if rank(first) < rank((x, y)) and None not in first else (x, y)
