"""The slope of x with other columns held: what of y still goes with what of x the others do not tell."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.centred import centre, fraction_unscaled
from bright_tether.core.exact import CACHED_ROWS, COMPENSATED_UP_TO, blocks, scaled_by
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
from bright_tether.core.line.many_rows import solve_many
from bright_tether.core.line.meats import LEVERAGE_ONE_WITHIN
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.terms import TermsFit, fit_centred, fit_of
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Floats, Interval, Ints, TooFewPairs, Why, read_only, reasons
from bright_tether.core.tails import t_tail

_POWER = {"HC0": 0, "HC1": 0, "HC2": 1, "HC3": 2}


class HeldSlope(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One slope of several, in y units per unit of its term, with the errors in force; t on df."""

    slope: float | None
    se_slope: float | None
    t_slope: float | None
    p_slope: float | None
    ci_slope: Interval | None
    df: int
    inflation: float
    why: Why


class Held(msgspec.Struct, frozen=True, kw_only=True, eq=False):
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


@dataclass(frozen=True, kw_only=True, eq=False)
class HeldFit:
    """What every kind of errors rests on. line : of x alone; fit : y on x and the others.

    lefts : x and y, each on the others alone, where that was solved with them.
    """

    line: Fit
    fit: TermsFit
    lefts: tuple[TermsFit, TermsFit] | None = None

    @once
    def of_x(self) -> TermsFit:
        """x on the others alone."""
        return fit_centred(self.fit.terms[1:], self.fit.terms[0]) if self.lefts is None else self.lefts[0]

    @once
    def of_y(self) -> TermsFit:
        """y on the others alone."""
        return fit_centred(self.fit.terms[1:], self.fit.y) if self.lefts is None else self.lefts[1]


def fit_held(pairs: Pairs, others: Sequence[Floats]) -> HeldFit:
    """pairs : plain, without weights. others : each (n,), finite, one at least.

    Raises TooFewPairs, ConstantColumn, Collinear (term 0 is x, then the others), NoErrors.
    """
    if pairs.n < len(others) + 2:
        raise TooFewPairs(pairs.n, len(others) + 2)
    x, y, beside = pairs.centred_x, pairs.centred_y, tuple(map(centre, others))
    if pairs.n > COMPENSATED_UP_TO and not any(one.constant for one in (x, *beside)):
        found = solve_many([one.high for one in (x, *beside)], [(y.high, 0), (x.high, 1), (y.high, 1)])
        if found is not None:
            whole, of_x, of_y = found
            return HeldFit(line=fit_line(pairs), fit=fit_of((x, *beside), y, whole),
                           lefts=(fit_of(beside, x, of_x), fit_of(beside, y, of_y)))  # fmt: skip
    fit = fit_centred((x, *beside), y)
    if fit.residual_df < 1:
        raise NoErrors(Cause.NO_DEGREES_OF_FREEDOM)
    return HeldFit(line=fit_line(pairs), fit=fit)


def hold(
    pairs: Pairs, others: Sequence[Floats], against: Hypotheses, *, kind: ErrorKind = "classical",
    order: Ints | None = None, clusters: Ints | None = None,
) -> Held:  # fmt: skip
    """Hold other columns while y goes with x; as ``fit_held`` and ``judge_held``.

    Source: Frisch & Waugh 1933; Lovell 1963; quantities-with.
    """
    return judge_held(fit_held(pairs, others), against, kind=kind, order=order, clusters=clusters)


def judge_held(
    found: HeldFit, against: Hypotheses, *, kind: ErrorKind = "classical", order: Ints | None = None,
    clusters: Ints | None = None,
) -> Held:  # fmt: skip
    """x alone and held, by one kind of errors. kind, order, clusters : as ``errors_of``. Raises NoErrors."""
    fit, line = found.fit, found.line
    alone = errors_in_force(line, kind, order=order, clusters=clusters)
    sandwich = sandwich_of(fit, kind, order, clusters)
    slopes = [slope_of(fit, at, sandwich, against if at == 0 else Hypotheses(level=against.level))
              for at in range(len(fit.terms))]  # fmt: skip
    total = fit.y.sum_squares
    slope = fraction_unscaled(line.slope_exact, line.y.exponent - line.x.exponent)
    return Held(
        n=fit.n, kind=kind, alone=coefficients_by(line, alone, against), slope_alone=slope, df_alone=alone.df,
        held=slopes[0], terms=tuple(slopes[1:]), r2=1 - fit.sse / total if total else None,
        r2_alone=1 - line.sse / total if total else None, x_left=_left(found.of_x), y_left=_left(found.of_y),
        **_partial(found, against),
    )  # fmt: skip


