"""How the spread about a line follows x or the fitted value: as a power of it, by restricted likelihood.

sd of y at a row = σ · m^θ, m being |x| or |fitted| of the plain line; y normal about a line of its own for each θ.
Source: Carroll & Ruppert 1988, Transformation and Weighting in Regression, chapter 2; Patterson & Thompson 1971 for the
likelihood of what the line leaves; Satterthwaite 1946 for the df at a place.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import msgspec
import numpy as np

from bright_tether.core.exact import scaled_by
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Floats, Interval, Refusal
from bright_tether.core.tails import chi_above, z_beyond

SpreadOf = Literal["x", "fitted"]
#: Powers looked at, and how far apart at first.
REACH, _STEPS = 12.0, 97
#: The fewest rows that tell a power.
FEWEST = 5


class SpreadPower(msgspec.Struct, frozen=True, kw_only=True):
    """power : θ; ci : by profile likelihood, None where it goes on beyond what is looked at.

    p : of θ = 0, by the likelihood ratio. scale : mean of log m, which the weights m^(−2θ) are measured from.
    variance : of θ, by its information 2Σ(log m − scale)².
    """

    of: SpreadOf
    power: float
    ci: Interval | None
    p: float
    scale: float
    variance: float
    n: int

    def df_at(self, size: Floats, df: int) -> Floats:
        """The df of the variance at places, (m,): fewer where θ tells less of it. df : of the line; size : its m."""
        with np.errstate(all="ignore"):
            away = np.log(np.abs(size)) - self.scale
            found = 2 / (2 / df + 4 * away**2 * self.variance)
        return np.asarray(np.where(np.isfinite(found), found, np.nan), np.float64)

    def weights(self, size: Floats) -> Floats:
        """m^(−2θ) from the mean of log m, (m,), NaN where that is none. size : x, or fitted values."""
        with np.errstate(all="ignore"):
            weights = np.exp(-2 * self.power * (np.log(np.abs(size)) - self.scale))
        weights[~((weights > 0) & np.isfinite(weights))] = np.nan
        return np.asarray(weights, np.float64)


def spread_power(pairs: Pairs, of: SpreadOf, *, level: float) -> SpreadPower | None:
    """Fit it. pairs : plain; those at m = 0 are left out. None where there is no spread, or too little to tell."""
    try:
        return power_about(fit_line(pairs), of, level=level)
    except Refusal:
        return None


def power_about(fit: Fit, of: SpreadOf, *, level: float, bounded: bool = True) -> SpreadPower | None:
    """The same about the plain line. bounded : whether its interval is wanted."""
    from scipy import optimize  # heavy, and seldom asked for

    pairs = fit.pairs
    x, y = fit.x.high, fit.y.high
    size = np.abs(pairs.x if of == "x" else scaled_by(y + float(fit.y.mean) - fit.residual, fit.y.exponent))
    there = (size > 0) & np.isfinite(size)
    if fit.exact or np.count_nonzero(there) < FEWEST:
        return None
    x, y, log = x[there], y[there], np.log(size[there])
    scale = float(log.mean())
    log = log - scale
    if float(np.ptp(log)) < 1e-9 or not np.ptp(x):
        return None

    def loss(power: float) -> float:
        return float(_losses(np.array([power]), x, y, log)[0])

    grid = np.linspace(-REACH, REACH, _STEPS)
    losses = _losses(grid, x, y, log)
    if not np.isfinite(losses).any():
        return None
    at = int(np.nanargmin(losses))
    low, high = grid[max(at - 1, 0)], grid[min(at + 1, _STEPS - 1)]
    rises = [_rise(one, x, y, log) for one in (low, high)]
    if rises[0] < 0 < rises[1]:  # the zero of its rise keeps the digits that a flat least value does not
        power = float(optimize.brentq(_rise, low, high, args=(x, y, log), xtol=1e-14))
    else:
        power = float(
            optimize.minimize_scalar(loss, bounds=(low, high), method="bounded", options={"xatol": 1e-10}).x
        )
    least = loss(power)
    p = chi_above(max(2 * (loss(0.0) - least), 0.0), 1)
    limit = least + 0.5 * z_beyond((1 - level) / 2) ** 2
    ends = [None, None] if not bounded else [_crossing(loss, power, side * REACH, limit) for side in (-1, 1)]
    ci = None if ends[0] is None or ends[1] is None else (ends[0], ends[1])
    return SpreadPower(
        of=of, power=power, ci=ci, p=p, scale=scale, variance=1 / (2 * float(log @ log)), n=int(x.size)
    )


def _losses(powers: Floats, x: Floats, y: Floats, log: Floats) -> Floats:
    """Minus the restricted log likelihoods, but for a constant, (k,). log m is about 0: its sum adds nothing."""
    with np.errstate(all="ignore"):
        w = np.exp(np.multiply.outer(-2 * powers, log))
        total = w.sum(axis=1)
        a = x - (w @ x / total)[:, None]
        b = y - (w @ y / total)[:, None]
        sxx = np.sum(w * a * a, axis=1)
        slope = np.sum(w * a * b, axis=1) / sxx
        gap = b - slope[:, None] * a
        rest, wide = np.sum(w * gap * gap, axis=1), total * sxx
        found = 0.5 * ((x.size - 2) * np.log(rest) + np.log(wide))
        there = (rest > 0) & (wide > 0) & np.isfinite(rest) & np.isfinite(wide)
    return np.asarray(np.where(there, found, np.inf), np.float64)


def _rise(power: float, x: Floats, y: Floats, log: Floats) -> float:
    """By how much the loss grows with the power: mean and slope are at their best, so weights alone move it."""
    with np.errstate(all="ignore"):
        w = np.exp(-2 * power * log)
        total = w.sum()
        a, b = x - w @ x / total, y - w @ y / total
        sxx = w @ (a * a)
        gap = b - (w @ (a * b) / sxx) * a
        moved = w * log
        share = (moved @ (gap * gap)) / (w @ (gap * gap))
        return float(-(x.size - 2) * share - moved.sum() / total - (moved @ (a * a)) / sxx)


def _crossing(loss: Callable[[float], float], start: float, end: float, limit: float) -> float | None:
    """Where the loss goes through a limit between two powers; None where it does not."""
    from scipy import optimize

    if not (start < end or end < start) or loss(end) <= limit:
        return None
    return float(optimize.brentq(lambda one: min(loss(one), 1e300) - limit, start, end, xtol=1e-10))
