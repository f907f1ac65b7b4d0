"""A table as its source file now is: every row that is the same case keeps its id, and all that hangs on it.

Cases are told by a column that labels them, else by whole rows as the file had them. Where a row with something on it
(set aside, mended) cannot be told for sure it is asked for, and nothing is changed before that is said.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

import msgspec
import numpy as np
from numpy.typing import NDArray

from bright_tether.study.edits import Edit, Several
from bright_tether.study.row_changes import forget_asides
from bright_tether.study.study import Study
from bright_tether.study.table_changes import replace_table
from bright_tether.study.told_apart import CodedCells, paired
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column
from bright_tether.tables.row_ids import RowIds
from bright_tether.tables.table import BY_HAND, Mend, Table

#: Stands for whole rows where a column that tells cases apart is chosen.
WHOLE_ROWS = ""
#: So many changed cells are listed, the first in the file; all are counted.
MOST_DIFFERENCES = 300
Ints = NDArray[np.int64]


class Difference(NamedTuple):
    """One cell that the file has otherwise now. row : its id; place : in the file, from 0."""

    row: int
    place: int
    column: str
    before: Cell
    after: Cell


class Reread(msgspec.Struct, frozen=True, eq=False, kw_only=True):
    """What reading a file again comes to. edit : None where nothing is to be changed, or something has to be asked.

    new, gone : rows; changed : cells of the file; kept : cells mended here that stay so; dropped : mends that
    the file has overtaken; by_hand : rows typed here that stay. unsure : places, from 1, of rows with something on
    them that cannot be told for sure; unsure_rows : their ids. label : what told cases apart, None for whole rows;
    by : its id. gone_aside : of the rows gone, those that were set aside. added : (new,) places in the file, from 0,
    that no row stands for; lost : (gone,) ids of rows that the file has not. differences : the first of what changed.
    """

    edit: Edit | None
    label: str | None = None
    by: str = WHOLE_ROWS
    new: int = 0
    gone: int = 0
    gone_aside: int = 0
    changed: int = 0
    kept: int = 0
    dropped: int = 0
    by_hand: int = 0
    unsure: tuple[int, ...] = ()
    unsure_rows: tuple[int, ...] = ()
    added: Ints = np.zeros(0, np.int64)
    lost: Ints = np.zeros(0, np.int64)
    differences: tuple[Difference, ...] = ()


def reread_table(
    study: Study,
    table_id: str,
    fresh: Table,
    *,
    by: str | None = None,
    settled: Mapping[int, int | None] = {},
) -> Reread:
    """Hold a file's table against the one that was read from it before.

    fresh : the file as it is now. Columns keep their ids by name; computed ones are carried over. by : the id of the
    column that tells cases apart, WHOLE_ROWS, or None for what is likely. settled : what was said of rows, by id: the
    place in the file where a row is now, from 0, or None where it is gone.
    """
    table = study.table(table_id)
    columns = _columns_like(table, fresh)
    at = np.flatnonzero(~RowIds(table.by_hand).hold(table.row_ids))
    rows = table.row_ids[at]
    codes = {c.id: CodedCells(table.column(c.id), at, rows, c) for c in columns if table.has(c.id)}
    label = _label(columns, codes, by)
    mends = _mends(table, rows, codes)
    asides = [one.asides.row_ids for one in study.tethers if one.table == table_id]
    aside = np.isin(rows, np.concatenate([np.zeros(0, np.int64), *(one.ids for one in asides)]))
    carrying = aside | np.isin(rows, [mend.row for mend in table.mends])
    places = {row: int(np.flatnonzero(rows == row)[0]) for row in settled}
    to, unsure = paired(codes, label.id if label else None, carrying, fresh.rows,
                        {places[row]: place for row, place in settled.items()})  # fmt: skip
    there = np.zeros(rows.size, bool)
    there[to[to >= 0]] = True
    facts: dict[str, Any] = {
        "label": label.short if label else None, "by": label.id if label else WHOLE_ROWS,
        "added": np.flatnonzero(to < 0), "lost": rows[~there],
    }  # fmt: skip
    facts |= {"new": facts["added"].size, "gone": facts["lost"].size}
    if unsure.any():
        return Reread(edit=None, unsure=tuple((at[unsure] + 1).tolist()),
                      unsure_rows=tuple(rows[unsure].tolist()), **facts)  # fmt: skip
    merged = _merged(table, at, columns, codes, to, mends)
    facts |= {
        "gone_aside": int(np.count_nonzero(aside & ~there)), "changed": merged.changed, "kept": len(merged.kept),
        "dropped": merged.dropped, "by_hand": table.rows - rows.size, "differences": merged.differences,
    }  # fmt: skip
    same = not (merged.changed or merged.dropped) and np.array_equal(to, np.arange(rows.size))
    heads = [c.name for c in table.columns if not c.formula]
    if same and [c.name for c in columns] == heads and _place_of(fresh) == _place_of(table):
        return Reread(edit=None, **facts)
    names = {column.name for column in columns}
    size = merged.row_ids.size
    after = msgspec.structs.replace(
        table,
        columns=(
            *merged.columns,
            *(
                msgspec.structs.replace(c, cells=np.full(size, np.nan))
                for c in table.columns
                if c.formula and c.name not in names
            ),
        ),
        row_ids=merged.row_ids,
        next_row=max(table.next_row, int(merged.row_ids.max(initial=-1)) + 1),
        source=fresh.source,
        mends=(*merged.kept, *(m for m in table.mends if m.column == BY_HAND)),
    )
    words = f"Read {table.name} again"
    put = replace_table(study, table, after, words)
    edit = Several(
        label=words, edits=(*forget_asides(study, table_id, RowIds(facts["lost"]), words), *put.edits)
    )
    return Reread(edit=edit, **facts)


def _label(columns: list[Column], codes: dict[str, CodedCells], by: str | None) -> Column | None:
    """The column that was chosen, else the first that names every case once, here and in the file."""
    shared = [column for column in columns if column.id in codes]
    if by is not None:
        return next((one for one in shared if one.id == by), None)
    return next((one for one in shared if one.kind == "label" and codes[one.id].tell_every_row), None)


def _mends(table: Table, rows: Ints, codes: dict[str, CodedCells]) -> dict[str, dict[int, Mend]]:
    """What was mended in the columns that the file still has, by column and place; the codes become what was there."""
    order = np.argsort(rows)
    mended: dict[str, dict[int, Mend]] = {column: {} for column in codes}
    held = [mend for mend in table.mends if mend.column in codes]
    asked = np.array([mend.row for mend in held], np.int64)
    found = np.searchsorted(rows, asked, sorter=order)
    for mend, at in zip(held, found.tolist(), strict=True):
        place = int(order[at]) if at < rows.size else -1
        if place >= 0 and rows[place] == mend.row:
            mended[mend.column][place] = mend
            codes[mend.column].old[place] = codes[mend.column].of(mend.was)
    return mended


class _Merged(NamedTuple):
    """The table's cells and rows as they would be, and what became of single cells."""

    columns: list[Column]
    row_ids: Ints
    kept: list[Mend]
    dropped: int
    changed: int
    differences: tuple[Difference, ...]


