"""Whether a first row of texts names the columns below it."""

from __future__ import annotations

from collections.abc import Sequence

from bright_tether.tables.cells import as_number, is_missing
from bright_tether.tables.column import shown
from bright_tether.tables.delimited import looks_like_header
from bright_tether.tables.table import Table

#: Rows below a first row that are looked at.
_LOOKED_AT = 200


def row_texts(table: Table, at: int) -> list[str]:
    """The cells of the row at a place as they were typed; "" for what is worked out, missing or blank."""
    row = int(table.row_ids[at])
    texts = ("" if one.formula is not None else shown(one.cell(at, row)).strip() for one in table.columns)
    return ["" if is_missing(text) else text for text in texts]


def names_are_clear(records: Sequence[Sequence[str]]) -> bool:
    """Whether the first record holds no number, and a number stands below one of its texts."""
    body = records[1 : _LOOKED_AT + 1]
    return bool(body) and looks_like_header([list(records[0])]) and any(
        head.strip() and _mostly_numbers([cells[at] for cells in body]) for at, head in enumerate(records[0])
    )  # fmt: skip


def names_columns(table: Table) -> bool:
    """Whether the first row of a typed table looks like the names of its columns."""
    if not table.typed or table.rows < 2:
        return False
    shown_rows = min(table.rows, _LOOKED_AT)
    return names_are_clear([row_texts(table, at) for at in range(shown_rows)])


def _mostly_numbers(texts: list[str]) -> bool:
    filled = [text for text in texts if not is_missing(text)]
    numbers = sum(as_number(text) is not None for text in filled)
    return bool(filled) and numbers >= 0.8 * len(filled)
