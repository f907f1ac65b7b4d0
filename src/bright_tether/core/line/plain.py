"""The least-squares line: fitted once, then read by every later result."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from bright_tether.core.centred import Centred, fraction_unscaled, unscaled
from bright_tether.core.exact import COMPENSATED_UP_TO, dot, two_product, two_sum
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import ConstantColumn, Floats, Ints, OutOfRange

_EPSILON = 2.0**-52
#: A difference of this share of its parts is what pairs of doubles leave of an exact zero.
_NOTHING = Fraction(1, 2**90)


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
    def places(self) -> tuple[Ints, int]:
        """Which rows have all that explains y alike: a code each, (n,), and how many codes."""
        return self.pairs.codes_x[0], self.pairs.distinct_x

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
        return Fraction(0) if abs(height) <= _NOTHING * (abs(self.y.mean) + abs(lifted)) else height

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

    @property
    def exact(self) -> bool:
        """Whether the residuals are no more than rounding: SSE counts as zero."""
        return self.sse == 0.0


def fit_line(pairs: Pairs) -> Fit:
    """Fit y = intercept + slope·x by least squares.

    pairs : n ≥ 2, x not constant; two pairs leave no residuals and no degrees of freedom.
    Residuals are formed in pairs of doubles and the slope refined once from them (Björck 1967),
    so that on a tight line the residuals keep their digits.
    Raises TooFewPairs, ConstantColumn.
    Source: quantities §3; exact fits by §0.
    """
    require(pairs, 2)
    x, y = pairs.centred_x, pairs.centred_y
    if x.constant:
        raise ConstantColumn(pairs.n, float(pairs.x[0]))
    sum_products = products_of(pairs)
    slope = sum_products / x.sum_squares
    residual = residuals(x, y, slope)
    step = dot(x.high, x.low, residual, np.zeros(1)) / x.sum_squares if sum_products else 0.0
    if step:
        residual -= step * x.high
    exact_slope = Fraction(slope) + Fraction(step)
    sse = dot(residual, np.zeros(1), residual, np.zeros(1))
    reach = math.ldexp(y.largest, -y.exponent) + abs(slope) * math.ldexp(x.largest, -x.exponent)
    if sse <= pairs.n * (8 * _EPSILON * reach) ** 2:
        sse, residual = 0.0, np.zeros_like(residual)
    return Fit(
        pairs=pairs,
        x=x,
        y=y,
        slope_exact=exact_slope,
        residual=residual,
        sum_products=sum_products,
        sse=sse,
        base=float(pairs.n),
    )


def products_of(pairs: Pairs) -> float:
    """Sxy, scaled as x times as y; exactly 0 where rounding alone keeps it from that."""
    x, y = pairs.centred_x, pairs.centred_y
    products = dot(x.high, x.low, y.high, y.low)
    nothing = float(_NOTHING) * math.sqrt(x.sum_squares * y.sum_squares)
    return 0.0 if abs(products) <= nothing else products


def checked(fit: Fit) -> Fit:
    """The fit, for whoever needs every figure of it. Raises TooFewPairs below 3 pairs, and OutOfRange
    where no double holds its slope or height.
    """
    require(fit.pairs, 3)
    x, y = fit.x, fit.y
    slope_fits = fraction_unscaled(fit.slope_exact, y.exponent - x.exponent)
    if slope_fits is None or fraction_unscaled(fit.intercept_exact, y.exponent) is None:
        raise OutOfRange
    return fit


def residuals(x: Centred, y: Centred, slope: float) -> Floats:
    """(y − ȳ) − slope·(x − x̄), (n,), keeping what rounding drops while that pays."""
    if x.n > COMPENSATED_UP_TO:
        residual = x.high * -slope
        residual += y.high
        return residual
    product, dropped = two_product(x.high, np.float64(slope).reshape(1))
    residual, lost = two_sum(y.high, -product)
    return residual + (lost - dropped + y.low - slope * x.low)
