"""A Dask cluster goes through a table of Parquet files, each by one of its workers; what they give is joined here.

The workers run the very sums that run here. A worker that is lost is made good by the scheduler.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from importlib import import_module
from typing import Any, TypeVar

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.line.summed import MOST_IN_ORDER
from bright_tether.core.once import once
from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Floats
from bright_tether.core.strength.compared import Compared, compared_of
from bright_tether.core.sums.partial import (
    HeldRows,
    J,
    Partial,
    Picked,
    Rows,
    Summed,
    gathered,
    in_turn,
    joined,
)
from bright_tether.core.sums.summed import Counted, Extent
from bright_tether.far.duck import DuckEngine
from bright_tether.far.engine import FarColumn, Overview, Stopped
from bright_tether.far.place import Place
from bright_tether.far.question import Question
from bright_tether.tables.delimited import Trouble, UnreadableFile

#: Seconds until a scheduler has answered, and between two looks at whether anybody still waits.
_SECONDS, _ASKED = 15, 0.5
T = TypeVar("T")


class ClusterEngine:
    """One table of Parquet files by the workers of a scheduler, which see the files under the same paths.

    scheduler : its address. progress : told how many rows are done, about; False ends the work.
    """

    def __init__(
        self, place: Place, scheduler: str, *, memory: str = "",
        progress: Callable[[int], bool] = lambda _: True,
    ) -> None:  # fmt: skip
        self._place, self._scheduler, self._memory, self._progress = place, scheduler, memory, progress
        self._parts = [Place(one) for one in place.parts()]
        if not self._parts:
            raise UnreadableFile(Trouble.NOT_IN_PARTS, place.name)

    def columns(self) -> tuple[FarColumn, ...]:
        """Its columns, in order. Raises UnreadableFile."""
        return DuckEngine(self._place).columns()

    def count(self) -> int:
        """How many rows it has."""
        return sum(self._sizes)

    def overview(self, question: Question) -> Overview:
        """What there is before any sum: of each part, added up."""
        found = list(self.each(_overview, question))
        counted = [one.counted for one in found]
        extents = [one.extent for one in found if one.extent.n]
        n = sum(one.n for one in extents)
        return Overview(
            counted=Counted(
                rows=sum(one.rows for one in counted), missing=sum(one.missing for one in counted),
                set_aside=sum(one.set_aside for one in counted),
                filtered_out=sum(one.filtered_out for one in counted),
            ),
            without=(sum(one.without[0] for one in found), sum(one.without[1] for one in found)),
            extent=_together(extents, n) if n else found[0].extent,
        )  # fmt: skip

    def rows(self, question: Question) -> Rows:
        """The pairs, to be gone through."""
        return _ClusterRows(self, question)

    def ranks(self, question: Question) -> Rows | None:
        """The pairs as mid-ranks, lowest first; None of more pairs than are taken in here to be put in order."""
        held = self.taken_in(question)
        if held is None:
            return None
        ranked = take_pairs(held.x, held.y).ranked
        return HeldRows(ranked.x, ranked.y)

    def compared(self, question: Question, n: int) -> Compared | None:
        """Every two pairs held against each other; None of more pairs than are taken in here to be put in order."""
        held = self.taken_in(question)
        return None if held is None else compared_of(take_pairs(held.x, held.y))

    def taken_in(self, question: Question) -> HeldRows | None:
        """All pairs, as they stand, from the workers: no one of them could put all in order."""
        if self.count() > MOST_IN_ORDER:
            return None
        parts = [one for one in self.each(_taken_in, question) if one is not None]
        return HeldRows(*gathered(parts)) if parts else None

    def groups(self, question: Question, most: int) -> list[str]:
        """The texts of the column of groups in the pairs, in order of first appearance."""
        every = [name for part in self.each(_groups, question, most) for name in part]
        return list(dict.fromkeys(every))[: most + 1]

    def moments(self, name: str) -> tuple[float, float, bool]:
        """The first and last date of a column in seconds since 1970-01-01, and whether all are whole days."""
        return DuckEngine(self._place).moments(name)

    def each(self, work: Callable[..., T], question: Question, *more: object) -> Iterator[T]:
        """What the workers make of each part, in the order of the parts. Raises Stopped, UnreadableFile."""
        ends = np.cumsum(self._sizes).tolist()
        with self._client() as client:
            waiting = [
                client.submit(work, part, _own(question, end - size, end), self._memory, *more, pure=False)
                for part, size, end in zip(self._parts, self._sizes, ends, strict=True)
            ]
            done = 0
            for end, future in zip(ends, waiting, strict=True):
                yield self._outcome(future, done)
                done = end
                if not self._progress(done):
                    raise Stopped

    def _outcome(self, future: Any, done: int) -> Any:
        """What a worker made; whoever waits for it may give it up. Raises Stopped, UnreadableFile."""
        while True:
            try:
                return future.result(timeout=_ASKED)
            except TimeoutError:
                if not self._progress(done):
                    raise Stopped from None
            except UnreadableFile:
                raise
            except Exception:  # whatever befell the workers: their own logs say more
                raise UnreadableFile(Trouble.WORKERS_LOST, self._scheduler) from None

    @once
    def _sizes(self) -> list[int]:
        from pyarrow import parquet

        return [parquet.read_metadata(part.path).num_rows for part in self._parts]

    @contextmanager
    def _client(self) -> Iterator[Any]:
        try:
            distributed: Any = import_module("distributed")
        except ImportError:
            raise UnreadableFile(Trouble.NEEDS_DASK, self._place.name) from None
        try:
            client = distributed.Client(self._scheduler, timeout=_SECONDS, set_as_default=False)
        except (OSError, ValueError):
            raise UnreadableFile(Trouble.NO_SCHEDULER, self._scheduler) from None
        try:
            yield client
        finally:
            client.close()


class _ClusterRows(msgspec.Struct, frozen=True):
    """The pairs of all parts."""

    engine: ClusterEngine
    question: Question

    def total(self, of: Summed) -> Partial:
        """The sums over all of them."""
        return joined(one for one in self.engine.each(_total, self.question, of) if one is not None)

    def gathered(self, of: Picked) -> tuple[Floats, ...]:
        """What is picked from all of them."""
        return gathered(one for one in self.engine.each(_gathered, self.question, of) if one is not None)

    def along(self, of: Callable[[Floats, Floats], J]) -> J | None:
        """What all parts come to in the order of the files; None in any other, which no worker has."""
        if self.question.order:
            return None
        return in_turn(one for one in self.engine.each(_along, self.question, of) if one is not None)

    def by_x(self, of: Callable[[Iterator[tuple[Floats, Floats]]], T]) -> T | None:
        """In rising x, where there are no more than are taken in here to be put in order."""
        held = self.engine.taken_in(self.question)
        return None if held is None else held.by_x(of)


def _own(question: Question, start: int, end: int) -> Question:
    """What is asked of one part, which has the rows from one place to another."""
    mine = tuple(row - start for row in question.rows_aside if start <= row < end)
    return replace(question, rows_aside=mine)


def _overview(part: Place, question: Question, memory: str) -> Overview:
    return DuckEngine(part, memory=memory).overview(question)


def _groups(part: Place, question: Question, memory: str, most: int) -> list[str]:
    return DuckEngine(part, memory=memory).groups(question, most)


def _total(part: Place, question: Question, memory: str, of: Summed) -> Partial | None:
    parts = list(DuckEngine(part, memory=memory).parts(question, of))
    return joined(parts) if parts else None


def _along(part: Place, question: Question, memory: str, of: Callable[[Floats, Floats], J]) -> J | None:
    return DuckEngine(part, memory=memory).rows(question).along(of)


def _taken_in(part: Place, question: Question, memory: str) -> tuple[Floats, ...] | None:
    return DuckEngine(part, memory=memory).taken_in(question)


def _gathered(part: Place, question: Question, memory: str, of: Picked) -> tuple[Floats, ...] | None:
    parts = list(DuckEngine(part, memory=memory).picked(question, of))
    return gathered(parts) if parts else None


def _together(extents: list[Extent], n: int) -> Extent:
    """Where the pairs of all parts end, and about what they lie."""

    def about(axis: int) -> Floats:
        return np.array([sum(one.n / n * float(one.first[axis][0]) for one in extents)])

    return Extent(
        n=n, first=(about(0), about(1)),
        x=(min(one.x[0] for one in extents), max(one.x[1] for one in extents)),
        y=(min(one.y[0] for one in extents), max(one.y[1] for one in extents)),
    )  # fmt: skip
