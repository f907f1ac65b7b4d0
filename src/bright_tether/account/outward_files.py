"""Tables as files of other programs: workbooks, and documents to go on writing in."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from io import BytesIO
from pathlib import Path
from typing import Any

from bright_tether.account.outward import Cell, Number, Outward
from bright_tether.account.outward_text import TEXTS, plain
from bright_tether.tables.writing import put_made, put_whole, xml_text

#: Signs that the name of a sheet cannot hold.
_NOT_IN_NAMES = str.maketrans("", "", "[]:*?/\\'")


def write_tables(tables: Sequence[Outward], path: Path) -> None:
    """Write tables in the kind that the name asks for. Raises ValueError for another kind, OSError."""
    kind = path.suffix.lower()
    text = next((made for suffix, made in TEXTS.values() if suffix == kind), None)
    if text is not None:
        put_whole(path, text(tables).encode())
        return
    if kind not in _FILES:
        raise ValueError(
            f"Tables can be written as {', '.join(SUFFIXES)}: give the file one of these endings."
        )
    put_made(path, lambda file: _FILES[kind](tables, file))


def _xlsx(tables: Sequence[Outward], file: BytesIO) -> None:
    """A sheet each; numbers are numbers, shown with the digits that they have here."""
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    book.remove(book.worksheets[0])
    for at, table in enumerate(tables, 1):
        sheet = book.create_sheet(xml_text(table.title).translate(_NOT_IN_NAMES)[:28] or f"Table {at}")
        for across, head in enumerate(table.heads, 1):
            _put(sheet.cell(1, across), head)
            sheet.cell(1, across).font = Font(bold=True)
        for down, row in enumerate(table.rows, 2):
            for across, cell in enumerate(row, 1):
                _put(sheet.cell(down, across), cell)
                if down - 2 == table.strong:
                    sheet.cell(down, across).font = Font(bold=True)
        sheet.freeze_panes = "A2"
    book.save(file)


def _put(place: Any, cell: Cell) -> None:
    if isinstance(cell, Number):
        place.value = cell.value
        place.number_format = _number_format(cell.text)
        return
    place.value = xml_text(plain(cell))
    place.data_type = "s"  # text stays text, whatever it starts with


def _number_format(text: str) -> str:
    """How a workbook shows a number with the digits of a text; all of them where these are many."""
    digits, _, power = text.partition("e")
    decimals = len(digits.partition(".")[2])
    if decimals > 8:
        return "General"
    return (f"0.{'0' * decimals}" if decimals else "0") + ("E+0" if power else "")


def _docx(tables: Sequence[Outward], file: BytesIO) -> None:
    from bright_tether.account.docx_out import tables_document

    tables_document(tables).save(file)


def _odt(tables: Sequence[Outward], file: BytesIO) -> None:
    from bright_tether.account.odt import tables_document

    tables_document(tables).save(file)


_FILES: dict[str, Callable[[Sequence[Outward], BytesIO], None]] = {
    ".xlsx": _xlsx,
    ".docx": _docx,
    ".odt": _odt,
}
SUFFIXES = (*(suffix for suffix, _ in TEXTS.values()), *_FILES)
