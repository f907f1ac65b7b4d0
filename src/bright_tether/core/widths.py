"""How wide the interval for one case is by each way of finding it, and how often each holds what it promises.

One spread about the plain line; a spread that follows a fitted power of x, or of the fitted value; the ranks of
residuals. What each promises is looked at on the rows themselves, each left out in turn and held against an interval
made without it, and on samples drawn on the same x from the line and the spread that the likelihood takes for best.
Source: as `core.forecast`, `core.line.spread_power` and `core.conformal`; leaving out by Stone 1974.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

import msgspec
import numpy as np

from bright_tether.core.conformal import Conformal, conformal, forecast_by_ranks
from bright_tether.core.exact import scaled_by
from bright_tether.core.forecast import Forecasts, forecast
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.spread_power import SpreadOf, power_about
from bright_tether.core.line.terms import line_of
from bright_tether.core.line.weights import NewWeight
from bright_tether.core.pairs import Pairs, take_pairs, weighted_pairs
from bright_tether.core.results import Floats, Interval, Ints, Refusal
from bright_tether.core.tails import z_above

WidthKind = Literal["even", "power-x", "power-fitted", "ranks"]
KINDS: tuple[WidthKind, ...] = ("even", "power-x", "power-fitted", "ranks")
_OF: dict[str, SpreadOf] = {"power-x": "x", "power-fitted": "fitted"}
#: Rows up to which each is left out by itself; of more, so many lots are left out. More rows than these are not.
ONE_BY_ONE, LOTS, MOST_LEFT_OUT = 200, 50, 2_000
#: Samples that are drawn, new cases of each for the ranks, and their seed.
SAMPLES, CASES, SEED = 100, 8, 1
#: Fewer rows than these tell too little of a spread.
FEWEST = 8
_ACROSS = 81
#: Parts of x, by count of rows, in which what is held is counted.
PARTS = 3


class Width(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One way to find the interval. power : where one is fitted. at : the interval at each x asked for, in y units.

    across : its ends over the range of x, (k, 2), for a picture.
    held : rows inside their interval and rows, in each part of x. simulated : share of new cases inside, and its
    simulation error, in each part; None where nothing was drawn.
    """

    kind: WidthKind
    power: float | None
    at: tuple[Interval | None, ...]
    across: Floats
    held: tuple[tuple[int, int], ...]
    simulated: tuple[tuple[float, float], ...]


