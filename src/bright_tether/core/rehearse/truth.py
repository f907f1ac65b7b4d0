"""What samples are drawn from: a true line, its errors, and the x at which it is seen."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.line.plain import Fit
from bright_tether.core.rehearse.kinds import Design, Pattern, Shape
from bright_tether.core.resampling.bootstrap import drawn_rows
from bright_tether.core.results import Floats, read_only
from bright_tether.core.special import special

#: Errors of fanning samples at the ends of x, as multiples of those in the middle.
FAN = (0.25, 1.75)
_HEAVY_DF = 5


class Truth(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A true line and how pairs come from it.

    intercept, slope, sd : in y units; sd of the errors, its root mean square over x where they fan.
    shape : of the errors; "own" draws from ``own``. pattern : how their sd goes with x.
    alike : correlation of the errors of neighbours along x, −1 to 1.
    x : (n,) as kept, or as drawn from. design : kept as they are, drawn again from them, evenly spaced over
    their range (``x`` holds these), or drawn from a normal curve with their mean and sd.
    own : (k,) errors to draw from, in y units.
    """

    intercept: float
    slope: float
    sd: float
    x: Floats
    shape: Shape = "normal"
    pattern: Pattern = "even"
    alike: float = 0.0
    design: Design = "kept"
    own: Floats | None = None

    @property
    def n(self) -> int:
        """Pairs of one sample."""
        return self.x.size

    @property
    def x_again(self) -> bool:
        """Whether each sample has its own x."""
        return self.design in ("drawn", "normal")


def fitted_truth(fit: Fit, *, own: bool = False) -> Truth:
    """The fitted line as the truth, with normal errors of its s, or with its own residuals.

    The residuals are widened by √(n/df), so that their sd is s: a line fits its own sample too closely.
    Source: Davison & Hinkley 1997, §6.2.
    """
    slope = math.ldexp(fit.slope_scaled, fit.y.exponent - fit.x.exponent)
    height = float(fit.y.mean) - fit.slope_scaled * float(fit.x.mean)
    residuals = None
    if own:
        from_mean = fit.residual - fit.residual.mean()
        residuals = read_only(np.ldexp(from_mean * math.sqrt(fit.n / fit.residual_df), fit.y.exponent))
    return Truth(
        intercept=math.ldexp(height, fit.y.exponent),
        slope=slope,
        sd=math.ldexp(fit.s_scaled, fit.y.exponent),
        x=fit.pairs.x,
        shape="own" if own else "normal",
        own=residuals,
    )


def placed_x(measured: Floats, n: int, design: Design) -> Floats:
    """The x of a sample of n after a design: the measured ones thinned or repeated, or evenly spaced.

    measured : (k,); returns (n,).
    """
    if design == "even":
        return np.linspace(float(measured.min()), float(measured.max()), n)
    if n == measured.size:
        return measured
    return np.quantile(measured, (np.arange(n) + 0.5) / n)


def drawn_x(truth: Truth, draw: np.random.Generator, many: int) -> Floats:
    """x of many samples, (many, n), for designs whose x are drawn again."""
    base = truth.x
    if truth.design == "drawn":
        x = base[drawn_rows(draw, many, truth.n)]
        while (alike := np.ptp(x, axis=1) == 0).any():  # one x only: no line; drawn again
            x[alike] = base[drawn_rows(draw, int(alike.sum()), truth.n)]
    else:
        x = float(base.mean()) + float(np.std(base, ddof=1)) * draw.standard_normal((many, truth.n))
    if truth.alike:
        x.sort(axis=1)
    return x


def drawn_errors(truth: Truth, draw: np.random.Generator, many: int, x: Floats) -> Floats:
    """Errors of many samples, (many, n), in multiples of ``sd``. x : (n,) or (many, n)."""
    size = (many, truth.n)
    if truth.shape == "own":
        assert truth.own is not None
        own = truth.own / truth.sd if truth.sd else np.zeros_like(truth.own)
        picked = (draw.random(size) * own.size).astype(np.int64)
        errors = own[picked]
    elif truth.shape == "skewed":
        errors = draw.standard_exponential(size) - 1
    elif truth.shape == "heavy":
        errors = draw.standard_t(_HEAVY_DF, size) * math.sqrt((_HEAVY_DF - 2) / _HEAVY_DF)
    else:
        errors = draw.standard_normal(size)
    if truth.alike:
        _make_alike(errors, truth.alike, None if x.ndim == 2 else np.argsort(x, kind="stable"))
    if truth.pattern == "fanning":
        errors *= fan(truth.x, x)
    return errors


def fan(base: Floats, x: Floats) -> Floats:
    """The sd of the errors at x as multiples of its root mean square over ``base``."""
    low, wide = float(base.min()), float(np.ptp(base)) or 1.0

    def at(values: Floats) -> Floats:
        return np.asarray(FAN[0] + (FAN[1] - FAN[0]) * np.clip((values - low) / wide, 0, 1), np.float64)

    return at(x) / math.sqrt(float(np.mean(at(base) ** 2)))


def _make_alike(errors: Floats, alike: float, order: np.ndarray | None) -> None:
    """Let each error lean on that of its neighbour, in place; the sd stays."""
    own = math.sqrt(1 - alike * alike)
    along = range(errors.shape[1]) if order is None else order.tolist()
    before = None
    for at in along:
        if before is not None:
            errors[:, at] = alike * errors[:, before] + own * errors[:, at]
        before = at


def null_reach(n: int, alpha: float) -> float:
    """The |r| that luck alone passes with chance α, two-sided. Source: quantities §2, critical r."""
    from bright_tether.core.tails import t_beyond

    t = t_beyond(alpha / 2, n - 2)
    return t / math.hypot(math.sqrt(n - 2), t) if math.isfinite(t) else 1.0


def null_density(r: Floats, n: int) -> Floats:
    """Density of r of n pairs of independent normal values. Source: Fisher 1915.

    r : (k,) in (−1, 1); n ≥ 3.
    """
    log = (n - 4) / 2 * np.log1p(-r * r) - float(special.betaln(0.5, (n - 2) / 2))
    return np.asarray(np.exp(log), np.float64)
