"""The least-squares line: fitted once, then read by every later result."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np

from bright_tether.core.centred import Centred, fraction_unscaled
from bright_tether.core.exact import COMPENSATED_UP_TO, dot, two_product, two_sum
from bright_tether.core.line.fit import Fit, no_more_than_rounding
from bright_tether.core.line.summed import summed_line
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import ConstantColumn, Floats, OutOfRange
from bright_tether.core.sums.partial import HeldRows
from bright_tether.core.sums.residual import TIGHT
from bright_tether.core.sums.summed import Counted, Extent, SummedPairs, summed_pairs

__all__ = ["Fit", "checked", "fit_line", "residuals"]


def fit_line(pairs: Pairs) -> Fit:
    """Fit y = intercept + slope·x by least squares.

    pairs : n ≥ 2, x not constant; two pairs leave no residuals and no degrees of freedom.
    Residuals are formed in pairs of doubles and the slope refined once from them (Björck 1967),
    so that on a tight line the residuals keep their digits.
    Raises TooFewPairs, ConstantColumn.
    Source: quantities §3; exact fits by §0.
    """
    if isinstance(pairs, SummedPairs):
        return summed_line(pairs)
    require(pairs, 2)
    x, y = pairs.centred_x, pairs.centred_y
    if x.constant:
        raise ConstantColumn(pairs.n, float(pairs.x[0]))
    sum_products = pairs.products
    slope = sum_products / x.sum_squares
    residual = residuals(x, y, slope)
    step = dot(x.high, x.low, residual, np.zeros(1)) / x.sum_squares if sum_products else 0.0
    if step:
        residual -= step * x.high
    exact_slope = Fraction(slope) + Fraction(step)
    sse = dot(residual, np.zeros(1), residual, np.zeros(1))
    if pairs.n > COMPENSATED_UP_TO and sse < TIGHT**2 * slope * sum_products:
        return _tight_line(pairs)
    if no_more_than_rounding(sse, pairs.n, x, y, slope):
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


def _tight_line(pairs: Pairs) -> Fit:
    """The line of many pairs that lie close to it: by their exact sums, which keep the digits of what is left."""
    x, y = pairs.centred_x, pairs.centred_y
    about = tuple(np.array([float(one.mean) * 2.0**one.exponent]) for one in (x, y))
    ends = pairs.ends_x, (float(pairs.y.min()), float(pairs.y.max()))
    extent = Extent(n=pairs.n, first=(about[0], about[1]), x=ends[0], y=ends[1])
    counted = Counted(rows=pairs.n, missing=0, set_aside=0, filtered_out=0)
    line = summed_line(summed_pairs(HeldRows(pairs.x, pairs.y), extent, counted))
    residual = np.zeros(pairs.n) if line.exact else line.at.residuals(pairs.x, pairs.y)
    return Fit(
        pairs=pairs,
        x=replace(x, mean=line.x.mean, sum_squares=line.x.sum_squares),
        y=replace(y, mean=line.y.mean, sum_squares=line.y.sum_squares),
        slope_exact=line.slope_exact,
        residual=residual,
        sum_products=line.sum_products,
        sse=line.sse,
        base=line.base,
    )


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
