"""Rows kept out of the line on purpose, each with its reason."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.once import once
from bright_tether.core.results import Ints
from bright_tether.tables.row_ids import RowIds, ids_of


class Aside(msgspec.Struct, frozen=True):
    """A row kept out of the line on purpose, with the reason."""

    row: int
    reason: str


class Asides:
    """All rows set aside, in the order in which they were: as arrays, since half a table may be.

    rows, of : (n,) the id of each row, and the place of its reason among ``reasons``.
    """

    def __init__(self, rows: Ints, of: Ints, reasons: tuple[str, ...]) -> None:
        self.rows, self.of, self.reasons = rows, of, reasons

    @classmethod
    def told(cls, asides: Iterable[Aside]) -> Asides:
        """Of rows told one by one."""
        reasons = {one.row: one.reason for one in asides}  # of a row told twice, the last is so
        places: dict[str, int] = {}
        of = [places.setdefault(reason, len(places)) for reason in reasons.values()]
        return cls(ids_of(reasons), np.array(of, np.int64), tuple(places)) if reasons else NO_ASIDES

    def __iter__(self) -> Iterator[Aside]:
        return (
            Aside(row, self.reasons[at]) for row, at in zip(self.rows.tolist(), self.of.tolist(), strict=True)
        )

    def __getitem__(self, at: int) -> Aside:
        return Aside(int(self.rows[at]), self.reasons[self.of[at]])

    def __len__(self) -> int:
        return self.rows.size

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Asides) or not np.array_equal(self.rows, other.rows):
            return False
        return self.reasons == other.reasons and np.array_equal(self.of, other.of)

    __hash__ = None  # type: ignore[assignment]

    @once
    def row_ids(self) -> RowIds:
        """The rows as a set."""
        return RowIds(self.rows)

    @once
    def by_reason(self) -> tuple[tuple[str, Ints], ...]:
        """The rows of each reason, (m,), in the order in which the reasons came."""
        return tuple((reason, self.rows[self.of == at]) for at, reason in enumerate(self.reasons))

    def reason_of(self, row: int) -> str | None:
        """Why a row is set aside; None where it is not."""
        if row not in self.row_ids:
            return None
        return self.reasons[int(self.of[np.flatnonzero(self.rows == row)[0]])]

    def among(self, rows: Ints) -> Asides:
        """Those that are of these rows."""
        return self._kept(np.isin(self.rows, rows))

    def less(self, rows: Iterable[int]) -> Asides:
        """Without these rows."""
        return self._kept(~np.isin(self.rows, ids_of(rows)))

    def more(self, rows: Iterable[int], reason: str) -> Asides:
        """With these rows, for this reason, whatever was said of them before."""
        added = RowIds(rows).ids
        kept = self.less(added)
        if not added.size:
            return kept
        reasons = kept.reasons if reason in kept.reasons else (*kept.reasons, reason)
        of = np.full(added.size, reasons.index(reason), np.int64)
        return Asides(np.concatenate([kept.rows, added]), np.concatenate([kept.of, of]), reasons)

    def _kept(self, wanted: Any) -> Asides:
        if wanted.all():
            return self
        rows, of = self.rows[wanted], self.of[wanted]
        there, at = np.unique(of, return_index=True)
        first = there[np.argsort(at)].tolist()
        places = np.zeros(len(self.reasons), np.int64)
        places[first] = np.arange(len(first))
        return Asides(rows, places[of], tuple(self.reasons[at] for at in first)) if rows.size else NO_ASIDES


NO_ASIDES = Asides(np.zeros(0, np.int64), np.zeros(0, np.int64), ())
