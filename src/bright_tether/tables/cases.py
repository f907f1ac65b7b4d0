"""Columns that seem to name cases of which several rows are."""

from __future__ import annotations

import re

import msgspec
import numpy as np

from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

_NAMES = re.compile(
    r"(?:.*[\W_])?(id|nr|no|number|code|label|case|sample|bottle|reach|site|subject|probe|plot|spring|trap)s?",
    re.IGNORECASE,
)
#: A column without such a name may name cases when they are this many, and have this many rows each at most.
_LEAST, _EACH = 8, 6
#: Longer tables are not looked through unasked.
_MOST_ROWS = 200_000


class RepeatedCases(msgspec.Struct, frozen=True):
    """A column that names so many cases in so many rows; most : rows of the largest. first : the first that repeats."""

    column: str
    cases: int
    rows: int
    most: int
    first: str


def repeated_cases(table: Table) -> RepeatedCases | None:
    """The first column that seems to name cases, some of them in several rows; None where there is none."""
    if not 3 < table.rows <= _MOST_ROWS:
        return None
    for column in table.columns:
        found = _cases(column) if column.measured and column.kind != "date" else None
        if found is not None:
            return found
    return None


def _cases(column: Column) -> RepeatedCases | None:
    named = _NAMES.fullmatch(column.short.strip()) is not None
    if column.numeric:
        values = column.cells[np.isfinite(column.cells)]
        if not named or column.unit is not None or not np.all(values == np.round(values)):
            return None
        texts: list[object] = values.astype(np.int64).tolist()
    else:
        texts = [text for text in column.cells.tolist() if text]
    known: dict[object, int] = {}
    for text in texts:
        known[text] = known.get(text, 0) + 1
    repeats = [text for text, many in known.items() if many > 1]
    rows, cases = len(texts), len(known)
    if cases < 3 or (len(repeats) < 2 and max(known.values(), default=0) < 3):  # one repeat is rather a slip
        return None
    if not named and (cases < _LEAST or rows > _EACH * cases or 2 * len(repeats) < cases):
        return None
    return RepeatedCases(column.id, cases, rows, max(known.values()), str(repeats[0]))
