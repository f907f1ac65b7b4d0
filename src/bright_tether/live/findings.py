"""All that is known of one tether: each result asked for is made once and kept."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import cached_property

import numpy as np

from bright_tether.core.column import ColumnSummary, summarise
from bright_tether.core.decision import Decision, decide
from bright_tether.core.forecast import Forecasts, forecast
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.figures import Line, line
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.row_by_row import RowByRow, row_by_row
from bright_tether.core.line.sums import Sums, sums
from bright_tether.core.pairs import Pairs, require, take_pairs
from bright_tether.core.results import Refusal
from bright_tether.core.strength.agreement import Agreement, agreement
from bright_tether.core.strength.kendall import Kendall, kendall
from bright_tether.core.strength.pearson import Covariance, Pearson, covariance, pearson
from bright_tether.core.strength.spearman import Spearman, spearman
from bright_tether.core.strength.within import WithinGroups, within_groups
from bright_tether.live.cloud import Cloud, cloud
from bright_tether.live.memory import Memory
from bright_tether.study.rules import GroundRules, ground_rules
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.filters import kept_rows
from bright_tether.tables.slips import Slip, likely_slips
from bright_tether.tables.table import Table

#: Points at which the interval band is drawn.
BAND_POINTS = 81


class NothingTied(Refusal):
    """x or y is not chosen yet."""


class NotNumbers(Refusal):
    """A tied column holds no numbers. name : its header."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name


