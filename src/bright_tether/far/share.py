"""A share of a table that stays where it is: rows drawn by chance, which every step can be walked with."""

from __future__ import annotations

from pathlib import Path

import msgspec
import numpy as np

from bright_tether.far.duck import DuckEngine
from bright_tether.far.place import Place
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.read_plan import arrow_table_columns, plan_of, read_file
from bright_tether.tables.table import Source, Table
from bright_tether.tables.writing import path_text, printable, text_path

#: Rows of a share, unless another number is asked for.
USUAL = 200_000
_KEY = "share"


class Share(msgspec.Struct, frozen=True, kw_only=True):
    """What a share was drawn of. table : of a DuckDB file; of : the rows of the whole; seed : of the draw."""

    table: str = ""
    rows: int
    of: int
    seed: int


def draw_share(place: Place, rows: int, seed: int, table_id: str = "t1") -> Table:
    """A table of rows drawn by chance, each with its place in the whole as its id. Raises UnreadableFile."""
    found, many = DuckEngine(place).share(rows, seed)
    if found.num_columns < 3:
        raise UnreadableFile(Trouble.ONE_COLUMN, place.name)
    if not found.num_rows:
        raise UnreadableFile(Trouble.NO_ROWS, place.name)
    row_ids = np.array(found.column(found.num_columns - 1), np.int64)
    columns = arrow_table_columns(found.remove_column(found.num_columns - 1), place.name)
    share = Share(table=place.table, rows=found.num_rows, of=many, seed=seed)
    source = Source(path=path_text(place.path), choices={_KEY: msgspec.json.encode(share).decode()})
    return Table(id=table_id, name=printable(place.table or place.path.stem), columns=columns, row_ids=row_ids,
                 source=source, next_row=many)  # fmt: skip


def read_again(table: Table, path: Path) -> Table:
    """A table from its file anew, which is there now: by the plan it was read by, or the same share of it."""
    assert table.source is not None
    share = share_of(table)
    if share is None:
        return read_file(path, table.id, plan_of(table.source))
    return draw_share(Place(path, share.table), share.rows, share.seed, table.id)


def share_of(table: Table) -> Share | None:
    """What a table is a share of; None where it is whole."""
    kept = None if table.source is None else table.source.choices.get(_KEY)
    return None if kept is None else msgspec.json.decode(kept, type=Share)


def place_of(table: Table) -> Place | None:
    """Where the whole of it is."""
    share = share_of(table)
    return None if share is None or table.source is None else Place(text_path(table.source.path), share.table)
