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

    def by(self, table: Table, column_id: str, places: np.ndarray, *, falling: bool) -> None:
        """Take the order of a column, as ``Table.order_by`` gives it."""
        self.column, self.falling, self._table = column_id, falling, table.id
        self._places = places
        self._ids, self._of = table.row_ids[places], table.row_ids

    def as_it_stands(self, table: Table) -> None:
        """Take the order of the table."""
        self.column, self.falling, self._table = None, False, table.id
        self._of = self._places = self._ids = None

    def match(self, table: Table) -> None:
        """Follow a table that changed; another table is shown in its own order."""
        if table.id != self._table or (self.column is not None and not table.has(self.column)):
            self.as_it_stands(table)
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

    def places(self, rows: np.ndarray) -> np.ndarray:
        """The same of many rows, none of them beyond."""
        return rows if self._places is None else self._places[rows]

    def rows(self, places: np.ndarray) -> np.ndarray:
        """The rows in which these places of the table are shown, rising."""
        return np.sort(places) if self._places is None else np.flatnonzero(np.isin(self._places, places))

    def row(self, place: int) -> int:
        """The row in which a place of the table is shown."""
        held = self._places
        return place if held is None else int(np.flatnonzero(held == place)[0])
