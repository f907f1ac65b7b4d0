"""The slope of x with other columns held: what of y still goes with what of x the others do not tell."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from bright_tether.core.centred import fraction_unscaled
from bright_tether.core.exact import dot
from bright_tether.core.line.coefficients import Coefficients, Hypotheses, tested
from bright_tether.core.line.errors import (
    ErrorKind,
    NoErrors,
    along,
    cluster_factor,
    coefficients_by,
    errors_in_force,
    lag_for,
)
from bright_tether.core.line.figures import fisher_interval
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.robust_errors import LEVERAGE_ONE_WITHIN
from bright_tether.core.line.terms import Design, TermsFit, fit_terms
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Floats, Interval, Ints, Why, read_only, reasons
from bright_tether.core.tails import t_tail

_POWER = {"HC0": 0, "HC1": 0, "HC2": 1, "HC3": 2}
_NONE = np.zeros(1)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class HeldSlope:
    """One slope of several, in y units per unit of its term, with the errors in force; t on df."""

    slope: float | None
    se_slope: float | None
    t_slope: float | None
    p_slope: float | None
    ci_slope: Interval | None
    df: int
    inflation: float
    why: Why


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Held:
    """x alone and with other terms held, on the same rows.

    alone : the line's slope on these rows; held : that of x beside the other terms; terms : theirs, in their order.
    partial_r : r of what of x and of y the others leave; t, p by the alternative on df, Fisher interval. r2, r2_alone :
    shares of the spread of y. x_left, y_left : (n,), what the others leave of x and of y, about their means, in units.
    """

    n: int
    kind: ErrorKind
    alone: Coefficients
    slope_alone: float | None
    df_alone: int
    held: HeldSlope
    terms: tuple[HeldSlope, ...]
    partial_r: float | None
    partial_t: float | None
    partial_p: float | None
    partial_ci: Interval | None
    partial_df: int
    r2: float | None
    r2_alone: float | None
    x_left: Floats
    y_left: Floats
    why: Why


def hold(
    pairs: Pairs, others: Sequence[Floats], against: Hypotheses, *, kind: ErrorKind = "classical",
    order: Ints | None = None, clusters: Ints | None = None,
) -> Held:  # fmt: skip
    """Hold other columns while y goes with x.

    pairs : plain, without weights. others : each (n,), finite, one at least. kind, order, clusters : as ``errors_of``.
    Raises TooFewPairs, ConstantColumn, Collinear (term 0 is x, then the others), NoErrors.
    Source: Frisch & Waugh 1933; Lovell 1963; quantities-with.
    """
    fit = fit_terms(Design(terms=(pairs.x, *others)), pairs.y)
    if fit.residual_df < 1:
        raise NoErrors(Cause.NO_DEGREES_OF_FREEDOM)
    line = fit_line(pairs)
    alone = errors_in_force(line, kind, order=order, clusters=clusters)
    sandwich = sandwich_of(fit, kind, order, clusters)
    slopes = [slope_of(fit, at, sandwich, against if at == 0 else Hypotheses(level=against.level))
              for at in range(len(fit.terms))]  # fmt: skip
    x_left, y_left = _left(pairs.x, others), _left(pairs.y, others)
    partial = _partial(x_left, y_left, fit.residual_df, against)
    total = fit.y.sum_squares
    slope = fraction_unscaled(line.slope_exact, line.y.exponent - line.x.exponent)
    return Held(
        n=fit.n, kind=kind, alone=coefficients_by(line, alone, against), slope_alone=slope, df_alone=alone.df,
        held=slopes[0], terms=tuple(slopes[1:]), r2=1 - fit.sse / total if total else None,
        r2_alone=1 - line.sse / total if total else None, x_left=read_only(x_left), y_left=read_only(y_left), **partial,
    )  # fmt: skip


def _influence(fit: TermsFit) -> tuple[Floats, Floats]:
    """What one unit of a row's residual adds to each slope, (k, n), scaled; and the leverage of each row, (n,)."""
    roots = np.array([math.sqrt(term.sum_squares) for term in fit.terms])
    columns = np.stack([term.high for term in fit.terms], axis=1) / roots
    inverse = np.linalg.inv(fit.factor)
    across = columns @ inverse
    return (inverse @ across.T) / roots[:, None], 1 / fit.n + np.einsum("ij,ij->i", across, across)


@dataclass(frozen=True, slots=True, eq=False)
class Sandwich:
    """What the slopes of several terms rest on for their errors, scaled; df : of t.

    scores : (k, m), what each row or case adds to each slope; lag : neighbours looked back to, None without.
    """

    scores: Floats
    factor: float
    df: int
    lag: int | None = None

    @property
    def variances(self) -> Floats:
        """Of each slope, (k,)."""
        if self.lag is not None:
            return np.diag(along(self.scores, self.lag))
        return np.asarray(np.einsum("ij,ij->i", self.scores, self.scores) * self.factor)

    @property
    def covariance(self) -> Floats:
        """Of every two, (k, k)."""
        return (
            along(self.scores, self.lag)
            if self.lag is not None
            else self.scores @ self.scores.T * self.factor
        )


