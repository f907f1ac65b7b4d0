"""Workbooks, looked into before they are unpacked: a trap costs next to nothing."""

from __future__ import annotations

import io
import re
import zipfile
from typing import Any

from bright_tether.tables.delimited import Trouble, UnreadableFile

#: Cells that a sheet may span, filled or not, and bytes that its parts may unpack to.
_MOST_CELLS, _MOST_BYTES, _MOST_SWELL = 60_000_000, 3_000_000_000, 300
_PLACE = re.compile(rb'<c [^>]*?r="([A-Z]{1,3})(\d{1,7})"')
_ROW = re.compile(rb"<table:table-row([^>]*)>|<table:(?:covered-)?table-cell([^>]*)>|</table:table-row>")
_ROWS, _COLUMNS = (re.compile(rb'number-%s-repeated="(\d+)"' % what) for what in (b"rows", b"columns"))
_PART = 1 << 20


def open_workbook(content: bytes, name: str) -> Any:
    """The workbook, as the reader knows it. Raises UnreadableFile, before unpacking, for a trap."""
    import python_calamine

    if content.startswith(b"PK"):
        _refuse_traps(content, name)
    try:
        book = python_calamine.CalamineWorkbook.from_filelike(io.BytesIO(content))
        names = book.sheet_names
    except BaseException as error:  # what breaks inside the reader is no Exception
        raise _damaged(error, name) from None
    if not names:
        raise UnreadableFile(Trouble.EMPTY, name)
    return book


def sheet_rows(book: Any, wanted: str, name: str) -> list[list[object]]:
    """The cells of a sheet from its first row and column on. Raises UnreadableFile."""
    try:
        sheet = book.get_sheet_by_name(wanted)
        if sheet.total_height * sheet.total_width > _MOST_CELLS:
            raise UnreadableFile(Trouble.TOO_LARGE, name)
        rows: list[list[object]] = sheet.to_python(skip_empty_area=False)
        return rows
    except UnreadableFile:
        raise
    except BaseException as error:
        raise _damaged(error, name) from None


def _damaged(error: BaseException, name: str) -> BaseException:
    if isinstance(error, KeyboardInterrupt):
        return error
    return UnreadableFile(Trouble.TOO_LARGE if isinstance(error, MemoryError) else Trouble.DAMAGED, name)


def _refuse_traps(content: bytes, name: str) -> None:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as package:
            whole = sum(info.file_size for info in package.infolist())
            if whole > _MOST_BYTES or whole > 50_000_000 + _MOST_SWELL * len(content):
                raise UnreadableFile(Trouble.TOO_LARGE, name)
            for info in package.infolist():
                if info.filename.endswith(".xml"):
                    _look_into(package, info, name)
    except UnreadableFile:
        raise
    except Exception:  # a hostile zip finds every error there is
        raise UnreadableFile(Trouble.DAMAGED, name) from None


def _look_into(package: zipfile.ZipFile, info: zipfile.ZipInfo, name: str) -> None:
    """Refuse a part that declares entities, or a sheet that spans far more cells than anybody fills."""
    sheet, ods = "worksheets/" in info.filename, info.filename == "content.xml"
    widest = lowest = 0
    spanned, rows, columns = 0, 1, 0
    rest = b""
    with package.open(info) as part:
        while read := part.read(_PART):
            text = rest + read
            if b"<!DOCTYPE" in text[:_PART] or b"<!ENTITY" in text:
                raise UnreadableFile(Trouble.DAMAGED, name)
            if not (sheet or ods):
                return
            rest = text[text.rfind(b"<") :] if len(text) < 2 * _PART else b""
            text = text[: len(text) - len(rest)]
            if sheet:
                for found in _PLACE.finditer(text):
                    widest, lowest = max(widest, _number(found[1])), max(lowest, int(found[2]))
                spanned = widest * lowest
            else:
                for found in _ROW.finditer(text):
                    if found[1] is not None:
                        rows, columns = _times(_ROWS, found[1]), 0
                    elif found[2] is not None and b"value" in found[2]:
                        columns += _times(_COLUMNS, found[2])
                    elif found[2] is None:
                        spanned += rows * columns
            if spanned > _MOST_CELLS:
                raise UnreadableFile(Trouble.TOO_LARGE, name)


def _number(letters: bytes) -> int:
    number = 0
    for letter in letters:
        number = number * 26 + letter - 64
    return number


def _times(pattern: re.Pattern[bytes], attributes: bytes) -> int:
    found = pattern.search(attributes)
    return int(found[1]) if found else 1
