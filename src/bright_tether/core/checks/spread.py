"""Do the residuals grow? Breusch–Pagan, White, and the ratio of spreads."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.checks.added import centred_x, why_none
from bright_tether.core.checks.beside import nothing_left
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Bools, Cause, Floats, Why, reasons
from bright_tether.core.sums.along import Levels
from bright_tether.core.sums.residual import SecondSums
from bright_tether.core.tails import chi_above

#: A root of R² below this times √n is rounding alone.
_DUST = 4 * 2.0**-52


class SpreadTest(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """lm = n·R² with its upper χ² tail on df."""

    lm: float | None
    df: int
    p: float | None
    why: Why


def breusch_pagan(fit: Fit) -> SpreadTest:
    """n·R² of the squared residuals on x, χ²(1); None where all are alike. Source: Koenker 1981."""
    return _share_of_squares(fit, 1, Cause.CONSTANT_X if fit.pairs.centred_x.constant else None)


def white(fit: Fit) -> SpreadTest:
    """n·R² of the squared residuals on x and x²; χ²(2), χ²(1) where x takes two values only.

    None at n = 3 and where all are alike. Source: White 1980; quantities §5.
    """
    cause = Cause.CONSTANT_X if fit.pairs.centred_x.constant else None
    return _share_of_squares(fit, 2, Cause.NO_DEGREES_OF_FREEDOM if fit.n <= 3 else cause)


def _share_of_squares(fit: Fit, powers: int, cause: Cause | None) -> SpreadTest:
    cause = why_none(fit) or cause
    if cause:
        return SpreadTest(lm=None, df=powers, p=None, why=reasons({"lm": cause, "p": cause}))
    spread, along, curved = _squares(fit, powers) if fit.second is None else _summed_squares(fit.second)
    if spread <= fit.n * (16 * 2.0**-52) ** 2:
        alike = reasons(dict.fromkeys(("lm", "p"), Cause.ALIKE_SQUARES))
        return SpreadTest(lm=None, df=powers, p=None, why=alike)
    part, df = along * along, 1
    if powers == 2 and curved is not None:
        part, df = part + curved * curved, 2
    share = part / spread
    lm = 0.0 if share <= fit.n * _DUST**2 else fit.n * min(share, 1.0)
    return SpreadTest(lm=lm, df=df, p=chi_above(lm, df), why=reasons())


def _squares(fit: Fit, powers: int) -> tuple[float, float, float | None]:
    """Of squared residuals from their mean, over the largest: Σ of their squares, and how they go along x and what is
    left of x², both at unit length; None of x² where nothing is left of it.
    """
    square = fit.weighted_residual * fit.weighted_residual
    square = square / square.max()
    square -= square.mean()
    square -= square.mean()
    x = centred_x(fit)
    along = float(np.dot(square, x)) / math.sqrt(float(np.dot(x, x)))
    curved = None
    if powers == 2 and fit.pairs.distinct_x > 2:
        term = x * x
        for _ in range(2):
            term = term - term.mean()
            term = term - float(np.dot(term, x) / np.dot(x, x)) * x
        if not nothing_left(term, x * x):  # else two clumps, so far apart that each is one value
            curved = float(np.dot(square, term)) / math.sqrt(float(np.dot(term, term)))
    return float(np.dot(square, square)), along, curved


def _summed_squares(sums: SecondSums) -> tuple[float, float, float | None]:
    """The same by the sums over many rows."""
    largest = sums.largest_square
    curved = None if sums.square.rounding else sums.with_square / largest
    return sums.beyond / largest**2, sums.with_z / largest, curved


def spread_ratio(fit: Fit) -> tuple[float | None, Cause | None]:
    """sd of the residuals in the upper third of x over that in the lower; thirds by rank, ties by row.

    None below 6 rows or where the lower third has no spread. Source: quantities §5.
    """
    cause = why_none(fit)
    if cause or fit.n < 6:
        return None, cause or Cause.TOO_FEW_PAIRS
    if fit.elsewhere and fit.levels is None:
        return None, Cause.EVERY_ROW
    low, high = _thirds(fit) if fit.levels is None else _known_thirds(fit.levels)
    return (high / low, None) if low > 0 and math.isfinite(high / low) else (None, Cause.EXACT_FIT)


def _known_thirds(levels: Levels) -> tuple[float, float]:
    return math.sqrt(levels.lower or 0.0), math.sqrt(levels.upper or 0.0)


def _thirds(fit: Fit) -> tuple[float, float]:
    """sd of the residuals in the lower and the upper third of x."""
    x, ordered, third = fit.pairs.x, fit.pairs.ordered_x, fit.n // 3
    parts = _lowest(x, float(ordered[third - 1]), third), _lowest(-x[::-1], -float(ordered[-third]), third)
    low, high = (
        float(np.std(residuals[part], ddof=1))
        for residuals, part in zip((fit.weighted_residual, fit.weighted_residual[::-1]), parts, strict=True)
    )
    return low, high


def _lowest(x: Floats, edge: float, many: int) -> Bools:
    """The lowest so many rows, (n,) bool, of which edge is the highest; ties by place."""
    lowest: Bools = x < edge
    short = many - int(np.count_nonzero(lowest))
    lowest[np.flatnonzero(x == edge)[:short]] = True
    return lowest
