"""The points of a tether as pictures need them."""

from __future__ import annotations

import math
from collections.abc import Set
from dataclasses import dataclass

import msgspec
import numpy as np

from bright_tether.core.once import once
from bright_tether.core.order import order_of
from bright_tether.core.pairs import Pairs
from bright_tether.tables.row_ids import ids_of
from bright_tether.tables.texts import named

#: Groups shown apart; further ones share the last look.
MOST_GROUPS = 5


#: From this many points on they are drawn as a density.
DENSE_ABOVE = 20_000
_ON_A_STAMP = 120
#: Sizes between which a picture can put values on a page: beyond them its arithmetic leaves float64.
_SMALLEST, _LARGEST = 1e-290, 1e290
_TOGETHER = 280


def drawable(*columns: np.ndarray) -> bool:
    """Whether a picture can put these columns on a page together. columns : (n,) each, NaN where missing."""
    powers = []
    for values in columns:
        with np.errstate(over="ignore"):  # of a sum that leaves float64 they are looked at one by one
            whole = bool(values.size) and math.isfinite(values.sum())
        finite = values if whole else values[np.isfinite(values)]
        low, high = (float(finite.min()), float(finite.max())) if finite.size else (0.0, 0.0)
        size = max(-low, high)
        if size == 0.0:
            continue
        gap = high - low
        if size > _LARGEST or size < _SMALLEST or 0 < gap < _SMALLEST:
            return False
        powers.append(math.log10(gap or size))
    return abs(sum(powers)) < _TOGETHER


class Rising(msgspec.Struct, frozen=True, eq=False):
    """Points in rising x, as a density counts them. x, y : (k,)."""

    x: np.ndarray
    y: np.ndarray


