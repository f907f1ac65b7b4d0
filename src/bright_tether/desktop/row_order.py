"""The order in which a grid shows the rows of a table; the table's own order stays as it is."""

from __future__ import annotations

import numpy as np

from bright_tether.tables.table import Table


class RowOrder:
    """Table order, or that of a column as it was when it was asked for; rows that came since stand last.

    Rows stand still while they are typed into.
    """

    def __init__(self) -> None:
        self.column: str | None = None
        self.falling = False
        self._table = ""
        self._ids: np.ndarray | None = None
        self._of: np.ndarray | None = None
        self._places: np.ndarray | None = None

    def by(self, table: Table, column_id: str | None, *, falling: bool = False) -> None:
        """Take the order of a column; None for that of the table."""
        self.column, self.falling, self._table = column_id, falling, table.id
        self._of = self._places = self._ids = None
        if column_id is not None:
            self._places = table.order_by(column_id, falling=falling)
            self._ids, self._of = table.row_ids[self._places], table.row_ids

    def match(self, table: Table) -> None:
        """Follow a table that changed; another table is shown in its own order."""
        if table.id != self._table or (self.column is not None and not table.has(self.column)):
            self.by(table, None)
        if self._ids is None or self._of is table.row_ids:
            return
        self._of = table.row_ids
        by_id = np.argsort(table.row_ids, kind="stable")  # soon done where they rise, as they mostly do
        at = np.searchsorted(table.row_ids, self._ids, sorter=by_id).clip(max=max(table.rows - 1, 0))
        kept = by_id[at] if table.rows else at[:0]
        kept = kept[table.row_ids[kept] == self._ids] if table.rows else kept
        fresh = np.ones(table.rows, bool)
        fresh[kept] = False
        self._places = np.concatenate([kept, np.flatnonzero(fresh)])

    def place(self, row: int) -> int:
        """The place in the table of what is shown in a row; rows beyond stand for themselves."""
        held = self._places
        return row if held is None or row >= held.size else int(held[row])

    def row(self, place: int) -> int:
        """The row in which a place of the table is shown."""
        held = self._places
        return place if held is None else int(np.flatnonzero(held == place)[0])