def sandwich_of(
    fit: TermsFit, kind: ErrorKind, order: Ints | None, clusters: Ints | None, *, height: bool = False
) -> Sandwich:
    """By one kind of errors. height : with that of the height at all means after the slopes. Raises NoErrors."""
    df = fit.residual_df
    pull, leverage = _influence(fit)
    if height:
        pull = np.vstack([pull, np.full(fit.n, 1 / fit.n)])
    if kind == "classical":
        return Sandwich(pull, fit.sse / df, df)
    if 1 - float(leverage.max()) <= LEVERAGE_ONE_WITHIN:
        raise NoErrors(Cause.LEVERAGE_ONE)
    scores: Floats = pull * fit.residual
    if kind in _POWER:
        scores = scores / np.sqrt(1 - leverage) ** _POWER[kind]
        return Sandwich(scores, fit.n / df if kind == "HC1" else 1.0, df)
    if kind == "newey_west":
        return Sandwich(scores if order is None else scores[:, order], 1.0, df, lag_for(fit.n))
    if clusters is None or int(clusters.max()) < 1:
        raise NoErrors(Cause.TOO_FEW_CLUSTERS)
    groups = int(clusters.max()) + 1
    summed = np.stack([np.bincount(clusters, weights=row, minlength=groups) for row in scores]).astype(float)
    return Sandwich(summed, cluster_factor(groups, fit.n, df), groups - 1)


def slope_of(fit: TermsFit, at: int, sandwich: Sandwich, against: Hypotheses) -> HeldSlope:
    """One slope with the errors in force."""
    exponent = fit.y.exponent - fit.terms[at].exponent
    se, df = math.sqrt(float(sandwich.variances[at])), sandwich.df
    cause = Cause.EXACT_FIT if se == 0 else Cause.OUT_OF_RANGE
    values, why = tested("slope", fit.slopes_exact[at], se, against.slope_0, exponent, df, against, cause)
    slope = fit.slopes[at]
    if slope is None:
        why["slope"] = Cause.OUT_OF_RANGE
    return HeldSlope(slope=slope, df=df, inflation=float(fit.inflation[at]), why=reasons(why), **values)


def _left(y: Floats, others: Sequence[Floats]) -> Floats:
    """What the others leave of a column, (n,), in its units."""
    if y.size and not np.ptp(y):
        return np.zeros(y.size)
    fit = fit_terms(Design(terms=tuple(others)), y)
    return np.ldexp(fit.residual, fit.y.exponent)


def _partial(x: Floats, y: Floats, df: int, against: Hypotheses) -> dict[str, Any]:
    """The correlation of what is left of x and of y, tested as a slope of 0 is."""
    wide, tall = (float(np.abs(one).max()) for one in (x, y))
    tested = ("partial_t", "partial_p", "partial_ci")
    found: dict[str, Any] = {"partial_r": None, **dict.fromkeys(tested), "partial_df": df}
    if not tall or not wide:
        return found | {"why": reasons(dict.fromkeys(("partial_r", *tested), Cause.CONSTANT_Y))}
    x, y = x / wide, y / tall
    sxx, syy, sxy = (dot(a, _NONE, b, _NONE) for a, b in ((x, x), (y, y), (x, y)))
    r = max(-1.0, min(1.0, sxy / math.sqrt(sxx * syy)))
    gap = y - x * (sxy / sxx)
    spare = dot(gap, _NONE, gap, _NONE) / syy
    found["partial_r"] = r
    if spare <= df * 1e-30:
        return found | {"why": reasons(dict.fromkeys(tested, Cause.PERFECT_CORRELATION))}
    t, ci = r * math.sqrt(df / spare), fisher_interval(r, spare, df, against.level)
    return found | {
        "partial_t": t, "partial_p": t_tail(t, df, against.alternative), "partial_ci": ci,
        "why": reasons({} if ci else {"partial_ci": Cause.TOO_FEW_PAIRS}),
    }  # fmt: skip


def columns_of(names: Sequence[str], reference: str) -> tuple[tuple[str, ...], tuple[Floats, ...]]:
    """A category as columns of 0 and 1, one a level but the reference, in order of first appearance.

    names : of each row, (n,). Returns the levels that have a column, and the columns, each (n,).
    """
    levels = [one for one in dict.fromkeys(names) if one != reference]
    cells = np.array(names)
    return tuple(levels), tuple((cells == one).astype(float) for one in levels)


def share_of_change(held: Held) -> float | None:
    """By what share of itself the slope is smaller once the others are held; below 0 where it is larger."""
    if not held.slope_alone or held.held.slope is None:
        return None
    return 1 - held.held.slope / held.slope_alone
