"""What every result of a tether rests on: its columns, its rows in play, its rules, the line in force.

Columns kept in the table and the results of every step read these from one memory.
"""

from __future__ import annotations

import re
from contextlib import suppress

import msgspec
import numpy as np

from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.spread_power import SpreadPower, spread_power
from bright_tether.core.line.terms import line_of
from bright_tether.core.line.weights import (
    BY_FITTED,
    POWERS,
    NewWeight,
    WeightPattern,
    pattern_weights,
    plain_heights,
)
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs, take_pairs, weighted_pairs
from bright_tether.core.results import Alternative, Bools, Floats, Ints, NegativeWeight, Refusal
from bright_tether.study.declared import given, result
from bright_tether.study.memory import Memory
from bright_tether.study.rules import GroundRules, ground_rules
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.clock import Clock, measured, moments, usual_clock
from bright_tether.tables.column import Cells, Column
from bright_tether.tables.filters import Condition, kept_rows
from bright_tether.tables.formula import Expression
from bright_tether.tables.table import Table
from bright_tether.tables.texts import Texts

#: What a date on an axis is called, before the day it is counted from.
TIME_SINCE = "time since"
_POWER = re.compile(r'1/"[^"]+"\*\*([12])')


class NothingTied(Refusal):
    """x or y is not chosen yet."""


