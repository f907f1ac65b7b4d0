"""What is noted of one column beside the table: of all its rows, and of the marked ones."""

from __future__ import annotations

from collections.abc import Set

import msgspec
import numpy as np

from bright_tether.core.results import Ints
from bright_tether.core.shape.histogram import Histogram, in_small
from bright_tether.core.summary import ColumnSummary, summarise
from bright_tether.live.cloud import drawable
from bright_tether.study.memory import Memory
from bright_tether.tables.column import Cells
from bright_tether.tables.table import Table


class Filled(msgspec.Struct, frozen=True, eq=False):
    """Some cells of a column. n : with a value, summary : None in a column without numbers."""

    n: int
    missing: int
    summary: ColumnSummary | None


class Notes(msgspec.Struct, frozen=True, eq=False):
    """All rows of a column, the marked ones where there are some, and its small picture."""

    whole: Filled
    marked: Filled | None
    picture: tuple[Histogram, Ints] | None


def notes_of(memory: Memory, table: Table, column_id: str, marked: Set[int]) -> Notes:
    """The notes of a column; of all rows they are kept. marked : row ids."""
    column = table.column(column_id)
    whole = memory.keep((table.id, "notes", column_id), _filled, column.cells, column.numeric)
    at = table.places(marked) if marked else np.zeros(0, np.int64)
    part = _filled(column.cells[at], column.numeric) if at.size else None
    picture = None
    if column.numeric:
        values, some = (cells[np.isfinite(cells)] for cells in (column.cells, column.cells[at]))
        summary = whole.summary
        varies = values.size > 1 and summary is not None and summary.min != summary.max
        picture = in_small(values, some) if varies and drawable(values) else None
    return Notes(whole, part, picture)


def _filled(cells: Cells, numeric: bool) -> Filled:
    if not numeric:
        n = int(np.count_nonzero(cells != ""))
        return Filled(n, cells.size - n, None)
    finite = cells[np.isfinite(cells)]
    return Filled(finite.size, cells.size - finite.size, summarise(finite))
