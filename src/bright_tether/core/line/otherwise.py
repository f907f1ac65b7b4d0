"""The line fitted otherwise: through the origin, or with weights."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction

import numpy as np

from bright_tether.core.centred import Centred
from bright_tether.core.exact import COMPENSATED_UP_TO, dot, scaled_by, two_product, two_sum
from bright_tether.core.line.plain import Fit, fit_line, residuals
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import ConstantColumn, Floats

_EPSILON = 2.0**-52
_NONE = np.zeros(1)
#: Powers of two within which weights are taken as they are.
_WEIGHTS_HOLD = 100


def fit_origin(pairs: Pairs) -> Fit:
    """Fit y = slope·x by least squares.

    pairs : n ≥ 1, x not 0 throughout. Raises TooFewPairs, ConstantColumn.
    Source: quantities §3.
    """
    require(pairs, 1)
    x, y = (
        _from_zero(values, like) for values, like in ((pairs.x, pairs.centred_x), (pairs.y, pairs.centred_y))
    )
    if x.constant:
        raise ConstantColumn(pairs.n, 0.0)
    return _fitted(pairs, x, y, None, math.inf)


def fit_weighted(pairs: Pairs) -> Fit:
    """Minimise Σw(y − b0 − b1·x)².

    pairs : with weights, n ≥ 2, x not constant. Equal weights give the plain line's coefficients.
    Weights far from 1 are scaled by a power of two while the line is worked out.
    Raises TooFewPairs, ConstantColumn. Source: quantities §3.
    """
    require(pairs, 2)
    assert pairs.weights is not None
    largest = math.frexp(float(pairs.weights.max()))[1]
    exponent = largest // 2 * 2 if abs(largest) > _WEIGHTS_HOLD else 0
    weights = scaled_by(pairs.weights, -exponent)
    if pairs.centred_x.constant:
        raise ConstantColumn(pairs.n, float(pairs.x[0]))
    if float(weights.min()) == float(weights.max()) == 1.0:
        return replace(fit_line(pairs), weights=weights)
    x = _from_weighted_mean(pairs.x, pairs.centred_x, weights)
    y = _from_weighted_mean(pairs.y, pairs.centred_y, weights)
    if x.sum_squares <= 0:  # all but one x weighs nothing beside it
        raise ConstantColumn(pairs.n, float(pairs.x[0]))
    return _fitted(pairs, x, y, weights, math.fsum(weights.tolist()), exponent)


def _fitted(
    pairs: Pairs, x: Centred, y: Centred, weights: Floats | None, base: float, exponent: int = 0
) -> Fit:
    products = _weighted_dot(x, y, weights)
    slope = products / x.sum_squares
    residual = residuals(x, y, slope)
    with_weights = residual if weights is None else residual * weights
    step = dot(x.high, x.low, with_weights, _NONE) / x.sum_squares if products else 0.0
    residual = residual - step * x.high
    if weights is not None:  # the height once more, from what is left
        residual = residual - float(np.dot(residual, weights)) / base
    root = np.ones(1) if weights is None else np.sqrt(weights)
    sse = (
        float(np.sum((residual * root) ** 2)) if pairs.n > COMPENSATED_UP_TO else _squares(residual, weights)
    )
    reach_y = float(np.max(np.abs(np.ldexp(pairs.y, -y.exponent)) * root))
    reach_x = float(np.max(np.abs(np.ldexp(pairs.x, -x.exponent)) * root))
    if sse <= pairs.n * (8 * _EPSILON * (reach_y + abs(slope) * reach_x)) ** 2:
        sse, residual = 0.0, np.zeros_like(residual)
    return Fit(
        pairs=pairs,
        x=x,
        y=y,
        slope_exact=Fraction(slope) + Fraction(step),
        residual=residual,
        sum_products=products,
        sse=sse,
        base=base,
        weights=weights,
        origin=weights is None,
        weight_exponent=exponent,
    )


def _from_zero(values: Floats, like: Centred) -> Centred:
    high = np.ldexp(values, -like.exponent)
    return replace(like, high=high, low=_NONE, mean=Fraction(0), sum_squares=dot(high, _NONE, high, _NONE))


def _from_weighted_mean(values: Floats, like: Centred, weights: Floats) -> Centred:
    """Values from their weighted mean, scaled like those from the plain mean.

    The values themselves are where it starts: one far-out row of little weight would take the digits of all
    others with it.
    """
    total = math.fsum(weights.tolist())
    scaled = scaled_by(values, -like.exponent)
    first = dot(scaled, _NONE, weights, _NONE) / total
    high, low = two_sum(scaled, -first)
    second = _times(high, low, weights) / total
    high, dropped = two_sum(high, -second)
    moved = replace(
        like, high=high, low=low + dropped, mean=Fraction(first) + Fraction(second), sum_squares=0.0
    )
    return replace(moved, sum_squares=_weighted_dot(moved, moved, weights))


def _times(high: Floats, low: Floats, weights: Floats) -> float:
    """Σ w(high + low)."""
    return dot(high, low if low.size == high.size else np.zeros(1), weights, np.zeros(1))


def _weighted_dot(a: Centred, b: Centred, weights: Floats | None) -> float:
    """Σ w·a·b."""
    if weights is None:
        return dot(a.high, a.low, b.high, b.low)
    product, dropped = two_product(a.high, weights)
    return dot(product, dropped + a.low * weights, b.high, b.low)


def _squares(residual: Floats, weights: Floats | None) -> float:
    """Σ w·e²."""
    if weights is None:
        return dot(residual, _NONE, residual, _NONE)
    product, dropped = two_product(residual, weights)
    return dot(product, dropped, residual, _NONE)
