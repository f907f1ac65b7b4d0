"""What every result of a tether rests on: its columns, its rows in play, its rules, its fit."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from bright_tether.core.column import ColumnSummary, summarise
from bright_tether.core.line.plain import Fit, checked, fit_line
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Refusal
from bright_tether.live.cloud import Cloud, cloud, drawable
from bright_tether.live.memory import Memory
from bright_tether.study.rows_in_play import filter_of, fit_of, named_columns, pairs_of
from bright_tether.study.rules import GroundRules, ground_rules
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table


class NothingTied(Refusal):
    """x or y is not chosen yet."""


class NotNumbers(Refusal):
    """A tied column holds no numbers. name : its header."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name


class BeyondPictures(Refusal):
    """Values of such a size that no picture can put them on a page. name : the column's header."""

    def __init__(self, name: str, largest: float) -> None:
        super().__init__(name, largest)
        self.name, self.largest = name, largest


class Basis:
    """One tether of one study.

    Results raise Refusal where the pairs allow none; ``pairs``, ``rules`` and the columns always answer.
    """

    def __init__(
        self, study: Study, tether: Tether, memory: Memory | None = None, *, needed: tuple[str, ...] = ()
    ) -> None:
        """needed : further columns without which a row counts as missing."""
        self.study, self.tether, self._needed = study, tether, needed
        self._memory = memory if memory is not None else Memory()

    @cached_property
    def table(self) -> Table:
        """The tether's table."""
        return self.study.table(self.tether.table)

    @cached_property
    def rules(self) -> GroundRules:
        """The ground rules in force."""
        return ground_rules(self.study.rules, self.tether.rules)

    @cached_property
    def x_column(self) -> Column:
        """The explanatory column."""
        return self._column(self.tether.x)

    @cached_property
    def y_column(self) -> Column:
        """The response column."""
        return self._column(self.tether.y)

    @cached_property
    def tint_column(self) -> Column | None:
        """The column that tints the points, if any."""
        tint = self.tether.tint
        return self.table.column(tint) if tint and self.table.has(tint) else None

    @cached_property
    def pairs(self) -> Pairs:
        """The rows in play."""
        for column in (self.x_column, self.y_column):
            if not column.numeric:
                raise NotNumbers(column.name)
        asides = tuple(aside.row for aside in self.tether.asides)
        beside = named_columns(self.table, self.tether, self._needed)
        kept, line = self.kept, self.tether.line
        make = lambda *_: pairs_of(self.table, self.tether, kept=kept, needed=self._needed)  # noqa: E731
        inputs = (self.x_column.cells, self.y_column.cells, self.table.row_ids, asides, kept, line.weights)
        inputs = (*inputs, line.weight_pattern)
        return self._keep("pairs", make, *inputs, *(self.table.column(one).cells for one in beside))

    @cached_property
    def kept(self) -> np.ndarray | None:
        """Which rows the filter keeps, (rows,) bool; None without a filter."""
        filtered = tuple(
            self.table.column(c.column).cells for c in self.tether.conditions if self.table.has(c.column)
        )
        make = lambda *_: filter_of(self.table, self.tether)  # noqa: E731
        return self._keep("kept", make, self.tether.conditions, *filtered)

    @cached_property
    def cloud(self) -> Cloud | None:
        """The points that pictures show, None while x and y are not numbers that can be drawn."""
        if not self.tied or not (self.x_column.numeric and self.y_column.numeric) or not self.drawable:
            return None
        tint = self.tint_column.cells if self.tint_column else None
        asides = tuple(aside.row for aside in self.tether.asides)
        return self._keep(
            "cloud",
            cloud,
            self.x_column.cells,
            self.y_column.cells,
            self.table.row_ids,
            asides,
            tint,
            self.kept,
        )

    @cached_property
    def drawable(self) -> bool:
        """Whether pictures can show x and y: of numbers near the limits of float64 they cannot."""
        return self._keep("drawable", drawable, self.x_column.cells, self.y_column.cells)

    @property
    def _beyond(self) -> BeyondPictures:
        """Which column is to blame, and its number that lies furthest out."""
        sizes = []
        for column in (self.x_column, self.y_column):
            finite = np.abs(column.cells[np.isfinite(column.cells) & (column.cells != 0)])
            if finite.size:
                power = np.log10(finite)
                sizes.append((float(np.abs(power).max()), column.name, float(finite[np.abs(power).argmax()])))
        _, name, value = max(sizes)
        return BeyondPictures(name, value)

    def column_in_play(self, column: Column) -> np.ndarray:
        """Where a column has a number in a row in play, (k,) table positions; x and y as in the pairs."""
        both = self.tied and self.x_column.numeric and self.y_column.numeric
        if column.id in (self.tether.x, self.tether.y) and both:
            return self.pairs.at
        there = np.isfinite(column.cells)
        if self.kept is not None:
            there = there & self.kept
        asides = [aside.row for aside in self.tether.asides]
        return np.flatnonzero(there & ~np.isin(self.table.row_ids, asides))

    @cached_property
    def x_summary(self) -> ColumnSummary:
        """x of the pairs in figures."""
        return self._keep("x", lambda pairs: summarise(pairs.x, pairs.centred_x), self._some_pairs)

    @cached_property
    def y_summary(self) -> ColumnSummary:
        """y of the pairs in figures."""
        return self._keep("y", lambda pairs: summarise(pairs.y, pairs.centred_y), self._some_pairs)

    @cached_property
    def plain(self) -> Fit:
        """The plain least-squares fit, which r rests on."""
        return self._keep("plain", fit_line, self.pairs)

    @cached_property
    def fit(self) -> Fit:
        """The line in force: plain, with weights, or through the origin."""
        if not self.tether.line.origin and self.pairs.weights is None:
            return self.plain
        make = lambda pairs, *_: fit_of(pairs, self.tether)  # noqa: E731
        return self._keep("fit", make, self.pairs, self.tether.line.origin)

    @cached_property
    def usable(self) -> bool:
        """Whether all that every step asks of the line is there; steps say more. Raises Refusal."""
        return True

    @property
    def refusal(self) -> Refusal | None:
        """Why there is no line that every step can use, or None where there is one."""
        try:
            require(self.pairs, 3)
            if not self.drawable:
                raise self._beyond
            checked(self.plain), checked(self.fit), self.usable
        except Refusal as refusal:
            return refusal
        return None

    @property
    def tied(self) -> bool:
        """Whether x and y are both chosen."""
        return all(self.table.has(column) for column in (self.tether.x, self.tether.y))

    @property
    def _some_pairs(self) -> Pairs:
        require(self.pairs, 1)
        return self.pairs

    def _column(self, column_id: str | None) -> Column:
        if column_id is None or not self.table.has(column_id):
            raise NothingTied
        return self.table.column(column_id)

    def _tested(self, name, make, given):
        """A coefficient with its test by the rules in force."""
        rules = self.rules
        return self._keep(
            name, make, given, alpha=rules.alpha, alternative=rules.alternative, level=rules.level
        )

    def _keep(self, name, make, *inputs, **settings):
        return self._memory.keep((self.tether.id, name), make, *inputs, **settings)
