"""An order along which values rise, found sooner where nearly the same values were put in order just before."""

from __future__ import annotations

import numpy as np

from bright_tether.core.results import Floats, Ints

#: Shorter columns are put in order at once.
_LONG = 20_000
#: A known order helps while the values fall along it at most once in so many steps.
_SELDOM = 64
#: The order found last for a length; a changed cell leaves it nearly right.
_last: dict[int, Ints] = {}


def order_of(values: Floats) -> Ints:
    """Places, (n,), along which values do not fall; equal values may stand in any order. values : (n,), finite.

    The outcome is to be left as it is: others may hold it too.
    """
    if values.size < _LONG:
        return np.argsort(values)
    known = _last.get(values.size)
    if known is None:
        order = np.argsort(values)
    else:
        along = values[known]
        falls = int(np.count_nonzero(along[1:] < along[:-1]))
        if not falls:
            return known
        # a sort by runs is quick where there are few of them
        nearly = falls * _SELDOM < values.size
        order = known[np.argsort(along, kind="stable")] if nearly else np.argsort(values)
    if values.size not in _last:
        _last.clear()  # one length at a time is worked on
    _last[values.size] = order
    return order
