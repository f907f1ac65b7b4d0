"""The statistic that decides each doubt, for many sets of residuals over the same x at once.

Each takes residuals (m, n) of a plain or weighted line and returns (m,), larger where the doubt is graver.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bright_tether.core.checks.added import centred_x
from bright_tether.core.checks.beside import square_left
from bright_tether.core.checks.shape import royston_weights
from bright_tether.core.line.meats import LEVERAGE_ONE_WITHIN
from bright_tether.core.line.plain import Fit
from bright_tether.core.once import once
from bright_tether.core.results import Floats, Ints

#: A row with this share of its own fitted value carries the line, whatever its residual.
CARRIES = 0.8
_HASHED = 8
DOUBTS = ("bend", "spread", "order", "shape", "far-out", "pull")


class Design:
    """What the statistics need of x, worked out once, and only where it is asked for.

    carried : places of the rows that carry the line by their x alone.
    """

    def __init__(self, fit: Fit, order: Ints | None) -> None:
        self.n, self.df, self.parameters = fit.n, fit.residual_df, fit.parameters
        self.carried: Ints = np.flatnonzero(fit.leverage() >= CARRIES)
        self.order = order
        self.codes = fit.pairs.distinct_x
        self._fit = fit

    def __eq__(self, other: object) -> bool:
        """Designs over the same x, weights and order are one."""
        if not isinstance(other, Design) or (self.n, self.parameters) != (other.n, other.parameters):
            return False
        if self._fit is not other._fit and not np.array_equal(self._fit.columns, other._fit.columns):
            return False
        if self.order is None or other.order is None:
            return self.order is other.order
        return np.array_equal(self.order, other.order)

    def __hash__(self) -> int:
        """By the first of x and weights: very many are compared sooner than read."""
        return hash((self.n, self.parameters, self._fit.columns[:, :_HASHED].tobytes()))

    @once
    def leverage(self) -> Floats:
        """The share of each fitted value that its own row decides."""
        return self._fit.leverage()

    @once
    def spare(self) -> Floats:
        """What is left of it; NaN where nothing is."""
        spare = 1 - self.leverage
        return np.where(spare <= LEVERAGE_ONE_WITHIN, np.nan, spare)

    @once
    def x(self) -> Floats:
        """x from its mean, in units of its spread."""
        return centred_x(self._fit)

    @once
    def own(self) -> Floats:
        """The line's own columns at unit length and square on each other, (n, parameters)."""
        return np.asarray(np.linalg.qr(self._fit.columns.T)[0])

    @once
    def square(self) -> Floats:
        """What is left of x² beside the line, at unit length; zeros where nothing is."""
        term = square_left(self._fit) if not self._fit.origin else self._fit.left_of(self.x * self.x)
        size = float(np.sqrt(np.dot(term, term)))
        return term / size if self.codes >= 3 and size > 1e-9 else np.zeros(self.n)

    @once
    def ordered_weights(self) -> Floats:
        """Royston's weights at unit length."""
        weights = royston_weights(self.n)
        return np.asarray(weights / np.sqrt(np.dot(weights, weights)))

    def residuals_of(self, y: Floats) -> Floats:
        """What the line leaves of each row of y, (m, n)."""
        return np.asarray(y - (y @ self.own) @ self.own.T)


def statistic(design: Design, doubt: str, residuals: Floats) -> Floats:
    """The statistic of one doubt, (m,)."""
    whole = np.einsum("ij,ij->i", residuals, residuals)
    whole = np.where(whole > 0, whole, 1.0)
    found: Floats = _BY_DOUBT[doubt](design, residuals, whole)
    return found


def _bend(design: Design, residuals: Floats, whole: Floats) -> Floats:
    return np.asarray((residuals @ design.square) ** 2 / whole)


def _spread(design: Design, residuals: Floats, whole: Floats) -> Floats:
    square = residuals**2
    square = square - square.mean(axis=1, keepdims=True)
    x = design.x / np.sqrt(np.dot(design.x, design.x))
    size = np.einsum("ij,ij->i", square, square)
    return np.asarray((square @ x) ** 2 / np.where(size > 0, size, 1.0))


def _order(design: Design, residuals: Floats, whole: Floats) -> Floats:
    along = residuals if design.order is None else residuals[:, design.order]
    return np.asarray(np.abs(2 - np.einsum("ij,ij->i", np.diff(along), np.diff(along)) / whole))


def _shape(design: Design, residuals: Floats, whole: Floats) -> Floats:
    ordered = np.sort(residuals, axis=1)
    ordered = ordered - ordered.mean(axis=1, keepdims=True)
    size = np.einsum("ij,ij->i", ordered, ordered)
    return np.asarray(1 - (ordered @ design.ordered_weights) ** 2 / np.where(size > 0, size, 1.0))


def _far_out(design: Design, residuals: Floats, whole: Floats) -> Floats:
    square = residuals**2 / (whole[:, None] / design.df * design.spare)
    return np.asarray(np.nanmax(np.minimum(square, design.df), axis=1))


def _pull(design: Design, residuals: Floats, whole: Floats) -> Floats:
    return np.asarray(np.nanmax(cooks_distances(design, residuals, whole, slice(None)), axis=1))


def cooks_distances(design: Design, residuals: Floats, whole: Floats, rows: slice | Ints) -> Floats:
    """Cook's distances of these rows, (m, k). residuals : theirs, (m, k); whole : the squares of all, summed, (m,)."""
    spare = design.spare[rows]
    square = residuals**2 / (whole[:, None] / design.df * spare)
    return np.asarray(square * design.leverage[rows] / spare / design.parameters)


_BY_DOUBT: dict[str, Callable[[Design, Floats, Floats], Floats]] = {
    "bend": _bend,
    "spread": _spread,
    "order": _order,
    "shape": _shape,
    "far-out": _far_out,
    "pull": _pull,
}
