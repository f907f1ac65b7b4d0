"""A table of cases."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

import msgspec
import numpy as np

from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column, blank_column
from bright_tether.tables.row_ids import ids_of


class Source(msgspec.Struct, frozen=True, kw_only=True):
    """Where a table was read from, and what was chosen then. choices : by name, as text.

    digest : the SHA-256 of the file as it was read, "" where that is not known. size : in bytes; modified : the day
    (ISO) on which it was written, as the system told.
    """

    path: str
    choices: dict[str, str] = {}
    digest: str = ""
    size: int = 0
    modified: str = ""


class Part(msgspec.Struct, frozen=True):
    """One of the tables that are stacked: its number among them for life, its id, and what its rows are called by."""

    number: int
    table: str
    name: str


class Stack(msgspec.Struct, frozen=True, tag="stack"):
    """The rows of several tables under each other."""

    parts: tuple[Part, ...]


class Join(msgspec.Struct, frozen=True, tag="join", kw_only=True):
    """The rows of one table, each with what another holds of the same case. By the ids of tables and key columns.

    matched_only : whether rows without a counterpart are left out. loose : whether capitals do not matter.
    """

    first: str
    second: str
    first_key: str
    second_key: str
    matched_only: bool = False
    loose: bool = False


class PerCase(msgspec.Struct, frozen=True, tag="per case"):
    """One row for each case of a table. key : the column that names cases. by : what stands for its numbers."""

    table: str
    key: str
    by: Literal["mean", "median", "first", "last"] = "mean"


Recipe = Stack | Join | PerCase


#: Stands in place of a column where a whole row was put in by hand.
BY_HAND = ""


class Mend(msgspec.Struct, frozen=True):
    """What the file had in a cell changed since. row, column : ids; BY_HAND for a row it never had."""

    row: int
    column: str
    was: Cell


class Table(msgspec.Struct, frozen=True, eq=False, kw_only=True):
    """Columns of equal length over rows that keep their identity.

    row_ids : (rows,) int64, each its own for the life of the table, whatever is put in or taken out.
    next_row : the id that the next row gets; it never falls, so that no id is given twice.
    source : the file it was read from and how, None where it was typed.
    dismissed : likely slips that the analyst looked at and left.
    mends : cells changed since the table was read from its file, with what the file had.
    recipe : how it is made of other tables, None where it is none.
    """

    id: str
    name: str
    columns: tuple[Column, ...]
    row_ids: np.ndarray
    source: Source | None = None
    dismissed: tuple[str, ...] = ()
    next_row: int = 0
    mends: tuple[Mend, ...] = ()
    recipe: Recipe | None = None

    @property
    def rows(self) -> int:
        """How many rows there are."""
        return self.row_ids.size

    @property
    def typed(self) -> bool:
        """Whether its rows were typed here, not read from a file nor made of other tables."""
        return self.source is None and self.recipe is None

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
        return np.flatnonzero(np.isin(self.row_ids, ids_of(row_ids)))

    @property
    def label_column(self) -> Column | None:
        """The first column that names cases."""
        return next((column for column in self.columns if column.kind == "label"), None)

    def fresh_row_ids(self, count: int) -> np.ndarray:
        """Ids that no row has had."""
        first = max(self.next_row, int(self.row_ids.max()) + 1 if self.rows else 0)
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
            column.with_blanks(at).with_cells(at.tolist(), row_ids.tolist(), values)
            for column, values in zip(self.columns, cells, strict=True)
        )
        most = max(int(self.fresh_row_ids(1)[0]), int(row_ids.max()) + 1 if row_ids.size else 0)
        return msgspec.structs.replace(self, columns=columns, row_ids=ids, next_row=most)

    def without_rows(self, at: np.ndarray) -> Table:
        """The table with the rows at these positions gone."""
        gone = self.row_ids[at].tolist()
        columns = tuple(column.without_rows(at, gone) for column in self.columns)
        most = int(self.fresh_row_ids(1)[0])
        return msgspec.structs.replace(
            self, columns=columns, row_ids=np.delete(self.row_ids, at), next_row=most
        )

    def in_order(self, order: np.ndarray) -> Table:
        """The table with the row now at ``order[i]`` in place i; order : (rows,), each place once."""
        columns = tuple(msgspec.structs.replace(one, cells=one.cells[order]) for one in self.columns)
        return msgspec.structs.replace(self, columns=columns, row_ids=self.row_ids[order])

    def order_by(self, column_id: str, *, falling: bool = False) -> np.ndarray:
        """(rows,) places by a column's cells: numbers by size, dates by time, texts as written.

        Equal ones stay as they stand. What is missing or no number comes last either way.
        """
        cells = self.column(column_id).along
        return np.argsort(-cells if falling else cells, kind="stable")

    @property
    def by_hand(self) -> frozenset[int]:
        """Rows that were put in here, and that its file never had."""
        return frozenset(mend.row for mend in self.mends if mend.column == BY_HAND)

    def with_by_hand(self, rows: Iterable[int], put_in: bool) -> Table:
        """The table with these rows known as put in by hand, or no longer."""
        wanted = set(rows)
        if not wanted:
            return self
        mends = tuple(m for m in self.mends if m.column != BY_HAND or m.row not in wanted)
        mends += tuple(Mend(row, BY_HAND, None) for row in wanted) if put_in else ()
        return msgspec.structs.replace(self, mends=_in_order(mends))

    def mended(self, changes: Iterable[tuple[int, str, Cell, Cell]]) -> Table:
        """The table with its mends brought up to date. changes : row, column, before, after.

        A cell that holds again what the file had is no mend any more.
        """
        if self.source is None:
            return self
        held = {(mend.row, mend.column): mend.was for mend in self.mends}
        for row, column, before, after in changes:
            if held.setdefault((row, column), before) == after:
                del held[row, column]
        return msgspec.structs.replace(self, mends=_in_order(Mend(*key, was) for key, was in held.items()))

    def cells_at(self, at: Iterable[int]) -> tuple[tuple[Cell, ...], ...]:
        """The cells of these rows, one tuple a column."""
        places = list(at)
        return tuple(
            tuple(column.cell(place, int(self.row_ids[place])) for place in places) for column in self.columns
        )


def blank_table(table_id: str, name: str, columns: int = 2) -> Table:
    """A table without rows."""
    blanks = tuple(
        blank_column(f"c{i + 1}", place_name(i), "number", 0, guessed=True) for i in range(columns)
    )
    return Table(id=table_id, name=name, columns=blanks, row_ids=np.empty(0, np.int64))


def place_name(index: int) -> str:
    """A column name for one that was given none: column 1, column 2, …"""
    return f"column {index + 1}"


def _in_order(mends: Iterable[Mend]) -> tuple[Mend, ...]:
    """Mends in one order, whatever way they came."""
    return tuple(sorted(mends, key=lambda mend: (mend.row, mend.column)))