class Findings:
    """The results of one tether of one study.

    Results raise Refusal where the pairs allow none; ``pairs``, ``rules`` and the columns always answer.
    """

    def __init__(
        self,
        study: Study,
        tether: Tether,
        memory: Memory | None = None,
        *,
        slope_0: float = 0.0,
        intercept_0: float = 0.0,
        needed: str | None = None,
    ) -> None:
        """needed : a text column without which a row counts as missing."""
        self.study, self.tether, self._needed = study, tether, needed
        self._memory = memory if memory is not None else Memory()
        self._null = (slope_0, intercept_0)

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
        x = self.x_column.cells
        if self._needed is not None:
            blank = np.array(
                [not str(text).strip() for text in self.table.column(self._needed).cells.tolist()]
            )
            x = np.where(blank, np.nan, x)
        return self._keep("pairs", _pairs, x, self.y_column.cells, self.table.row_ids, asides, self.kept)

    @cached_property
    def kept(self) -> np.ndarray | None:
        """Which rows the filter keeps, (rows,) bool; None without a filter."""
        filtered = tuple(
            self.table.column(c.column).cells for c in self.tether.conditions if self.table.has(c.column)
        )
        make = lambda conditions, *_: kept_rows(self.table, conditions)  # noqa: E731
        return self._keep("kept", make, self.tether.conditions, *filtered)

    @cached_property
    def cloud(self) -> Cloud | None:
        """The points that pictures show, or None while x and y are not both columns of numbers."""
        if not self.tied or not (self.x_column.numeric and self.y_column.numeric):
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
    def slips(self) -> tuple[Slip, ...]:
        """Likely slips in the table."""
        cells = tuple(column.cells for column in self.table.columns)
        limits = tuple((c.id, c.low, c.high, c.kind) for c in self.table.columns)
        make = lambda *_: likely_slips(self.table)  # noqa: E731
        return self._memory.keep((self.tether.table, "slips"), make, self.table.dismissed, limits, *cells)

    @cached_property
    def x_summary(self) -> ColumnSummary:
        """x of the pairs in figures."""
        return self._keep("x", lambda pairs: summarise(pairs.x, pairs.centred_x), self._some_pairs)

    @cached_property
    def y_summary(self) -> ColumnSummary:
        """y of the pairs in figures."""
        return self._keep("y", lambda pairs: summarise(pairs.y, pairs.centred_y), self._some_pairs)

    @cached_property
    def fit(self) -> Fit:
        """The least-squares fit."""
        return self._keep("fit", fit_line, self.pairs)

    @cached_property
    def line(self) -> Line:
        """The line in figures."""
        rules = self.rules
        against = self._keep("against", _against, rules.level, rules.alternative, *self._null)
        return self._keep("line", line, self.fit, against)

    @cached_property
    def sums(self) -> Sums:
        """The sums that the line and r are worked out from."""
        return self._keep("sums", sums, self.fit, self.rules.level)

    @cached_property
    def rows(self) -> RowByRow:
        """The line row by row."""
        return self._keep("rows", row_by_row, self.fit)

    @cached_property
    def covariance(self) -> Covariance:
        """Covariance of x and y."""
        return self._keep("covariance", covariance, self.fit)

    @cached_property
    def pearson(self) -> Pearson:
        """Pearson's r."""
        return self._tested("pearson", pearson, self.fit)

    @cached_property
    def spearman(self) -> Spearman:
        """Spearman's ρ."""
        return self._tested("spearman", spearman, self.pairs)

    @cached_property
    def kendall(self) -> Kendall:
        """Kendall's τ."""
        return self._tested("kendall", kendall, self.pairs)

    @cached_property
    def agreement(self) -> Agreement:
        """Agreement of x and y, for two columns in one unit."""
        return self._keep("agreement", agreement, self.pairs, self.rules.level)

    @cached_property
    def within_groups(self) -> WithinGroups | None:
        """r inside the groups of the tint, None without one."""
        tint = self.tint_column
        if tint is None:
            return None
        return self._keep("within", _within, self.pairs, tint.cells)

    @cached_property
    def decision(self) -> Decision:
        """What the deciding test says."""
        return self._keep(
            "decision",
            decide,
            self.rules.decide,
            correlation=self.pearson,
            line=self.line,
            spearman=self.spearman if self.rules.decide == "spearman" else None,
            kendall=self.kendall if self.rules.decide == "kendall" else None,
            alpha=self.rules.alpha,
            alternative=self.rules.alternative,
        )

    @cached_property
    def band(self) -> Forecasts:
        """The line and its intervals across the measured range, and to x = 0 where that is near."""
        return self._keep("band", _band, self.fit, self.rules.level)

    def forecasts(self, x: tuple[float, ...], mean_of: int = 1) -> Forecasts:
        """What to expect at each x."""
        return forecast(self.fit, np.array(x, float), level=self.rules.level, mean_of=mean_of)

    def prepare(self, cancelled: Callable[[], bool] = lambda: False) -> None:
        """Make everything a step shows, so that asking is free afterwards. Refusals are kept.

        cancelled is asked between results.
        """
        for name in (
            "cloud",
            "x_summary",
            "y_summary",
            "line",
            "rows",
            "pearson",
            "decision",
            "covariance",
            "band",
        ):
            if cancelled():
                return
            with suppress(Refusal):
                getattr(self, name)

    @property
    def refusal(self) -> Refusal | None:
        """Why there is no line, or None where there is one."""
        try:
            self.fit  # noqa: B018
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


def _pairs(
    x: np.ndarray, y: np.ndarray, row_ids: np.ndarray, asides: tuple[int, ...], kept: np.ndarray | None
) -> Pairs:
    return take_pairs(x, y, set_aside=np.isin(row_ids, asides) if asides else None, kept=kept)


def _within(pairs: Pairs, cells: np.ndarray) -> WithinGroups:
    return within_groups(pairs, [str(cell) for cell in cells[pairs.at].tolist()])


def _against(level: float, alternative, slope_0: float, intercept_0: float) -> Hypotheses:
    return Hypotheses(level=level, alternative=alternative, slope_0=slope_0, intercept_0=intercept_0)


def zero_is_near(low: float, high: float) -> bool:
    """Whether x = 0 lies inside the measured range, or beyond it by no more than a tenth of its width."""
    margin = (high - low) / 10
    return low - margin <= 0 <= high + margin


def _band(fit: Fit, level: float) -> Forecasts:
    low, high = float(fit.pairs.x.min()), float(fit.pairs.x.max())
    start = min(low, 0.0) if zero_is_near(low, high) else low
    end = max(high, 0.0) if zero_is_near(low, high) else high
    return forecast(fit, np.linspace(start, end, BAND_POINTS), level=level)
