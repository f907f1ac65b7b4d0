"""Samples of a line with other columns held: the slope held in each, beside the slope alone.

Drawn from the fitted line, or one that is stated, over the x and the held columns as they are; or the rows themselves
are drawn again, or whole cases. Source: quantities-with for both slopes; Efron & Tibshirani 1993 for rows drawn again.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import msgspec
import numpy as np

from bright_tether.core.line.errors import lag_for
from bright_tether.core.line.longer import LongerFit
from bright_tether.core.line.meats import LEVERAGE_ONE_WITHIN
from bright_tether.core.rehearse.kinds import Judged
from bright_tether.core.rehearse.sampling import Sampling, summed_up
from bright_tether.core.rehearse.truth import Truth, drawn_errors
from bright_tether.core.resampling.bootstrap import drawn_counts
from bright_tether.core.results import Floats, Ints

#: Values drawn at once.
_AT_ONCE = 1 << 18
#: Rows drawn again of which a term is made of the others, up to this of a squared length, are drawn anew.
_FLAT = 1e-10


class HeldDraws(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Each sample as its slope held and its slope alone, (N,), in y units per x unit.

    se : of the slope held, by the errors it is judged by, (N,), empty where rows are drawn. truth : the slope held
    that is drawn from; alone_truth : what the slope alone comes to without errors. formula : the standard error at
    the true sd. df : of t. redrawn : draws that left no slope. by_rows, by_cases : what was drawn.
    """

    held: Floats
    alone: Floats
    se: Floats
    truth: float
    alone_truth: float
    formula: float
    df: int
    judged: Judged
    seed: int
    redrawn: int
    by_rows: bool
    by_cases: bool

    @property
    def done(self) -> int:
        """Samples drawn so far."""
        return self.held.size


class _Pile(msgspec.Struct):
    """What is drawn so far, in the frame of the fit."""

    held: list[Floats]
    alone: list[Floats]
    se: list[Floats]
    redrawn: int = 0


