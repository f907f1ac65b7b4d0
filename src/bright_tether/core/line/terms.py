"""Least squares on a design of terms; a line is its view of one term.

One term keeps the exact sums of ``core.line.plain``. More are solved by orthogonal factors of centred and scaled
columns, and refined from residuals that are formed in pairs of doubles; of many rows block by block, see
``core.line.many_rows``. Source: Björck 1967; Golub 1965.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec
import numpy as np

from bright_tether.core.centred import Centred, centre, fraction_unscaled
from bright_tether.core.exact import COMPENSATED_UP_TO, dot, two_product, two_sum
from bright_tether.core.line.many_rows import Solved, solve_many
from bright_tether.core.line.otherwise import fit_origin, fit_weighted
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import ConstantColumn, Floats, Refusal, TooFewPairs, read_only

_EPSILON = 2.0**-52
_NONE = np.zeros(1)
#: Refinements: each gains about as many digits as the factors hold.
_ROUNDS = 3
#: A column of which no more than this share is left beside the others is made of them.
_OF_THE_OTHERS = 64 * _EPSILON


class Collinear(Refusal):
    """A term that the other terms make up. term : its place from 0."""

    def __init__(self, term: int) -> None:
        super().__init__(term)
        self.term = term


class Design(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What y is explained by: terms, each (n,), finite, beside an intercept."""

    terms: tuple[Floats, ...]

    @property
    def parameters(self) -> int:
        """Coefficients estimated, the intercept among them."""
        return len(self.terms) + 1


