"""Columns that hold what a tether's line says of each row, kept right after every change."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec
import numpy as np

from bright_tether.core.line.row_by_row import row_by_row
from bright_tether.core.results import Refusal
from bright_tether.study.rows_in_play import filter_of, fit_of, pairs_of
from bright_tether.tables.computed import recomputed
from bright_tether.tables.formula import OfTether
from bright_tether.tables.table import Table

if TYPE_CHECKING:
    from bright_tether.study.study import Study
    from bright_tether.study.tether import Tether


def refreshed(study: Study) -> Study:
    """The study with every such column worked out from the present tethers; one pass, so no circles."""
    tables = tuple(_table(study, table) for table in study.tables)
    if all(new is old for new, old in zip(tables, study.tables, strict=True)):
        return study
    return msgspec.structs.replace(study, tables=tables)


def row_figures(table: Table, tether: Tether, what: str) -> np.ndarray:
    """One figure of the line for each row of the table, (rows,); NaN for rows out of play."""
    cells = np.full(table.rows, np.nan)
    tied = (tether.x, tether.y)
    if any(one is None or not table.has(one) or not table.column(one).numeric for one in tied):
        return cells
    if any(isinstance(table.column(one or "").formula, OfTether) for one in tied):
        return cells  # a line through its own misses says nothing
    try:
        fit = fit_of(pairs_of(table, tether, kept=filter_of(table, tether)), tether)
    except Refusal:
        return cells
    cells[fit.pairs.at] = getattr(row_by_row(fit), what)
    return cells


def _table(study: Study, table: Table) -> Table:
    if not any(isinstance(column.formula, OfTether) for column in table.columns):
        return table
    columns = []
    for column in table.columns:
        made = column
        if isinstance(column.formula, OfTether):
            tether = next((one for one in study.tethers if one.id == column.formula.tether), None)
            if tether is not None and tether.table == table.id:
                cells = row_figures(table, tether, column.formula.what)
                if not np.array_equal(cells, column.cells, equal_nan=True):
                    made = msgspec.structs.replace(column, cells=cells, strays={})
        columns.append(made)
    if all(new is old for new, old in zip(columns, table.columns, strict=True)):
        return table
    return recomputed(msgspec.structs.replace(table, columns=tuple(columns)), table)
