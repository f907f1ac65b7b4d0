"""Results of the fitted line."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from bright_tether.core.checks.together import Checks, checks
from bright_tether.core.forecast import Forecasts, forecast
from bright_tether.core.inverse import Inverse, inverse
from bright_tether.core.line.coefficients import Coefficients, Hypotheses
from bright_tether.core.line.deming import Deming, deming
from bright_tether.core.line.errors import (
    ErrorKind,
    Errors,
    NoErrors,
    coefficients_by,
    errors_of,
    in_force,
    lag_for,
)
from bright_tether.core.line.figures import Line, line
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.row_by_row import RowByRow, row_by_row
from bright_tether.core.line.sums import Sums, sums
from bright_tether.core.line.theil_sen import TheilSen, theil_sen
from bright_tether.core.line.weights import NewWeight
from bright_tether.core.results import Cause
from bright_tether.live.basis import Basis
from bright_tether.study.rows_in_play import new_weight_of

#: Points at which the interval band is drawn.
BAND_POINTS = 81


class LineResults(Basis):
    """The line, its rows, its errors, its checks, its forecasts."""

    @cached_property
    def against(self) -> Hypotheses:
        """What the coefficients are tested against."""
        rules, chosen = self.rules, self.tether.line
        return self._keep(
            "against", _against, rules.level, rules.alternative, chosen.slope_0, chosen.intercept_0
        )

    @cached_property
    def line(self) -> Line:
        """The line in figures."""
        return self._keep("line", line, self.fit, self.against)

    @cached_property
    def sums(self) -> Sums:
        """The sums that the line and r are worked out from."""
        return self._keep("sums", sums, self.plain, self.rules.level)

    @cached_property
    def line_sums(self) -> Sums:
        """The same sums as the line in force has them: with weights, or about 0."""
        if self.fit is self.plain:
            return self.sums
        return self._keep("line sums", sums, self.fit, self.rules.level)

    @cached_property
    def plain_rows(self) -> RowByRow:
        """The plain line row by row, whatever line is in force."""
        return self.rows if self.fit is self.plain else self._keep("plain rows", row_by_row, self.plain)

    @cached_property
    def plain_s(self) -> float | None:
        """The plain line's typical miss, in y units."""
        return self.plain.height_unscaled(self.plain.s_scaled)

    @cached_property
    def rows(self) -> RowByRow:
        """The line row by row."""
        return self._keep("rows", row_by_row, self.fit)

    @cached_property
    def order(self) -> np.ndarray | None:
        """Places of the pairs in the stated order, (n,); None for table order."""
        chosen = self.tether.line.order
        if chosen is None or not self.table.has(chosen):
            return None
        return self._keep("order", _in_order, self.table.column(chosen).cells, self.pairs.at)

    @cached_property
    def clusters(self) -> np.ndarray | None:
        """The cluster of each pair as a code, (n,); None without a column for it."""
        chosen = self.tether.line.cluster
        if chosen is None or not self.table.has(chosen):
            return None
        return self._keep("clusters", _codes, self.table.column(chosen).cells, self.pairs.at)

    @cached_property
    def usable(self) -> bool:
        """Whether the errors in force have a value. Raises NoErrors."""
        return self.errors.df > 0

    @property
    def new_weight(self) -> NewWeight | None:
        """What a new case weighs on a line with weights, None where nothing says so."""
        return new_weight_of(self.table, self.tether)

    def errors_by(self, kind: ErrorKind) -> Errors:
        """The errors of one kind. Raises NoErrors."""
        return self._keep(
            f"errors {kind}", errors_of, self.fit, kind, order=self.order, clusters=self.clusters
        )

    @cached_property
    def errors(self) -> Errors:
        """The errors in force. Raises NoErrors."""
        return self._keep("errors in force", in_force, self.fit, self.errors_by(self.tether.line.errors))

    def coefficients_by(self, kind: ErrorKind) -> Coefficients:
        """Slope and intercept judged by one kind of errors. Raises NoErrors."""
        return self._keep(
            f"coefficients {kind}", coefficients_by, self.fit, self.errors_by(kind), self.against
        )

    @cached_property
    def coefficients(self) -> Coefficients:
        """Slope and intercept judged by the errors in force. Raises NoErrors."""
        return self.coefficients_by(self.errors.kind)

    @property
    def lag(self) -> int:
        """How many neighbours the alike-neighbours errors look back to."""
        return lag_for(self.fit.n)

    @cached_property
    def theil_sen(self) -> TheilSen:
        """The resistant line."""
        return self._keep("theil sen", theil_sen, self.pairs, level=self.rules.level)

    @cached_property
    def deming(self) -> Deming:
        """The line for errors in both columns."""
        ratio = self.tether.line.error_ratio
        return self._keep("deming", deming, self.plain, error_ratio=ratio, level=self.rules.level)

    @cached_property
    def checks(self) -> Checks:
        """Every check of the misses."""
        return self._keep("checks", checks, self.fit, self.order)

    @cached_property
    def band(self) -> Forecasts:
        """The line and its intervals across the measured range, and to x = 0 where that is near."""
        return self._keep("band", _band, self.fit, self.rules.level, self._named_errors)

    def forecasts(self, x: tuple[float, ...], mean_of: int = 1, level: float | None = None) -> Forecasts:
        """What to expect at each x."""
        return forecast(
            self.fit,
            np.array(x, float),
            level=level or self.rules.level,
            mean_of=mean_of,
            errors=self._named_errors,
            new=self.new_weight,
        )

    def inverse(self, y: float, mean_of: int | None = 1) -> Inverse:
        """Which x gives this y; mean_of None for the mean response."""
        return inverse(
            self.fit,
            y,
            level=self.rules.level,
            mean_of=mean_of,
            errors=self._named_errors,
            new=self.new_weight,
        )

    @property
    def _named_errors(self) -> Errors | Cause | None:
        """The errors in force where they are not the classical ones, or why they have no value."""
        if self.tether.line.errors == "classical":
            return None
        try:
            return self.errors
        except NoErrors as none:
            return none.cause


def _in_order(cells: np.ndarray, at: np.ndarray) -> np.ndarray:
    return np.argsort(cells[at], kind="stable")


def _codes(cells: np.ndarray, at: np.ndarray) -> np.ndarray:
    known: dict[str, int] = {}
    return np.array([known.setdefault(str(cell), len(known)) for cell in cells[at].tolist()], np.int64)


def _against(level: float, alternative, slope_0: float, intercept_0: float) -> Hypotheses:
    return Hypotheses(level=level, alternative=alternative, slope_0=slope_0, intercept_0=intercept_0)


def zero_is_near(low: float, high: float) -> bool:
    """Whether x = 0 lies inside the measured range, or beyond it by no more than a tenth of its width."""
    margin = (high - low) / 10
    return low - margin <= 0 <= high + margin


def _band(fit: Fit, level: float, errors: Errors | None) -> Forecasts:
    low, high = float(fit.pairs.x.min()), float(fit.pairs.x.max())
    start = min(low, 0.0) if zero_is_near(low, high) else low
    end = max(high, 0.0) if zero_is_near(low, high) else high
    return forecast(fit, np.linspace(start, end, BAND_POINTS), level=level, errors=errors)
