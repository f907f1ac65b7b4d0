"""Least squares of many rows on several terms, block by block, where rounding averages out.

The columns' products are summed in blocks that stay in the processor's cache, and every solution is refined once from
its residuals. Source: Björck 1967 for the refinement; quantities-with.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction

import msgspec
import numpy as np

from bright_tether.core.exact import CACHED_ROWS, blocks
from bright_tether.core.results import Floats

#: Columns that hang together more closely than this lose digits by their products.
_APART = 1e-3
#: A refinement of this share of what is left moves no residual.
_NO_STEP = 1e-13


class Solved(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One target on some columns: a slope each, what is left, (n,), and Σ of its squares.

    factor : (k, k), the upper triangle R of the columns over the roots of their squares.
    """

    slopes: tuple[Fraction, ...]
    residual: Floats
    sse: float
    factor: Floats


def solve_many(columns: Sequence[Floats], asked: Sequence[tuple[Floats, int]]) -> list[Solved] | None:
    """Each target, (n,), on the columns from a place on; all from their means. None where the columns are too close.

    columns : each (n,). asked : targets, with the place of the first column that each is fitted on.
    """
    n, k, many = columns[0].size, len(columns), len(asked)
    every = list({id(one): one for one in (*columns, *(target for target, _ in asked))}.values())
    products = np.zeros((len(every), len(every)))
    for part in blocks(n, CACHED_ROWS):
        block = np.stack([one[part] for one in every])
        products += block @ block.T
    gram = products[:k, :k]
    joint = [products[next(at for at, one in enumerate(every) if one is target), :k] for target, _ in asked]
    roots = np.sqrt(np.diag(gram))
    try:
        factors = [
            np.linalg.cholesky(gram[first:, first:] / np.outer(roots[first:], roots[first:]))
            for _, first in asked
        ]
    except np.linalg.LinAlgError:
        return None
    if min(float(np.diag(one).min()) for one in factors) < _APART:
        return None

    def step(at: int, products: Floats) -> Floats:
        first, lower = asked[at][1], factors[at]
        return np.asarray(
            np.linalg.solve(lower.T, np.linalg.solve(lower, products / roots[first:])) / roots[first:]
        )

    slopes = [step(at, joint[at][first:]) for at, (_, first) in enumerate(asked)]
    left, along, sse = [np.empty(n) for _ in asked], [np.zeros(one.size) for one in slopes], [0.0] * many
    for part in blocks(n, CACHED_ROWS):
        block = np.stack([one[part] for one in columns])
        for at, (target, first) in enumerate(asked):
            gap = target[part] - slopes[at] @ block[first:]
            along[at] += block[first:] @ gap
            sse[at] += float(np.dot(gap, gap))
            left[at][part] = gap
    more = [step(at, one) for at, one in enumerate(along)]
    moved = [float(np.linalg.norm(more[at] * roots[first:])) for at, (_, first) in enumerate(asked)]
    if all(one <= _NO_STEP * math.sqrt(square) for one, square in zip(moved, sse, strict=True)):
        return _told(slopes, more, left, sse, factors)
    sse = [0.0] * many
    for part in blocks(n, CACHED_ROWS):
        block = np.stack([one[part] for one in columns])
        for at, (_, first) in enumerate(asked):
            gap = left[at][part]
            gap -= more[at] @ block[first:]
            sse[at] += float(np.dot(gap, gap))
    return _told(slopes, more, left, sse, factors)


def _told(
    slopes: list[Floats], more: list[Floats], left: list[Floats], sse: list[float], factors: list[Floats]
) -> list[Solved]:
    return [
        Solved(slopes=tuple(Fraction(float(a)) + Fraction(float(b)) for a, b in zip(slope, step, strict=True)),
               residual=residual, sse=square, factor=np.ascontiguousarray(lower.T))
        for slope, step, residual, square, lower in zip(slopes, more, left, sse, factors, strict=True)
    ]  # fmt: skip