class Widths(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """All ways that there are.

    across : x over the measured range, (k,). parts : the largest x of each part; places : the x in each at which
    cases were drawn. truth : what the samples were drawn by; truth_power : its power; truth_p : of none, times the
    powers tried. lots : how many were left out one after another.
    """

    ways: tuple[Width, ...]
    x: tuple[float, ...]
    across: Floats
    parts: tuple[float, ...]
    places: tuple[float, ...]
    truth: WidthKind
    truth_power: float | None
    truth_p: float | None
    samples: int
    lots: int
    level: float
    n: int
    whole: bool

    def way(self, kind: WidthKind) -> Width | None:
        """One way, None where it could not be found."""
        return next((one for one in self.ways if one.kind == kind), None)


class _Made(msgspec.Struct, frozen=True):
    """One way on some rows."""

    fit: Fit
    new: NewWeight | None
    ranks: Conformal | None

    def forecasts(self, x: Floats, level: float, *, coarse: bool = False) -> Forecasts:
        found = forecast(self.fit, x, level=level, new=self.new)
        return (
            found if self.ranks is None else forecast_by_ranks(found, self.ranks, level=level, coarse=coarse)
        )


class _Truth(msgspec.Struct, frozen=True):
    """Heights and sd of y by which samples are drawn, at the rows and then at the places, (n + places,)."""

    kind: WidthKind
    pairs: Pairs
    heights: Floats
    spread: Floats
    places: Floats


class _Counts(msgspec.Struct):
    """Rows inside and rows, and shares of drawn cases inside, by part of x."""

    inside: list[int]
    rows: list[int]
    shares: list[list[float]]


def made_by(kind: WidthKind, plain: Fit, level: float) -> _Made | None:
    """One way to find intervals about a plain line; None where there is none."""
    if plain.exact or plain.residual_df < 1:
        return None
    if kind == "even":
        return _Made(plain, None, None)
    if kind == "ranks":
        ranks = conformal(plain)
        # fewer rows than the level needs would leave no end
        enough = isinstance(ranks, Conformal) and (plain.n + 1) * (1 - level) > 1 - 1e-9
        return _Made(plain, None, ranks) if isinstance(ranks, Conformal) and enough else None
    power = power_about(plain, _OF[kind], level=level, bounded=False)
    if power is None:
        return None
    pairs, rows = plain.pairs, np.zeros(plain.pairs.rows)
    rows[pairs.at] = np.nan_to_num(power.weights(pairs.x if kind == "power-x" else _heights(plain)))
    try:
        return _Made(line_of(weighted_pairs(pairs, rows)), NewWeight(pattern=kind, power=power), None)
    except Refusal:
        return None


def _ways(pairs: Pairs, level: float, kinds: tuple[WidthKind, ...]) -> dict[WidthKind, _Made]:
    """Every way that there is on some rows."""
    try:
        plain = fit_line(pairs)
    except Refusal:
        return {}
    return {kind: one for kind in kinds if (one := made_by(kind, plain, level)) is not None}


def _heights(fit: Fit) -> Floats:
    return scaled_by(fit.y.high + float(fit.y.mean) - fit.residual, fit.y.exponent)


def widths(
    pairs: Pairs, x: tuple[float, ...], level: float, progress: Callable[[tuple[int, int]], bool],
    kinds: tuple[WidthKind, ...] = KINDS,
) -> Widths:  # fmt: skip
    """Find each way and look at what it promises. pairs : n ≥ 3, plain, no exact line; x : asked for.

    progress : told how many of how many; False ends it early. kinds : ways that make sense of these columns.
    Raises Refusal.
    """
    pairs = take_pairs(pairs.x, pairs.y)
    ways = _ways(pairs, level, kinds)
    small = FEWEST <= pairs.n <= MOST_LEFT_OUT
    order = np.argsort(pairs.x, kind="stable")
    cuts = (
        [float(pairs.x[order[pairs.n * part // PARTS - 1]]) for part in range(1, PARTS + 1)] if small else []
    )
    ends = tuple(dict.fromkeys(cuts))  # with few values of x there are fewer parts
    parts, many = np.searchsorted(np.array(ends[:-1]), pairs.x), len(ends)
    counts = {kind: _Counts([0] * many, [0] * many, [[] for _ in range(many)]) for kind in ways}
    lots = _lots(order) if small else []
    samples = SAMPLES if small else 0
    steps, done, whole = len(lots) + samples, 0, True
    for lot in lots:
        if not progress((done, steps)):
            whole = False
            break
        _leave_out(pairs, lot, parts, counts, level)
        done += 1
    places = tuple(float(np.median(pairs.x[parts == part])) for part in range(many))
    truth = _truth(ways, pairs, places)
    rng, drawn = np.random.default_rng(SEED), 0
    for _ in range(samples if whole else 0):
        if not progress((done, steps)):
            whole = False
            break
        _draw(truth, counts, level, rng)
        done, drawn = done + 1, drawn + 1
    asked, across = np.array(x, float), np.linspace(pairs.x.min(), pairs.x.max(), _ACROSS)
    tried = sum(kind in ways for kind in _OF)
    power = ways[truth.kind].new if truth.kind in ways else None
    return Widths(
        ways=tuple(_way(kind, one, counts[kind], asked, across, level) for kind, one in ways.items()),
        x=x, across=across, parts=ends, places=places, truth=truth.kind,
        truth_power=None if power is None or power.power is None else power.power.power,
        truth_p=None if power is None or power.power is None else min(tried * power.power.p, 1.0),
        samples=drawn, lots=len(lots), level=level, n=pairs.n, whole=whole,
    )  # fmt: skip


def _way(kind: WidthKind, made: _Made, counts: _Counts, x: Floats, across: Floats, level: float) -> Width:
    ends = made.forecasts(x, level).pi
    power = None if made.new is None or made.new.power is None else made.new.power.power
    shares = [np.array(some) for some in counts.shares]
    return Width(
        kind=kind, power=power,
        at=tuple((float(low), float(high)) if math.isfinite(low) and math.isfinite(high) else None
                 for low, high in ends.tolist()),
        across=made.forecasts(across, level, coarse=True).pi,
        held=tuple(zip(counts.inside, counts.rows, strict=True)),
        simulated=tuple((float(some.mean()), float(some.std(ddof=1) / math.sqrt(some.size)))
                        for some in shares if some.size > 1),
    )  # fmt: skip


def _lots(order: Ints) -> list[Ints]:
    """Rows that are left out together: one by one, or every so many along x."""
    lots = order.size if order.size <= ONE_BY_ONE else LOTS
    return [order[at::lots] for at in range(lots)]


def _leave_out(pairs: Pairs, lot: Ints, parts: Ints, counts: dict[WidthKind, _Counts], level: float) -> None:
    keep = np.ones(pairs.n, bool)
    keep[lot] = False
    ways = _ways(take_pairs(pairs.x[keep], pairs.y[keep]), level, tuple(counts))
    for kind, count in counts.items():
        one = ways.get(kind)
        if one is None:
            continue
        for row in lot.tolist():
            x, y = float(pairs.x[row]), float(pairs.y[row])
            inside: bool | None
            if one.ranks is not None:
                inside = bool(one.ranks.hold(x, np.array([y]), level)[0])
            else:
                low, high = one.forecasts(np.array([x]), level).pi[0].tolist()
                inside = low <= y <= high if math.isfinite(low) and math.isfinite(high) else None
            if inside is not None:
                count.inside[parts[row]] += inside
                count.rows[parts[row]] += 1


def _truth(made: dict[WidthKind, _Made], pairs: Pairs, places: tuple[float, ...]) -> _Truth:
    """What samples are drawn by: the spread whose power the likelihood takes for best, else one spread everywhere."""
    plain = fit_line(pairs)
    at = np.r_[pairs.x, places]
    heights = np.r_[_heights(plain), forecast(plain, np.array(places), level=0.5).fitted]
    best: WidthKind = "even"
    spread = np.full(at.size, float(scaled_by(np.array([plain.s_scaled]), plain.y.exponent)[0]))
    powers = {
        kind: one.new.power for kind, one in made.items() if one.new is not None and one.new.power is not None
    }
    if powers:
        kind = min(powers, key=lambda kind: powers[kind].p)
        weights = powers[kind].weights(at if kind == "power-x" else heights)
        fit = made[kind].fit
        found = scaled_by(fit.s_scaled / np.sqrt(weights), fit.y.exponent + fit.weight_exponent // 2)
        if np.isfinite(found).all():
            best, spread = kind, found
    return _Truth(best, pairs, heights, spread, np.array(places))


def _draw(truth: _Truth, counts: dict[WidthKind, _Counts], level: float, rng: np.random.Generator) -> None:
    """Draw one sample, and count how many new cases at each place lie inside the intervals made from it."""
    n = truth.pairs.n
    y = truth.heights[:n] + truth.spread[:n] * rng.standard_normal(n)
    new = truth.heights[n:, None] + truth.spread[n:, None] * rng.standard_normal((truth.places.size, CASES))
    ways = _ways(take_pairs(truth.pairs.x, y), level, tuple(counts))
    for kind, count in counts.items():
        one = ways.get(kind)
        if one is None:
            continue
        if one.ranks is not None:
            for part, x in enumerate(truth.places.tolist()):
                count.shares[part].append(float(np.mean(one.ranks.hold(x, new[part], level))))
            continue
        ends = one.forecasts(truth.places, level).pi
        if not np.isfinite(ends).all():
            continue
        away = (ends - truth.heights[n:, None]) / truth.spread[n:, None]
        for part, (low, high) in enumerate(away.tolist()):
            count.shares[part].append(z_above(low) - z_above(high))
