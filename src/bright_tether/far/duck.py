"""DuckDB goes through a table: no server, in this process, with no more memory than it is given."""

from __future__ import annotations

import os
import resource
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, TypeVar

import msgspec
import numpy as np

from bright_tether.core.results import Floats
from bright_tether.core.strength.apart import along_y, compared_along
from bright_tether.core.strength.compared import Compared
from bright_tether.core.sums.partial import J, Partial, Picked, Rows, Summed, gathered, in_turn, joined, over
from bright_tether.core.sums.summed import Counted, Extent
from bright_tether.far.engine import FarColumn, Overview, Stopped
from bright_tether.far.place import ROW, Place, named, text
from bright_tether.far.question import FarKind, Question, moment_of, words_of
from bright_tether.tables.delimited import Trouble, UnreadableFile

#: Rows that come at a time, and what is scanned ahead while they are summed.
_LOT, _AHEAD = 1 << 17, "4MB"
_THREADS = 2
_NUMBERS = ("INT", "DOUBLE", "FLOAT", "DECIMAL", "REAL")

T = TypeVar("T")


class DuckEngine:
    """One table by DuckDB. memory : what it may hold at a time, such as 512MB; "" for a share of what there is."""

    def __init__(
        self, place: Place, *, memory: str = "", progress: Callable[[int], bool] = lambda _: True
    ) -> None:
        self._place, self._memory, self._progress = place, memory or memory_for_it(), progress

    def columns(self) -> tuple[FarColumn, ...]:
        """Its columns, in order. Raises UnreadableFile."""
        with self._held() as held:
            found = held.execute(f"DESCRIBE SELECT * FROM {self._place.source()}").fetchall()
        return tuple(FarColumn(str(one[0]), _kind(str(one[1]))) for one in found)

    def count(self) -> int:
        """How many rows it has."""
        (many,) = self._one(f"SELECT count(*) FROM {self._place.source()}")
        return int(many)

    def tables(self) -> list[str]:
        """The tables of a DuckDB file; none of other files."""
        if not self._place.database:
            return []
        with self._held() as held:
            found = held.execute(
                "SELECT table_name FROM duckdb_tables() WHERE database_name = 'held' ORDER BY 1"
            )
            return [str(one) for (one,) in found.fetchall()]

    def overview(self, question: Question) -> Overview:
        """What there is before any sum, in one pass where the file does not tell how many rows it has."""
        if question.of_all and self._place.knows_its_rows:
            return self._of_all(question)
        lack = [_lacking(one) for one in "xy"]
        ends = [f"{of}(CASE WHEN played THEN {one} END)" for one in "xy" for of in ("min", "max", "avg")]
        rows, outside, missing, aside, no_x, no_y, n, *found = self._one(
            "SELECT count(*), count_if(NOT kept), count_if(kept AND NOT there), count_if(kept AND there AND out), "
            f"{', '.join(lack)}, count_if(played), {', '.join(ends)} "
            f"FROM (SELECT {question.pair}, {question.kept} AS kept, {question.there} AS there, "
            f"{question.out} AS out, {question.in_play} AS played FROM {_source(self._place, question)})"
        )
        counted = Counted(rows=rows, missing=missing, set_aside=aside, filtered_out=outside)
        return Overview(counted=counted, without=(no_x, no_y), extent=_extent(n, found))

    def _of_all(self, question: Question) -> Overview:
        """The same where every row that has all it needs is a pair: none is looked at twice unless some lack it."""
        ends = ", ".join(f"{of}({one})" for one in "xy" for of in ("min", "max", "avg"))
        n, *found = self._one(f"SELECT count(*), {ends} FROM ({_pairs(self._place, question)})")
        rows, without = self.count(), (0, 0)
        if n < rows:
            lack = f"{_lacking(question.x_value)}, {_lacking(question.y_value)}"
            without = self._one(f"SELECT {lack} FROM {self._place.source()}")
        counted = Counted(rows=rows, missing=rows - n, set_aside=0, filtered_out=0)
        return Overview(counted=counted, without=without, extent=_extent(n, found))

    def share(self, rows: int, seed: int) -> tuple[Any, int]:
        """Rows drawn by chance, in order, with their places as last column; and how many rows there are in all.

        Each row has a number by its place and the seed; those with the smallest are taken.
        """
        many = self.count()
        lot = f"hash({named(ROW)}, {seed})"
        most = 2**64 if rows >= many else min(int(2**64 * (rows / many + 6 * (rows**0.5 + 1) / many)), 2**64)
        with self._held() as held:
            found = held.sql(
                f"SELECT * FROM (SELECT * FROM {self._place.numbered()} WHERE {lot} < {most} "
                f"ORDER BY {lot} LIMIT {rows}) ORDER BY {named(ROW)}"
            ).to_arrow_table()
        return found, many

    def rows(self, question: Question) -> Rows:
        """The pairs, to be gone through."""
        pairs = _pairs(self._place, question)
        along = _put_in_order(self._place, question, question.order_value) if question.order else pairs
        return _DuckRows(self, pairs, along, _put_in_order(self._place, question, "1"))

    def ranks(self, question: Question) -> Rows | None:
        """The pairs as mid-ranks, lowest first."""
        ranked = ", ".join(
            f"rank() OVER (ORDER BY {one}) + (count(*) OVER (PARTITION BY {one}) - 1) / 2.0 AS {one}"
            for one in ("x", "y")
        )
        return _DuckRows(self, f"SELECT {ranked} FROM ({_pairs(self._place, question)})")

    def compared(self, question: Question, n: int) -> Compared | None:
        """Every two pairs held against each other, by two passes in order and what they leave on the disk."""
        pairs = _pairs(self._place, question)
        known = along_y(self.each(f"{pairs} ORDER BY 2", lambda _, y: y), n)
        lots = self.each(f"{pairs} ORDER BY 1, 2", lambda x, y: (x, y))
        with TemporaryDirectory(prefix="bright-tether-") as room:

            def keep(at: int, y: Floats) -> None:
                with (Path(room) / str(at)).open("ab") as file:
                    y.tofile(file)

            return compared_along(lots, known, keep, lambda at: np.fromfile(Path(room) / str(at)))

    def parts(self, question: Question, of: Summed) -> Iterator[Partial]:
        """The sums over each lot of pairs."""
        return self.each(_pairs(self._place, question), lambda x, y: over(x, y, of))

    def picked(self, question: Question, of: Picked) -> Iterator[tuple[Floats, ...]]:
        """What is picked from each lot of pairs."""
        return self.each(_pairs(self._place, question), of)

    def taken_in(self, question: Question) -> tuple[Floats, ...] | None:
        """x and y of all pairs, as they stand; None without any."""
        lots = list(self.each(_pairs(self._place, question), lambda x, y: (x, y)))
        return gathered(lots) if lots else None

    def groups(self, question: Question, most: int) -> list[str]:
        """The texts of the column of groups in the pairs, in order of first appearance."""
        label = words_of(question.group)
        with self._held() as held:
            found = held.execute(
                f"SELECT g FROM (SELECT {label} AS g, row_number() OVER () AS place "
                f"FROM {_source(self._place, question)} WHERE {question.in_play}) "
                f"WHERE coalesce(g, '') <> '' GROUP BY g ORDER BY min(place) LIMIT {most + 1}"
            ).fetchall()
        return [str(one) for (one,) in found]

    def moments(self, name: str) -> tuple[float, float, bool]:
        """The first and last date of a column in seconds since 1970-01-01, and whether all are whole days."""
        when = moment_of(name)
        low, high, whole = self._one(
            f"SELECT min({when}), max({when}), bool_and({when} % 86400 = 0) FROM {self._place.source()}"
        )
        return float(low or 0.0), float(high or 0.0), bool(whole)

    def each(self, select: str, of: Callable[[Floats, Floats], T]) -> Iterator[T]:
        """What is made of each lot of pairs, in the order of the query, while the engine scans ahead.

        Raises Stopped, UnreadableFile.
        """
        done = 0
        with self._held() as held:
            held.execute(f"SET streaming_buffer_size = '{_AHEAD}'")
            for batch in held.sql(select).to_arrow_reader(_LOT):
                if batch.num_rows:
                    x, y = (_doubles(batch.column(at)) for at in (0, 1))
                    yield of(x, y)
                    done += batch.num_rows
                if not self._progress(done):
                    raise Stopped

    def _one(self, select: str) -> tuple[Any, ...]:
        with self._held() as held:
            found: tuple[Any, ...] = held.execute(select).fetchone()
        return found

    @contextmanager
    def _held(self) -> Iterator[Any]:
        """A connection that sees the table, and nothing else is asked of. Raises UnreadableFile."""
        try:
            import duckdb
        except ImportError:
            raise UnreadableFile(Trouble.NEEDS_DUCKDB, self._place.name) from None
        self._place.source()
        room = TemporaryDirectory(prefix="bright-tether-")
        config: dict[str, Any] = {
            "memory_limit": self._memory,
            "threads": _THREADS,
            "temp_directory": room.name,
        }
        held = duckdb.connect(":memory:", config=config)
        try:
            if self._place.database:
                held.execute(f"ATTACH {text(str(self._place.path))} AS held (READ_ONLY)")
            yield held
        except (duckdb.OutOfMemoryException, MemoryError):
            raise UnreadableFile(Trouble.MEMORY_SHORT, self._place.name) from None
        except (duckdb.Error, OSError) as error:  # what comes while lots are handed over comes as the latter
            short = "Out of Memory" in str(error)
            raise UnreadableFile(
                Trouble.MEMORY_SHORT if short else Trouble.DAMAGED, self._place.name
            ) from None
        finally:
            held.close()
            room.cleanup()


