"""How the spread about a line follows x or the fitted value: as a power of it, by restricted likelihood.

sd of y at a row = σ · m^θ, m being |x| or |fitted| of the plain line; y normal about a line of its own for each θ.
Source: Carroll & Ruppert 1988, Transformation and Weighting in Regression, chapter 2; Patterson & Thompson 1971 for the
likelihood of what the line leaves; Satterthwaite 1946 for the df at a place.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bright_tether.core.exact import scaled_by
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Floats, Interval, Refusal
from bright_tether.core.tails import chi_above, z_beyond

SpreadOf = Literal["x", "fitted"]
#: Powers looked at, and how far apart at first.
REACH, _STEPS = 12.0, 97
#: The fewest rows that tell a power.
FEWEST = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class SpreadPower:
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
    from scipy import optimize  # heavy, and seldom asked for

    try:
        fit = fit_line(pairs)
    except Refusal:
        return None
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
        """Minus the restricted log likelihood, but for a constant. log m is about 0, so that its sum adds nothing."""
        with np.errstate(all="ignore"):
            w = np.exp(-2 * power * log)
            total = float(w.sum())
            mean_x, mean_y = float(w @ x) / total, float(w @ y) / total
            a, b = x - mean_x, y - mean_y
            sxx = float(w @ (a * a))
            slope = float(w @ (a * b)) / sxx if sxx else math.nan
            gap = b - slope * a
            rest, wide = float(w @ (gap * gap)), total * sxx
        if not (rest > 0 and wide > 0 and math.isfinite(rest) and math.isfinite(wide)):
            return math.inf
        return 0.5 * ((x.size - 2) * math.log(rest) + math.log(wide))

    grid = np.linspace(-REACH, REACH, _STEPS)
    losses = np.array([loss(one) for one in grid])
    if not np.isfinite(losses).any():
        return None
    at = int(np.nanargmin(losses))
    low, high = grid[max(at - 1, 0)], grid[min(at + 1, _STEPS - 1)]
    power = float(
        optimize.minimize_scalar(loss, bounds=(low, high), method="bounded", options={"xatol": 1e-10}).x
    )
    least = loss(power)
    p = chi_above(max(2 * (loss(0.0) - least), 0.0), 1)
    limit = least + 0.5 * z_beyond((1 - level) / 2) ** 2
    ends = [_crossing(loss, power, side * REACH, limit) for side in (-1, 1)]
    ci = None if ends[0] is None or ends[1] is None else (ends[0], ends[1])
    return SpreadPower(
        of=of, power=power, ci=ci, p=p, scale=scale, variance=1 / (2 * float(log @ log)), n=int(x.size)
    )


def _crossing(loss: Callable[[float], float], start: float, end: float, limit: float) -> float | None:
    """Where the loss goes through a limit between two powers; None where it does not."""
    from scipy import optimize

    if not (start < end or end < start) or loss(end) <= limit:
        return None
    return float(optimize.brentq(lambda one: min(loss(one), 1e300) - limit, start, end, xtol=1e-10))
