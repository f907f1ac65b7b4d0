"""A table in the study file: its CSV, and what a CSV cannot say of it."""

from __future__ import annotations

from pathlib import Path
from typing import cast

import msgspec
import numpy as np

from bright_tether.tables.arrow import arrow
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import DateOrder
from bright_tether.tables.column import Cells, Column, Kind
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.formula import Formula
from bright_tether.tables.row_ids import RowIds
from bright_tether.tables.table import Mend, Recipe, Source, Table
from bright_tether.tables.texts import coded_strings
from bright_tether.tables.writing import beside, from_folder


class SavedColumn(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What the CSV does not say of a column."""

    id: str
    name: str
    kind: Kind
    strays: dict[int, str] = {}
    formula: Formula | None = None
    low: float | None = None
    high: float | None = None
    dates: DateOrder | None = None


class SavedTable(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What the CSV does not say of a table. row_ids : None where they are 0, 1, 2, …"""

    id: str
    name: str
    path: str
    columns: tuple[SavedColumn, ...]
    row_ids: tuple[int, ...] | None = None
    source: Source | None = None
    dismissed: tuple[str, ...] = ()
    next_row: int = 0
    mends: tuple[Mend, ...] = ()
    recipe: Recipe | None = None


def located(saved: SavedTable, folder: Path | None) -> SavedTable:
    """A saved table with its source seen from anywhere. folder : of the study."""
    if saved.source is None or folder is None:
        return saved
    path = from_folder(saved.source.path, folder)
    return msgspec.structs.replace(saved, source=msgspec.structs.replace(saved.source, path=path))


def table_of(saved: SavedTable, content: bytes, name: str) -> Table:
    """A table from its CSV and what stands beside it. Raises UnreadableFile."""
    pa = arrow()
    from pyarrow import csv

    # Numbers are read as texts too, so that a text which only looks like a number stays what it is.
    plain = [c.kind == "number" and not c.strays for c in saved.columns]
    types = {str(i): pa.float64() if one else pa.string() for i, one in enumerate(plain)}
    try:
        read = csv.read_csv(
            pa.BufferReader(content),
            csv.ReadOptions(skip_rows=1, column_names=list(types)) if b"\n" not in _head(content) else
            csv.ReadOptions(column_names=list(types), skip_rows_after_names=1),
            csv.ParseOptions(newlines_in_values=True, ignore_empty_lines=False),
            csv.ConvertOptions(column_types=types, null_values=[""], strings_can_be_null=False),
        )  # fmt: skip
    except pa.ArrowInvalid:
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    rows = read.num_rows
    ids = np.arange(rows, dtype=np.int64) if saved.row_ids is None else np.array(saved.row_ids, np.int64)
    if ids.size != rows or len(RowIds(ids)) != rows or (ids.size and ids.min() < 0):
        raise UnreadableFile(Trouble.DAMAGED, name)
    columns = []
    for at, one in enumerate(saved.columns):
        cells, strays = read.column(at), one.strays
        if plain[at]:
            values = cells.to_numpy().astype(float, copy=True)
            values[~np.isfinite(values)] = np.nan
        elif one.kind == "number":
            values, strays = _numbers_beside_strays(cells.to_pylist(), ids, strays)
        else:
            values = cast(Cells, coded_strings(cells))
        columns.append(
            Column(
                id=one.id,
                name=one.name,
                kind=one.kind,
                cells=values,
                strays=strays,
                formula=one.formula,
                low=one.low,
                high=one.high,
                dates=one.dates,
            )
        )
    return Table(
        id=saved.id,
        name=saved.name,
        columns=tuple(columns),
        row_ids=ids,
        source=saved.source,
        dismissed=saved.dismissed,
        next_row=saved.next_row,
        mends=saved.mends,
        recipe=saved.recipe,
    )


def _head(content: bytes) -> bytes:
    """The first record; a line break may stand inside its quotes."""
    inside = False
    for at, byte in enumerate(content):
        if byte == 0x22:
            inside = not inside
        elif byte == 0x0A and not inside:
            return content[:at]
    return content


def _numbers_beside_strays(
    texts: list[str], row_ids: np.ndarray, strays: dict[int, str]
) -> tuple[np.ndarray, dict[int, str]]:
    """Cells of a number column in which texts stand; a text of a row that is no stray was put in by hand."""
    values, kept = np.full(len(texts), np.nan), {}
    for at, (row, text) in enumerate(zip(row_ids.tolist(), texts, strict=True)):
        if row in strays:
            kept[row] = strays[row]
        elif text:
            number = as_number(text)
            if number is None:
                kept[row] = text
            else:
                values[at] = number
    return values, kept


def saved_table(table: Table, folder: Path | None) -> SavedTable:
    """What the CSV does not say of a table. folder : of the study."""
    plain = np.array_equal(table.row_ids, np.arange(table.rows))
    columns = tuple(
        SavedColumn(
            id=c.id,
            name=c.name,
            kind=c.kind,
            strays=_present(c.strays, table),
            formula=c.formula,
            low=c.low,
            high=c.high,
            dates=c.dates,
        )
        for c in table.columns
    )
    source = table.source
    if source is not None and folder is not None:
        source = msgspec.structs.replace(source, path=beside(source.path, folder))
    return SavedTable(
        id=table.id, name=table.name, path=f"data/{table.id}.csv", columns=columns,
        row_ids=None if plain else tuple(table.row_ids.tolist()), source=source,
        dismissed=table.dismissed, next_row=table.next_row, mends=table.mends,
        recipe=table.recipe,
    )  # fmt: skip


def _present(strays: dict[int, str], table: Table) -> dict[int, str]:
    """Strays of rows that are still there, in one order whatever way they came."""
    if not strays:
        return {}
    here = set(table.row_ids[table.places(strays)].tolist())
    return {row: strays[row] for row in sorted(strays) if row in here}