def memory_for_it() -> str:
    """An eighth of what this process may take, a gigabyte at most: the rest is for the sums, and for the window."""
    pages = os.sysconf("SC_AVPHYS_PAGES") * os.sysconf("SC_PAGE_SIZE")
    limit, _ = resource.getrlimit(resource.RLIMIT_DATA)
    most = pages if limit == resource.RLIM_INFINITY else min(pages, limit)
    return f"{max(min(most // 8, 10**9) >> 20, 64)}MB"


class _DuckRows(msgspec.Struct, frozen=True):
    """The pairs that a query gives. in_order, rising : queries that give them in the stated order, and by x."""

    engine: DuckEngine
    select: str
    in_order: str | None = None
    rising: str | None = None

    def total(self, of: Summed) -> Partial:
        """The sums over all of them."""
        return joined(self.engine.each(self.select, lambda x, y: over(x, y, of)))

    def gathered(self, of: Picked) -> tuple[Floats, ...]:
        """What is picked from all of them."""
        return gathered(self.engine.each(self.select, of))

    def along(self, of: Callable[[Floats, Floats], J]) -> J | None:
        """What all lots come to in the stated order, else that of the files."""
        select = self.in_order
        if select is None:
            return None

        def make() -> J | None:
            return in_turn(self.engine.each(select, of))

        return make() if select == self.select else _in_room(make)

    def by_x(self, of: Callable[[Iterator[tuple[Floats, Floats]]], T]) -> T | None:
        """What is made of lot after lot in rising x."""
        select = self.rising
        if select is None:
            return None
        return _in_room(lambda: of(self.engine.each(select, lambda x, y: (x, y))))