class TermsFit(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """y on several terms, each from its mean and in scaled units: column j in 2^terms[j].exponent.

    slopes_exact : scaled, one a term. residual : (n,), scaled as y. factor : (k, k), the upper triangle R of the
    columns over their roots of sums of squares, so that (RᵀR)⁻¹ gives variances and inflation.
    """

    y: Centred
    terms: tuple[Centred, ...]
    slopes_exact: tuple[Fraction, ...]
    residual: Floats
    factor: Floats
    sse: float

    @property
    def n(self) -> int:
        """Rows in use."""
        return self.y.n

    @property
    def residual_df(self) -> int:
        """n less the coefficients estimated."""
        return self.n - len(self.terms) - 1

    @property
    def slopes(self) -> tuple[float | None, ...]:
        """y units per unit of each term, the others held; None beyond double range."""
        return tuple(
            fraction_unscaled(slope, self.y.exponent - term.exponent)
            for slope, term in zip(self.slopes_exact, self.terms, strict=True)
        )

    @property
    def intercept_exact(self) -> Fraction:
        """ȳ − Σ b·x̄ without rounding, scaled as y."""
        return self.y.mean - sum(
            (slope * term.mean for slope, term in zip(self.slopes_exact, self.terms, strict=True)),
            Fraction(0),
        )

    @property
    def intercept(self) -> float | None:
        """The height where every term is 0, in y units; None beyond double range."""
        return fraction_unscaled(self.intercept_exact, self.y.exponent)

    @property
    def inflation(self) -> Floats:
        """Variance inflation of each slope, (k,): 1 for a term that the others do not go with."""
        inverse = np.linalg.inv(self.factor)
        return np.asarray(np.sum(inverse * inverse, axis=1))

    def se_slopes(self) -> tuple[float | None, ...]:
        """Classical standard errors of the slopes, in their own units; None without degrees of freedom."""
        if self.residual_df < 1:
            return (None,) * len(self.terms)
        s = np.sqrt(self.sse / self.residual_df)
        spread = np.sqrt(self.inflation)
        return tuple(
            fraction_unscaled(
                Fraction(float(s * one / np.sqrt(term.sum_squares))), self.y.exponent - term.exponent
            )
            for one, term in zip(spread, self.terms, strict=True)
        )


def line_of(pairs: Pairs, *, origin: bool = False) -> Fit:
    """The fit of one term: plain, with the pairs' weights, or through the origin.

    Raises TooFewPairs, ConstantColumn. Source: quantities §3.
    """
    if origin:
        return fit_origin(pairs)
    return fit_line(pairs) if pairs.weights is None else fit_weighted(pairs)


def fit_terms(design: Design, y: Floats) -> TermsFit:
    """Fit y by least squares on the terms of a design.

    y : (n,), finite, n ≥ 1 + terms. One term gives the digits of ``fit_line``.
    Raises TooFewPairs, ConstantColumn, Collinear.
    """
    if y.size < design.parameters:
        raise TooFewPairs(y.size, design.parameters)
    if len(design.terms) == 1:
        pairs = Pairs(x=design.terms[0], y=y, at=np.arange(y.size), rows=y.size, missing=0, set_aside=0,
                      filtered_out=0)  # fmt: skip
        line = fit_line(pairs)
        return TermsFit(y=line.y, terms=(line.x,), slopes_exact=(line.slope_exact,), residual=line.residual,
                        factor=np.ones((1, 1)), sse=line.sse)  # fmt: skip
    return fit_centred(tuple(map(centre, design.terms)), centre(y))


def fit_centred(terms: tuple[Centred, ...], tall: Centred) -> TermsFit:
    """The same from their means. Raises ConstantColumn, Collinear."""
    _vary(terms)
    if tall.n > COMPENSATED_UP_TO:
        found = solve_many([term.high for term in terms], [(tall.high, 0)])
        if found is not None:
            return fit_of(terms, tall, found[0])
    n = tall.n
    roots = np.array([np.sqrt(term.sum_squares) for term in terms])
    across, factor = np.linalg.qr(np.stack([term.high for term in terms], axis=1) / roots)
    left = np.abs(np.diag(factor))
    if float(left.min()) <= _OF_THE_OTHERS * n:
        raise Collinear(int(left.argmin()))
    slopes = [Fraction(0)] * len(terms)
    residual = tall.high + tall.low
    for _ in range(_ROUNDS):
        steps = np.linalg.solve(factor, across.T @ residual) / roots
        slopes = [slope + Fraction(float(step)) for slope, step in zip(slopes, steps, strict=True)]
        residual = _residual(tall, terms, slopes)
    sse = dot(residual, _NONE, residual, _NONE)
    return fit_of(terms, tall, Solved(slopes=tuple(slopes), residual=residual, sse=sse, factor=factor))


def fit_of(terms: tuple[Centred, ...], tall: Centred, solved: Solved) -> TermsFit:
    """The fit of what was solved; residuals no larger than rounding are zero."""
    reach = tall.largest * 2.0**-tall.exponent
    for slope, term in zip(solved.slopes, terms, strict=True):
        reach += abs(float(slope)) * term.largest * 2.0**-term.exponent
    sse, residual = solved.sse, solved.residual
    if sse <= tall.n * (8 * _EPSILON * reach) ** 2:
        sse, residual = 0.0, np.zeros_like(residual)
    return TermsFit(y=tall, terms=terms, slopes_exact=solved.slopes, residual=read_only(residual),
                    factor=solved.factor, sse=sse)  # fmt: skip


def _vary(terms: tuple[Centred, ...]) -> None:
    for term in terms:
        if term.constant:
            raise ConstantColumn(term.n, float(np.ldexp(float(term.mean), term.exponent)))


def _residual(y: Centred, terms: tuple[Centred, ...], slopes: list[Fraction]) -> Floats:
    """y less what the terms say, (n,), with what rounding drops carried along."""
    high, low = y.high, y.low + np.zeros_like(y.high)
    for slope, term in zip(slopes, terms, strict=True):
        first = float(slope)
        rest = float(slope - Fraction(first))
        product, dropped = two_product(term.high, np.array([first]))
        high, lost = two_sum(high, -product)
        low = low + (lost - dropped - first * term.low - rest * term.high)
    return np.asarray(high + low)
