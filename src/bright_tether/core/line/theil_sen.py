"""The median of all pairwise slopes, found without listing them all."""

from __future__ import annotations

import math
from typing import NamedTuple

import msgspec
import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.exact import scaled_by
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Cause, ConstantColumn, Floats, Interval, Ints, Why, reasons
from bright_tether.core.strength.falling import falling_pairs, falls
from bright_tether.core.tails import z_beyond

#: Up to this many pairs of pairs every slope is listed.
_ALL = 1_000_000
#: Several times as many of a long column are, where counting them a second time would take longer.
_LISTED = 4
#: Slopes drawn to close in on a rank.
_DRAWN = 100_000
#: Of more slopes than this many times as many are drawn, from all and from those between which all ranks lie.
_MANY, _TIMES = 1_000_000_000, 40


class _Bounds(NamedTuple):
    """Slopes between which a rank lies, and how many slopes lie below each."""

    low: float
    high: float
    below: int
    upto: int


class TheilSen(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Slope in y per x with its interval by ranks; intercept = median(y − slope·x), in y units."""

    slope: float | None
    intercept: float | None
    ci_slope: Interval | None
    slopes: int
    why: Why


def theil_sen(pairs: Pairs, *, level: float) -> TheilSen:
    """The resistant line.

    pairs : n ≥ 2, x not constant. The interval's ranks come from the variance of Kendall's S with ties,
    rounded to whole ranks. Long columns are closed in on by counting falling pairs, O(n log n) a count;
    no slope is left out. Raises TooFewPairs, ConstantColumn. Source: Theil 1950; Sen 1968; quantities §3.
    """
    require(pairs, 2)
    if pairs.centred_x.constant:
        raise ConstantColumn(pairs.n, float(pairs.x[0]))
    n = pairs.n
    tilt, rise = (column.exponent for column in (pairs.centred_x, pairs.centred_y))
    all_x, all_y = scaled_by(pairs.x, -tilt), scaled_by(pairs.y, -rise)
    order = np.lexsort((all_y, all_x))
    x, y = all_x[order], all_y[order]
    alike = pairs.codes_x[1] if tilt == 0 else np.unique(x, return_counts=True)[1]
    number = n * (n - 1) // 2 - int(np.sum(alike * (alike - 1) // 2))
    if not number:  # beside the largest every other x is 0
        lost = dict.fromkeys(("slope", "intercept", "ci_slope"), Cause.OUT_OF_RANGE)
        return TheilSen(slope=None, intercept=None, ci_slope=None, slopes=0, why=reasons(lost))
    low, high = _interval_ranks(pairs, number, level)
    wanted = [(number - 1) // 2, number // 2, low, high]
    found = _by_rank(x, y, number, sorted(set(wanted)))
    slope = (found[wanted[0]] + found[wanted[1]]) / 2
    ends = [unscaled(found[at], rise - tilt) for at in (low, high)]
    figures = {
        "slope": unscaled(slope, rise - tilt),
        "intercept": unscaled(float(np.median(all_y - slope * all_x)), rise),
        "ci_slope": None if None in ends else (ends[0], ends[1]),
    }
    none = {key: Cause.OUT_OF_RANGE for key, value in figures.items() if value is None}
    return TheilSen(**figures, slopes=number, why=reasons(none))  # type: ignore[arg-type]


def _interval_ranks(pairs: Pairs, number: int, level: float) -> tuple[int, int]:
    """Ranks from 0 of the interval's ends among all slopes. Source: Sen 1968, eq. 2.6."""
    n = pairs.n
    variance = n * (n - 1) * (2 * n + 5)
    for counts in (pairs.codes_x[1], pairs.codes_y[1]):
        variance -= int(np.sum(counts * (counts - 1) * (2 * counts + 5)))
    reach = min(z_beyond((1 - level) / 2) * math.sqrt(max(variance, 0) / 18), float(number))
    high = min(round((number + reach) / 2), number - 1)
    return max(round((number - reach) / 2) - 1, 0), high


def _by_rank(x: Floats, y: Floats, number: int, ranks: list[int]) -> dict[int, float]:
    """The slopes of these ranks from 0. x, y : in order of x, then y."""
    n = x.size
    if number <= _ALL:
        first, second = np.triu_indices(n, 1)
        with np.errstate(divide="ignore", invalid="ignore"):
            slopes = (y[second] - y[first]) / (x[second] - x[first])
        slopes = slopes[x[second] > x[first]]
        slopes.sort()  # sooner than to part them at each rank
        return {rank: float(slopes[rank]) for rank in ranks}
    draw = np.random.Generator(np.random.PCG64(n))
    bounds, sample = _Bounds(-math.inf, math.inf, 0, number), _drawn(x, y, draw)
    if number > _MANY:
        sample = np.sort(np.concatenate((sample, *(_drawn(x, y, draw) for _ in range(1, _TIMES)))))
        bounds = _nearer(x, y, bounds, sample, ranks)
        sample = _drawn_between(x, y, bounds, draw, _TIMES * _DRAWN)
    found: dict[int, float] = {}
    for lot in _lots(ranks):
        found |= _closed_in(x, y, lot, bounds, sample, draw)
    return found


def _lots(ranks: list[int]) -> list[list[int]]:
    """Ranks that lie close enough together for one listing. ranks : rising."""
    lots: list[list[int]] = []
    for rank in ranks:
        if lots and rank - lots[-1][0] <= _ALL:
            lots[-1].append(rank)
        else:
            lots.append([rank])
    return lots


def _drawn(x: Floats, y: Floats, draw: np.random.Generator) -> Floats:
    """Slopes of pairs drawn from all, rising; none of a pair with one x."""
    one, other = draw.integers(0, x.size, (2, _DRAWN))
    rise, run = y[one] - y[other], x[one] - x[other]
    apart = run != 0
    return np.sort(rise[apart] / run[apart])


def _nearer(x: Floats, y: Floats, known: _Bounds, sample: Floats, ranks: list[int]) -> _Bounds:
    """Bounds nearer to these ranks, by a sample of the slopes between those known, the true rank of each counted."""
    bounds, many, beside = known, max(known.upto - known.below, 1), _beside(x, y)
    for rank, side in ((ranks[0], -1), (ranks[-1], 1)):
        share = (rank - known.below + 0.5) / many
        room = 3 * math.sqrt(sample.size * share * (1 - share)) + 2
        place = math.floor(share * sample.size - room) if side < 0 else math.ceil(share * sample.size + room)
        if not 0 <= place < sample.size:
            continue
        # a little beside the slope it comes from: equal slopes never straddle a bound
        edge = float(sample[place])
        edge += side * (beside + 1e-10 * abs(edge))
        if not bounds.low < edge < bounds.high:
            continue
        count = _below(x, y, edge)
        if count <= ranks[0]:
            bounds = bounds._replace(low=edge, below=count)
        elif count > ranks[-1]:
            bounds = bounds._replace(high=edge, upto=count)
    return bounds


def _beside(x: Floats, y: Floats) -> float:
    return 1e-10 * float(np.ptp(y) / np.ptp(x))


def _closed_in(
    x: Floats, y: Floats, ranks: list[int], known: _Bounds, sample: Floats, draw: np.random.Generator
) -> dict[int, float]:
    """Slopes by rank: bounds from a sample, the true ranks of the bounds by counting, then a listing.

    ranks : rising. sample : of the slopes between the bounds known, rising.
    """
    bounds = _nearer(x, y, known, sample, ranks)
    if bounds.upto - bounds.below <= _LISTED * _ALL:
        slopes = np.sort(_between(x, y, bounds))
        return {rank: float(slopes[min(max(rank - bounds.below, 0), slopes.size - 1)]) for rank in ranks}
    if bounds == known:
        return _parted(x, y, ranks, known, sample, draw)
    return _closed_in(x, y, ranks, bounds, _drawn_between(x, y, bounds, draw, _DRAWN), draw)


def _parted(
    x: Floats, y: Floats, ranks: list[int], known: _Bounds, sample: Floats, draw: np.random.Generator
) -> dict[int, float]:
    """The same where so many slopes are alike that no bound comes nearer: like one of them, below it, above it."""
    share = (ranks[0] - known.below + 0.5) / (known.upto - known.below)
    value = float(sample[int(share * sample.size)])
    beside = _beside(x, y) + 1e-10 * abs(value)
    low, high = max(value - beside, known.low), min(value + beside, known.high)
    under = known.below if low == known.low else _below(x, y, low)
    over = known.upto if high == known.high else _below(x, y, high)
    found = {rank: value for rank in ranks if under <= rank < over}
    for rest, bounds in (
        ([rank for rank in ranks if rank < under], known._replace(high=low, upto=under)),
        ([rank for rank in ranks if rank >= over], known._replace(low=high, below=over)),
    ):
        if rest:
            found |= _closed_in(x, y, rest, bounds, _drawn_between(x, y, bounds, draw, _DRAWN), draw)
    return found


def _turned(x: Floats, y: Floats, slope: float) -> Floats:
    if slope == -math.inf:
        return np.asarray(np.lexsort((y, x)).argsort().astype(np.float64))
    if slope == math.inf:
        return np.asarray(-x)
    return np.asarray(y - slope * x)


def _in_order(values: Floats) -> Ints:
    """Places in order of value; of equal ones the earlier goes first, so that they never fall."""
    order = np.argsort(values)
    along = values[order]
    return np.argsort(values, kind="stable") if (along[1:] == along[:-1]).any() else order


def _codes(order: Ints) -> Ints:
    codes = np.empty(order.size, np.int64)
    codes[order] = np.arange(order.size)
    return codes


def _below(x: Floats, y: Floats, slope: float) -> int:
    """How many slopes lie below this one: pairs that fall once the line is turned level."""
    return falls(_in_order(_turned(x, y, slope)).astype(np.int32))


def _turning(x: Floats, y: Floats, bounds: _Bounds) -> tuple[Ints, Ints]:
    """The first order of the points, and the codes of the second order along it."""
    along = np.arange(x.size) if bounds.low == -math.inf else _in_order(_turned(x, y, bounds.low))
    # beyond every slope: later x first, equal x still in order
    after = (
        np.lexsort((np.arange(x.size), -x))
        if bounds.high == math.inf
        else _in_order(_turned(x, y, bounds.high))
    )
    return along, _codes(after)[along]


def _slopes_of(x: Floats, y: Floats, along: Ints, first: Ints, second: Ints) -> Floats:
    a, b = along[first], along[second]
    run = x[b] - x[a]
    apart = run != 0
    return np.asarray((y[b] - y[a])[apart] / run[apart])


def _between(x: Floats, y: Floats, bounds: _Bounds, taken: Ints | None = None) -> Floats:
    """Every slope between the bounds, or those taken: pairs that change order as the line turns."""
    along, codes = _turning(x, y, bounds)
    return _slopes_of(x, y, along, *falling_pairs(codes, taken))


def _drawn_between(x: Floats, y: Floats, bounds: _Bounds, draw: np.random.Generator, many: int) -> Floats:
    """Slopes drawn from those between the bounds, rising."""
    taken = np.sort(draw.integers(0, bounds.upto - bounds.below, many))
    return np.sort(_between(x, y, bounds, taken))
