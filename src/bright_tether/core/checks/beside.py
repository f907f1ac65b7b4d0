"""The square and the cube of x beside a line: what each takes of its residuals."""

from __future__ import annotations

import math

import numpy as np
from msgspec.structs import replace

from bright_tether.core.checks.added import own_x, with_weights
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Floats
from bright_tether.core.sums.residual import Added

_EPSILON = 2.0**-52


def square_beside(fit: Fit) -> tuple[Added, float]:
    """The square of the line's own x, scaled as y, and the slope of that square on x; x in units of its spread."""
    if fit.second is not None:
        return _as_y(fit, fit.second.square), fit.second.slant
    x, own = own_x(fit), fit.own_x.high
    size = math.sqrt(fit.pairs.centred_x.sum_squares / fit.n)
    return _square(fit, x)[0], float(np.dot(x * x, own) / np.dot(own, own)) * size


def powers_beside(fit: Fit) -> tuple[Added, Added]:
    """The square of what orders the fitted values, and then its cube, scaled as y.

    With a height, powers of the fitted values and of x from its mean span the same.
    """
    if fit.second is not None:
        return _as_y(fit, fit.second.square), _as_y(fit, fit.second.cube)
    x = own_x(fit) if fit.index is None else fit.index
    square, term, left = _square(fit, x)
    if square.rounding:
        return square, square
    cube = fit.left_of(x * x * x)
    cube = cube - float(np.dot(cube, term) / np.dot(term, term)) * term
    return square, _taken(cube, with_weights(fit, x * x * x), left)[0]


def fewer_x(fit: Fit, needed: int) -> bool:
    """Whether x has fewer values than that; sums tell by what is left of its powers instead."""
    return fit.second is None and not fit.elsewhere and fit.pairs.distinct_x < needed


def square_left(fit: Fit) -> Floats:
    """What is left of the square of its own x, (n,): several checks look at it, so a line keeps it."""
    kept: Floats | None = fit.__dict__.get("square_left")
    if kept is None:
        x = own_x(fit)
        kept = fit.__dict__["square_left"] = fit.left_of(x * x)
    return kept


def nothing_left(term: Floats, of: Floats) -> bool:
    """Whether what is left of a term, (n,), is no more than rounding of the term itself."""
    largest = float(np.max(np.abs(of)))
    return float(np.dot(term, term)) <= term.size * (8 * _EPSILON * largest) ** 2


def _square(fit: Fit, x: Floats) -> tuple[Added, Floats, Floats]:
    """The square of x beside the line, what is left of it, and of the residuals."""
    term = fit.left_of(x * x) if x is fit.index else square_left(fit)
    found, left = _taken(term, with_weights(fit, x * x), fit.weighted_residual)
    return found, term, left


def _taken(term: Floats, of: Floats, residual: Floats) -> tuple[Added, Floats]:
    """What a term takes of residuals, and what is left of them."""
    spread, joint = float(np.dot(term, term)), float(np.dot(term, residual))
    if nothing_left(term, of):
        return Added(
            spread=spread, joint=0.0, left=float(np.dot(residual, residual)), rounding=True
        ), residual
    left = residual - joint / spread * term
    return Added(spread=spread, joint=joint, left=float(np.dot(left, left)), rounding=False), left


def _as_y(fit: Fit, found: Added) -> Added:
    """From units of s to those of y, scaled."""
    return replace(found, joint=found.joint * fit.s_scaled, left=found.left * fit.s_scaled**2)
