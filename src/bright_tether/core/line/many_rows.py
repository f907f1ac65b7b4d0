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
    targets = [target for target, _ in asked]
    room, other = np.empty((len(every), CACHED_ROWS)), np.empty((many, CACHED_ROWS))
    for part in blocks(n, CACHED_ROWS):
        block = _side_by_side(room, every, part)
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
    left, along, sse = [np.empty(n) for _ in asked], np.zeros((many, k)), np.zeros(many)
    whole = _filled(slopes, k)
    for part in blocks(n, CACHED_ROWS):
        block = _side_by_side(room, columns, part)
        gaps = _side_by_side(other, targets, part)
        gaps -= whole @ block
        along += gaps @ block.T
        sse += np.einsum("ij,ij->i", gaps, gaps)
        for gap, one in zip(gaps, left, strict=True):
            one[part] = gap
    more = [step(at, along[at, first:]) for at, (_, first) in enumerate(asked)]
    moved = [float(np.linalg.norm(more[at] * roots[first:])) for at, (_, first) in enumerate(asked)]
    if all(one <= _NO_STEP * math.sqrt(square) for one, square in zip(moved, sse, strict=True)):
        return _told(slopes, more, left, sse, factors)
    sse, whole = np.zeros(many), _filled(more, k)
    for part in blocks(n, CACHED_ROWS):
        steps = whole @ _side_by_side(room, columns, part)
        for at, one in enumerate(left):
            gap = one[part]
            gap -= steps[at]
            sse[at] += float(np.dot(gap, gap))
    return _told(slopes, more, left, sse, factors)


def _side_by_side(room: Floats, columns: Sequence[Floats], part: slice) -> Floats:
    """A block of each column, (k, b), in a room that is used again: fresh memory costs more than the sums."""
    for at, one in enumerate(columns):
        size = one[part].size
        room[at, :size] = one[part]
    return room[: len(columns), :size]


def _filled(slopes: list[Floats], k: int) -> Floats:
    """Slopes of each target on every column, (targets, k): 0 on those that it is not fitted on, which come first."""
    return np.stack([np.concatenate((np.zeros(k - one.size), one)) for one in slopes])


def _told(
    slopes: list[Floats], more: list[Floats], left: list[Floats], sse: Floats, factors: list[Floats]
) -> list[Solved]:
    return [
        Solved(slopes=tuple(Fraction(float(a)) + Fraction(float(b)) for a, b in zip(slope, step, strict=True)),
               residual=residual, sse=square, factor=np.ascontiguousarray(lower.T))
        for slope, step, residual, square, lower in zip(slopes, more, left, sse.tolist(), factors, strict=True)
    ]  # fmt: skip