def draw_held(
    fit: LongerFit, truth: Truth | None, draws: int, seed: int, judged: Judged, cases: Ints | None,
    watch: Callable[[HeldDraws], bool],
) -> HeldDraws:  # fmt: skip
    """truth : what is drawn from, at the x of the fit; None for the rows themselves, or cases, (n,) codes from 0.

    The generator is NumPy's PCG64. watch is shown what there is after each batch and returns whether to go on.
    """
    draw, pile = np.random.Generator(np.random.PCG64(seed)), _Pile([], [], [])
    many_at_once, done = max(_AT_ONCE // fit.n, 1), 0
    while done < draws:
        many = min(many_at_once, draws - done)
        if truth is None:
            _draw_rows(fit, cases, draw, many, pile)
        else:
            _draw_errors(fit, truth, draw, many, judged, pile)
        done += many
        found = _found(fit, truth, judged, cases, seed, pile)
        if not watch(found):
            break
    return found


def held_sampling(draws: HeldDraws, *, level: float) -> Sampling | None:
    """The slope held summed up; None below two samples. Intervals: t on the df of the longer line."""
    if draws.done < 2:
        return None
    return summed_up(
        "slope", draws.judged, draws.held, draws.se if draws.se.size else None, truth=draws.truth, df=draws.df,
        level=level, formula=draws.formula, percentile=draws.by_rows,
    )  # fmt: skip


def _found(
    fit: LongerFit, truth: Truth | None, judged: Judged, cases: Ints | None, seed: int, pile: _Pile
) -> HeldDraws:
    """The pile in y units per x unit."""
    power = fit.y.exponent - fit.x.exponent
    slope, sd = _of(fit, truth)
    off = slope - fit.slope_scaled
    heights = fit.heights + off * fit.x.high
    alone = float(np.dot(fit.x.high, heights)) / fit.x.sum_squares
    return HeldDraws(
        held=np.ldexp(np.concatenate(pile.held), power), alone=np.ldexp(np.concatenate(pile.alone), power),
        se=np.ldexp(np.concatenate(pile.se), power) if pile.se else np.zeros(0),
        truth=math.ldexp(slope, power), alone_truth=math.ldexp(alone, power),
        formula=math.ldexp(sd / math.sqrt(fit.left.sum_squares), power), df=fit.residual_df, judged=judged,
        seed=seed, redrawn=pile.redrawn, by_rows=truth is None, by_cases=truth is None and cases is not None,
    )  # fmt: skip


def _of(fit: LongerFit, truth: Truth | None) -> tuple[float, float]:
    """The true slope held and sd of the errors, in the frame of the fit."""
    if truth is None:
        return fit.slope_scaled, fit.s_scaled
    return math.ldexp(truth.slope, fit.x.exponent - fit.y.exponent), math.ldexp(truth.sd, -fit.y.exponent)


def _draw_errors(
    fit: LongerFit, truth: Truth, draw: np.random.Generator, many: int, judged: Judged, pile: _Pile
) -> None:
    slope, sd = _of(fit, truth)
    errors = drawn_errors(truth, draw, many, truth.x) * sd
    pull = fit.left.high / fit.left.sum_squares
    heights = fit.heights + (slope - fit.slope_scaled) * fit.x.high
    pile.held.append(slope + errors @ pull)
    pile.alone.append((float(np.dot(fit.x.high, heights)) + errors @ fit.x.high) / fit.x.sum_squares)
    left = errors - (errors @ fit.square) @ fit.square.T
    if judged == "classical":
        square = np.einsum("ij,ij->i", left, left) / fit.residual_df / fit.left.sum_squares
    else:
        square = _robust(fit, left * pull, judged)
    pile.se.append(np.sqrt(np.maximum(square, 0)))


def _robust(fit: LongerFit, scores: Floats, judged: Judged) -> Floats:
    """The variance of each slope by HC3, or by errors of alike neighbours along x, (N,). scores : (N, n)."""
    if judged == "HC3":
        spare = 1 - fit.leverage()
        scores = scores / np.where(spare <= LEVERAGE_ONE_WITHIN, np.nan, spare)
        return np.asarray(np.einsum("ij,ij->i", scores, scores))
    scores, lag = scores[:, np.argsort(fit.x.high, kind="stable")], lag_for(fit.n)
    square = np.einsum("ij,ij->i", scores, scores)
    for back in range(1, lag + 1):
        together = np.einsum("ij,ij->i", scores[:, back:], scores[:, :-back])
        square = square + 2 * (1 - back / (lag + 1)) * together
    return np.asarray(square)


def _draw_rows(fit: LongerFit, cases: Ints | None, draw: np.random.Generator, many: int, pile: _Pile) -> None:
    counts, bent = _counted(fit, cases, draw, many)
    while (flat := np.flatnonzero(np.linalg.eigvalsh(bent)[:, 0] <= _FLAT)).size:
        pile.redrawn += flat.size
        counts[flat], bent[flat] = _counted(fit, cases, draw, flat.size)
    x, y = fit.x.high, fit.y.high
    beside = np.linalg.solve(bent, (counts @ (fit.square * y[:, None]))[:, :, None])[:, :, 0]
    # the slope of x from the slopes of the columns that stand square on each other
    back = np.linalg.solve(fit.triangle, beside.T)[1]
    pile.held.append(back / math.sqrt(float(np.dot(x, x))))
    n = counts.sum(axis=1)
    mean_x, mean_y = counts @ x / n, counts @ y / n
    sxx, sxy = counts @ (x * x) - n * mean_x**2, counts @ (x * y) - n * mean_x * mean_y
    pile.alone.append(sxy / sxx)


def _counted(
    fit: LongerFit, cases: Ints | None, draw: np.random.Generator, many: int
) -> tuple[Floats, Floats]:
    """How often each row is drawn, (many, n), and the columns' products over them, (many, k, k)."""
    if cases is None:
        counts = drawn_counts(draw, many, fit.n)
    else:
        counts = drawn_counts(draw, many, int(cases.max()) + 1)[:, cases]
    own = fit.square
    products = (own[:, :, None] * own[:, None, :]).reshape(fit.n, -1)
    return counts, (counts @ products).reshape(many, fit.parameters, fit.parameters)
