"""The edits an analyst makes on whole tables."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.study.axes import clock_for
from bright_tether.study.edits import Edit, NameTable, PutTable, PutTether, Several, SingleEdit
from bright_tether.study.names import free_name
from bright_tether.study.pin_changes import drop_pins
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.computed import recomputed
from bright_tether.tables.formula import OfTether
from bright_tether.tables.roles import first_pair
from bright_tether.tables.table import Table, blank_table

#: Columns to tie as x and y, each None where there is none.
XY = tuple[str | None, str | None]


def bring_in(study: Study, table: Table, tied: XY | None = None) -> tuple[Edit, str]:
    """Put a table in with a tether on its first two number columns; the edit and the tether's id.

    It stands in place of the blank study's own table where that is untouched. tied : other columns to tie.
    """
    label, blank = f"Open {table.name}", is_untouched(study)
    tether = first_tether(table, study.fresh_id("k"), tied)
    away: tuple[SingleEdit, ...] = ()
    if blank:
        away = (
            PutTether(label=label, at=0, tether=study.tethers[0], put_in=False),
            PutTable(label=label, at=0, table=study.tables[0], put_in=False),
        )
    put = PutTable(label=label, at=0 if blank else len(study.tables), table=table)
    tie = PutTether(label=label, at=0 if blank else len(study.tethers), tether=tether)
    return Several(label=label, edits=(*away, put, tie)), tether.id


def is_untouched(study: Study) -> bool:
    """Whether the study still is the blank one: a table without rows, its one tether, nothing pinned."""
    return len(study.tables) == len(study.tethers) == 1 and not (study.tables[0].rows or study.pins)


def first_tether(table: Table, tether_id: str, tied: XY | None = None) -> Tether:
    """A tether on the first two columns of measurements, or on these, for the analyst to change."""
    x, y = tied or first_pair(table.columns)
    return Tether(id=tether_id, table=table.id, x=x, y=y, clock=clock_for(table, x))


def start_table(study: Study) -> tuple[Edit, str]:
    """One more blank table with its tether; the edit and the tether's id."""
    name = free_name(f"Table {len(study.tables) + 1}", {one.name for one in study.tables})
    return _beside(study, blank_table(study.fresh_id("t"), name), f"Start {name}")


def double_table(study: Study, table_id: str) -> tuple[Edit, str]:
    """A copy of a table with its rows' numbers, and a tether on it; the edit and the tether's id.

    What a line said of its rows is copied as it stands: the line is another table's.
    """
    table = study.table(table_id)
    columns = tuple(
        msgspec.structs.replace(one, formula=None) if isinstance(one.formula, OfTether) else one
        for one in table.columns
    )
    name = free_name(f"{table.name}, copy", {one.name for one in study.tables})
    double = msgspec.structs.replace(
        table, id=study.fresh_id("t"), name=name, columns=columns, source=None, mends=()
    )
    return _beside(study, double, f"Copy the table {table.name}")


def _beside(study: Study, table: Table, label: str) -> tuple[Edit, str]:
    tether = first_tether(table, study.fresh_id("k"))
    put = PutTable(label=label, at=len(study.tables), table=table)
    tie = PutTether(label=label, at=len(study.tethers), tether=tether)
    return Several(label=label, edits=(put, tie)), tether.id


def rename_table(study: Study, table_id: str, name: str) -> Edit | None:
    """Call a table something else; a name that another table has gets a number."""
    before = study.table(table_id).name
    name = " ".join(name.split())
    if not name or name == before:
        return None
    name = free_name(name, {one.name for one in study.tables if one.id != table_id})
    return NameTable(label=f"Call the table {before} {name}", table=table_id, before=before, after=name)


def add_table(study: Study, name: str, columns: dict[str, np.ndarray]) -> tuple[Edit, str]:
    """A table of number columns with a tether on its first two; the edit and the tether's id."""
    blanks = tuple(
        Column(id=f"c{at}", name=head, kind="number", cells=np.array(cells, float))
        for at, (head, cells) in enumerate(columns.items(), 1)
    )
    rows = np.arange(blanks[0].cells.size, dtype=np.int64)
    return bring_in(study, Table(id=study.fresh_id("t"), name=name, columns=blanks, row_ids=rows))


def replace_table(study: Study, before: Table, after: Table, label: str) -> Several:
    """One table for another in its place."""
    at = study.tables.index(before)
    away = PutTable(label=label, at=at, table=before, put_in=False)
    return Several(label=label, edits=(away, PutTable(label=label, at=at, table=recomputed(after))))


def drop_table(study: Study, table_id: str) -> Edit | None:
    """Let a table go with every tether on it; the last table stays."""
    if len(study.tables) == 1:
        return None
    table = study.table(table_id)
    label = f"Let the table {table.name} go"
    edits: list[SingleEdit] = []
    present = study
    for tether in [t for t in study.tethers if t.table == table_id]:
        edits += drop_pins(present, tether.id, label)
        edits.append(PutTether(label=label, at=present.tethers.index(tether), tether=tether, put_in=False))
        present = edits[-1].apply(present)
    if not present.tethers:
        return None
    edits.append(PutTable(label=label, at=study.tables.index(table), table=table, put_in=False))
    return Several(label=label, edits=tuple(edits))
