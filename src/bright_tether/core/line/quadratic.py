"""A second-degree curve beside the line."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.checks.added import centred_x
from bright_tether.core.checks.beside import square_left
from bright_tether.core.line.plain import Fit
from bright_tether.core.pairs import require
from bright_tether.core.results import Floats


class Quadratic(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """y = a + b·x + c·x² about x̄, in data units; s on n − 3."""

    height: float
    tilt: float
    bend: float
    mean_x: float
    s: float

    def at(self, x: Floats) -> Floats:
        """Heights at x, (m,)."""
        away = x - self.mean_x
        return np.asarray(self.height + away * (self.tilt + away * self.bend))


def quadratic(fit: Fit) -> Quadratic | None:
    """The least-squares parabola of the pairs; None with fewer than 4 pairs or 3 distinct x."""
    require(fit.pairs, 3)
    if fit.n < 4 or fit.pairs.distinct_x < 3 or fit.origin or fit.weights is not None:
        return None
    x = centred_x(fit)
    term = square_left(fit)
    bend = float(np.dot(term, fit.residual) / np.dot(term, term))
    left = fit.residual - bend * term
    size = math.sqrt(fit.x.sum_squares / fit.n)
    square = x * x
    slant = float(np.dot(square, x) / np.dot(x, x))
    unit_x, unit_y = math.ldexp(size, fit.x.exponent), math.ldexp(1.0, fit.y.exponent)
    return Quadratic(
        height=(float(fit.y.mean) - bend * float(square.mean())) * unit_y,
        tilt=(fit.slope_scaled * size - bend * slant) * unit_y / unit_x,
        bend=bend * unit_y / unit_x**2,
        mean_x=math.ldexp(float(fit.x.mean), fit.x.exponent),
        s=math.sqrt(float(np.dot(left, left)) / (fit.n - 3)) * unit_y,
    )
