"""The lines that are compared, one a group."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction

import msgspec
import numpy as np

from bright_tether.core.centred import fraction_unscaled
from bright_tether.core.line.coefficients import Coefficients, Hypotheses
from bright_tether.core.line.errors import ErrorKind, Errors, NoErrors, coefficients_by, errors_in_force
from bright_tether.core.line.figures import Line, line
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, ConstantColumn, Floats, Ints, OutOfRange, TooFewPairs


class Group(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One group with its own line; fit and line are None for the cause, errors and what they judge for no_errors.

    places : (n,) where its rows stand among all pairs. judged : slope and intercept by the errors in force.
    """

    name: str
    n: int
    pairs: Pairs
    places: Ints
    fit: Fit | None
    line: Line | None
    errors: Errors | None
    judged: Coefficients | None
    cause: Cause | None
    no_errors: Cause | None = None

    @property
    def slope_error(self) -> float | None:
        """Standard error in force of the slope, y per x."""
        assert self.fit is not None
        return None if self.errors is None else self.fit.slope_unscaled(math.sqrt(self.errors.slope))

    @property
    def intercept_error(self) -> float | None:
        """Standard error in force of the intercept, in y units."""
        assert self.fit is not None
        return None if self.errors is None else self.fit.height_unscaled(math.sqrt(self.errors.intercept))


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
    ``errors_of`` takes them. A group without two distinct x, or whose line no double holds, is listed with
    its cause; two rows make a line without errors.
    Source: quantities §6.
    """
    found = []
    for name, pairs, places in named:
        fit, cause, errors, no_errors, own_line, judged = None, None, None, None, None, None
        try:
            fit = fit_line(pairs)
            own_line = line(fit, against)
            if own_line.slope is None or own_line.intercept is None:
                raise OutOfRange
            along = None if order is None else np.argsort(np.argsort(order)[places], kind="stable")
            own = None if clusters is None else np.unique(clusters[places], return_inverse=True)[1]
            errors = errors_in_force(fit, kind, order=along, clusters=own)
            judged = coefficients_by(fit, errors, against)
        except TooFewPairs:
            cause = Cause.TOO_FEW_PAIRS
        except ConstantColumn:
            cause = Cause.CONSTANT_X
        except OutOfRange:
            fit, cause, own_line = None, Cause.OUT_OF_RANGE, None
        except NoErrors as none:
            no_errors = none.cause
        found.append(
            Group(
                name=name,
                n=pairs.n,
                pairs=pairs,
                places=places,
                fit=fit,
                line=own_line,
                errors=errors,
                judged=judged,
                cause=cause,
                no_errors=no_errors,
            )
        )
    return tuple(found)


class Parts(msgspec.Struct, frozen=True, eq=False):
    """Pairs that lie in groups already: name, pairs, and their places among all pairs where these are known."""

    named: tuple[tuple[str, Pairs, Ints], ...]


def split(pairs: Pairs, codes: Ints, names: list[str]) -> list[tuple[str, Pairs, Ints]]:
    """The pairs of each group. codes : (n,) places in names."""
    groups = []
    for at, name in enumerate(names):
        places = np.flatnonzero(codes == at)
        groups.append((name, _some(pairs, places), places))
    return groups


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


def mean_x_of(groups: Sequence[Group]) -> float | None:
    """The mean x of the rows of several groups, in x units; None beyond double range."""
    parts = [(group.n, group.pairs.centred_x) for group in groups]
    whole = sum((n * one.mean * Fraction(2) ** one.exponent for n, one in parts), Fraction(0))
    return fraction_unscaled(whole / sum(n for n, _ in parts), 0)


class Moments(msgspec.Struct, frozen=True, kw_only=True):
    """n, means and sums of one group in y and x units, about its own means."""

    n: int
    mean_x: float
    mean_y: float
    sxx: float
    sxy: float
    slope: float
    sse: float


def moments(fit: Fit, origin_x: Fraction, origin_y: Fraction, tilt: int, rise: int) -> Moments:
    """The sums of a fit; means are taken from a common origin, so that differences keep their digits.

    tilt, rise : powers of two that x and y are counted in, alike for all that are held together.
    """
    x_unit, y_unit = Fraction(2) ** (fit.x.exponent - tilt), Fraction(2) ** (fit.y.exponent - rise)
    x_by, y_by = fit.x.exponent - tilt, fit.y.exponent - rise
    return Moments(
        n=fit.n,
        mean_x=float(fit.x.mean * x_unit - origin_x),
        mean_y=float(fit.y.mean * y_unit - origin_y),
        sxx=math.ldexp(fit.x.sum_squares, 2 * x_by),
        sxy=math.ldexp(fit.sum_products, x_by + y_by),
        slope=math.ldexp(fit.slope_scaled, y_by - x_by),
        sse=math.ldexp(fit.sse, 2 * y_by),
    )


def units_of(fits: Sequence[Fit]) -> tuple[int, int]:
    """Powers of two that these lines are counted in together: the largest of each axis."""
    return max(fit.x.exponent for fit in fits), max(fit.y.exponent for fit in fits)


def with_lines(groups: tuple[Group, ...]) -> list[Group]:
    """The groups that have a line."""
    return [group for group in groups if group.fit is not None]


def holm(p: Floats) -> Floats:
    """p adjusted for their number, (m,), stepping down. Source: Holm 1979."""
    order = np.argsort(p, kind="stable")
    stepped = np.maximum.accumulate((p.size - np.arange(p.size)) * p[order])
    adjusted = np.empty(p.size)
    adjusted[order] = np.minimum(stepped, 1.0)
    return adjusted
