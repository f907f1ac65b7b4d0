"""Residuals against normal quantiles, with the room that luck gives them."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.doubts.statistics import Design
from bright_tether.core.results import Floats, Ints
from bright_tether.core.special import special

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


def lineup(design: Design, residuals: Floats, *, others: int, seed: int) -> tuple[list[Floats], int]:
    """The real residuals hidden among those of true lines over the same x with the same s.

    Returns (others + 1) arrays, (n,) each in units of s, and the place of the real one.
    Source: Buja et al. 2009.
    """
    draw = np.random.Generator(np.random.PCG64(seed))
    simulated = design.residuals_of(draw.normal(size=(others, design.n)))
    simulated /= np.sqrt(np.einsum("ij,ij->i", simulated, simulated) / design.df)[:, None]
    real = int(draw.integers(0, others + 1))
    shown = list(simulated)
    shown.insert(real, residuals / np.sqrt(np.dot(residuals, residuals) / design.df))
    return shown, real
