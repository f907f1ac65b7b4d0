"""Columns that hold what a tether's line says of each row, kept right after every change."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.results import Floats, Refusal
from bright_tether.study.in_play import InPlay
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.computed import inputs_of, recomputed
from bright_tether.tables.formula import OfTether, RowFigure
from bright_tether.tables.made import remade, sources_of
from bright_tether.tables.table import Table


def with_table(study: Study, table: Table) -> Study:
    """The study with the table of this id replaced, and every computed column right."""
    table = recomputed(table, study.table(table.id))
    tables = tuple(table if old.id == table.id else old for old in study.tables)
    return refreshed(following(msgspec.structs.replace(study, tables=tables), study))


def following(study: Study, before: Study) -> Study:
    """The study with every table that is made of others as those now are."""
    old = {table.id: table for table in before.tables}
    for _ in study.tables:  # a table may be made of one that is made itself
        held = {table.id: table for table in study.tables}
        tables = tuple(
            recomputed(remade(table, held), table)
            if any(held.get(one) is not old.get(one) for one in sources_of(table.recipe)) else table
            for table in study.tables
        )  # fmt: skip
        if all(new is was for new, was in zip(tables, study.tables, strict=True)):
            break
        old = held
        study = msgspec.structs.replace(study, tables=tables)
    return study


def with_tether(study: Study, tether: Tether) -> Study:
    """The study with the tether of this id replaced, and every computed column right."""
    tethers = tuple(tether if old.id == tether.id else old for old in study.tethers)
    return refreshed(msgspec.structs.replace(study, tethers=tethers))


def refreshed(study: Study) -> Study:
    """The study with every such column worked out from the present tethers; one pass, so no circles."""
    tables = tuple(_table(study, table) for table in study.tables)
    if all(new is old for new, old in zip(tables, study.tables, strict=True)):
        return study
    return msgspec.structs.replace(study, tables=tables)


def row_figures(study: Study, tether: Tether, what: RowFigure) -> Floats:
    """One figure of the line for each row of its table, (rows,); NaN for rows out of play."""
    line = InPlay(study, tether)
    cells = np.full(line.table.rows, np.nan)
    if not line.tied or any(isinstance(one.formula, OfTether) for one in (line.x_column, line.y_column)):
        return cells  # a line through its own residuals says nothing
    try:
        rows = line.rows
    except Refusal:
        return cells
    cells[line.pairs.at] = getattr(rows, what)
    return cells


def rests_on(study: Study, table: Table, column: Column) -> tuple[str, ...]:
    """The columns of its table that this one is worked out from, however far back, in the order of the table."""
    found: set[str] = set()
    waiting = [column]
    while waiting:
        formula = waiting.pop().formula
        inputs = inputs_of(formula)
        if isinstance(formula, OfTether):
            of = next((one for one in study.tethers if one.id == formula.tether), None)
            inputs = (
                {one for one in (of.x, of.y) if one} if of is not None and of.table == table.id else set()
            )
        fresh = {one for one in inputs if one not in found and table.has(one)}
        found |= fresh
        waiting += [table.column(one) for one in fresh]
    return tuple(one.id for one in table.columns if one.id in found)


def _table(study: Study, table: Table) -> Table:
    if not any(isinstance(column.formula, OfTether) for column in table.columns):
        return table
    columns = []
    for column in table.columns:
        right = column
        if isinstance(column.formula, OfTether):
            of = column.formula.tether
            tether = next((one for one in study.tethers if one.id == of and one.table == table.id), None)
            if tether is not None:
                cells = row_figures(study, tether, column.formula.what)
                if not np.array_equal(cells, column.cells, equal_nan=True):
                    right = msgspec.structs.replace(column, cells=cells, strays={})
        columns.append(right)
    if all(new is old for new, old in zip(columns, table.columns, strict=True)):
        return table
    return recomputed(msgspec.structs.replace(table, columns=tuple(columns)), table)
