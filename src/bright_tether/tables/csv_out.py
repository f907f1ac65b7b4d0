"""A table as CSV that reads back to the same cells."""

from __future__ import annotations

from typing import Any

from bright_tether.tables.arrow import arrow
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column, shown
from bright_tether.tables.table import Table
from bright_tether.tables.texts import in_lots
from bright_tether.tables.writing import printable


def write_csv(table: Table, file: Any, *, inert: bool = False) -> None:
    """A table as UTF-8 CSV; numbers with the shortest digits that read back to the same double.

    inert : texts that a spreadsheet would run as a formula get an apostrophe before them.
    """
    pa = arrow()
    from pyarrow import csv

    arrays, names = [], []
    for column in table.columns:
        names.append(column.name)
        if column.numeric and not column.strays:
            arrays.append(pa.array(column.cells, from_pandas=True))
        else:
            arrays.append(arrow_texts(table, column, inert=inert))
    # Headers may repeat nothing and need quotes; the body quotes only where it must.
    head = ",".join('"' + (safe_text(n) if inert else n).replace('"', '""') + '"' for n in names)
    file.write((printable(head) + "\n").encode())
    options = csv.WriteOptions(include_header=False, quoting_style="needed")
    csv.write_csv(pa.table(arrays, names=[str(i) for i in range(len(names))]), file, options)


def arrow_texts(table: Table, column: Column, *, inert: bool = False) -> Any:
    """A column's cells as texts of Arrow, null where nothing stands; of codes no row is made an object of its own."""
    pa = arrow()

    def told(cell: Cell) -> str | None:
        if cell is None:
            return None
        return printable(safe_text(cell) if inert and isinstance(cell, str) else shown(cell))

    if not column.numeric:  # alike texts are made once
        words = column.texts.words
        as_they_are = not inert and words.dtype != object  # such an array takes no halves of characters
        lots = (
            pa.array([word or None if as_they_are else told(word or None) for word in lot], pa.string())
            for lot in in_lots(words)
        )
        texts = pa.chunked_array(list(lots), pa.string()).combine_chunks()
        return pa.DictionaryArray.from_arrays(pa.array(column.texts.codes), texts).dictionary_decode()
    return pa.array(
        [told(column.cell(at, row)) for at, row in enumerate(table.row_ids.tolist())], pa.string()
    )


def safe_text(text: str) -> str:
    """A text that no spreadsheet takes for a formula."""
    return "'" + text if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
