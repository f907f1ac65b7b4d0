"""What the rows of a line add up to in its sandwich errors, each row by itself."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.exact import CACHED_ROWS, blocks
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Floats
from bright_tether.core.sums.residual import SecondSums

LEVERAGE_ONE_WITHIN = 1e-12


class Meat(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Scaled variances, before any factor: of the height at x̄, of the slope, of both together, of the intercept.

    NaN where a row's leverage is 1 and what is summed is divided by what that leaves.
    """

    centre: float
    slope: float
    cross: float
    intercept: float


def influence(fit: Fit, part: slice = slice(None)) -> Floats:
    """What one unit of a row's residual adds to the height at x̄, the slope, and the intercept, (3, n)."""
    high = fit.x.high[part]
    weight = np.ones(high.size) if fit.weights is None else fit.weights[part]
    slope = high * weight * (1 / fit.x.sum_squares)
    centre = weight / fit.base
    return np.stack((centre, slope, centre - fit.mean_x_scaled * slope))


def meats(fit: Fit) -> tuple[Meat, Meat, Meat]:
    """Σ of the squared influence of each row's residual, over 1 − leverage to the powers 0, 1 and 2.

    Kept with the line. Source: White 1980; MacKinnon & White 1985; quantities §3.
    """
    kept: tuple[Meat, Meat, Meat] | None = fit.__dict__.get("meats")
    if kept is None:
        if not fit.elsewhere:
            found = _of_rows(fit)
        else:
            found = _of_nothing(fit) if fit.second is None else _of_sums(fit, fit.second)
        first, second, third = (
            Meat(centre=a, slope=b, cross=c, intercept=d) for a, b, c, d in found.tolist()
        )
        kept = fit.__dict__["meats"] = (first, second, third)
    return kept


def _of_rows(fit: Fit) -> Floats:
    found = np.zeros((3, 4))
    for part in blocks(fit.n, CACHED_ROWS):
        square = fit.residual[part] ** 2
        centre, slope, height = influence(fit, part)
        looks = np.stack((centre * centre, slope * slope, centre * slope, height * height))
        spare = 1 - fit.leverage(part)
        spare[spare <= LEVERAGE_ONE_WITHIN] = np.nan
        divided = square / spare
        found += np.stack((square, divided, divided / spare)) @ looks.T
    return found


def _of_nothing(fit: Fit) -> Floats:
    """The same where every residual is zero; the rows at the ends of x decide most."""
    found = np.zeros((3, 4))
    ends = [math.ldexp(end, -fit.x.exponent) - fit.mean_x_scaled for end in fit.pairs.ends_x]
    if 1 - 1 / fit.base - max(end * end for end in ends) / fit.x.sum_squares <= LEVERAGE_ONE_WITHIN:
        found[1:] = np.nan
    return found


def _of_sums(fit: Fit, sums: SecondSums) -> Floats:
    """The same from the sums over many rows, which are in units of x's spread and of s."""
    n, size = fit.n, math.sqrt(fit.x.sum_squares / fit.n)
    assert sums.meats is not None
    plain, slant, square, height = sums.meats.T * (fit.s_scaled / n) ** 2
    found = np.stack((plain, square / size**2, slant / size, height), axis=1)
    if sums.spare <= LEVERAGE_ONE_WITHIN:
        found[1:] = np.nan
    return found
