"""A table as its source file now is: every row that is the same case keeps its id, and all that hangs on it.

Cases are told by a column that labels them without repeats, else by whole rows as the file had them. Where a
row with something on it (set aside, mended) cannot be told for sure, nothing is changed.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import dataclass
from typing import Any

import msgspec
import numpy as np

from bright_tether.study.edits import Edit, Several
from bright_tether.study.row_changes import forget_asides
from bright_tether.study.study import Study
from bright_tether.study.table_changes import replace_table
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column
from bright_tether.tables.table import BY_HAND, Mend, Table


@dataclass(frozen=True, slots=True, kw_only=True)
class Reread:
    """What reading a file again comes to. edit : None where nothing is to be changed.

    new, gone : rows; changed : cells of the file; kept : cells mended here that stay so; dropped : mends that
    the file has overtaken; by_hand : rows typed here that stay. unsure : the place, from 1, of a row with
    something on it that cannot be told for sure. label : what told cases apart, None for whole rows.
    """

    edit: Edit | None
    label: str | None = None
    new: int = 0
    gone: int = 0
    changed: int = 0
    kept: int = 0
    dropped: int = 0
    by_hand: int = 0
    unsure: int | None = None


def reread_table(study: Study, table_id: str, fresh: Table) -> Reread:
    """Hold a file's table against the one that was read from it before.

    fresh : the file as it is now. Columns keep their ids by name; computed ones are carried over.
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

    carrying = {aside.row for t in study.tethers if t.table == table_id for aside in t.asides}
    carrying = {row for row in carrying | {row for row, _ in mends} if row in places}
    label = _label(table, shared, list(places))
    keyed = [label] if label else shared
    old_keys = {row: tuple(was(column, row) for column in keyed) for row in places}
    new_keys = [tuple(c.cell(at, at) for c in keyed) for at in range(fresh.rows)]
    unsure = None if label else _unsure(old_keys, new_keys, carrying)
    if unsure is not None:
        return Reread(edit=None, unsure=places[unsure] + 1)
    waiting: defaultdict[tuple[Cell, ...], list[int]] = defaultdict(list)
    for row, key in reversed(old_keys.items()):
        waiting[key].append(row)
    of = [waiting[key].pop() if waiting.get(key) else None for key in new_keys]
    hand = [row for row in table.row_ids.tolist() if row in by_hand]
    free = iter(table.fresh_row_ids(sum(row is None for row in of)).tolist())
    ids = [next(free) if row is None else row for row in of]
    found = set(ids)
    kept, dropped, changed = {}, 0, 0
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
                    changed += before != cells[at]
        extra = [_hand_cell(table, column, row) for row in hand]
        merged[column.id] = _filled(column, [*cells.values(), *extra], [*ids, *hand])
    gone = set(places) - found
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
    counts: dict[str, Any] = {
        "label": label.short if label else None, "new": sum(row is None for row in of), "gone": len(gone),
        "changed": changed, "kept": len(kept), "dropped": dropped, "by_hand": len(hand),
    }  # fmt: skip
    same = not (counts["new"] or gone or changed or dropped) and ids == list(places)
    if same and [c.name for c in columns] == [c.name for c in table.columns if not c.formula]:
        return Reread(edit=None, **counts)
    words = f"Read {table.name} again"
    put = replace_table(study, table, after, words)
    edit = Several(label=words, edits=(*forget_asides(study, table_id, gone, words), *put.edits))
    return Reread(edit=edit, **counts)


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
            column = msgspec.structs.replace(
                column.of_kind(old.kind, fresh.row_ids), low=old.low, high=old.high, name=old.name
            )
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


def _unsure(old: dict[int, tuple[Cell, ...]], new: list[tuple[Cell, ...]], carrying: set[int]) -> int | None:
    """A row with something on it that has no counterpart, or more or fewer like it than before."""
    before, now = Counter(old.values()), Counter(new)
    for row, key in old.items():
        if row in carrying and (not now[key] or (before[key] > 1 and before[key] != now[key])):
            return row
    return None


def _hand_cell(table: Table, column: Column, row: int) -> Cell:
    if not table.has(column.id):
        return None
    return table.column(column.id).cell(int(table.places((row,))[0]), row)


def _filled(column: Column, cells: list[Cell], ids: list[int]) -> Column:
    blank = np.full(len(cells), np.nan) if column.numeric else np.full(len(cells), "", dtype=object)
    empty = msgspec.structs.replace(column, cells=blank, strays={})
    return empty.with_cells(range(len(cells)), ids, cells)
