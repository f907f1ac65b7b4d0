"""A table of cases."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import msgspec
import numpy as np

from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column, blank_column


class Source(msgspec.Struct, frozen=True, kw_only=True):
    """Where a table was read from, and what was chosen then. choices : by name, as text."""

    path: str
    choices: dict[str, str] = {}


class Table(msgspec.Struct, frozen=True, eq=False, kw_only=True):
    """Columns of equal length over rows that keep their identity.

    row_ids : (rows,) int64, each its own for the life of the table, whatever is put in or taken out.
    source : the file it was read from and how, None where it was typed.
    dismissed : likely slips that the analyst looked at and left.
    """

    id: str
    name: str
    columns: tuple[Column, ...]
    row_ids: np.ndarray
    source: Source | None = None
    dismissed: tuple[str, ...] = ()

    @property
    def rows(self) -> int:
        """How many rows there are."""
        return self.row_ids.size

    def column(self, column_id: str) -> Column:
        """The column with this id."""
        return next(column for column in self.columns if column.id == column_id)

    def has(self, column_id: str | None) -> bool:
        """Whether a column with this id is here."""
        return any(column.id == column_id for column in self.columns)

    def named(self, name: str) -> Column | None:
        """The column with this header, or with this header less its unit; None where there is none."""
        exact = next((c for c in self.columns if c.name == name), None)
        return exact or next((c for c in self.columns if c.short == name), None)

    def places(self, row_ids: Iterable[int]) -> np.ndarray:
        """Positions of these rows in table order; rows that are gone are passed over."""
        return np.flatnonzero(np.isin(self.row_ids, np.fromiter(row_ids, np.int64)))

    @property
    def label_column(self) -> Column | None:
        """The first column that names cases."""
        return next((column for column in self.columns if column.kind == "label"), None)

    def fresh_row_ids(self, count: int) -> np.ndarray:
        """Ids that no row has had."""
        first = int(self.row_ids.max()) + 1 if self.rows else 0
        return np.arange(first, first + count, dtype=np.int64)

    def fresh_column_id(self) -> str:
        """A column id that is free."""
        taken = {column.id for column in self.columns}
        return next(f"c{number}" for number in range(1, len(taken) + 2) if f"c{number}" not in taken)

    def with_column(self, column: Column) -> Table:
        """The table with the column of this id replaced."""
        columns = tuple(column if old.id == column.id else old for old in self.columns)
        return msgspec.structs.replace(self, columns=columns)

    def with_rows(self, at: np.ndarray, row_ids: np.ndarray, cells: Sequence[Sequence[Cell]]) -> Table:
        """The table with rows put in, to stand at these positions, in rising order.

        cells : one sequence a column.
        """
        ids = np.insert(self.row_ids, at - np.arange(at.size), row_ids)
        columns = tuple(
            column.with_blanks(at).with_cells(at, row_ids.tolist(), values)
            for column, values in zip(self.columns, cells, strict=True)
        )
        return msgspec.structs.replace(self, columns=columns, row_ids=ids)

    def without_rows(self, at: np.ndarray) -> Table:
        """The table with the rows at these positions gone."""
        gone = self.row_ids[at].tolist()
        columns = tuple(column.without_rows(at, gone) for column in self.columns)
        return msgspec.structs.replace(self, columns=columns, row_ids=np.delete(self.row_ids, at))

    def cells_at(self, at: Iterable[int]) -> tuple[tuple[Cell, ...], ...]:
        """The cells of these rows, one tuple a column."""
        places = list(at)
        return tuple(
            tuple(column.cell(place, int(self.row_ids[place])) for place in places) for column in self.columns
        )


def blank_table(table_id: str, name: str, columns: int = 2) -> Table:
    """A table without rows."""
    made = tuple(blank_column(f"c{i + 1}", place_name(i), "number", 0) for i in range(columns))
    return Table(id=table_id, name=name, columns=made, row_ids=np.empty(0, np.int64))


def place_name(index: int) -> str:
    """A column name for one that was given none: column 1, column 2, …"""
    return f"column {index + 1}"
