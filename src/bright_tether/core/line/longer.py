"""A line with other columns held, as the checks of its residuals, their rows and the doubts look at it."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from bright_tether.core.centred import Centred
from bright_tether.core.exact import dot
from bright_tether.core.line.held import HeldFit
from bright_tether.core.line.plain import Fit
from bright_tether.core.once import once
from bright_tether.core.results import Floats, Ints

_NONE = np.zeros(1)


@dataclass(frozen=True, kw_only=True, eq=False)
class LongerFit(Fit):
    """y on x and further terms. terms : every term from its mean, x first; left : what the others leave of x.

    heights : fitted values from their mean, (n,); height_at_0 : where every term is 0; both scaled as y.
    slope_exact, residual and sse are of the longer line; x, y and the pairs stay what they are.
    """

    terms: tuple[Centred, ...]
    left: Centred
    heights: Floats
    height_at_0: Fraction

    @property
    def parameters(self) -> int:
        """Coefficients estimated, the intercept among them."""
        return len(self.terms) + 1

    @property
    def intercept_exact(self) -> Fraction:
        """The height where every term is 0, scaled as y."""
        return self.height_at_0

    @once
    def columns(self) -> Floats:
        """An intercept and the terms at unit length, (parameters, n)."""
        found = [np.ones(self.n), *(one.high for one in self.terms)]
        return np.stack([one / np.sqrt(np.dot(one, one)) for one in found])

    @once
    def _factors(self) -> tuple[Floats, Floats]:
        square, triangle = np.linalg.qr(self.columns.T)
        return np.asarray(square), np.asarray(triangle)

    @property
    def square(self) -> Floats:
        """The columns square on each other, (n, parameters)."""
        return self._factors[0]

    @property
    def triangle(self) -> Floats:
        """What makes the columns of those: columns = square · triangle, (parameters, parameters)."""
        return self._factors[1]

    def left_of(self, term: Floats) -> Floats:
        """A term, (n,), less what all columns explain of it; taken away twice."""
        for _ in range(2):
            term = term - self.square @ (term @ self.square)
        return term

    def leverage(self, part: slice = slice(None)) -> Floats:
        """The share of each fitted value that its own row decides."""
        own = self.square[part]
        return np.asarray(np.einsum("ij,ij->i", own, own))

    @property
    def own_x(self) -> Centred:
        """What the others leave of x."""
        return self.left

    @property
    def second(self) -> None:
        """Each row is looked at by itself."""
        return None

    @once
    def index(self) -> Floats | None:
        """The fitted values from their mean in units of their spread, (n,)."""
        size = float(np.sqrt(np.dot(self.heights, self.heights) / self.n))
        return self.heights / size if size else self.heights

    @once
    def places(self) -> Ints:
        """Rows that have every term alike."""
        rows = np.stack([one.high for one in self.terms], axis=1)
        return np.unique(rows, axis=0, return_inverse=True)[1].ravel()

    @property
    def places_many(self) -> int:
        """How many kinds of them there are."""
        return int(self.places.max()) + 1


def longer_line(found: HeldFit) -> LongerFit:
    """What was fitted with columns held, as one line."""
    fit, line, of_x = found.fit, found.line, found.of_x
    left = Centred(
        high=of_x.residual, low=_NONE, mean=Fraction(0), exponent=line.x.exponent, sum_squares=of_x.sse,
        largest=line.x.largest,
    )  # fmt: skip
    return LongerFit(
        pairs=line.pairs, x=line.x, y=fit.y, slope_exact=fit.slopes_exact[0], residual=fit.residual,
        sum_products=dot(left.high, _NONE, fit.y.high, _NONE), sse=fit.sse, base=line.base, terms=fit.terms,
        left=left, heights=fit.y.high - fit.residual, height_at_0=fit.intercept_exact,
    )  # fmt: skip