@dataclass(frozen=True, kw_only=True, eq=False)
class Cloud:
    """Every row with both numbers, in play or set aside.

    x, y, at, row_ids, aside, group : (m,). at are table positions from 0.
    groups : names in order of first appearance; empty without a tint.
    """

    x: np.ndarray
    y: np.ndarray
    at: np.ndarray
    row_ids: np.ndarray
    aside: np.ndarray
    group: np.ndarray
    groups: tuple[str, ...]

    def only(self, wanted: np.ndarray, x: np.ndarray, y: np.ndarray, *, as_before: bool = False) -> Cloud:
        """The wanted points, (m,) bool, at other places, (m,) each. as_before : whether x rises as it did."""
        part = Cloud(
            x=x[wanted],
            y=y[wanted],
            at=self.at[wanted],
            row_ids=self.row_ids[wanted],
            aside=self.aside[wanted],
            group=self.group[wanted],
            groups=self.groups,
        )
        if as_before:
            place = np.cumsum(wanted) - 1
            part.__dict__["rising"] = place[self.rising[wanted[self.rising]]]
        return part

    def ready(self) -> Cloud:
        """The same, put in order where that takes long: here rather than where it is drawn."""
        if self.x.size > DENSE_ABOVE:
            _ = self.in_play, self.out, self.few, self.ends, self.hollow
        return self

    def moved(self, place: np.ndarray, x: np.ndarray, y: np.ndarray) -> Cloud:
        """The points at these places, (k,), put elsewhere: x, y (k,)."""
        part = Cloud(x=x, y=y, at=self.at[place], row_ids=self.row_ids[place], aside=self.aside[place],
                     group=self.group[place], groups=self.groups)  # fmt: skip
        return part.ready()

    @once
    def rising(self) -> np.ndarray:
        """Places among the points of those in play, in rising x."""
        if not self.aside.any():
            return order_of(self.x)
        play = np.flatnonzero(~self.aside)
        found: np.ndarray = play[order_of(self.x[play])]
        return found

    @once
    def in_play(self) -> Rising:
        """Those in play by rising x, as a density counts them."""
        return Rising(self.x[self.rising], self.y[self.rising])

    @once
    def rising_out(self) -> np.ndarray:
        """Places among the points of those set aside, in rising x."""
        out = np.flatnonzero(self.aside)
        found: np.ndarray = out[order_of(self.x[out])]
        return found

    @once
    def out(self) -> Rising:
        """Those set aside by rising x."""
        return Rising(self.x[self.rising_out], self.y[self.rising_out])

    @once
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """The lowest and the highest x, and y. There is a point at least."""
        return (float(self.x.min()), float(self.x.max())), (float(self.y.min()), float(self.y.max()))

    @once
    def hollow(self) -> Cloud | None:
        """Those set aside as points; None where they are so many that they are a density."""
        return None if self.out.x.size > DENSE_ABOVE else self.only(self.aside, self.x, self.y)

    @once
    def few(self) -> Rising:
        """Some of those in play, as a stamp on a card has room for."""
        play = np.flatnonzero(~self.aside)
        play = play[:: max(1, play.size // _ON_A_STAMP)]
        return Rising(self.x[play], self.y[play])

    def between(self, low: float, high: float) -> np.ndarray:
        """Places among the points of those with x from low to high; of very many only these are looked at."""
        if self.x.size <= DENSE_ABOVE:
            return np.flatnonzero((self.x >= low) & (self.x <= high))
        found = []
        for places, x in ((self.rising, self.in_play.x), (self.rising_out, self.out.x)):
            found.append(places[np.searchsorted(x, low) : np.searchsorted(x, high, side="right")])
        return np.concatenate(found)

    def by_x(self, heights: np.ndarray) -> Rising:
        """Those in play that have a height, (m,), by rising x."""
        x, y = self.in_play.x, heights[self.rising]
        there = np.isfinite(y)
        return Rising(x, y) if there.all() else Rising(x[there], y[there])

    def marked_by_x(self, wanted: np.ndarray, heights: np.ndarray) -> Rising:
        """The wanted ones, (m,) bool, at these heights, (m,), by rising x; those in play are in order already."""
        if heights is self.y and wanted.all() and not self.aside.any():
            return self.in_play
        play, out = (some[wanted[some]] for some in (self.rising, self.rising_out))
        if out.size:
            play = np.insert(play, np.searchsorted(self.x[play], self.x[out]), out)
        return Rising(self.x[play], heights[play])

    def mask(self, rows: Set[int]) -> np.ndarray:
        """Which points are of these rows, (m,); kept while the same is asked."""
        kept: tuple[Set[int], np.ndarray] | None = self.__dict__.get("marked")
        if kept is None or kept[0] is not rows:
            found = np.isin(self.row_ids, ids_of(rows)) if rows else np.broadcast_to(False, self.row_ids.size)
            kept = self.__dict__["marked"] = rows, found
        return kept[1]

    def counts(self) -> tuple[int, ...]:
        """Points in play of each group."""
        return tuple(int(np.count_nonzero((self.group == i) & ~self.aside)) for i in range(len(self.groups)))


def cloud(
    x: np.ndarray,
    y: np.ndarray,
    row_ids: np.ndarray,
    asides: np.ndarray,
    tint: np.ndarray | None,
    kept: np.ndarray | None,
    pairs: Pairs,
) -> Cloud:
    """The points of two columns that the filter keeps.

    x, y, row_ids, tint, kept : (rows,). asides : (m,) row ids. pairs : those of these points that are in play; where
    all are, their columns are not copied.
    """
    there = np.isfinite(x) & np.isfinite(y)
    if kept is not None:
        there &= kept
    same = np.count_nonzero(there) == pairs.n
    at = pairs.at if same else np.flatnonzero(there)
    codes, groups = _groups(np.zeros(0) if tint is None else tint, at)
    every = at.size == x.size
    whole = Cloud(
        x=pairs.x if same else x[at],
        y=pairs.y if same else y[at],
        at=at,
        row_ids=row_ids if every else row_ids[at],
        aside=np.isin(row_ids[at], asides) if asides.size else np.broadcast_to(False, at.size),
        group=codes,
        groups=groups,
    )
    if same and at.size > DENSE_ABOVE:
        whole.__dict__["in_play"] = Rising(pairs.ordered_x, whole.y[whole.rising])
    return whole.ready()


def _groups(cells: np.ndarray, at: np.ndarray) -> tuple[np.ndarray, tuple[str, ...]]:
    if not cells.size:
        return np.broadcast_to(np.int8(0), at.size), ()
    codes, names = named(cells[at], lambda text: text or "(blank)")
    if len(names) > MOST_GROUPS:
        names = (*names[: MOST_GROUPS - 1], f"{len(names) - MOST_GROUPS + 1} others")
    return np.minimum(codes, MOST_GROUPS - 1), names
