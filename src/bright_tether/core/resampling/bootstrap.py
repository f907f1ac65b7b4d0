"""Bootstrap of pairs: how far slope, intercept and r would move if the rows were drawn again."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence

import msgspec
import numpy as np

from bright_tether.core.centred import unscaled
from bright_tether.core.exact import scaled_by
from bright_tether.core.line.plain import Fit
from bright_tether.core.resampling.ahead import one_ahead
from bright_tether.core.results import Cause, Floats, Interval, Ints, Why, reasons
from bright_tether.core.special import special
from bright_tether.core.tails import z_beyond

#: Drawn rows worked on at once: few enough for the processor's cache.
_AT_ONCE = 1 << 16


class Resampled(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One estimate over the draws: their sd, percentile and BCa intervals, and the draws themselves.

    draws : (N,), NaN where a draw gives no value.
    """

    se: float | None
    percentile: Interval | None
    bca: Interval | None
    draws: Floats
    why: Why


class Bootstrap(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Slope, intercept and r over N draws of n rows. redrawn : draws with one x only, drawn again."""

    slope: Resampled
    intercept: Resampled
    r: Resampled
    redrawn: int
    draws: int
    seed: int


def bootstrap(
    fit: Fit, draws: int, seed: int, *, level: float, progress: Callable[[int], bool] = lambda done: True
) -> Bootstrap:
    """Draw rows with replacement, draws times, and fit each draw.

    progress is told the draws done and returns whether to go on.
    Source: quantities §8; Efron 1987 (BCa, jackknife acceleration).
    """
    n, powers = fit.n, _powers(fit)
    found = [(sums, again) for sums, again in drawn_sums(fit, draws, seed, progress)]
    redrawn = sum(again for _, again in found)
    slope, intercept, r = _estimates(np.concatenate([sums for sums, _ in found]), n)
    left_out = _estimates(powers.sum(axis=0) - powers, n - 1)
    here = _estimates(powers.sum(axis=0, keepdims=True), n)
    rise, tilt = fit.y.exponent, fit.y.exponent - fit.x.exponent
    mean_x, mean_y = float(fit.x.mean), float(fit.y.mean)

    def height(local: Floats, steep: Floats) -> Floats:
        return np.asarray(mean_y + local - steep * mean_x, np.float64)

    resampled = [
        _summary(values, before, float(now[0]), level, exponent)
        for values, before, now, exponent in (
            (slope, left_out[0], here[0], tilt),
            (height(intercept, slope), height(left_out[1], left_out[0]), height(here[1], here[0]), rise),
            (r, left_out[2], here[2], 0),
        )
    ]
    return Bootstrap(
        slope=resampled[0],
        intercept=resampled[1],
        r=resampled[2],
        redrawn=redrawn,
        draws=slope.size,
        seed=seed,
    )


def drawn_sums(
    fit: Fit, draws: int, seed: int, progress: Callable[[int], bool]
) -> Iterator[tuple[Floats, int]]:
    """Σx, Σy, Σx², Σxy, Σy² of each draw, in batches of (many, 5), with how many were drawn again.

    x and y from their means, scaled as in the fit. The generator is NumPy's PCG64: its numbers below
    2³², low half first, n for each draw in turn, row ⌊n·u/2³²⌋; from 2¹⁶ rows on ⌊n·u⌋ of its doubles.
    """
    draw = np.random.Generator(np.random.PCG64(seed))
    n, x, powers = fit.n, fit.x.high, _powers(fit)
    n_alike = int(fit.pairs.codes_x[1].max())
    rows = max(_AT_ONCE // n, 1)
    sizes = [min(rows, draws - start) for start in range(0, draws, rows)]
    places: Iterator[Ints] = (_drawn_places(draw, many, n) for many in sizes)
    never = n * math.log10(n_alike / n) < -45  # every row of a draw from those alike: it does not come up
    done = 0
    for drawn in one_ahead(places) if never else places:
        counts, redrawn = _counted(drawn), 0
        for at in () if never else np.flatnonzero(_one_x(counts, x, n_alike)).tolist():
            while True:
                redrawn += 1
                again = drawn_counts(draw, 1, n)
                if not _one_x(again, x, n_alike)[0]:
                    counts[at] = again[0]
                    break
        yield counts @ powers, redrawn
        done += len(counts)
        if not progress(done):
            break


def drawn_case_sums(
    fit: Fit, cases: Ints, draws: int, seed: int, progress: Callable[[int], bool]
) -> Iterator[tuple[Floats, Floats, int]]:
    """As ``drawn_sums``, with whole cases drawn, each with all its rows: the sums, how many rows, and redraws.

    cases : (n,) codes from 0. Source: Cameron, Gelbach & Miller 2008 (pairs of clusters).
    """
    draw = np.random.Generator(np.random.PCG64(seed))
    many_cases = int(cases.max()) + 1
    powers = np.stack([np.bincount(cases, weights=one) for one in _powers(fit).T], axis=1)
    sizes = np.bincount(cases).astype(np.float64)
    at_once, done = max(_AT_ONCE // many_cases, 1), 0
    while done < draws:
        many, redrawn = min(at_once, draws - done), 0
        counts = drawn_counts(draw, many, many_cases)
        while (flat := np.flatnonzero(_flat(counts @ powers, counts @ sizes))).size:
            redrawn += flat.size
            counts[flat] = drawn_counts(draw, flat.size, many_cases)
        yield counts @ powers, counts @ sizes, redrawn
        done += many
        if not progress(done):
            break


def _flat(sums: Floats, n: Floats) -> np.ndarray:
    """Which draws hold one value of x only, to rounding."""
    spread = sums[:, 2] - sums[:, 0] ** 2 / n
    return np.asarray(spread <= 1e-12 * sums[:, 2])


def drawn_rows(draw: np.random.Generator, many: int, n: int) -> Ints:
    """Rows with replacement, (many, n)."""
    if n >= 1 << 16:
        taken = draw.random((many, n))  # below 1 by 2⁻⁵³ at least, so that n times it never rounds up to n
        taken *= n
        return taken.astype(np.int64)
    halves = draw.bit_generator.random_raw((many * n + 1) // 2).view(np.uint32)[: many * n]
    scaled = halves.astype(np.uint64)
    scaled *= np.uint64(n)
    scaled >>= np.uint64(32)
    return scaled.view(np.int64).reshape(many, n)


def _powers(fit: Fit) -> Floats:
    """x, y, x², xy, y² of each pair, (n, 5)."""
    x, y = fit.x.high, fit.y.high
    return np.stack((x, y, x * x, x * y, y * y), axis=1)


def drawn_counts(draw: np.random.Generator, many: int, n: int) -> Floats:
    """How often each row is drawn, (many, n)."""
    return _counted(_drawn_places(draw, many, n))


def _drawn_places(draw: np.random.Generator, many: int, n: int) -> Ints:
    """Rows with replacement as places in a table of draws by rows, (many, n)."""
    places = drawn_rows(draw, many, n)
    places += np.arange(many)[:, None] * n
    return places


def _counted(places: Ints) -> Floats:
    """How often each place is drawn, (many, n)."""
    return np.bincount(places.ravel(), minlength=places.size).reshape(places.shape).astype(np.float64)


def _one_x(counts: Floats, x: Floats, n_alike: int) -> np.ndarray:
    """Which draws hold one value of x only, (many,) bool. n_alike : rows that share the commonest x."""
    alike = np.zeros(len(counts), bool)
    few = np.count_nonzero(counts, axis=1) <= n_alike
    for at in np.flatnonzero(few).tolist():
        alike[at] = np.ptp(x[counts[at] > 0]) == 0
    return alike


def _estimates(sums: Floats, n: int) -> tuple[Floats, Floats, Floats]:
    """Slope, height at the overall mean of x, and r, from Σx, Σy, Σx², Σxy, Σy² of centred values."""
    sx, sy, sxx, sxy, syy = sums.T
    spread_x, spread_y, joint = sxx - sx * sx / n, syy - sy * sy / n, sxy - sx * sy / n
    with np.errstate(divide="ignore", invalid="ignore"):
        slope = joint / spread_x
        r = np.clip(joint / np.sqrt(spread_x * spread_y), -1, 1)
    return slope, (sy - slope * sx) / n, r


def _summary(values: Floats, left_out: Floats, here: float, level: float, exponent: int) -> Resampled:
    """What the draws say. values, left_out, here : in 2^exponent of the units of the result."""
    whole = values[np.isfinite(values)]
    if whole.size < 2:
        none = reasons(dict.fromkeys(("se", "percentile", "bca"), Cause.CONSTANT_Y))
        return Resampled(se=None, percentile=None, bca=None, draws=scaled_by(values, exponent), why=none)
    low, high = (1 - level) / 2, (1 + level) / 2
    percentile = _ends(whole, (low, high), exponent)
    below = (np.count_nonzero(whole < here) + np.count_nonzero(whole == here) / 2) / whole.size
    bca: Interval | None = None
    why: dict[str, Cause] = {}
    away = left_out.mean() - left_out if np.isfinite(left_out).all() else np.zeros(1)
    spread = float(np.sum(away**2))
    if 0 < below < 1 and spread > 0:
        bend = float(np.sum(away**3)) / (6 * spread**1.5)
        shift = float(special.ndtri(below))
        z = z_beyond(low)
        places = [float(special.ndtr(shift + (shift + end) / (1 - bend * (shift + end)))) for end in (-z, z)]
        bca = _ends(whole, places, exponent) if np.isfinite(places).all() else None
        why |= {} if bca is not None else {"bca": Cause.OUT_OF_RANGE}
    else:
        why["bca"] = Cause.EXACT_FIT if float(np.ptp(whole)) == 0 else Cause.TOO_FEW_PAIRS
    se = unscaled(float(np.std(whole, ddof=1)), exponent)
    why |= {key: Cause.OUT_OF_RANGE for key, one in (("se", se), ("percentile", percentile)) if one is None}
    return Resampled(
        se=se, percentile=percentile, bca=bca, draws=scaled_by(values, exponent), why=reasons(why)
    )


def _ends(values: Floats, places: Sequence[float], exponent: int) -> Interval | None:
    """Two quantiles in the units of the result; None where no double holds one."""
    low, high = (unscaled(end, exponent) for end in np.quantile(values, places).tolist())
    return None if low is None or high is None else (low, high)
