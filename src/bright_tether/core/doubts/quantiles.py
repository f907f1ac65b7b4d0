"""Residuals against normal quantiles, with the room that luck gives them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

import msgspec
import numpy as np

from bright_tether.core.doubts.statistics import Design
from bright_tether.core.results import Floats, Ints
from bright_tether.core.special import special

T = TypeVar("T")
DRAWS = 200
#: More rows than this are shown without simulated room.
MOST = 2000


class Quantiles(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Residuals in units of s, by rank. order : (n,) places of the residuals from lowest to highest.

    normal, residual, low, high : (n,) in that order; low and high hold 95 % of simulated true lines.
    """

    order: Ints
    normal: Floats
    residual: Floats
    low: Floats | None
    high: Floats | None


def quantiles(design: Design, residuals: Floats, *, seed: int = 7) -> Quantiles:
    """Order the residuals and simulate what true lines over the same x give at each rank.

    residuals : (n,). Source: Blom 1958 for the normal quantiles; Atkinson 1981 for the envelope.
    """
    n = design.n
    order = np.argsort(residuals, kind="stable")
    s = np.sqrt(np.dot(residuals, residuals) / design.df)
    normal = special.ndtri((np.arange(1, n + 1) - 0.375) / (n + 0.25))
    low = high = None
    if n <= MOST:
        draw = np.random.Generator(np.random.PCG64(seed))
        simulated = design.residuals_of(draw.normal(size=(DRAWS, n)))
        simulated /= np.sqrt(np.einsum("ij,ij->i", simulated, simulated) / design.df)[:, None]
        simulated.sort(axis=1)
        low, high = np.quantile(simulated, (0.025, 0.975), axis=0)
    return Quantiles(order=order, normal=normal, residual=residuals[order] / s, low=low, high=high)


def lineup(
    design: Design,
    residuals: Floats,
    of: Callable[[Floats], T],
    *,
    others: int,
    seed: int,
    progress: Callable[[tuple[int, int]], bool] = lambda _: True,
) -> tuple[list[T], int]:
    """The real residuals hidden among those of true lines over the same x with the same s.

    of : makes what is kept of residuals, (n,) in units of s: many rows would not fit into memory so many times.
    progress : told how many lines of how many are drawn; False ends it early.
    Returns (others + 1) of them, and the place of the real one. Source: Buja et al. 2009.
    """
    draw = np.random.Generator(np.random.PCG64(seed))
    shown: list[T] = []
    for _ in range(others):
        simulated = design.residuals_of(draw.normal(size=(1, design.n)))[0]
        shown.append(of(simulated / np.sqrt(np.dot(simulated, simulated) / design.df)))
        if not progress((len(shown), others)):
            break
    real = int(draw.integers(0, len(shown) + 1))
    shown.insert(real, of(residuals / np.sqrt(np.dot(residuals, residuals) / design.df)))
    return shown, real
