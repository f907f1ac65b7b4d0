"""The line of pairs whose rows are elsewhere, by their sums."""

from __future__ import annotations

from bright_tether.core.line.fit import Fit, no_more_than_rounding
from bright_tether.core.once import once
from bright_tether.core.pairs import require
from bright_tether.core.results import ConstantColumn
from bright_tether.core.sums.along import BothBy, Levels, Steps, StepsBy, SumsAndSteps, levels_of
from bright_tether.core.sums.residual import (
    TIGHT,
    ResidualSums,
    SecondSums,
    Squares,
    residuals_by,
    second_of_sums,
)
from bright_tether.core.sums.summed import Elsewhere, SummedPairs

#: More pairs than these are not put in order of x for checks alone.
MOST_IN_ORDER = 1 << 24
#: Of what a line explains, what may be left of it by rounding alone.
_ROUNDING = 2.0**-100


class SummedFit(Elsewhere, Fit):
    """A line by the sums of its pairs; the second pass is made when something asks for it."""

    @property
    def elsewhere(self) -> bool:
        """Only the sums are at hand."""
        return True

    @once
    def second(self) -> SecondSums | None:
        """The sums over its residuals; None where every one is zero."""
        if self.exact:
            return None
        where, by = self._summed.where, self._residuals
        return second_of_sums(where, by, where.total(by) if self._both is None else self._both.sums)

    @once
    def steps(self) -> Steps | None:
        """Neighbours in the stated order, else that of the table."""
        return None if self._both is None else self._both.steps

    @once
    def _both(self) -> SumsAndSteps | None:
        """What needs no order on the way of what does."""
        if self.exact:
            return None
        return self._summed.where.along(BothBy(self._residuals, StepsBy(self.at, self.nothing)))

    @property
    def _residuals(self) -> ResidualSums:
        return residuals_by(self.at, self._summed.powers, meats=True)

    @once
    def levels(self) -> Levels | None:
        """Residuals along rising x."""
        if self.exact or self.n > MOST_IN_ORDER:
            return None
        return self._summed.where.by_x(lambda stretches: levels_of(stretches, self.at, self.n))

    @property
    def _summed(self) -> SummedPairs:
        assert isinstance(self.pairs, SummedPairs)
        return self.pairs


def summed_line(pairs: SummedPairs) -> SummedFit:
    """The least-squares line of summed pairs. Raises TooFewPairs, ConstantColumn. Source: quantities §3."""
    require(pairs, 2)
    x, y = pairs.centred_x, pairs.centred_y
    if x.constant:
        raise ConstantColumn(pairs.n, pairs.ends_x[0])
    slope, explained = float(pairs.slope_exact), float(pairs.slope_exact) * pairs.products
    sse = max(float(pairs.sse_exact), 0.0)
    if sse + explained > 0 and sse < TIGHT**2 * explained:
        at = _line(pairs, max(sse, explained * _ROUNDING)).at
        sse = float(pairs.where.total(Squares(at)).rounded()[0]) * at.s**2
    return _line(pairs, 0.0 if y.constant or no_more_than_rounding(sse, pairs.n, x, y, slope) else sse)


def _line(pairs: SummedPairs, sse: float) -> SummedFit:
    return SummedFit(
        pairs=pairs, x=pairs.centred_x, y=pairs.centred_y, slope_exact=pairs.slope_exact, sum_products=pairs.products,
        sse=sse, base=float(pairs.n), weights=None, origin=False, weight_exponent=0,
    )  # fmt: skip
