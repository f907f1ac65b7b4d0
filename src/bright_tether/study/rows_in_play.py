"""The pairs of a tether and the line in force through them, from the document alone."""

from __future__ import annotations

import re
from contextlib import suppress

import numpy as np

from bright_tether.core.line.otherwise import fit_origin, fit_weighted
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.weights import NewWeight, pattern_weights, plain_heights
from bright_tether.core.pairs import Pairs, take_pairs, weighted_pairs
from bright_tether.core.results import Refusal
from bright_tether.study.tether import Tether
from bright_tether.tables.filters import kept_rows
from bright_tether.tables.formula import Expression
from bright_tether.tables.table import Table

_POWER = re.compile(r'1/"[^"]+"\*\*([12])')


def named_columns(table: Table, tether: Tether, needed: tuple[str, ...] = ()) -> tuple[str, ...]:
    """Columns beside x and y without which a row counts as missing."""
    chosen = tether.line
    return tuple(
        one for one in (*needed, chosen.weights, chosen.order, chosen.cluster) if one and table.has(one)
    )


def pairs_of(
    table: Table, tether: Tether, *, kept: np.ndarray | None = None, needed: tuple[str, ...] = ()
) -> Pairs:
    """The rows in play. x and y must be columns of numbers of the table. kept : (rows,) by the filter.

    Raises NegativeWeight. Source: quantities §0.
    """
    x, y = (table.column(one).cells for one in (tether.x, tether.y))  # type: ignore[arg-type]
    columns = [table.column(one).cells for one in named_columns(table, tether, needed)]
    if columns:
        x = _where_there(x, *columns)
    out = np.isin(table.row_ids, [aside.row for aside in tether.asides]) if tether.asides else None
    told = take_pairs(x, y, set_aside=out, kept=kept)
    weights, pattern = tether.line.weights, tether.line.weight_pattern
    if pattern is not None:
        fitted = _plain_heights(told, table.rows) if pattern == "inverse-fitted2" else None
        shares = pattern_weights(table.column(tether.x or "").cells, pattern, fitted)
        return weighted_pairs(told, np.nan_to_num(shares))
    if weights and table.has(weights):
        return weighted_pairs(told, table.column(weights).numbers)
    return told


def _plain_heights(pairs: Pairs, rows: int) -> np.ndarray:
    """Fitted values of the plain line, (rows,), NaN for rows out of play, and where there is no line."""
    heights = np.full(rows, np.nan)
    with suppress(Refusal):
        heights[pairs.at] = plain_heights(fit_line(pairs), pairs.x)
    return heights


def new_weight_of(table: Table, tether: Tether) -> NewWeight | None:
    """What a new case weighs: as stated, by the pattern, or by the one that the weights' column follows."""
    chosen = tether.line
    if chosen.new_weight is not None:
        return NewWeight(stated=chosen.new_weight)
    if chosen.weight_pattern is not None:
        return NewWeight(pattern=chosen.weight_pattern)
    if chosen.weights is None or not table.has(chosen.weights):
        return None
    formula = table.column(chosen.weights).formula
    power = _POWER.fullmatch(formula.text.strip()) if isinstance(formula, Expression) else None
    if power is None or not isinstance(formula, Expression) or set(formula.columns.values()) != {tether.x}:
        return None
    return NewWeight(pattern="inverse-x" if power[1] == "1" else "inverse-x2")


def fit_of(pairs: Pairs, tether: Tether) -> Fit:
    """The line in force: plain, with weights, or through the origin."""
    if tether.line.origin:
        return fit_origin(pairs)
    return fit_line(pairs) if pairs.weights is None else fit_weighted(pairs)


def filter_of(table: Table, tether: Tether) -> np.ndarray | None:
    """Which rows the filter keeps, (rows,) bool; None without a filter."""
    return kept_rows(table, tether.conditions)


def _where_there(x: np.ndarray, *columns: np.ndarray) -> np.ndarray:
    """x, blank wherever another column is: no finite number, or no text."""
    lacking = np.zeros(x.size, bool)
    for cells in columns:
        if cells.dtype == object:
            lacking |= np.array([not str(text).strip() for text in cells.tolist()])
        else:
            lacking |= ~np.isfinite(cells)
    return np.where(lacking, np.nan, x)
