"""A line as it was fitted, read by every later result."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from bright_tether.core.centred import Centred, unscaled
from bright_tether.core.exact import COMPENSATED_UP_TO
from bright_tether.core.once import once
from bright_tether.core.pairs import NOTHING, Pairs
from bright_tether.core.results import Floats, Ints
from bright_tether.core.sums.along import Levels, Steps
from bright_tether.core.sums.first import mean_powers
from bright_tether.core.sums.partial import HeldRows, Rows
from bright_tether.core.sums.residual import LineAt, SecondSums, second_sums, two_doubles

_EPSILON = 2.0**-52


@dataclass(frozen=True, kw_only=True, eq=False)
class Fit:
    """A line in scaled units: x in 2^x.exponent, y in 2^y.exponent.

    x, y : from their means (weighted where the line is, from 0 through the origin); their
    sum_squares carry the weights. residual : (n,), y − fitted, scaled, without weights.
    slope and intercept are exact sums of doubles, scaled. sse, sum_products : weighted.
    weights : (n,), in 2^weight_exponent (an even number), or None. base : Σ weights, n without them, infinite
    through the origin.
    """

    pairs: Pairs
    x: Centred
    y: Centred
    slope_exact: Fraction
    residual: Floats
    sum_products: float
    sse: float
    base: float
    weights: Floats | None = None
    origin: bool = False
    weight_exponent: int = 0

    @property
    def n(self) -> int:
        """Pairs in use."""
        return self.pairs.n

    @property
    def parameters(self) -> int:
        """Coefficients estimated: 2, or 1 through the origin."""
        return 1 if self.origin else 2

    @property
    def residual_df(self) -> int:
        """n less the coefficients estimated."""
        return self.n - self.parameters

    @once
    def root_weights(self) -> Floats | None:
        """√w, (n,), or None."""
        return None if self.weights is None else np.sqrt(self.weights)

    @once
    def weighted_residual(self) -> Floats:
        """What the checks look at: e, or √w·e, (n,), scaled."""
        return self.residual if self.root_weights is None else self.residual * self.root_weights

    @once
    def weighted_in_units(self) -> Floats:
        """The same in y units (times √weight units)."""
        return np.ldexp(self.weighted_residual, self.y.exponent + self.weight_exponent // 2)

    def leverage(self, part: slice = slice(None)) -> Floats:
        """The share of each fitted value that its own row decides."""
        high = self.x.high[part]
        values = high * (high * (1 / self.x.sum_squares))
        values += 1 / self.base
        return values if self.weights is None else values * self.weights[part]

    @once
    def columns(self) -> Floats:
        """What y is explained by at unit length, weighted, (parameters, n)."""
        root = np.ones(self.n) if self.root_weights is None else self.root_weights
        found = [self.x.high * root] if self.origin else [root, self.x.high * root]
        return np.stack([one / math.sqrt(float(np.dot(one, one))) for one in found])

    def left_of(self, term: Floats) -> Floats:
        """A term, (n,), less what the line's own columns explain of it, with weights.

        Taken away twice, so that what is left stands square on the columns to the last digits.
        """
        weight, x = self.weights, self.x.high
        for _ in range(2):
            if not self.origin:
                term = term - (term.mean() if weight is None else np.dot(term, weight) / self.base)
            joint = np.dot(term, x) if weight is None else np.dot(term * weight, x)
            term = term - joint / self.x.sum_squares * x
        return term if self.root_weights is None else term * self.root_weights

    @property
    def own_x(self) -> Centred:
        """What of x decides the slope: all of it, from its mean or from 0."""
        return self.x

    @property
    def index(self) -> Floats | None:
        """What the fitted values differ by where that is more than x, (n,); None where x is all."""
        return None

    @property
    def places(self) -> Ints:
        """Which rows have all that explains y alike: a code each, (n,)."""
        return self.pairs.places_x

    @property
    def places_many(self) -> int:
        """How many of those codes there are."""
        return self.pairs.distinct_x

    @property
    def elsewhere(self) -> bool:
        """Whether only sums over the rows are at hand."""
        return False

    @once
    def slope_scaled(self) -> float:
        """The slope in scaled units."""
        return float(self.slope_exact)

    @once
    def intercept_exact(self) -> Fraction:
        """ȳ − b·x̄ without rounding, scaled as y."""
        if self.origin:
            return Fraction(0)
        lifted = self.slope_exact * self.x.mean
        height = self.y.mean - lifted
        return Fraction(0) if abs(height) <= Fraction(NOTHING) * (abs(self.y.mean) + abs(lifted)) else height

    @once
    def s_scaled(self) -> float:
        """Residual standard deviation, scaled as y; NaN without degrees of freedom."""
        return math.sqrt(self.sse / self.residual_df) if self.residual_df > 0 else math.nan

    @once
    def mean_x_scaled(self) -> float:
        """x̄, scaled as x."""
        return float(self.x.mean)

    def slope_unscaled(self, value: float) -> float | None:
        """A slope from scaled to data units; None beyond double range."""
        return unscaled(value, self.y.exponent - self.x.exponent)

    def height_unscaled(self, value: float) -> float | None:
        """A height or residual from scaled to y units; None beyond double range."""
        return unscaled(value, self.y.exponent)

    def spread_unscaled(self, value: float) -> float | None:
        """s, or a residual times √weight, from scaled to y units; None beyond double range."""
        return unscaled(value, self.y.exponent + self.weight_exponent // 2)

    def square_unscaled(self, value: float) -> float | None:
        """A weighted sum of squares from scaled to y units²; None beyond double range."""
        return unscaled(value, 2 * self.y.exponent + self.weight_exponent)

    @once
    def second(self) -> SecondSums | None:
        """The sums over the residuals of many rows; None where each row is looked at by itself: of few rows, of a line
        with weights or through the origin, and where every residual is zero.
        """
        if self.n <= COMPENSATED_UP_TO or self.weights is not None or self.origin or self.exact:
            return None
        size = math.sqrt(self.x.sum_squares / self.n)
        return self.second_of(HeldRows(self.pairs.x, self.pairs.y), mean_powers(self.x.high, size))

    def second_of(self, rows: Rows, powers: Floats) -> SecondSums:
        """The sums over the residuals of this line. powers : means of 1, z … z⁶ of its x."""
        return second_sums(rows, self.at, powers, meats=self.elsewhere)

    @once
    def steps(self) -> Steps | None:
        """Neighbours along the order of the rows where only sums are at hand; None in memory, or without an order."""
        return None

    @once
    def levels(self) -> Levels | None:
        """Residuals by their x where only sums are at hand; None in memory, or where nobody puts the rows in order."""
        return None

    @property
    def at(self) -> LineAt:
        """The line as a pass over its pairs needs it; some residual is not zero."""
        return LineAt(
            n=self.n, mean_x=two_doubles(self.x.mean), mean_y=two_doubles(self.y.mean),
            slope=two_doubles(self.slope_exact), size_x=math.sqrt(self.x.sum_squares / self.n), s=self.s_scaled,
            exponent_x=self.x.exponent, exponent_y=self.y.exponent,
        )  # fmt: skip

    @property
    def exact(self) -> bool:
        """Whether the residuals are no more than rounding: SSE counts as zero."""
        return self.sse == 0.0

    @property
    def nothing(self) -> float:
        """A residual no larger is zero where signs are told, scaled as y. Source: quantities §0."""
        reach = math.ldexp(self.y.largest, -self.y.exponent)
        reach += abs(self.slope_scaled) * math.ldexp(self.pairs.centred_x.largest, -self.x.exponent)
        return _EPSILON * reach


def no_more_than_rounding(sse: float, n: int, x: Centred, y: Centred, slope: float) -> bool:
    """Whether residuals of this sum of squares are what rounding of the values alone leaves. Source: quantities §0."""
    reach = math.ldexp(y.largest, -y.exponent) + abs(slope) * math.ldexp(x.largest, -x.exponent)
    return sse <= n * (8 * _EPSILON * reach) ** 2
