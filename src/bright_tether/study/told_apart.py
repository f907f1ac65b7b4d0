"""Which row is which case in a later state of the same table: cells as codes, and rows paired by them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import chain
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.tables.texts import in_lots

Codes = NDArray[np.int64]
#: Codes are put into one number as long as so many of them fit.
_MOST_CODES = 2**62


class CodedCells:
    """The cells of one column in two states, as numbers that are the same where the cells are.

    old : (n,) of the rows at these places as they were; now : (m,) as they are.
    """

    def __init__(
        self, was: Column, at: NDArray[np.int64], row_ids: NDArray[np.int64], column: Column
    ) -> None:
        self._numbers = np.zeros(0)
        self._known: dict[Cell, int] = {}
        if was.numeric:
            self.old, self.now = self._of_numbers(was, at, row_ids, column)
        else:
            self.old, self.now = self._of_texts(was, at, column)

    def of(self, cell: Cell) -> int:
        """The code of any cell."""
        if isinstance(cell, int | float):
            at = int(np.searchsorted(self._numbers, cell))
            if at < self._numbers.size and self._numbers[at] == cell:
                return at
        return self._known.setdefault(cell, self.size)

    @property
    def size(self) -> int:
        """More than every code."""
        return self._numbers.size + len(self._known)

    @property
    def tell_every_row(self) -> bool:
        """Whether each row has a cell of its own in both states."""
        blank = self.of(None)
        return all(
            np.unique(one).size == one.size and not np.any(one == blank) for one in (self.old, self.now)
        )

    def _of_numbers(
        self, was: Column, at: NDArray[np.int64], row_ids: NDArray[np.int64], column: Column
    ) -> tuple[Codes, Codes]:
        cells = np.concatenate((was.cells[at], column.cells))
        there = ~np.isnan(cells)
        self._numbers, found = np.unique(cells[there], return_inverse=True)
        codes = np.full(cells.size, self.of(None))
        codes[there] = found
        old, now = codes[: at.size], codes[at.size :]
        if was.strays:
            for place in np.flatnonzero(~there[: at.size]).tolist():
                old[place] = self.of(was.strays.get(int(row_ids[place])))
        for place, text in column.strays.items():  # row ids of a file are places
            now[place] = self.of(text)
        return old, now

    def _of_texts(self, was: Column, at: NDArray[np.int64], column: Column) -> tuple[Codes, Codes]:
        known = self._known
        both = was.texts, column.texts
        lots = chain.from_iterable(in_lots(one.words) for one in both)
        of = np.fromiter(
            (known.setdefault(word or None, len(known)) for lot in lots for word in lot), np.int64,
            sum(one.words.size for one in both),
        )  # fmt: skip
        return of[was.texts.codes[at]], of[was.texts.words.size + column.texts.codes]


class Paired(NamedTuple):
    """to : (m,) which of the old rows stands at each place now, -1 for none. unsure : (n,) which cannot be told."""

    to: NDArray[np.int64]
    unsure: NDArray[np.bool_]


def paired(
    columns: Mapping[str, CodedCells],
    label: str | None,
    carrying: NDArray[np.bool_],
    rows: int,
    settled: Mapping[int, int | None],
) -> Paired:
    """Pair the rows of two states of a table, by the cells of the columns that both have.

    label : the column that tells cases apart, None for whole rows. carrying : (n,) old rows that have something on
    them; only these can be unsure. rows : m, how many there are now. settled : by place of the old row, where it is
    said to be now, None for gone.
    """
    n = carrying.size
    to = np.full(rows, -1)
    for row, place in settled.items():
        if place is not None:
            to[place] = row
    mine, theirs = np.delete(np.arange(n), list(settled)), np.flatnonzero(to < 0)
    whole = _whole_rows([*columns.values()], mine, theirs)
    found, here, there = _by_rank(*whole)
    unsure = np.zeros(n, bool)
    if label is None:
        unsure[mine] = (here != there) & ((here > 1) | (there == 0))
        to[theirs[found[found >= 0]]] = mine[found >= 0]
        return Paired(to, unsure & carrying)
    told = found >= 0
    unsure[mine[told]] = ((here > 1) & (here != there))[told]
    to[theirs[found[told]]] = mine[told]
    mine, theirs = mine[~told], np.delete(theirs, found[told])
    found, here, there = _by_rank(columns[label].old[mine], columns[label].now[theirs])
    unsure[mine] = ((here > 1) | (there > 1)) & (there > 0)
    to[theirs[found[found >= 0]]] = mine[found >= 0]
    return Paired(to, unsure & carrying)


def _by_rank(mine: Codes, theirs: Codes) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """The first of one code to the first of the same, the second to the second, as far as there are.

    Returns, each (mine,): where among theirs, -1 for nowhere; how many of its code are among mine; among theirs.
    """
    size = int(max(mine.max(initial=-1), theirs.max(initial=-1))) + 1
    of_mine, of_theirs = (np.bincount(codes, minlength=size) for codes in (mine, theirs))
    order, places = np.argsort(mine, kind="stable"), np.argsort(theirs, kind="stable")
    rank = np.empty(mine.size, np.int64)
    rank[order] = np.arange(mine.size) - (np.cumsum(of_mine) - of_mine)[mine[order]]
    found = np.full(mine.size, -1)
    there = rank < of_theirs[mine]
    found[there] = places[(np.cumsum(of_theirs) - of_theirs)[mine[there]] + rank[there]]
    return found, of_mine[mine], of_theirs[mine]


def _whole_rows(
    columns: Sequence[CodedCells], mine: NDArray[np.int64], theirs: NDArray[np.int64]
) -> tuple[Codes, Codes]:
    """Codes of whole rows."""
    key, many = np.zeros(mine.size + theirs.size, np.int64), 1
    for column in columns:
        if many * column.size > _MOST_CODES:
            key, many = _fewer(key)
        key *= column.size
        key += np.concatenate((column.old[mine], column.now[theirs]))
        many *= column.size
    key, _ = _fewer(key)
    return key[: mine.size], key[mine.size :]


def _fewer(key: Codes) -> tuple[Codes, int]:
    different, codes = np.unique(key, return_inverse=True)
    return codes, different.size


def likely_labels(table: Table, fresh: Table) -> tuple[Column, ...]:
    """The columns that can tell cases apart, likely ones first: labels, then those that repeat least in either."""

    def rank(column: Column) -> tuple[bool, float]:
        there: Any = fresh.named(column.name)
        return column.kind != "label", -min(_alone(column), _alone(there))

    shared = [c for c in table.columns if c.formula is None and fresh.named(c.name) is not None]
    return tuple(sorted(shared, key=rank))


def _alone(column: Column) -> float:
    """The share of rows that would be left if of those with equal cells only one stayed, and none of the blank ones."""
    if column.numeric:
        there = column.cells[~np.isnan(column.cells)]
        different = np.unique(there).size + len(set(column.strays.values()))
    else:
        used = np.flatnonzero(np.bincount(column.texts.codes, minlength=column.texts.words.size))
        different = int(np.count_nonzero(column.texts.words[used] != ""))
    return different / max(column.cells.size, 1)
