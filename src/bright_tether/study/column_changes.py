"""The edits an analyst makes on whole columns, and on what is read off them."""

from __future__ import annotations

from itertools import chain, count

import msgspec
import numpy as np

from bright_tether.study.changes import bring_in
from bright_tether.study.derived import row_figures
from bright_tether.study.edits import (
    ChangeColumn,
    Edit,
    MoveColumn,
    PutColumn,
    PutTable,
    PutTether,
    Several,
    SingleEdit,
)
from bright_tether.study.pin_changes import drop_pins
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column, Kind
from bright_tether.tables.computed import evaluated, inputs_of
from bright_tether.tables.formula import Formula, OfTether, RowFigure
from bright_tether.tables.slips import Slip, slip_keys
from bright_tether.tables.table import Table


def change_kind(study: Study, table_id: str, column_id: str, kind: Kind) -> Edit | None:
    """Read a column as another kind; every text that was typed is kept."""
    table = study.table(table_id)
    before = table.column(column_id)
    if before.kind == kind or before.formula is not None:
        return None
    after = msgspec.structs.replace(before.of_kind(kind, table.row_ids), guessed=False)
    return ChangeColumn(label=f"{before.short} is a {kind}", table=table_id, before=before, after=after)


def change_range(
    study: Study, table_id: str, column_id: str, low: float | None, high: float | None
) -> Edit | None:
    """State what values a column can take at all."""
    before = study.table(table_id).column(column_id)
    after = msgspec.structs.replace(before, low=low, high=high)
    if (before.low, before.high) == (low, high):
        return None
    return ChangeColumn(label=f"Possible range of {before.short}", table=table_id, before=before, after=after)


def add_formula(study: Study, table_id: str, name: str, formula: Formula) -> PutColumn:
    """A column that is worked out, and stays right."""
    table = study.table(table_id)
    held = {i: table.column(i) for i in inputs_of(formula)}
    cells = evaluated(formula, held, table.rows)
    taken = {column.name for column in table.columns}
    others = (f"{name} {number}" for number in count(2))
    name = next(one for one in chain((name,), others) if one not in taken)
    column = Column(id=table.fresh_column_id(), name=name, kind="number", cells=cells, formula=formula)
    return PutColumn(label=f"Work out {name}", table=table_id, at=len(table.columns), column=column)


def keep_figure(study: Study, tether: Tether, what: RowFigure) -> PutColumn:
    """A live column of what a tether's line says of each row: residuals, fitted values, leverage."""
    table = study.table(tether.table)
    y = table.column(tether.y or "").short
    unit = table.column(tether.y or "").unit if what in ("residual", "fitted") else None
    words = {"residual": f"residual of {y}", "fitted": f"fitted {y}", "cooks_d": f"Cook of {y}"}
    name = words.get(what, f"{what} of {y}") + (f" ({unit})" if unit else "")
    taken = {column.name for column in table.columns}
    others = (f"{name} {number}" for number in count(2))
    name = next(one for one in chain((name,), others) if one not in taken)
    cells = row_figures(study, tether, what)
    column = Column(
        id=table.fresh_column_id(), name=name, kind="number", cells=cells, formula=OfTether(tether.id, what)
    )
    return PutColumn(label=f"Keep {name}", table=table.id, at=len(table.columns), column=column)


def delete_column(study: Study, table_id: str, column_id: str) -> Edit | None:
    """Take a column out; tethers that used it say so, and undo brings it back. The last one stays."""
    table = study.table(table_id)
    if len(table.columns) == 1:
        return None
    column = table.column(column_id)
    at = table.columns.index(column)
    return PutColumn(
        label=f"Delete column {column.short}", table=table_id, at=at, column=column, put_in=False
    )


def move_column(study: Study, table_id: str, column_id: str, steps: int) -> Edit | None:
    """Move a column among its fellows."""
    table = study.table(table_id)
    column = table.column(column_id)
    before = table.columns.index(column)
    after = min(max(before + steps, 0), len(table.columns) - 1)
    if before == after:
        return None
    return MoveColumn(label=f"Move column {column.short}", table=table_id, before=before, after=after)


def dismiss_slip(study: Study, table_id: str, slip: Slip) -> Edit:
    """Leave a slip as it is, and do not show it again."""
    table = study.table(table_id)
    after = msgspec.structs.replace(table, dismissed=(*table.dismissed, *slip_keys(slip, table)))
    return replace_table(study, table, after, "Leave a likely slip as it is")


def add_table(study: Study, name: str, columns: dict[str, np.ndarray]) -> tuple[Edit, str]:
    """A table of number columns with a tether on its first two; the edit and the tether's id."""
    made = tuple(
        Column(id=f"c{at}", name=head, kind="number", cells=np.array(cells, float))
        for at, (head, cells) in enumerate(columns.items(), 1)
    )
    rows = np.arange(made[0].cells.size, dtype=np.int64)
    return bring_in(study, Table(id=study.fresh_id("t"), name=name, columns=made, row_ids=rows))


def replace_table(study: Study, before: Table, after: Table, label: str) -> Several:
    """One table for another in its place."""
    from bright_tether.tables.computed import recomputed

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
