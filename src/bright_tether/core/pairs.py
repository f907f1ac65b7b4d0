"""Which rows are in play, and why the others are not."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from bright_tether.core.centred import Centred, centre
from bright_tether.core.exact import dot
from bright_tether.core.once import once
from bright_tether.core.results import Bools, Floats, Ints, NegativeWeight, TooFewPairs
from bright_tether.core.strength.ranks import dense_codes, mid_ranks

#: A difference of this share of its parts is what pairs of doubles leave of an exact zero.
NOTHING = 2.0**-90
#: So many values at the head of a column mostly tell already that it takes more than two.
_HEAD = 64


@dataclass(frozen=True, kw_only=True, eq=False)
class Pairs:
    """The pairs used, and every other row accounted for.

    x, y : (n,), finite. at : (n,) positions in the table, from 0. weights : (n,), above 0, or None.
    n + missing + set_aside + filtered_out + zero_weight = rows.
    """

    x: Floats
    y: Floats
    at: Ints
    rows: int
    missing: int
    set_aside: int
    filtered_out: int
    zero_weight: int = 0
    weights: Floats | None = None

    @property
    def n(self) -> int:
        """Pairs in use."""
        return self.x.size

    @once
    def centred_x(self) -> Centred:
        """x from its mean; worked out once for every later result."""
        return centre(self.x)

    @once
    def centred_y(self) -> Centred:
        """y from its mean; worked out once for every later result."""
        return centre(self.y)

    @once
    def products(self) -> float:
        """Sxy, scaled as x times as y; exactly 0 where rounding alone keeps it from that."""
        x, y = self.centred_x, self.centred_y
        return products_of(dot(x.high, x.low, y.high, y.low), x, y)

    @once
    def ends_x(self) -> tuple[float, float]:
        """The smallest and the largest x."""
        return float(self.x.min()), float(self.x.max())

    @once
    def rises(self) -> bool:
        """Whether x rises along the pairs as they stand."""
        return bool(np.all(self.x[1:] >= self.x[:-1]))

    @once
    def ordered_x(self) -> Floats:
        """x in rising order."""
        return np.sort(self.x)

    @once
    def distinct_x(self) -> int:
        """How many different x there are."""
        return int(np.count_nonzero(self.ordered_x[1:] != self.ordered_x[:-1])) + (self.n > 0)

    @once
    def two_y(self) -> tuple[float, float] | None:
        """The two values that y takes, the smaller first; None where it takes more, or fewer."""
        if (
            not self.y.size or np.unique(self.y[:_HEAD]).size > 2
        ):  # a million rows need not be looked at for that
            return None
        low, high = float(self.y.min()), float(self.y.max())
        return (low, high) if low < high and bool(np.all((self.y == low) | (self.y == high))) else None

    @once
    def codes_x(self) -> tuple[Ints, Ints]:
        """The place of each x among the distinct ones, and how often each occurs."""
        return dense_codes(self.x)

    @property
    def places_x(self) -> Ints:
        """The place of each x alone; not kept for that, since of a long table it weighs as much as x."""
        kept: tuple[Ints, Ints] | None = self.__dict__.get("codes_x")
        return (dense_codes(self.x) if kept is None else kept)[0]

    @once
    def codes_y(self) -> tuple[Ints, Ints]:
        """The place of each y among the distinct ones, and how often each occurs."""
        return dense_codes(self.y)

    @once
    def ranked(self) -> Pairs:
        """The same pairs as mid-ranks, lowest first."""
        return take_pairs(mid_ranks(*self.codes_x), mid_ranks(*self.codes_y))


def products_of(products: float, x: Centred, y: Centred) -> float:
    """Sxy as it counts: 0 where pairs of doubles leave no more of an exact zero."""
    nothing = NOTHING * math.sqrt(x.sum_squares * y.sum_squares)
    return 0.0 if abs(products) <= nothing else products


def weighted_pairs(pairs: Pairs, weights: Floats) -> Pairs:
    """The same pairs with weights, those of weight 0 left out and counted.

    weights : (rows,), finite in every row used. Raises NegativeWeight. Source: quantities §0, §3.
    """
    mine = weights[pairs.at]
    below = np.flatnonzero(mine < 0)
    if below.size:
        raise NegativeWeight(int(pairs.at[below[0]]) + 1, float(mine[below[0]]))
    used = mine > 0
    return replace(
        pairs,
        x=pairs.x[used],
        y=pairs.y[used],
        at=pairs.at[used],
        zero_weight=int(np.count_nonzero(~used)),
        weights=mine[used],
    )


def take_pairs(x: Floats, y: Floats, *, set_aside: Bools | None = None, kept: Bools | None = None) -> Pairs:
    """Sort the rows of a table into pairs and the three ways of being out.

    x, y : (rows,), NaN or ±inf where missing. set_aside, kept : (rows,) or None for no row / every row.
    A row is counted once, in the order filtered out, missing, set aside.
    Source: quantities §1.
    """
    whole = np.isfinite(x)
    whole &= np.isfinite(y)
    inside = x.size if kept is None else int(np.count_nonzero(kept))
    missing = inside - int(np.count_nonzero(whole if kept is None else whole & kept))
    if kept is not None:
        whole &= kept
    used = whole if set_aside is None else whole & ~set_aside
    all_used = bool(used.all())
    at = np.arange(x.size) if all_used else np.flatnonzero(used)
    return Pairs(
        x=x if all_used else x[at],
        y=y if all_used else y[at],
        at=at,
        rows=x.size,
        missing=missing,
        set_aside=inside - missing - at.size,
        filtered_out=x.size - inside,
    )


def require(pairs: Pairs, needed: int) -> None:
    """Raise TooFewPairs below this number of pairs."""
    if pairs.n < needed:
        raise TooFewPairs(pairs.n, needed)
