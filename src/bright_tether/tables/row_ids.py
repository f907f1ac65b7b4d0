"""Sets of rows as arrays of their ids: a million of them are eight megabytes and a few milliseconds."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Set
from typing import Any

import numpy as np
from numpy.typing import NDArray


class RowIds(Set[int]):
    """The ids of some rows, each once. It stands wherever a set of them does, and never changes.

    ids : (n,) rising.
    """

    __slots__ = ("ids",)

    def __init__(self, rows: Iterable[int] = ()) -> None:
        self.ids: NDArray[np.int64] = rows.ids if isinstance(rows, RowIds) else _rising(ids_of(rows))

    @classmethod
    def rising(cls, ids: NDArray[np.int64]) -> RowIds:
        """Of ids that rise already."""
        made = cls.__new__(cls)
        made.ids = ids
        return made

    def hold(self, ids: NDArray[np.int64]) -> NDArray[np.bool_]:
        """(n,) which of these are among them."""
        if not self.ids.size:
            return np.zeros(ids.size, bool)
        at = np.searchsorted(self.ids, ids)
        found: NDArray[np.bool_] = self.ids[np.minimum(at, self.ids.size - 1)] == ids
        return found

    def __contains__(self, row: object) -> bool:
        at = int(np.searchsorted(self.ids, row)) if isinstance(row, int | np.integer) else self.ids.size
        return at < self.ids.size and bool(self.ids[at] == row)

    def __iter__(self) -> Iterator[int]:
        return iter(self.ids.tolist())

    def __len__(self) -> int:
        return self.ids.size

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Set) and np.array_equal(self.ids, RowIds(other).ids)

    __hash__ = None  # type: ignore[assignment]

    def __le__(self, other: Set[Any]) -> bool:
        return len(self & other) == len(self)

    def __and__(self, other: Iterable[Any]) -> RowIds:
        few, many = sorted((self, RowIds(other)), key=len)
        return RowIds.rising(few.ids[many.hold(few.ids)])

    def __or__(self, other: Iterable[Any]) -> RowIds:
        return RowIds.rising(_rising(np.concatenate([self.ids, RowIds(other).ids])))

    def __sub__(self, other: Iterable[Any]) -> RowIds:
        return RowIds.rising(self.ids[~RowIds(other).hold(self.ids)])

    def __xor__(self, other: Iterable[Any]) -> RowIds:
        return RowIds.rising(np.setxor1d(self.ids, RowIds(other).ids, assume_unique=True))

    __rand__, __ror__, __rxor__ = __and__, __or__, __xor__

    def __rsub__(self, other: Iterable[Any]) -> RowIds:
        return RowIds(other) - self


def _rising(ids: NDArray[np.int64]) -> NDArray[np.int64]:
    """Each id once, from the lowest; mostly they come so."""
    if np.all(ids[1:] > ids[:-1]):
        return ids
    ids = np.sort(ids)
    once: NDArray[np.int64] = ids[np.append(True, ids[1:] != ids[:-1])]
    return once


def ids_of(rows: Iterable[int]) -> NDArray[np.int64]:
    """Ids as an array, in the order in which they come."""
    if isinstance(rows, RowIds):
        return rows.ids
    return np.asarray(rows if isinstance(rows, np.ndarray) else np.fromiter(rows, np.int64), np.int64)


#: No row at all.
NO_ROWS = RowIds()
