"""Tables inside a database file: SQLite, and DuckDB where it is installed. Nothing in the file is changed or run on."""

from __future__ import annotations

import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from bright_tether.tables.delimited import Trouble, UnreadableFile

#: What the first bytes of each say, and where.
SQLITE, DUCKDB = b"SQLite format 3\x00", b"DUCK"
_DUCKDB_AT = 8
#: Steps of a view before it is given up: one that never ends takes no more.
_MOST_STEPS = 400_000
_MOST_ROWS = 20_000_000


def is_sqlite(content: bytes) -> bool:
    """Whether a file is an SQLite database."""
    return content.startswith(SQLITE)


def is_duckdb(content: bytes) -> bool:
    """Whether a file is a DuckDB database."""
    return content[_DUCKDB_AT : _DUCKDB_AT + len(DUCKDB)] == DUCKDB


def table_names(content: bytes, name: str) -> list[str]:
    """The tables and views of a database, in its order. Raises UnreadableFile."""
    if is_sqlite(content):
        with _sqlite(content, name) as held:
            found = held.execute(
                "select name from sqlite_master where type in ('table', 'view') order by rowid"
            )
            names = [str(one) for (one,) in found if not str(one).startswith("sqlite_")]
    else:
        with _duckdb(content, name) as held:
            found = held.execute("select table_name from information_schema.tables order by 1").fetchall()
            names = [str(one) for (one,) in found]
    if not names:
        raise UnreadableFile(Trouble.NO_TABLES, name)
    return names


def table_rows(content: bytes, name: str, table: str) -> list[list[object]]:
    """The heads and the rows of one table. Raises UnreadableFile."""
    wanted = table.replace('"', '""')
    with _sqlite(content, name) if is_sqlite(content) else _duckdb(content, name) as held:
        found = held.execute(f'select * from "{wanted}"')
        heads: list[object] = [one[0] for one in found.description or ()]
        rows = found.fetchmany(_MOST_ROWS + 1)
    if len(rows) > _MOST_ROWS:
        raise UnreadableFile(Trouble.TOO_LARGE, name)
    return [heads, *map(list, rows)]


@contextmanager
def _sqlite(content: bytes, name: str) -> Iterator[sqlite3.Connection]:
    held = sqlite3.connect(":memory:")
    try:
        held.deserialize(content)
        held.execute("pragma query_only = on")
        held.text_factory = lambda text: text.decode("utf-8", "replace")
        held.set_progress_handler(_Steps().more, 10_000)
        yield held
    except sqlite3.Error:
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    finally:
        held.close()


class _Steps:
    """Counts what a query does, and ends one that does not end by itself."""

    def __init__(self) -> None:
        self.done = 0

    def more(self) -> int:
        """One more lot of steps; not 0 gives the query up."""
        self.done += 1
        return int(self.done > _MOST_STEPS)


@contextmanager
def _duckdb(content: bytes, name: str) -> Iterator[Any]:
    try:
        import duckdb
    except ImportError:
        raise UnreadableFile(Trouble.NEEDS_DUCKDB, name) from None
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder) / "held.duckdb"
        place.write_bytes(content)
        held = None
        try:
            held = duckdb.connect(str(place), read_only=True, config={"enable_external_access": "false"})
            yield held
        except duckdb.Error:
            raise UnreadableFile(Trouble.DAMAGED, name) from None
        finally:
            if held is not None:
                held.close()