class NotNumbers(Refusal):
    """A tied column holds no numbers. name : its header."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name


def _numbers(column: Column) -> Floats:
    if not column.numeric:
        raise NotNumbers(column.name)
    return column.cells


def _unweighted(
    x: Floats,
    y: Floats,
    row_ids: Ints,
    asides: Ints,
    kept: Bools | None,
    beside: tuple[Cells, ...],
) -> Pairs:
    """The rows in play as they are without weights. Source: quantities §0."""
    out = np.isin(row_ids, asides) if asides.size else None
    return take_pairs(_where_there(x, *beside) if beside else x, y, set_aside=out, kept=kept)


def _pairs(
    unweighted: Pairs,
    x: Floats,
    weights: Floats | None,
    pattern: WeightPattern | None,
    power: SpreadPower | None,
) -> Pairs:
    """The rows in play, with the weights where there are some. Raises NegativeWeight."""
    if pattern is not None:
        fitted = _plain_heights(unweighted, x.size) if pattern in BY_FITTED else None
        return weighted_pairs(unweighted, np.nan_to_num(pattern_weights(x, pattern, fitted, power)))
    return unweighted if weights is None else weighted_pairs(unweighted, weights)


def _spread_power(pairs: Pairs | None, pattern: WeightPattern | None, level: float) -> SpreadPower | None:
    """The power of the spread where weights follow one."""
    of = POWERS.get(pattern or "")
    return None if of is None or pairs is None else spread_power(pairs, of, level=level)


def _where_there(x: Floats, *columns: Cells) -> Floats:
    """x, blank wherever another column is: no finite number, or no text."""
    lacking = np.zeros(x.size, bool)
    for cells in columns:
        if cells.dtype == object:
            lacking |= _blank(cells)
        else:
            lacking |= ~np.isfinite(cells)
    return np.where(lacking, np.nan, x)


def _blank(cells: Cells) -> Bools:
    """Where nothing but spaces stands, (rows,)."""
    if isinstance(cells, Texts):
        return cells.by_word(_blank)
    return np.array([not str(text).strip() for text in cells.tolist()], bool)


def _plain_heights(pairs: Pairs, rows: int) -> Floats:
    """Fitted values of the plain line, (rows,), NaN for rows out of play, and where there is no line."""
    heights = np.full(rows, np.nan)
    with suppress(Refusal):
        heights[pairs.at] = plain_heights(fit_line(pairs), pairs.x)
    return heights


def _fit(plain: Fit | None, pairs: Pairs, origin: bool) -> Fit:
    """The line in force: plain, with weights, or through the origin."""
    if plain is not None:
        return plain
    return line_of(pairs, origin=origin)


def _timed(column: Column, clock: Clock) -> Column:
    """A date column as numbers by a clock."""
    name = f"{TIME_SINCE} {clock.since} ({clock.unit})"
    cells = measured(column.along, clock)
    return msgspec.structs.replace(column, name=name, kind="number", cells=cells, clock=clock)


class InPlay:
    """One tether of one study. The rows in play always answer; what is fitted raises Refusal."""

    def __init__(
        self, study: Study, tether: Tether, memory: Memory | None = None, *, needed: tuple[str, ...] = ()
    ) -> None:
        """needed : further columns without which a row counts as missing."""
        self.study, self.tether, self.owner, self._needed = study, tether, tether.id, needed
        self.memory = study.memory if memory is None else memory

    @once
    def table(self) -> Table:
        """The tether's table."""
        return self.study.table(self.tether.table)

    @once
    def rules(self) -> GroundRules:
        """The ground rules in force."""
        return ground_rules(self.study.rules, self.tether.rules)

    @once
    def x_column(self) -> Column:
        """The explanatory column; a date as numbers by the clock. Raises NothingTied."""
        return self.measured(self._column(self.tether.x))

    @once
    def y_column(self) -> Column:
        """The response column; a date as numbers by the clock. Raises NothingTied."""
        return self.measured(self._column(self.tether.y))

    @once
    def clock(self) -> Clock | None:
        """How a date on an axis is measured; None where x is no date."""
        column = self._column(self.tether.x)
        return self._clock_of(column) if column.kind == "date" else None

    def _clock_of(self, column: Column) -> Clock:
        if self.tether.clock is not None:
            return self.tether.clock
        found = self.memory.keep((self.table.id, "clock", column.id), usual_clock, self.along(column))
        return found or Clock("days", "2000-01-01")

    def measured(self, column: Column) -> Column:
        """A column as an axis has it: a date as numbers by the clock."""
        if column.kind != "date":
            return column
        return self.memory.keep((self.owner, "timed", column.id), _timed, column, self._clock_of(column))

    def along(self, column: Column) -> Cells:
        """A column's cells, (rows,), which stand in their order: the moments of dates, else the cells."""
        if column.kind != "date":
            return column.cells
        return self.memory.keep((self.table.id, "moments", column.id), moments, column.cells)

    @given
    def alpha(self) -> float:
        """α in force."""
        return self.rules.alpha

    @given
    def level(self) -> float:
        """The confidence level in force."""
        return self.rules.level

    @given
    def alternative(self) -> Alternative:
        """The alternative in force."""
        return self.rules.alternative

    @given
    def x_cells(self) -> Floats:
        """x, (rows,). Raises NothingTied, NotNumbers."""
        return _numbers(self.x_column)

    @given
    def y_cells(self) -> Floats:
        """y, (rows,). Raises NothingTied, NotNumbers."""
        return _numbers(self.y_column)

    @given
    def row_ids(self) -> Ints:
        """The ids of the table's rows, (rows,)."""
        return self.table.row_ids

    @given
    def aside_rows(self) -> Ints:
        """The ids of the rows set aside, (m,)."""
        return self.tether.asides.rows

    @given
    def conditions(self) -> tuple[Condition, ...]:
        """The row filter, less what is said of columns that are gone."""
        return tuple(one for one in self.tether.conditions if self.table.has(one.column))

    @given
    def filtered(self) -> tuple[Cells, ...]:
        """The cells that each condition is about."""
        return tuple(self.table.column(one.column).cells for one in self.conditions)

    @given
    def beside(self) -> tuple[Cells, ...]:
        """The cells of the columns beside x and y without which a row counts as missing."""
        chosen = self.tether.line
        named = (*self._needed, chosen.weights, chosen.order, chosen.cluster)
        return tuple(self.along(self.table.column(one)) for one in named if one and self.table.has(one))

    @given
    def weights(self) -> Floats | None:
        """The weights by a column, (rows,); None without one."""
        named = self.tether.line.weights
        return self.table.column(named).numbers if named and self.table.has(named) else None

    @given
    def weight_pattern(self) -> WeightPattern | None:
        """The rule that gives the weights instead of a column."""
        return self.tether.line.weight_pattern

    @given
    def origin(self) -> bool:
        """Whether the line goes through the origin."""
        return self.tether.line.origin

    kept = result(kept_rows, conditions, filtered)
    unweighted = result(_unweighted, x_cells, y_cells, row_ids, aside_rows, kept, beside)

    @given
    def unweighted_where_a_power_is_fitted(self) -> Pairs | None:
        """The rows in play without weights; None where no power is asked for, so that they need not be made."""
        return self.unweighted if self.tether.line.weight_pattern in POWERS else None

    spread_power = result(_spread_power, unweighted_where_a_power_is_fitted, weight_pattern, level)
    pairs = result(_pairs, unweighted, x_cells, weights, weight_pattern, spread_power)
    plain = result(fit_line, pairs)

    @property
    def counted(self) -> Pairs:
        """The rows in play to count and name: pairs, or where a weight below 0 forbids a line, without weights."""
        try:
            return self.pairs
        except NegativeWeight:
            return self.unweighted

    @given
    def plain_if_in_force(self) -> Fit | None:
        """The plain line where it is the one in force."""
        return None if self.origin or self.pairs.weights is not None else self.plain

    fit = result(_fit, plain_if_in_force, pairs, origin)
    rows = result(RowByRow, fit)

    @given
    def new_weight(self) -> NewWeight | None:
        """What a new case weighs on a line with weights, None where nothing says so."""
        chosen = self.tether.line
        if chosen.new_weight is not None:
            return NewWeight(stated=chosen.new_weight)
        if chosen.weight_pattern is not None:
            return NewWeight(pattern=chosen.weight_pattern, power=self.spread_power)
        if chosen.weights is None or not self.table.has(chosen.weights):
            return None
        formula = self.table.column(chosen.weights).formula
        power = _POWER.fullmatch(formula.text.strip()) if isinstance(formula, Expression) else None
        if power is None or not isinstance(formula, Expression):
            return None
        if set(formula.columns.values()) != {self.tether.x}:
            return None
        return NewWeight(pattern="inverse-x" if power[1] == "1" else "inverse-x2")

    @property
    def tied(self) -> bool:
        """Whether x and y are both chosen."""
        return all(self.table.has(column) for column in (self.tether.x, self.tether.y))

    def _column(self, column_id: str | None) -> Column:
        if column_id is None or not self.table.has(column_id):
            raise NothingTied
        return self.table.column(column_id)
