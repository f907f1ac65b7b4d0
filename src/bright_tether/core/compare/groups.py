"""The lines that are compared, one a group."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import ErrorKind, Errors, NoErrors, errors_of
from bright_tether.core.line.figures import Line, line
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, ConstantColumn, Floats, Ints, OutOfRange, TooFewPairs


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Group:
    """One group with its own line; fit, line and errors are None for the cause.

    places : (n,) where its rows stand among all pairs.
    """

    name: str
    n: int
    pairs: Pairs
    places: Ints
    fit: Fit | None
    line: Line | None
    errors: Errors | None
    cause: Cause | None

    @property
    def slope_error(self) -> float:
        """Standard error in force of the slope, y per x."""
        assert self.fit is not None
        assert self.errors is not None
        return math.ldexp(math.sqrt(self.errors.slope), self.fit.y.exponent - self.fit.x.exponent)

    @property
    def intercept_error(self) -> float:
        """Standard error in force of the intercept, in y units."""
        assert self.fit is not None
        assert self.errors is not None
        return math.ldexp(math.sqrt(self.errors.intercept), self.fit.y.exponent)


def group_lines(
    named: list[tuple[str, Pairs, Ints]],
    against: Hypotheses,
    kind: ErrorKind = "classical",
    *,
    order: Ints | None = None,
    clusters: Ints | None = None,
) -> tuple[Group, ...]:
    """Fit each group.

    named : name, pairs, and their places among all pairs. order, clusters : over all pairs, as
    ``errors_of`` takes them. A group without 3 rows or two x is listed with its cause.
    Source: quantities §6.
    """
    found = []
    for name, pairs, places in named:
        fit, cause, errors = None, None, None
        try:
            fit = fit_line(pairs)
            along = None if order is None else np.argsort(np.argsort(order)[places], kind="stable")
            own = None if clusters is None else np.unique(clusters[places], return_inverse=True)[1]
            errors = errors_of(fit, kind, order=along, clusters=own)
        except TooFewPairs:
            cause = Cause.TOO_FEW_PAIRS
        except ConstantColumn:
            cause = Cause.CONSTANT_X
        except OutOfRange:
            cause = Cause.OUT_OF_RANGE
        except NoErrors as none:
            cause = none.cause
        found.append(
            Group(
                name=name,
                n=pairs.n,
                pairs=pairs,
                places=places,
                fit=fit,
                line=None if fit is None else line(fit, against),
                errors=errors,
                cause=cause,
            )
        )
    return tuple(found)


def split(pairs: Pairs, codes: Ints, names: list[str]) -> list[tuple[str, Pairs, Ints]]:
    """The pairs of each group. codes : (n,) places in names."""
    told = []
    for at, name in enumerate(names):
        places = np.flatnonzero(codes == at)
        told.append((name, _some(pairs, places), places))
    return told


def _some(pairs: Pairs, places: Ints) -> Pairs:
    n = places.size
    return Pairs(
        x=pairs.x[places],
        y=pairs.y[places],
        at=pairs.at[places],
        rows=n,
        missing=0,
        set_aside=0,
        filtered_out=0,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Moments:
    """n, means and sums of one group in y and x units, about its own means."""

    n: int
    mean_x: float
    mean_y: float
    sxx: float
    sxy: float
    slope: float
    sse: float


def moments(fit: Fit, origin_x: Fraction, origin_y: Fraction) -> Moments:
    """The sums of a fit; means are taken from a common origin, so that differences keep their digits."""
    x_unit, y_unit = Fraction(2) ** fit.x.exponent, Fraction(2) ** fit.y.exponent
    return Moments(
        n=fit.n,
        mean_x=float(fit.x.mean * x_unit - origin_x),
        mean_y=float(fit.y.mean * y_unit - origin_y),
        sxx=math.ldexp(fit.x.sum_squares, 2 * fit.x.exponent),
        sxy=math.ldexp(fit.sum_products, fit.x.exponent + fit.y.exponent),
        slope=math.ldexp(fit.slope_scaled, fit.y.exponent - fit.x.exponent),
        sse=math.ldexp(fit.sse, 2 * fit.y.exponent),
    )


def with_lines(groups: tuple[Group, ...]) -> list[Group]:
    """The groups that have a line."""
    return [group for group in groups if group.fit is not None and group.errors is not None]


def holm(p: Floats) -> Floats:
    """p adjusted for their number, (m,), stepping down. Source: Holm 1979."""
    order = np.argsort(p, kind="stable")
    stepped = np.maximum.accumulate((p.size - np.arange(p.size)) * p[order])
    told = np.empty(p.size)
    told[order] = np.minimum(stepped, 1.0)
    return told