def held_slope(
    found: HeldFit, against: Hypotheses, *, kind: ErrorKind, order: Ints | None, clusters: Ints | None
) -> HeldSlope:
    """The slope of x held, by one kind of errors, and nothing beside. As ``judge_held``. Raises NoErrors."""
    return slope_of(found.fit, 0, sandwich_of(found.fit, kind, order, clusters), against)


def _left(fit: TermsFit) -> Floats:
    """What the others leave of a column, (n,), in its units."""
    return read_only(scaled_by(fit.residual, fit.y.exponent))


class Sandwich(msgspec.Struct, frozen=True, eq=False):
    """The covariance of the slopes of several terms, (k, k), scaled; df : of t."""

    covariance: Floats
    df: int

    @property
    def variances(self) -> Floats:
        """Of each slope, (k,)."""
        return np.diag(self.covariance)


def sandwich_of(
    fit: TermsFit, kind: ErrorKind, order: Ints | None, clusters: Ints | None, *, height: bool = False
) -> Sandwich:
    """By one kind of errors. height : with that of the height at all means after the slopes. Raises NoErrors."""
    df, k = fit.residual_df, len(fit.terms)
    roots = np.array([math.sqrt(term.sum_squares) for term in fit.terms])
    inverse: Floats = np.asarray(np.linalg.inv(fit.factor), np.float64)
    if kind == "classical":
        covariance = np.zeros((k + height, k + height))
        covariance[:k, :k] = inverse @ inverse.T / np.outer(roots, roots)
        if height:
            covariance[k, k] = 1 / fit.n
        return Sandwich(covariance * (fit.sse / df), df)
    if kind in _POWER:
        meat = np.zeros((k + height, k + height))
        for scores in _scores(fit, inverse, _POWER[kind], height=height):
            meat += scores @ scores.T
        return Sandwich(meat * (fit.n / df if kind == "HC1" else 1.0), df)
    scores = np.hstack(list(_scores(fit, inverse, 0, height=height)))
    if kind == "newey_west":
        return Sandwich(along(scores if order is None else scores[:, order], lag_for(fit.n)), df)
    if clusters is None or int(clusters.max()) < 1:
        raise NoErrors(Cause.TOO_FEW_CLUSTERS)
    groups = int(clusters.max()) + 1
    summed = np.stack([np.bincount(clusters, weights=row, minlength=groups) for row in scores]).astype(float)
    return Sandwich(summed @ summed.T * cluster_factor(groups, fit.n, df), groups - 1)


def _scores(fit: TermsFit, inverse: Floats, power: int, *, height: bool) -> Iterator[Floats]:
    """What each row adds to each slope, (k, m), some rows at a time. power : of √(1 − leverage) below it.

    Raises NoErrors where a row decides its own fitted value.
    """
    roots = np.array([math.sqrt(term.sum_squares) for term in fit.terms])
    first, second = inverse.T / roots, inverse / roots[:, None]
    for part in blocks(fit.n, CACHED_ROWS):
        across = first @ np.stack([term.high[part] for term in fit.terms])
        spare = 1 - 1 / fit.n - np.einsum("ij,ij->j", across, across)
        if float(spare.min()) <= LEVERAGE_ONE_WITHIN:
            raise NoErrors(Cause.LEVERAGE_ONE)
        scores = second @ across
        if height:
            scores = np.vstack([scores, np.full(across.shape[1], 1 / fit.n)])
        scores *= fit.residual[part] if power == 0 else fit.residual[part] / np.sqrt(spare) ** power
        yield scores


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


def _partial(found: HeldFit, against: Hypotheses) -> dict[str, Any]:
    """The correlation of what is left of x and of y, tested as a slope of 0 is."""
    fit, df = found.fit, found.fit.residual_df
    tested = ("partial_t", "partial_p", "partial_ci")
    figures: dict[str, Any] = {"partial_r": None, **dict.fromkeys(tested), "partial_df": df}
    if not found.of_y.sse or not found.of_x.sse:
        return figures | {"why": reasons(dict.fromkeys(("partial_r", *tested), Cause.CONSTANT_Y))}
    # what is left of y is its slope on what is left of x, and the residuals of the whole
    slope = float(fit.slopes_exact[0]) * math.sqrt(found.of_x.sse)
    spare = fit.sse / found.of_y.sse
    figures["partial_r"] = r = slope / math.hypot(slope, math.sqrt(fit.sse))
    if not fit.sse:
        return figures | {"why": reasons(dict.fromkeys(tested, Cause.PERFECT_CORRELATION))}
    t, ci = r * math.sqrt(df / spare), fisher_interval(r, spare, df, against.level)
    return figures | {
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
