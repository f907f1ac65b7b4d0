"""Results of the fitted line."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from bright_tether.core.forecast import Forecasts, forecast
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.figures import Line, line
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.row_by_row import RowByRow, row_by_row
from bright_tether.core.line.sums import Sums, sums
from bright_tether.live.basis import Basis

#: Points at which the interval band is drawn.
BAND_POINTS = 81


class LineResults(Basis):
    """The line, its rows, its forecasts."""

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
    def band(self) -> Forecasts:
        """The line and its intervals across the measured range, and to x = 0 where that is near."""
        return self._keep("band", _band, self.fit, self.rules.level)

    def forecasts(self, x: tuple[float, ...], mean_of: int = 1) -> Forecasts:
        """What to expect at each x."""
        return forecast(self.fit, np.array(x, float), level=self.rules.level, mean_of=mean_of)


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
