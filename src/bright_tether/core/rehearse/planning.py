"""How many pairs a purpose needs: by formula where there is one, checked by simulation."""

from __future__ import annotations

import math
from collections.abc import Callable

import msgspec
import numpy as np

from bright_tether.core.rehearse.draws import draw_samples
from bright_tether.core.rehearse.kinds import Purpose
from bright_tether.core.rehearse.truth import Truth
from bright_tether.core.results import Alternative, Floats
from bright_tether.core.special import special
from bright_tether.core.tails import t_beyond

MOST_PAIRS = 1_000_000
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(48)


class Wish(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What is asked for. sd : of the errors; sd_x, away : of x, and how far the forecast lies from its mean.

    goal : the half-width wished for, or the power. effect : the true slope, or r, that the power is for.
    """

    purpose: Purpose
    goal: float
    sd: float
    sd_x: float
    away: float = 0.0
    effect: float = 0.0
    alpha: float = 0.05
    level: float = 0.95
    alternative: Alternative = "two-sided"


class Plan(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """How many pairs: needed is None where no number does. reached : half-width or power there.

    n, value : (k,) the curve. floor : what no number of pairs gets below.
    """

    wish: Wish
    needed: int | None
    reached: float | None
    floor: float | None
    n: Floats
    value: Floats


class Checked(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The plan tried out: the mean half-width or the share found, with its simulation error."""

    n: int
    found: float
    error: float
    draws: int
    seed: int


def plan(wish: Wish) -> Plan:
    """The fewest pairs that reach the goal, and the curve around it.

    Source: quantities §3 and §7 for half-widths with x of the stated sd; power of the t test of a slope at
    kept x by the noncentral t; of r with both columns normal by the same, averaged over the χ² of Sxx
    (exact; Cohen, Cohen, West & Aiken 2003, §3.7 for the setting).
    """
    by_power = wish.purpose.endswith("power")

    def enough(n: int) -> bool:
        there = value_at(wish, n)
        return there >= wish.goal if by_power else there <= wish.goal

    low, high = 3, 4
    needed = 3 if enough(3) else None
    if needed is None:
        while high < MOST_PAIRS and not enough(high):
            low, high = high, high * 2
        if enough(high):
            while high - low > 1:
                middle = (low + high) // 2
                low, high = (low, middle) if enough(middle) else (middle, high)
            needed = high
    floor = None
    if wish.purpose == "case half-width":
        floor = -float(special.ndtri((1 - wish.level) / 2)) * wish.sd
    top = max(12, min(2 * (needed or 200), MOST_PAIRS))
    n = np.unique(np.round(np.geomspace(3, top, 60)).astype(np.int64))
    return Plan(
        wish=wish,
        needed=needed,
        reached=None if needed is None else value_at(wish, needed),
        floor=floor,
        n=n.astype(np.float64),
        value=np.array([value_at(wish, int(one)) for one in n]),
    )


def value_at(wish: Wish, n: int) -> float:
    """The half-width, or the power, with n pairs."""
    df = n - 2
    if wish.purpose in ("slope power", "r power"):
        return _power(wish, n)
    t = t_beyond((1 - wish.level) / 2, df)
    wide = wish.sd_x * math.sqrt(n - 1)
    if wish.purpose == "slope half-width":
        return t * wish.sd / wide
    more = 1.0 if wish.purpose == "case half-width" else 0.0
    return t * wish.sd * math.sqrt(more + 1 / n + (wish.away / wide) ** 2)


def try_out(
    wish: Wish, n: int, draws: int, seed: int, *, progress: Callable[[int], bool] = lambda done: True
) -> Checked:
    """Draw samples of n: their mean half-width, or the share in which the test finds the effect."""
    sides = (1 - wish.level) / 2
    if wish.purpose == "r power":
        root = math.sqrt(max(1 - wish.effect**2, 0.0))
        truth = Truth(intercept=0.0, slope=wish.effect, sd=root, x=_normal_x(n, 1.0), design="normal")
    else:
        slope = wish.effect if wish.purpose == "slope power" else 0.0
        truth = Truth(intercept=0.0, slope=slope, sd=wish.sd, x=_normal_x(n, wish.sd_x))
    drawn = draw_samples(truth, draws, seed, watch=lambda so_far: progress(so_far.done))
    steep, unit = drawn.slope, drawn.sse / (n - 2)
    if wish.purpose.endswith("power"):
        t = steep / np.sqrt(unit / drawn.sxx)
        edge = t_beyond(wish.alpha / (2 if wish.alternative == "two-sided" else 1), n - 2)
        hits = {"two-sided": np.abs(t) >= edge, "greater": t >= edge, "less": t <= -edge}[wish.alternative]
        share = float(hits.mean())
        error = math.sqrt(max(share * (1 - share), 0.25 / drawn.done) / drawn.done)
        return Checked(n=n, found=share, error=error, draws=drawn.done, seed=seed)
    reach = t_beyond(sides, n - 2)
    half: Floats
    if wish.purpose == "slope half-width":
        half = np.ldexp(reach * np.sqrt(unit / drawn.sxx), drawn.ey - drawn.ex)
    else:
        away = math.ldexp(wish.away, -drawn.ex) - drawn.mean_x
        more = 1.0 if wish.purpose == "case half-width" else 0.0
        half = np.ldexp(reach * np.sqrt(unit * (more + 1 / n + away * away / drawn.sxx)), drawn.ey)
    error = float(np.std(half, ddof=1)) / math.sqrt(drawn.done)
    return Checked(n=n, found=float(half.mean()), error=error, draws=drawn.done, seed=seed)


def _power(wish: Wish, n: int) -> float:
    if wish.purpose == "r power" and abs(wish.effect) >= 1 - 2.0**-50:  # no sample of it can miss
        wrong_side = {"greater": wish.effect < 0, "less": wish.effect > 0}.get(wish.alternative, False)
        return 0.0 if wrong_side else 1.0
    df = n - 2
    sides = 2 if wish.alternative == "two-sided" else 1
    edge = t_beyond(wish.alpha / sides, df)
    if wish.purpose == "slope power":
        with np.errstate(divide="ignore", over="ignore", invalid="ignore"):
            size = np.float64(wish.effect) * wish.sd_x * math.sqrt(n - 1) / wish.sd
        pull = np.array([np.clip(np.nan_to_num(size), -1e8, 1e8)])  # so far out the power is 1 or 0
        weights = np.ones(1)
    else:
        share = (_NODES + 1) / 2
        spread = special.chdtri(n - 1, 1 - share)
        pull = wish.effect / math.sqrt(1 - wish.effect**2) * np.sqrt(spread)
        weights = _WEIGHTS / 2
    if wish.alternative == "less":
        pull = -pull
    above = 1 - _nct_below(df, pull, edge)
    if sides == 2:
        above = above + _nct_below(df, pull, -edge)
    return float(np.dot(weights, np.clip(above, 0, 1)))


def _nct_below(df: int, pull: Floats, t: float) -> Floats:
    """P(T ≤ t) of the noncentral t; the normal curve takes over where the series gives none."""
    below = np.asarray(special.nctdtr(df, pull, t), np.float64)
    # Source: Abramowitz & Stegun 26.7.10.
    near = special.ndtr((t * (1 - 1 / (4 * df)) - pull) / np.sqrt(1 + t * t / (2 * df)))
    return np.where(np.isfinite(below), below, near)


def _normal_x(n: int, sd: float) -> Floats:
    """n values spread like a normal curve, with mean 0 and exactly this sd."""
    x = special.ndtri((np.arange(n) + 0.5) / n)
    x = x - x.mean()
    return np.asarray(x * (sd / float(np.std(x, ddof=1))), np.float64)
