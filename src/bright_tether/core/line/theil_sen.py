"""The median of all pairwise slopes, found without listing them all."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.exact import scaled_by
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Cause, ConstantColumn, Floats, Interval, Ints, Why, reasons
from bright_tether.core.strength.falling import falling_pairs, inversions
from bright_tether.core.tails import z_beyond

#: Up to this many pairs of pairs every slope is listed.
_ALL = 1_000_000
#: Slopes drawn to close in on a rank.
_DRAWN = 100_000


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
    sample = np.sort(_drawn(x, y, draw.integers(0, n, (2, _DRAWN))))
    together = _jointly(x, y, number, ranks, sample)
    return together or {rank: _closed_in(x, y, number, rank, sample, draw) for rank in ranks}


def _jointly(x: Floats, y: Floats, number: int, ranks: list[int], sample: Floats) -> dict[int, float] | None:
    """All ranks from one listing, where they lie close enough together; else None."""
    if ranks[-1] - ranks[0] > _ALL:
        return None
    beside = 1e-10 * float(np.ptp(y) / np.ptp(x))
    edges = []
    for rank, side in ((ranks[0], -1), (ranks[-1], 1)):
        share = (rank + 0.5) / number
        room = 3 * math.sqrt(sample.size * share * (1 - share)) + 2
        edge = float(sample[min(max(round(share * sample.size + side * room), 0), sample.size - 1)])
        edges.append(edge + side * (beside + 1e-10 * abs(edge)))
    below, upto = (_below(x, y, edge) for edge in edges)
    if below > ranks[0] or upto <= ranks[-1] or upto - below > 3 * _ALL:
        return None
    slopes = _between(x, y, edges[0], edges[1])
    slopes.sort()
    return {rank: float(slopes[rank - below]) for rank in ranks}


def _drawn(x: Floats, y: Floats, places: Ints) -> Floats:
    rise, run = y[places[0]] - y[places[1]], x[places[0]] - x[places[1]]
    apart = run != 0
    return np.asarray(rise[apart] / run[apart])


def _closed_in(
    x: Floats, y: Floats, number: int, rank: int, sample: Floats, draw: np.random.Generator
) -> float:
    """One slope by rank: bounds from a sample, the true ranks of the bounds by counting, then a listing."""
    low, high = -math.inf, math.inf
    below, upto = 0, number  # slopes below low, and below high
    # Bounds stand a little beside the slopes they come from: equal slopes never straddle a bound.
    beside = 1e-10 * float(np.ptp(y) / np.ptp(x))
    for _ in range(60):
        share = (rank - below + 0.5) / max(upto - below, 1)
        room = 3 * math.sqrt(sample.size * share * (1 - share)) + 2
        places = math.floor(share * sample.size - room), math.ceil(share * sample.size + room)
        for place, side in zip(places, (-1, 1), strict=True):
            if not 0 <= place < sample.size:
                continue
            edge = float(sample[place])
            edge += side * (beside + 1e-10 * abs(edge))
            if not low < edge < high:
                continue
            count = _below(x, y, edge)
            if count <= rank:
                low, below = edge, count
            else:
                high, upto = edge, count
        if upto - below <= _ALL:
            slopes = np.sort(_between(x, y, low, high))
            return float(slopes[min(max(rank - below, 0), slopes.size - 1)])
        inside = np.sort(_sampled_between(x, y, low, high, draw))
        if inside[-1] - inside[0] <= 4 * (beside + 1e-10 * abs(inside[0])):
            return float(np.median(inside))  # so many slopes are this one that the rank lies among them
        sample = inside
    return float(sample[sample.size // 2])


def _turned(x: Floats, y: Floats, slope: float) -> Floats:
    if slope == -math.inf:
        return np.asarray(np.lexsort((y, x)).argsort().astype(np.float64))
    if slope == math.inf:
        return np.asarray(-x)
    return np.asarray(y - slope * x)


def _codes(values: Floats) -> Ints:
    """Places in order of value; of equal ones the earlier goes first, so that they never fall."""
    order = np.argsort(values, kind="stable")
    codes = np.empty(values.size, np.int64)
    codes[order] = np.arange(values.size)
    return codes


def _below(x: Floats, y: Floats, slope: float) -> int:
    """How many slopes lie below this one: pairs that fall once the line is turned level."""
    return inversions(_codes(_turned(x, y, slope)))


def _pairs_between(x: Floats, y: Floats, low: float, high: float) -> tuple[Ints, Ints]:
    """The first order of the points, and the codes of the second order along it."""
    along = np.arange(x.size) if low == -math.inf else np.argsort(_turned(x, y, low), kind="stable")
    if high == math.inf:  # beyond every slope: later x first, equal x still in order
        turned = np.lexsort((np.arange(x.size), -x))
        codes = np.empty(x.size, np.int64)
        codes[turned] = np.arange(x.size)
    else:
        codes = _codes(_turned(x, y, high))
    return along, codes[along]


def _slopes_of(x: Floats, y: Floats, along: Ints, first: Ints, second: Ints) -> Floats:
    a, b = along[first], along[second]
    run = x[b] - x[a]
    apart = run != 0
    return np.asarray((y[b] - y[a])[apart] / run[apart])


def _between(x: Floats, y: Floats, low: float, high: float) -> Floats:
    """Every slope from low up to, not with, high: the pairs that change order as the line turns."""
    along, codes = _pairs_between(x, y, low, high)
    return _slopes_of(x, y, along, *falling_pairs(codes))


def _sampled_between(x: Floats, y: Floats, low: float, high: float, draw: np.random.Generator) -> Floats:
    along, codes = _pairs_between(x, y, low, high)
    return _slopes_of(x, y, along, *falling_pairs(codes, most=_DRAWN, draw=draw))