def _in_room(put_in_order: Callable[[], T]) -> T | None:
    """What is made of rows in order; None where the memory that was given does not allow it."""
    try:
        return put_in_order()
    except UnreadableFile as short:
        if short.trouble is not Trouble.MEMORY_SHORT:
            raise
        return None


def _extent(n: int, found: Sequence[float | None]) -> Extent:
    """found : the smallest, the largest and the mean of x, then of y; None without pairs."""
    low_x, high_x, mean_x, low_y, high_y, mean_y = (0.0 if one is None else float(one) for one in found)
    return Extent(n=n, first=(np.array([mean_x]), np.array([mean_y])), x=(low_x, high_x), y=(low_y, high_y))


def _doubles(found: Any) -> Floats:
    """The values of a batch where they lie; its own way to NumPy would have a worker load pandas."""
    return np.asarray(np.from_dlpack(found), np.float64)


def _lacking(value: str) -> str:
    return f"count_if(NOT coalesce(isfinite({value}), false))"


def _put_in_order(place: Place, question: Question, by: str) -> str:
    """The pairs in an order, equal ones as they stand in the files."""
    return (
        f"SELECT {question.pair} FROM {place.numbered()} WHERE {question.in_play} ORDER BY {by}, {named(ROW)}"
    )


def _pairs(place: Place, question: Question) -> str:
    return f"SELECT {question.pair} FROM {_source(place, question)} WHERE {question.in_play}"


def _source(place: Place, question: Question) -> str:
    return place.numbered() if question.rows_aside else place.source()


def _kind(type_name: str) -> FarKind:
    if any(one in type_name for one in _NUMBERS) and "[" not in type_name and "STRUCT" not in type_name:
        return "number"
    return "date" if type_name.startswith(("DATE", "TIMESTAMP")) else "text"
