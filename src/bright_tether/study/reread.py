"""A table as its source file now is: every row that is the same case keeps its id, and all that hangs on it.

Cases are told by a column that labels them, else by whole rows as the file had them. Where a row with something on it
(set aside, mended) cannot be told for sure it is asked for, and nothing is changed before that is said.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping
from typing import Any, NamedTuple

import msgspec
import numpy as np

from bright_tether.study.edits import Edit, Several
from bright_tether.study.row_changes import forget_asides
from bright_tether.study.study import Study
from bright_tether.study.table_changes import replace_table
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column
from bright_tether.tables.table import BY_HAND, Mend, Table

#: Stands for whole rows where a column that tells cases apart is chosen.
WHOLE_ROWS = ""
_Key = tuple[Cell, ...]


class Difference(NamedTuple):
    """One cell that the file has otherwise now. row : its id; place : in the file, from 0."""

    row: int
    place: int
    column: str
    before: Cell
    after: Cell


class Reread(msgspec.Struct, frozen=True, kw_only=True):
    """What reading a file again comes to. edit : None where nothing is to be changed, or something has to be asked.

    new, gone : rows; changed : cells of the file; kept : cells mended here that stay so; dropped : mends that
    the file has overtaken; by_hand : rows typed here that stay. unsure : places, from 1, of rows with something on
    them that cannot be told for sure; unsure_rows : their ids. label : what told cases apart, None for whole rows;
    by : its id. gone_aside : of the rows gone, those that were set aside. added : places in the file, from 0, that no
    row stands for; lost : ids of rows that the file has not.
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
    added: tuple[int, ...] = ()
    lost: tuple[int, ...] = ()
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
    shared = [column for column in columns if table.has(column.id)]
    by_hand = table.by_hand
    mends = {(m.row, m.column): m.was for m in table.mends if m.column != BY_HAND}
    places = {int(row): at for at, row in enumerate(table.row_ids.tolist()) if row not in by_hand}

    def was(column: Column, row: int) -> Cell:
        """What the file had the last time."""
        key = (row, column.id)
        return mends[key] if key in mends else table.column(column.id).cell(places[row], row)

    carrying = {row for t in study.tethers if t.table == table_id for row in t.asides.rows.tolist()}
    aside = set(carrying)
    carrying = {row for row in carrying | {row for row, _ in mends} if row in places}
    label = (
        _label(table, shared, list(places)) if by is None else next((c for c in shared if c.id == by), None)
    )
    old = {row: tuple(was(column, row) for column in shared) for row in places}
    now = [tuple(column.cell(at, at) for column in shared) for at in range(fresh.rows)]
    of, unsure = _matched(old, now, None if label is None else shared.index(label), carrying, settled)
    found = {row for row in of if row is not None}
    facts: dict[str, Any] = {
        "label": label.short if label else None, "by": label.id if label else WHOLE_ROWS,
        "added": tuple(at for at, row in enumerate(of) if row is None),
        "lost": tuple(row for row in places if row not in found),
    }  # fmt: skip
    if unsure:
        return Reread(
            edit=None, unsure=tuple(places[row] + 1 for row in unsure), unsure_rows=unsure,
            new=len(facts["added"]), gone=len(facts["lost"]), **facts,
        )  # fmt: skip
    hand = [row for row in table.row_ids.tolist() if row in by_hand]
    free = iter(table.fresh_row_ids(len(facts["added"])).tolist())
    ids = [next(free) if row is None else row for row in of]
    kept, dropped, differences = {}, 0, []
    merged: dict[str, Column] = {}
    for column in columns:
        cells = {at: column.cell(at, at) for at in range(fresh.rows)}
        if table.has(column.id):
            for at, there in enumerate(of):
                if there is None:
                    continue
                row, before = there, was(column, there)
                if (row, column.id) in mends and before == cells[at]:
                    kept[row, column.id] = before
                    cells[at] = table.column(column.id).cell(places[row], row)
                else:
                    dropped += (row, column.id) in mends
                    if before != cells[at]:
                        differences.append(Difference(row, at, column.id, before, cells[at]))
        extra = [_hand_cell(table, column, row) for row in hand]
        merged[column.id] = _filled(column, [*cells.values(), *extra], [*ids, *hand])
    gone = set(facts["lost"])
    names = {column.name for column in columns}
    carried = [c for c in table.columns if c.formula and c.name not in names]
    rows = np.array([*ids, *hand], np.int64)
    after = msgspec.structs.replace(
        table,
        columns=(
            *merged.values(),
            *(msgspec.structs.replace(c, cells=np.full(rows.size, np.nan)) for c in carried),
        ),
        row_ids=rows,
        next_row=max(table.next_row, int(rows.max(initial=-1)) + 1),
        source=fresh.source,
        mends=(
            *(Mend(*key, was) for key, was in kept.items()),
            *(m for m in table.mends if m.column == BY_HAND),
        ),
    )
    facts |= {
        "new": len(facts["added"]), "gone": len(gone), "gone_aside": len(gone & aside),
        "changed": len(differences), "kept": len(kept),
        "dropped": dropped, "by_hand": len(hand), "differences": tuple(sorted(differences, key=_by_place)),
    }  # fmt: skip
    same = not (facts["new"] or gone or differences or dropped) and ids == list(places)
    heads = [c.name for c in table.columns if not c.formula]
    if same and [c.name for c in columns] == heads and _place_of(fresh) == _place_of(table):
        return Reread(edit=None, **facts)
    words = f"Read {table.name} again"
    put = replace_table(study, table, after, words)
    edit = Several(label=words, edits=(*forget_asides(study, table_id, gone, words), *put.edits))
    return Reread(edit=edit, **facts)


