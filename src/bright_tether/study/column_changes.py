"""The edits an analyst makes on whole columns, and on what is read off them."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.study.axes import tied_again
from bright_tether.study.derived import row_figures
from bright_tether.study.edits import (
    ChangeColumn,
    Edit,
    MoveColumn,
    PutColumn,
    Several,
)
from bright_tether.study.names import free_name
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.clock import DateOrder
from bright_tether.tables.column import Column, Kind, blank_column
from bright_tether.tables.computed import inputs_of, worked_out
from bright_tether.tables.formula import Draw, Formula, OfTether, RowFigure
from bright_tether.tables.table import place_name


def change_kind(study: Study, table_id: str, column_id: str, kind: Kind) -> Edit | None:
    """Read a column as another kind; every text that was typed is kept."""
    table = study.table(table_id)
    before = table.column(column_id)
    if before.kind == kind or before.formula is not None:
        return None
    after = msgspec.structs.replace(before.of_kind(kind, table.row_ids), guessed=False)
    return ChangeColumn(label=f"{before.short} is a {kind}", table=table_id, before=before, after=after)


def read_dates(study: Study, table_id: str, column_id: str, order: DateOrder) -> Edit:
    """Read a column's texts as dates by this order of day and month."""
    before = study.table(table_id).column(column_id)
    after = msgspec.structs.replace(before.with_dates(order), guessed=False)
    label = f"{before.short} is a date, {order}"
    change = ChangeColumn(label=label, table=table_id, before=before, after=after)
    return Several(label=label, edits=(change, *tied_again(change.apply(study), table_id)))


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
    name = free_name(name, {column.name for column in table.columns})
    kind: Kind = "category" if isinstance(formula, Draw) and formula.kind == "category" else "number"
    blank = Column(id=table.fresh_column_id(), name=name, kind=kind, cells=np.empty(0), formula=formula)
    column = worked_out(blank, held, table.row_ids)
    return PutColumn(label=f"Work out {name}", table=table_id, at=len(table.columns), column=column)


def keep_figure(study: Study, tether: Tether, what: RowFigure) -> PutColumn:
    """A live column of what a tether's line says of each row: residuals, fitted values, leverage."""
    table = study.table(tether.table)
    y = table.column(tether.y or "").short
    unit = table.column(tether.y or "").unit if what in ("residual", "fitted") else None
    words = {"residual": f"residual of {y}", "fitted": f"fitted {y}", "cooks_d": f"Cook of {y}"}
    name = words.get(what, f"{what} of {y}") + (f" ({unit})" if unit else "")
    name = free_name(name, {column.name for column in table.columns})
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


def insert_column(study: Study, table_id: str, at: int) -> PutColumn:
    """A blank column at a place; its kind follows what is typed into it."""
    table = study.table(table_id)
    name = free_name(place_name(at), {column.name for column in table.columns})
    blank = blank_column(table.fresh_column_id(), name, "number", table.rows, guessed=True)
    return PutColumn(label=f"Insert {name}", table=table_id, at=at, column=blank)


def draw_again(study: Study, table_id: str, column_id: str) -> ChangeColumn | None:
    """The same draw from another seed, worked out from the present one; None for a column that is not drawn."""
    table = study.table(table_id)
    before = table.column(column_id)
    if not isinstance(before.formula, Draw):
        return None
    seed = int(np.random.SeedSequence(before.formula.seed).generate_state(1)[0])
    formula = msgspec.structs.replace(before.formula, seed=seed)
    held = {i: table.column(i) for i in inputs_of(formula)}
    after = worked_out(msgspec.structs.replace(before, formula=formula), held, table.row_ids)
    return ChangeColumn(label=f"Draw {before.short} again", table=table_id, before=before, after=after)


def move_column(study: Study, table_id: str, column_id: str, steps: int) -> Edit | None:
    """Move a column among its fellows."""
    table = study.table(table_id)
    column = table.column(column_id)
    before = table.columns.index(column)
    after = min(max(before + steps, 0), len(table.columns) - 1)
    if before == after:
        return None
    return MoveColumn(label=f"Move column {column.short}", table=table_id, before=before, after=after)
