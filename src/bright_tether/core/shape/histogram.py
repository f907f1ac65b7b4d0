"""Bins of a histogram, by rule or by hand."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.results import Floats, Ints

MOST_BINS = 400
_NARROWEST = 1e-300


class Histogram(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Counts by bin. edges : (k + 1,), in data units; a value on an edge falls into the upper bin.

    counts : (k,). below, above : values outside the first and last edge.
    """

    edges: Floats
    counts: Ints
    below: int
    above: int

    @property
    def width(self) -> float:
        """The width of a bin."""
        return float(self.edges[1] - self.edges[0])


class Bins(msgspec.Struct, frozen=True):
    """Bins by hand: where they start, how wide they are, how many; from 1 to MOST_BINS of them."""

    start: float
    width: float
    number: int

    def of_number(self, number: float, high: float) -> Bins:
        """As many bins as these from the same start, up to high; as near as that can be."""
        number = int(min(max(number, 1), MOST_BINS))
        wanted = max((high - self.start) / number, _NARROWEST)
        grain = _grain(wanted)
        width = math.ceil(wanted / grain - 1e-9) * grain if grain > 0 else wanted
        width = float(f"{width:.12g}")
        return Bins(self.start, width if self.start + number * width >= high else width * (1 + 1e-5), number)

    def of_width(self, width: float, high: float) -> Bins:
        """Bins of another width, above 0, up to high."""
        return Bins(self.start, width, _number(high - self.start, width))

    def from_start(self, start: float, high: float) -> Bins:
        """Bins of the same width from another start, up to high."""
        return Bins(start, self.width, _number(high - start, self.width))


def readable_bins(start: float, width: float, high: float) -> Bins:
    """Bins near a start and a width, above 0, with edges of few digits: to a tenth of the width's first digit."""
    grain = _grain(width)
    if not (grain > 0 and math.isfinite(start / grain)):
        return Bins(start, width, _number(high - start, width))
    width = float(f"{round(width / grain) * grain:.12g}")
    start = float(f"{math.floor(start / grain + 0.5) * grain:.12g}")
    return Bins(start, width, _number(high - start, width))


def _grain(width: float) -> float:
    """A tenth of the power of ten of a width."""
    return float(10.0 ** (math.floor(math.log10(width)) - 1))


def _number(length: float, width: float) -> int:
    share = length / width
    return max(math.ceil(min(share, MOST_BINS)), 1) if share > 0 else 1


def in_small(values: Floats, marked: Floats) -> tuple[Histogram, Ints] | None:
    """Some 6 to 28 even bins for a picture of the size of a thumb, and the marked values in each.

    values, marked : (n,), (m,), finite. None where the values lie within a few roundings of each other.
    """
    number = int(np.clip(np.sqrt(values.size) * 1.5, 6, 28))
    try:
        counts, edges = np.histogram(values, number)
    except ValueError:
        return None
    found = Histogram(edges=edges, counts=counts, below=0, above=0)
    return found, np.histogram(marked, edges)[0]


def typed_bins(values: Floats, width: float | None, start: float | None) -> tuple[float, float, int] | None:
    """Start, width and number from what was typed, so that they hold every value; None where that is nothing.

    values : (n,), n ≥ 1, finite. start : None for a multiple of the width.
    """
    low, high = float(values.min()), float(values.max())
    if width is None or not (high - low) / MOST_BINS < width:
        return None
    first = math.floor(low / width) * width if start is None else min(start, low)
    number = max(1, math.ceil((high - first) / width))
    return (first, width, number) if number <= MOST_BINS else None


def histogram(values: Floats, *, start: float, width: float, number: int, rising: bool = False) -> Histogram:
    """Count values, (n,), in this many bins of this width from this start. rising : whether they are in order.

    The last edge belongs to the last bin. Raises ValueError for a width ≤ 0 or a number out of 1..MOST_BINS.
    """
    if not width > 0 or not 1 <= number <= MOST_BINS:
        raise ValueError("bins need a width above 0 and a number from 1 to 400")
    edges = np.asarray(start + width * np.arange(number + 1), np.float64)
    if rising:
        cuts = np.append(
            np.searchsorted(values, edges[:-1]), np.searchsorted(values, edges[-1], side="right")
        )
        return Histogram(
            edges=edges, counts=np.diff(cuts), below=int(cuts[0]), above=values.size - int(cuts[-1])
        )
    place = _places(edges, values)
    place[values == edges[-1]] = number - 1
    below, above = int(np.count_nonzero(place < 0)), int(np.count_nonzero(place >= number))
    inside = place[(place >= 0) & (place < number)]
    return Histogram(edges=edges, counts=np.bincount(inside, minlength=number), below=below, above=above)


def _places(edges: Floats, values: Floats) -> Ints:
    """The last edge at or below each value; −1 below all. edges : (k + 1,), even; values : (n,), finite."""
    number = edges.size - 1
    with np.errstate(over="ignore", invalid="ignore"):
        guess = (values - edges[0]) * (number / (edges[-1] - edges[0]))
    if not np.isfinite(guess).all():
        return np.searchsorted(edges, values, side="right") - 1
    place = np.clip(guess, -1, number).astype(np.int64)
    place[guess < 0] = -1
    # what stands next to an edge is put right by the edge itself
    low = np.append(edges, np.inf)
    place -= (place >= 0) & (values < edges[np.maximum(place, 0)])
    place += values >= low[place + 1]
    found: Ints = place
    return found


def usual_bins(values: Floats) -> tuple[float, float, int]:
    """Start, width and number by a rule: a round width near 2·IQR/n^⅓, at its multiples.

    values : (n,), n ≥ 1. No wider than by Sturges 1926, which clumps and a single middle value call for.
    Source: Freedman & Diaconis 1981.
    """
    low, high = float(values.min()), float(values.max())
    if low == high:
        width = _round_width(max(abs(low), 1.0) / 10)
        return low - width / 2, width, 1
    middle = float(np.subtract(*np.quantile(values, (0.75, 0.25))))
    by_size = (high - low) / (1 + math.log2(values.size))
    wanted = min(2 * middle / np.cbrt(values.size), by_size) if middle > 0 else by_size
    width = _round_width(max(wanted, (high - low) / 100))
    first = math.floor(low / width + 1e-9)
    first -= first * width > low
    number = max(math.ceil(high / width - 1e-9) - first, 1)
    while number > 1 and high <= (first + number - 1) * width:
        number -= 1  # the largest value ends the last bin
    number += high > first * width + width * number
    return first * width, width, number


def _round_width(wanted: float) -> float:
    """The nearest of 1, 2, 2.5 and 5 times a power of ten."""
    power = 10.0 ** math.floor(math.log10(wanted))
    return power * min((1, 2, 2.5, 5, 10), key=lambda step: abs(math.log(step * power / wanted)))