def likely_labels(table: Table, fresh: Table) -> tuple[Column, ...]:
    """The columns that can tell cases apart, likely ones first: labels, then those that repeat least in either."""

    def rank(column: Column) -> tuple[bool, float]:
        here, there = (
            _texts(one, held) for one, held in ((column, table), (fresh.named(column.name), fresh))
        )
        alone = min(len(set(one) - {None}) / max(len(one), 1) for one in (here, there))
        return column.kind != "label", -alone

    shared = [c for c in table.columns if c.formula is None and fresh.named(c.name) is not None]
    return tuple(sorted(shared, key=rank))


def _texts(column: Column | None, table: Table) -> list[Cell]:
    return [] if column is None else [column.cell(at, row) for at, row in enumerate(table.row_ids.tolist())]


def _place_of(table: Table) -> str:
    return table.source.path if table.source else ""


def _by_place(one: Difference) -> int:
    return one.place


def _matched(
    old: Mapping[int, _Key],
    now: list[_Key],
    at: int | None,
    carrying: set[int],
    settled: Mapping[int, int | None],
) -> tuple[list[int | None], tuple[int, ...]]:
    """The row that stands at each place of the file, and rows with something on them that cannot be told.

    old : whole rows as the file had them, by id. at : which of their cells tells cases apart, None for all of them.
    """
    of: list[int | None] = [None] * len(now)
    for row, place in settled.items():
        if place is not None:
            of[place] = row
    rows: defaultdict[Cell | _Key, list[int]] = defaultdict(list)
    places: defaultdict[Cell | _Key, list[int]] = defaultdict(list)
    for row, cells in old.items():
        if row not in settled:
            rows[cells if at is None else cells[at]].append(row)
    for place, cells in enumerate(now):
        if of[place] is None:
            places[cells if at is None else cells[at]].append(place)
    unsure: set[int] = set()
    for key, mine in rows.items():
        theirs = places.get(key, [])
        if at is not None and max(len(mine), len(theirs)) > 1:
            mine, theirs = _told_whole(old, now, mine, theirs, of, unsure, carrying)
            sure = len(mine) == len(theirs) == 1 or not theirs
        else:
            sure = len(mine) == len(theirs) or (len(mine) == 1 and (bool(theirs) or at is not None))
        if not sure:
            unsure |= carrying & set(mine)
        for row, place in zip(mine, theirs, strict=False):
            of[place] = row
    return of, tuple(row for row in old if row in unsure)


def _told_whole(
    old: Mapping[int, _Key], now: list[_Key], mine: list[int], theirs: list[int], of: list[int | None],
    unsure: set[int], carrying: set[int],
) -> tuple[list[int], list[int]]:  # fmt: skip
    """Several rows under one label: those as before in every cell are told by that. The rows and places left."""
    waiting: defaultdict[_Key, list[int]] = defaultdict(list)
    alike = Counter(old[row] for row in mine)
    for place in reversed(theirs):
        waiting[now[place]].append(place)
    there = {cells: len(held) for cells, held in waiting.items()}
    left = []
    for row in mine:
        if not waiting[old[row]]:
            left.append(row)
            continue
        of[waiting[old[row]].pop()] = row
        if alike[old[row]] > 1 and alike[old[row]] != there[old[row]]:
            unsure |= carrying & {row}
    return left, [place for place in theirs if of[place] is None]


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


def _label(table: Table, shared: list[Column], rows: list[int]) -> Column | None:
    """The first column that names every case once, here and in the file."""
    wanted = set(rows)
    for column in shared:
        old = table.column(column.id)
        if old.kind != "label":
            continue
        here = [old.cell(at, row) for at, row in enumerate(table.row_ids.tolist()) if row in wanted]
        there = [column.cell(at, at) for at in range(column.cells.size)]
        if all(len(set(one)) == len(one) and None not in one for one in (here, there)):
            return column
    return None


def _hand_cell(table: Table, column: Column, row: int) -> Cell:
    if not table.has(column.id):
        return None
    return table.column(column.id).cell(int(table.places((row,))[0]), row)


def _filled(column: Column, cells: list[Cell], ids: list[int]) -> Column:
    blank = np.full(len(cells), np.nan) if column.numeric else np.full(len(cells), "", dtype=object)
    empty = msgspec.structs.replace(column, cells=blank, strays={})
    return empty.with_cells(range(len(cells)), ids, cells)