def _merged(
    table: Table, at: Ints, columns: list[Column], codes: dict[str, CodedCells], to: Ints,
    mends: dict[str, dict[int, Mend]],
) -> _Merged:  # fmt: skip
    """The file's rows, mended where it is as it was, with those put in by hand behind them.

    at : (n,) where the rows stand that the file had; to : (m,) which of them stands at each place now, -1 for none.
    """
    stay = np.flatnonzero(to >= 0)
    ids = table.fresh_row_ids(to.size)
    ids[to < 0] = ids[: to.size - stay.size].copy()
    ids[stay] = table.row_ids[at[to[stay]]]
    now = np.full(at.size, -1)
    now[to[stay]] = stay
    hand = np.delete(np.arange(table.rows), at)
    behind = to.size + np.arange(hand.size)
    made, kept, dropped, changed, first = [], list[Mend](), 0, 0, list[Difference]()
    for column in columns:
        strays = {int(ids[place]): text for place, text in column.strays.items()}
        held = msgspec.structs.replace(column, strays=strays)
        if hand.size:
            held = held.with_blanks(behind)
        if column.id in codes:
            own, code, mended = table.column(column.id), codes[column.id], mends[column.id]
            there = {row: mend for row, mend in mended.items() if now[row] >= 0}
            stays = {row: mend for row, mend in there.items() if code.old[row] == code.now[now[row]]}
            kept += stays.values()
            dropped += len(there) - len(stays)
            differ = stay[code.old[to[stay]] != code.now[stay]]
            changed += differ.size
            first += (
                _difference(
                    own, column, int(at[to[place]]), mended.get(int(to[place])), int(ids[place]), place
                )
                for place in differ[:MOST_DIFFERENCES].tolist()
            )
            sources = np.concatenate((at[[*stays]], hand)) if stays else hand
            places = np.concatenate((now[[*stays]], behind)) if stays else behind
            if places.size:
                rows = table.row_ids[sources].tolist()
                cells = [own.cell(source, row) for source, row in zip(sources.tolist(), rows, strict=True)]
                held = held.with_cells(places.tolist(), rows, cells)
        made.append(held)
    first.sort(key=lambda one: one.place)
    rows_now = np.concatenate((ids, table.row_ids[hand]))
    return _Merged(made, rows_now, kept, dropped, changed, tuple(first[:MOST_DIFFERENCES]))


def _difference(
    own: Column, column: Column, source: int, mend: Mend | None, row: int, place: int
) -> Difference:
    was = own.cell(source, row) if mend is None else mend.was
    return Difference(row, place, column.id, was, column.cell(place, place))


def _place_of(table: Table) -> str:
    return table.source.path if table.source else ""


def _columns_like(table: Table, fresh: Table) -> list[Column]:
    """The file's columns with the ids, kinds and ranges that they had here; row ids are places."""
    matched: list[Column] = []
    taken = {column.id for column in table.columns}
    for at, column in enumerate(fresh.columns):
        old = table.named(column.name)
        if old is not None and (old.formula is not None or any(one.id == old.id for one in matched)):
            old = None
        column_id = old.id if old else next(f"c{n}" for n in range(at + 1, 10**6) if f"c{n}" not in taken)
        taken.add(column_id)
        if old is not None:
            read = column.of_kind(old.kind, fresh.row_ids)
            if old.kind == "date" and old.dates is not None and not column.numeric:
                read = column.with_dates(old.dates)  # as it was said here
            column = msgspec.structs.replace(read, low=old.low, high=old.high, name=old.name)
        matched.append(msgspec.structs.replace(column, id=column_id))
    return matched
