"""Permutation p of r: how often does luck alone reach this far?"""

from __future__ import annotations

import math
from collections.abc import Callable

import msgspec
import numpy as np

from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Alternative, Cause, ConstantColumn, Floats, Ints, Why, reasons

#: Shuffled values worked on at once.
_AT_ONCE = 1 << 17


class Permutation(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """p = (b + 1)/(N + 1), b of N shuffles reaching the observed r by the alternative.

    shuffles : those done, fewer than asked for where it was stopped. p_error : simulation error of p.
    piled : (k,) counts of r in equal bins from −1 to +1, for the picture of luck. by_case : whole cases were shuffled.
    """

    p: float | None
    reached: int
    shuffles: int
    seed: int
    p_error: float | None
    piled: Floats
    by_case: bool
    why: Why


def permutation(
    pairs: Pairs,
    shuffles: int,
    seed: int,
    *,
    alternative: Alternative = "two-sided",
    cases: Ints | None = None,
    progress: Callable[[int], bool] = lambda done: True,
) -> Permutation:
    """Shuffle y against x and count how often r comes as far out as observed.

    pairs : n ≥ 3, x not constant. progress is told the shuffles done and returns whether to go on;
    what is done then is kept. cases : (n,) codes from 0; the y of a whole case then goes to the x of another with as
    many rows, in table order, since rows of one case cannot change places with those of another one by one.
    The generator is NumPy's PCG64, one row of shuffled y after the other.
    Source: quantities §8; Phipson & Smyth 2010 for the +1.
    """
    require(pairs, 3)
    if pairs.centred_x.constant:
        raise ConstantColumn(pairs.n, float(pairs.x[0]))
    alike = None if cases is None else _alike(cases)
    none = Cause.CONSTANT_Y if pairs.centred_y.constant else Cause.CASES_UNLIKE if alike == [] else None
    if none is not None:
        return Permutation(p=None, reached=0, shuffles=0, seed=seed, p_error=None, by_case=cases is not None,
                           piled=np.zeros(_BINS), why=reasons(dict.fromkeys(("p", "p_error"), none)))  # fmt: skip
    draw = np.random.Generator(np.random.PCG64(seed))
    x, y = (c.high / math.sqrt(c.sum_squares) for c in (pairs.centred_x, pairs.centred_y))
    observed = float(np.dot(x, y))
    # A shuffle that gives the same r up to rounding reaches it.
    edge = observed - math.copysign(1e-12, observed)
    rows = max(_AT_ONCE // pairs.n, 1)
    reached = done = 0
    piled = np.zeros(_BINS)
    while done < shuffles:
        many = min(rows, shuffles - done)
        block = np.broadcast_to(y, (many, y.size)).copy()
        if alike is None:
            draw.permuted(block, axis=1, out=block)
        else:
            _swap(draw, y, alike, block)
        r = block @ x
        if alternative == "two-sided":
            reached += int(np.count_nonzero(np.abs(r) >= abs(edge)))
        else:
            side = 1 if alternative == "greater" else -1
            reached += int(np.count_nonzero(side * r >= side * observed - 1e-12))
        piled += np.bincount(np.clip(((r + 1) / 2 * _BINS).astype(np.int64), 0, _BINS - 1), minlength=_BINS)
        done += many
        if not progress(done):
            break
    p = (reached + 1) / (done + 1)
    return Permutation(
        p=p,
        reached=reached,
        shuffles=done,
        seed=seed,
        p_error=math.sqrt(p * (1 - p) / done),
        by_case=cases is not None,
        piled=piled,
        why=reasons(),
    )


def _alike(cases: Ints) -> list[Ints]:
    """The places of cases with equally many rows, (cases, rows) each; sizes that only one case has are left out."""
    order = np.argsort(cases, kind="stable")
    sizes = np.bincount(cases)
    starts = np.cumsum(sizes) - sizes
    found = []
    for size in np.flatnonzero(np.bincount(sizes) > 1).tolist():
        mine = starts[sizes == size]
        if size:
            found.append(order[mine[:, None] + np.arange(size)])
    return found


def _swap(draw: np.random.Generator, y: Floats, alike: list[Ints], block: Floats) -> None:
    """Shuffle the y of whole cases in every row of a block, in place."""
    for places in alike:
        goes = np.broadcast_to(np.arange(len(places)), (len(block), len(places))).copy()
        draw.permuted(goes, axis=1, out=goes)
        block[:, places.ravel()] = y[places[goes]].reshape(len(block), -1)


_BINS = 200
