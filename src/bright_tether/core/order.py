"""An order along which values rise, found sooner where nearly the same values were put in order just before."""

from __future__ import annotations

import numpy as np

from bright_tether.core.results import Floats, Ints

#: Shorter columns are put in order at once.
_LONG = 20_000
#: A known order helps while the values fall along it at most once in so many steps.
_SELDOM = 64
#: Orders found last, the newest first; a changed cell leaves one nearly right. Two columns are worked on at a time.
_MOST_KNOWN = 3
_known: list[Ints] = []


def order_of(values: Floats) -> Ints:
    """Places, (n,), along which values do not fall; equal values may stand in any order. values : (n,), finite.

    The outcome is to be left as it is: others may hold it too.
    """
    if values.size < _LONG:
        return np.argsort(values)
    order = _from_known(values)
    if order is None:
        order = np.argsort(values)
    others = [one for one in _known if one is not order and one.size == order.size]
    _known[:] = [order, *others][:_MOST_KNOWN]
    return order


def _from_known(values: Floats) -> Ints | None:
    """The order from one that is known and nearly right."""
    for known in tuple(_known):
        if known.size != values.size:
            continue
        some = values[known[:: values.size // 1000]]
        if np.count_nonzero(some[1:] < some[:-1]) * 10 > some.size:
            continue  # the order of another column
        along = values[known]
        falls = int(np.count_nonzero(along[1:] < along[:-1]))
        if not falls:
            return known
        if falls * _SELDOM < values.size:  # a sort by runs is quick where there are few of them
            return np.asarray(known[np.argsort(along, kind="stable")])
    return None


def places_in(rising: Ints, wanted: Ints) -> Ints:
    """Where those of the wanted, (k,) rising, that are there stand in a rising array, each of them once there."""
    found = np.searchsorted(rising, wanted)
    inside = found < rising.size
    found = found[inside]
    return np.asarray(found[rising[found] == wanted[inside]])
