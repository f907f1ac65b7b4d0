"""Results of the fitted line."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from bright_tether.core.checks.together import checks
from bright_tether.core.conformal import Conformal, conformal, forecast_by_ranks, inverse_by_ranks
from bright_tether.core.forecast import Forecasts, dfs_at, forecast
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
from bright_tether.core.line.figures import line
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.sums import Sums, sums
from bright_tether.core.line.theil_sen import TheilSen, theil_sen
from bright_tether.core.line.weights import NewWeight
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Alternative, Cause, Ints
from bright_tether.core.shape.form import Gaps, gaps_in
from bright_tether.live.basis import Basis
from bright_tether.study.declared import family, given, result
from bright_tether.tables.column import Cells
from bright_tether.tables.texts import named

#: Points at which the interval band is drawn.
BAND_POINTS = 81


def _gaps(pairs: Pairs) -> Gaps:
    """Where nothing was measured inside the range of x."""
    require(pairs, 1)
    return gaps_in(pairs.ordered_x)


def _against(level: float, alternative: Alternative, slope_0: float, intercept_0: float) -> Hypotheses:
    """What the coefficients are tested against."""
    return Hypotheses(level=level, alternative=alternative, slope_0=slope_0, intercept_0=intercept_0)


def _line_sums(fit: Fit, plain: Fit, plain_sums: Sums, level: float) -> Sums:
    """The sums as the line in force has them: with weights, or about 0."""
    return plain_sums if fit is plain else sums(fit, level)


def _plain_rows(plain: Fit, fit: Fit, rows: RowByRow) -> RowByRow:
    """The plain line row by row, whatever line is in force."""
    return rows if fit is plain else RowByRow(plain)


def _order(cells: Cells | None, pairs: Pairs) -> Ints | None:
    """Places of the pairs in the stated order, (n,); None for table order."""
    return None if cells is None else np.argsort(cells[pairs.at], kind="stable")


def _clusters(cells: Cells | None, pairs: Pairs) -> Ints | None:
    """The cluster of each pair as a code, (n,); None without a column for it."""
    if cells is None:
        return None
    return named(cells[pairs.at])[0]


def codes_of(names: Iterable[str], known: dict[str, int]) -> Ints:
    """Names as codes from 0 in the order in which they are first met. known : those met before, added to."""
    return np.array([known.setdefault(name, len(known)) for name in names], np.int64)


def _errors_by(kind: ErrorKind, fit: Fit, order: Ints | None, clusters: Ints | None) -> Errors:
    """The errors of one kind. Raises NoErrors."""
    return errors_of(fit, kind, order=order, clusters=clusters)


def _theil_sen(pairs: Pairs, level: float) -> TheilSen:
    """The resistant line."""
    return theil_sen(pairs, level=level)


def _deming(fit: Fit, error_ratio: float, level: float) -> Deming:
    """The line for errors in both columns."""
    return deming(fit, error_ratio=error_ratio, level=level)


def _conformal(fit: Fit, new: NewWeight | None, kind: ErrorKind) -> Conformal | Cause:
    """The rows that a new case is ranked among, or why they promise nothing for it."""
    return Cause.RANKS_OF_CASES if kind == "clustered" else conformal(fit, new)


def zero_is_near(low: float, high: float) -> bool:
    """Whether x = 0 lies inside the measured range, or beyond it by no more than a tenth of its width."""
    margin = (high - low) / 10
    return low - margin <= 0 <= high + margin


def _band(fit: Fit, level: float, errors: Errors | Cause | None, new: NewWeight | None) -> Forecasts:
    """The line and its intervals across the measured range, and to x = 0 where that is near."""
    low, high = fit.pairs.ends_x
    start = min(low, 0.0) if zero_is_near(low, high) else low
    end = max(high, 0.0) if zero_is_near(low, high) else high
    return forecast(fit, np.linspace(start, end, BAND_POINTS), level=level, errors=errors, new=new)


class LineResults(Basis):
    """The line, its rows, its errors, its checks, its forecasts."""

    @given
    def slope_0(self) -> float:
        """The slope that is tested against."""
        return self.tether.line.slope_0

    @given
    def intercept_0(self) -> float:
        """The intercept that is tested against."""
        return self.tether.line.intercept_0

    @given
    def error_ratio(self) -> float:
        """Variance of the errors of y over that of x, for a line with errors in both."""
        return self.tether.line.error_ratio

    @given
    def order_cells(self) -> Cells | None:
        """The column that says in which order the rows came."""
        named = self.tether.line.order
        return None if named is None or not self.table.has(named) else self.along(self.table.column(named))

    @given
    def cluster_cells(self) -> Cells | None:
        """The column that says which rows belong to one case."""
        return self._cells(self.tether.line.cluster)

    against = result(_against, Basis.level, Basis.alternative, slope_0, intercept_0)
    line = result(line, Basis.fit, against)
    plain_line = result(line.make, Basis.plain, against)
    sums = result(sums, Basis.plain, Basis.level)
    line_sums = result(_line_sums, Basis.fit, Basis.plain, sums, Basis.level)
    plain_rows = result(_plain_rows, Basis.plain, Basis.fit, Basis.rows)
    order = result(_order, order_cells, Basis.pairs)
    clusters = result(_clusters, cluster_cells, Basis.pairs)
    errors_by = family(_errors_by, Basis.fit, order, clusters)

    @given
    def errors_chosen(self) -> Errors:
        """The errors of the kind chosen, as they are by themselves. Raises NoErrors."""
        return self.errors_by(self.tether.line.errors)

    errors = result(in_force, Basis.fit, errors_chosen)

    @given
    def errors_named(self) -> Errors | Cause | None:
        """The errors in force where they are not the classical ones, or why they have no value."""
        if self.tether.line.errors == "classical":
            return None
        try:
            return self.errors
        except NoErrors as none:
            return none.cause

    @given
    def error_kind_chosen(self) -> ErrorKind:
        """The errors that were chosen."""
        return self.tether.line.errors

    conformal = result(_conformal, Basis.fit, Basis.new_weight, error_kind_chosen)

    @property
    def by_ranks(self) -> bool:
        """Whether the interval for one case is by the ranks of residuals."""
        return self.tether.forecast.width == "ranks"

    gaps = result(_gaps, Basis.pairs)
    theil_sen = result(_theil_sen, Basis.pairs, Basis.level)
    deming = result(_deming, Basis.plain, error_ratio, Basis.level)
    checks = result(checks, Basis.fit, order)
    band = result(_band, Basis.fit, Basis.level, errors_named, Basis.new_weight)

    @property
    def plain_s(self) -> float | None:
        """The plain line's typical residual, in y units."""
        return self.plain.height_unscaled(self.plain.s_scaled)

    @once
    def usable(self) -> bool:
        """Whether the errors in force have a value. Raises NoErrors."""
        return self.errors.df > 0

    def coefficients_by(self, kind: ErrorKind) -> Coefficients:
        """Slope and intercept judged by one kind of errors. Raises NoErrors."""
        key = (self.owner, "coefficients_by", kind)
        return self.memory.keep(key, coefficients_by, self.fit, self.errors_by(kind), self.against)

    @given
    def coefficients(self) -> Coefficients:
        """Slope and intercept judged by the errors in force. Raises NoErrors."""
        return self.coefficients_by(self.errors.kind)

    @property
    def lag(self) -> int:
        """How many neighbours the alike-neighbours errors look back to."""
        return lag_for(self.fit.n)

    def forecasts(self, x: tuple[float, ...], mean_of: int = 1, level: float | None = None) -> Forecasts:
        """What to expect at each x, the interval for one case as it is in force."""
        found = self.by_spread(x, mean_of, level)
        if not self.by_ranks:
            return found
        return forecast_by_ranks(found, self.conformal, level=level or self.rules.level, mean_of=mean_of)

    def by_spread(self, x: tuple[float, ...], mean_of: int = 1, level: float | None = None) -> Forecasts:
        """What to expect at each x, the interval for one case by the spread about the line."""
        return forecast(self.fit, np.array(x, float), level=level or self.rules.level, mean_of=mean_of,
                        errors=self.errors_named, new=self.new_weight)  # fmt: skip

    def forecast_df(self, x: float) -> float:
        """The df of t at one x: fewer than those of the line where a fitted power tells less of the spread there."""
        return float(dfs_at(self.fit, np.array([x]), self.errors.df, self.new_weight)[0])

    def inverse(self, y: float, mean_of: int | None = 1) -> Inverse:
        """Which x gives this y; mean_of None for the mean response."""
        ranks = mean_of is not None and self.by_ranks
        found = inverse(self.fit, y, level=self.rules.level, mean_of=None if ranks else mean_of,
                        errors=self.errors_named, new=self.new_weight)  # fmt: skip
        if not ranks or mean_of is None:
            return found
        return inverse_by_ranks(found, self.conformal, level=self.rules.level, mean_of=mean_of)

    def _cells(self, column: str | None) -> Cells | None:
        return None if column is None or not self.table.has(column) else self.table.column(column).cells
