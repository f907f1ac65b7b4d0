"""A table as CSV that reads back to the same cells."""

from __future__ import annotations

from typing import Any

import numpy as np

from bright_tether.tables.arrow import arrow
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column, shown
from bright_tether.tables.table import Table
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
            arrays.append(pa.array(cell_texts(table, column, inert=inert), pa.string()))
    # Headers may repeat nothing and need quotes; the body quotes only where it must.
    head = ",".join('"' + (safe_text(n) if inert else n).replace('"', '""') + '"' for n in names)
    file.write((printable(head) + "\n").encode())
    options = csv.WriteOptions(include_header=False, quoting_style="needed")
    csv.write_csv(pa.table(arrays, names=[str(i) for i in range(len(names))]), file, options)


def cell_texts(table: Table, column: Column, *, inert: bool = False) -> list[str | None]:
    """A column's cells as texts, None where nothing stands."""

    def told(cell: Cell) -> str | None:
        if cell is None:
            return None
        return printable(safe_text(cell) if inert and isinstance(cell, str) else shown(cell))

    if not column.numeric:  # alike texts are made once
        by_word = np.array([told(word or None) for word in column.texts.words.tolist()] or [None], object)
        return list(by_word[column.texts.codes])
    return [told(column.cell(at, row)) for at, row in enumerate(table.row_ids.tolist())]


def safe_text(text: str) -> str:
    """A text that no spreadsheet takes for a formula."""
    return "'" + text if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
