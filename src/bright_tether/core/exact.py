"""Sums and products that keep the digits plain floating point would drop.

Each value is carried as a pair (high, low) whose sum is the number meant.
Source: Dekker 1971; Knuth, The Art of Computer Programming 2, 4.2.2; Ogita, Rump & Oishi 2005.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bright_tether.core.results import Floats

#: Above this many values rounding averages out and the plain pairwise sum is used.
COMPENSATED_UP_TO = 1 << 15
#: Rows of a few columns that stay in the processor's cache.
CACHED_ROWS = 1 << 14
#: So many values are added one after another, in one sweep; of more, halving is sooner.
_RUNNING_UP_TO = 1024
_SPLIT = 134217729.0  # 2**27 + 1


def blocks(n: int, size: int = 4096) -> Iterator[slice]:
    """Slices that cover 0..n, each small enough to stay in the processor's cache."""
    return (slice(start, start + size) for start in range(0, n, size))


def scaled_by(values: Floats, exponent: int, out: Floats | None = None) -> Floats:
    """values·2^exponent, exactly; by multiplication where the power is a double, which is sooner."""
    if exponent == 0 and out is None:
        return values
    if abs(exponent) < 1000:
        return np.multiply(values, 2.0**exponent, out=out)
    return np.ldexp(values, exponent, out=out)


def two_sum(a: Floats, b: Floats | float) -> tuple[Floats, Floats]:
    """a + b as (rounded, what rounding dropped). Shapes broadcast."""
    total = a + b
    part = total - a
    return total, (a - (total - part)) + (b - part)


def _split(a: Floats) -> tuple[Floats, Floats]:
    scaled = _SPLIT * a
    high = scaled - (scaled - a)
    return high, a - high


def two_product(a: Floats, b: Floats) -> tuple[Floats, Floats]:
    """a·b as (rounded, what rounding dropped), for magnitudes between about 1e-140 and 1e140."""
    product = a * b
    a_high, a_low = _split(a)
    b_high, b_low = _split(b)
    dropped = a_low * b_low - (((product - a_high * b_high) - a_low * b_high) - a_high * b_low)
    return product, dropped


def pair_sum(high: Floats, low: Floats) -> float:
    """Σ(high + low): by halving while there are many, then running sums; what is dropped is summed too.

    high, low : (n,). Source: Ogita, Rump & Oishi 2005, SumK with K = 3.
    """
    if high.size == 0:
        return 0.0
    while high.size > _RUNNING_UP_TO:
        half = high.size // 2
        rest_high, rest_low = high[2 * half :], low[2 * half :]
        added, dropped = two_sum(high[:half], high[half : 2 * half])
        low = np.concatenate((low[:half] + low[half : 2 * half] + dropped, rest_low))
        high = np.concatenate((added, rest_high))
    first, dropped = _running(high)
    second, rest = _running(dropped) if dropped.size else (0.0, dropped)
    return first + (second + float(rest.sum()) + float(low.sum()))


def _running(values: Floats) -> tuple[float, Floats]:
    """The sum as doubles give it one after another, and what each step drops, (n − 1,)."""
    sums = np.cumsum(values)
    before, after = sums[:-1], sums[1:]
    part = after - before
    return float(sums[-1]), (before - (after - part)) + (values[1:] - part)


def total(values: Floats) -> float:
    """Σ values. values : (n,)."""
    if values.size > COMPENSATED_UP_TO:
        return float(values.sum())
    return pair_sum(values, np.zeros_like(values))


def dot(a: Floats, a_low: Floats, b: Floats, b_low: Floats) -> float:
    """Σ (a + a_low)(b + b_low), all (n,); exact to the last digit or nearly for n up to 32 768."""
    if a.size > COMPENSATED_UP_TO:
        return float(np.sum([np.dot(a[part], b[part]) for part in blocks(a.size)]))
    product, dropped = two_product(a, b)
    return pair_sum(product, dropped + a * b_low + a_low * b)
