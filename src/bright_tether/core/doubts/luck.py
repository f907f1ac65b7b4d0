"""How often a true line over these x shows a sign, by seeded simulation of the rule itself."""

from __future__ import annotations

from functools import lru_cache

import msgspec
import numpy as np

from bright_tether.core.doubts.power import ALIKE
from bright_tether.core.doubts.statistics import DOUBTS, Design, statistic
from bright_tether.core.doubts.verdicts import ANY_SIGN, LEAST_DF_OF_ORDER, MANY_ROWS, NO_SHAPE, SIZES
from bright_tether.core.results import Bools, Floats
from bright_tether.core.special import special

DRAWS, SEED = 1000, 6
#: With more values than this fewer lines are drawn, down to LEAST_DRAWS; above MOST_ROWS none are.
MOST_VALUES, LEAST_DRAWS, MOST_ROWS = 400_000, 200, 2000


class ByLuck(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The share of true lines that show at least one sign. draws : how many were drawn; 0 where the rule's own
    bound stands for it.
    """

    share: float
    draws: int


def by_luck(design: Design, alpha: float) -> ByLuck:
    """Draw true lines with normal errors over these x and judge each as a family.

    Its p are those of the checks; where a check has no closed form they are ranks among the lines drawn.
    """
    bound = min(ANY_SIGN * alpha, 1.0)
    return ByLuck(share=bound, draws=0) if design.n > MOST_ROWS or design.df < 1 else _drawn(design, bound)


@lru_cache(maxsize=8)
def _drawn(design: Design, bound: float) -> ByLuck:
    """Kept by design: dragging a point up or down asks the same again."""
    draws = int(np.clip(MOST_VALUES // design.n, LEAST_DRAWS, DRAWS))
    draw = np.random.Generator(np.random.PCG64(SEED))
    residuals = design.residuals_of(draw.normal(size=(draws, design.n)))
    each = np.stack([_p(design, name, residuals) for name in DOUBTS])
    any_sign = each.min(axis=0) <= bound / len(DOUBTS)  # the first step of Holm
    return ByLuck(share=float(any_sign.mean()), draws=draws)


def _p(design: Design, name: str, residuals: Floats) -> Floats:
    """The p of one doubt for each line, 1 where its size does not count, (draws,)."""
    found = statistic(design, name, residuals)
    n, df = design.n, design.df
    if name == "bend":
        share = np.minimum(found, 1.0)
        if df < 2 or not design.square.any():
            return np.ones_like(found)
        p = _t_both(share * (df - 1) / np.maximum(1 - share, 1e-300), df - 1)
        return np.where(share >= SIZES[name], p, 1.0)
    if name == "spread":
        return np.where(_spread_counts(design, residuals), special.gammaincc(0.5, n * found / 2), 1.0)
    if name == "far-out":
        if df < 2:
            return np.ones_like(found)
        return np.minimum(n * _t_both(found * (df - 1) / np.maximum(df - found, 1e-300), df - 1), 1.0)
    as_large = found.size - np.searchsorted(np.sort(found), found * (1 - ALIKE), "left")
    ranks = (as_large + 1) / (found.size + 1)
    if name == "order":
        along = residuals if design.order is None else residuals[:, design.order]
        alike = np.abs(np.einsum("ij,ij->i", along[:, 1:], along[:, :-1]))
        counted = alike >= SIZES[name] * np.einsum("ij,ij->i", along, along)
        return np.where(counted & (df >= LEAST_DF_OF_ORDER), ranks, 1.0)
    if name == "shape":
        return np.where(_shape_counts(residuals) & (n > NO_SHAPE), ranks, 1.0)
    return np.where(found >= SIZES[name], ranks, 1.0)


def _t_both(square: Floats, df: int) -> Floats:
    return np.asarray(2 * special.stdtr(df, -np.sqrt(square)))


def _spread_counts(design: Design, residuals: Floats) -> Bools:
    third = design.n // 3
    if third < 2:
        return np.ones(len(residuals), bool)
    along = np.argsort(design.x, kind="stable")
    low, high = (residuals[:, at].std(axis=1, ddof=1) for at in (along[:third], along[-third:]))
    ratio = np.maximum(low, high) / np.maximum(np.minimum(low, high), 1e-300)
    return np.asarray(ratio >= SIZES["spread"])


def _shape_counts(residuals: Floats) -> Bools:
    if residuals.shape[1] <= MANY_ROWS:
        return np.ones(len(residuals), bool)
    unit = residuals / np.sqrt(np.mean(residuals**2, axis=1, keepdims=True))
    skew, tails = np.mean(unit**3, axis=1), np.mean(unit**4, axis=1) - 3
    return np.asarray(np.maximum(np.abs(skew), np.abs(tails) / 2) >= 0.5)
