"""The sums behind the line and r, for the working."""

from __future__ import annotations

import msgspec

from bright_tether.core.centred import fraction_unscaled, unscaled
from bright_tether.core.line.plain import Fit
from bright_tether.core.tails import t_beyond


class Sums(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Means in x and y units; sums of squares and products about them; None beyond double range."""

    n: int
    mean_x: float | None
    mean_y: float | None
    sxx: float | None
    syy: float | None
    sxy: float | None
    sse: float | None
    unshared: float | None
    t_level: float


def sums(fit: Fit, level: float) -> Sums:
    """Means, Sxx, Syy, Sxy, SSE, SSE/Syy, and the t that the interval level asks for.

    Source: quantities, notation.
    """
    tilt, rise = fit.x.exponent, fit.y.exponent
    return Sums(
        n=fit.n,
        mean_x=fraction_unscaled(fit.x.mean, tilt),
        mean_y=fraction_unscaled(fit.y.mean, rise),
        sxx=unscaled(fit.x.sum_squares, 2 * tilt),
        syy=unscaled(fit.y.sum_squares, 2 * rise),
        sxy=unscaled(fit.sum_products, tilt + rise),
        sse=unscaled(fit.sse, 2 * rise),
        unshared=None if fit.y.constant else fit.sse / fit.y.sum_squares,
        t_level=t_beyond((1 - level) / 2, fit.residual_df),
    )
