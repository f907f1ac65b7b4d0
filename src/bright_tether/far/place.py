"""Where a table is that is not read in: Parquet files, separated text, or a table inside a DuckDB file."""

from __future__ import annotations

from itertools import islice
from pathlib import Path

import msgspec

from bright_tether.tables.databases import is_duckdb
from bright_tether.tables.delimited import Trouble, UnreadableFile

_PARQUET = (".parquet", ".pq")
_TEXT = (".csv", ".tsv", ".txt", ".tab")
_HEAD = 16
#: Bytes above which a file is rather left where it is.
LARGE = 300_000_000
#: Entries of a folder that are looked at to find a first Parquet file.
_LOOKED_AT = 2000
#: What the place of a row is called, from 0 in the order of the files; no header is.
ROW = "\x02row"


class Place(msgspec.Struct, frozen=True):
    """A file or a folder of Parquet files. table : of a DuckDB file, its table; "" where it is the only one."""

    path: Path
    table: str = ""

    @property
    def name(self) -> str:
        """As the analyst knows it."""
        return self.path.name

    @property
    def database(self) -> bool:
        """Whether the table lies inside a DuckDB file."""
        return self.path.is_file() and is_duckdb(_head(self.path))

    @property
    def too_large(self) -> bool:
        """Whether it is rather left where it is than taken in: folders of Parquet files, and large files."""
        try:
            if self.path.is_dir():
                found = islice(self.path.rglob("*"), _LOOKED_AT)
                return any(one.suffix.lower() in _PARQUET for one in found)
            large = self.path.stat().st_size > LARGE
        except OSError:
            return False
        return large and (self.path.suffix.lower() in (*_PARQUET, *_TEXT) or self.database)

    @property
    def in_parts(self) -> bool:
        """Whether it is made of Parquet files, as far as its name tells."""
        return self.path.suffix.lower() in _PARQUET or self.path.is_dir()

    @property
    def knows_its_rows(self) -> bool:
        """Whether how many rows it has is told without going through them."""
        return self.database or bool(self.parts())

    def parts(self) -> list[Path]:
        """The Parquet files it is made of, in order of their names; none where it is no Parquet."""
        if self.path.is_dir():
            return sorted(one for one in self.path.rglob("*") if one.suffix.lower() in _PARQUET)
        return [self.path] if self.path.suffix.lower() in _PARQUET else []

    def numbered(self) -> str:
        """The same with the place of each row."""
        return f"(SELECT *, row_number() OVER () - 1 AS {named(ROW)} FROM {self.source()})"

    def source(self) -> str:
        """What stands after FROM. Raises UnreadableFile."""
        if not self.path.exists():
            raise UnreadableFile(Trouble.NOT_FOUND, self.name)
        if self.database:
            return f"held.{named(self.table)}"
        parts = self.parts()
        if parts:
            return f"read_parquet([{', '.join(text(str(one)) for one in parts)}])"
        if self.path.is_dir():
            raise UnreadableFile(Trouble.DIRECTORY, self.name)
        if self.path.suffix.lower() not in _TEXT:
            raise UnreadableFile(Trouble.NOT_FAR, self.name)
        return f"read_csv({text(str(self.path))}, sample_size = 200000)"


def _head(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(_HEAD)


def named(name: str) -> str:
    """A name as SQL takes it."""
    return '"' + name.replace('"', '""') + '"'


def text(value: str) -> str:
    """A text as SQL takes it."""
    return "'" + value.replace("'", "''") + "'"
