"""Separated text: CSV, TSV and their kin."""

from __future__ import annotations

import csv
import io
from collections import Counter
from enum import StrEnum
from pathlib import Path

import numpy as np

from bright_tether.tables.cells import as_number, is_missing
from bright_tether.tables.column import column_of_texts
from bright_tether.tables.table import Table, place_name

_SEPARATORS = (",", ";", "\t", "|")
_MARKS = {b"\xef\xbb\xbf": "utf-8-sig", b"\xff\xfe": "utf-16", b"\xfe\xff": "utf-16"}


class Trouble(StrEnum):
    """What kept a file from being read. The words for each stand in ``words.causes``."""

    NOT_FOUND = "not_found"
    DIRECTORY = "directory"
    NOT_ALLOWED = "not_allowed"
    EMPTY = "empty"
    NOT_TEXT = "not_text"
    ONE_COLUMN = "one_column"
    RAGGED = "ragged"
    NO_ROWS = "no_rows"
    NO_NUMBERS = "no_numbers"
    UNKNOWN_KIND = "unknown_kind"


class UnreadableFile(Exception):
    """A file that gives no table.

    name : the file as the user named it; detail : figures for the sentence.
    """

    def __init__(self, trouble: Trouble, name: str, **detail: object) -> None:
        super().__init__(trouble, name)
        self.trouble, self.name, self.detail = trouble, name, detail


def file_bytes(path: Path) -> bytes:
    """All of a file, or UnreadableFile saying why not."""
    try:
        return path.read_bytes()
    except FileNotFoundError:
        raise UnreadableFile(Trouble.NOT_FOUND, path.name) from None
    except IsADirectoryError:
        raise UnreadableFile(Trouble.DIRECTORY, path.name) from None
    except OSError as error:
        raise UnreadableFile(Trouble.NOT_ALLOWED, path.name, said=error.strerror or "") from None


def read_delimited(content: bytes, name: str, table_id: str = "t1") -> Table:
    """A table from separated text; the separator, the header row and each column's kind are guessed.

    Raises UnreadableFile for no text, one column, ragged rows, no rows, no numbers.
    """
    text = _decoded(content, name)
    if not text.strip():
        raise UnreadableFile(Trouble.EMPTY, name)
    separator = guess_separator(text)
    records = _records(text, separator, name)
    if len(records[0][1]) < 2:
        raise UnreadableFile(Trouble.ONE_COLUMN, name)
    has_header = looks_like_header([cells for _, cells in records])
    heads, body = (records[0][1], records[1:]) if has_header else ([], records)
    if not body:
        raise UnreadableFile(Trouble.NO_ROWS, name)
    names = distinct_names(heads or [""] * len(body[0][1]))
    row_ids = np.arange(len(body), dtype=np.int64)
    columns = tuple(
        column_of_texts(f"c{i + 1}", head, [cells[i] for _, cells in body], row_ids.tolist())
        for i, head in enumerate(names)
    )
    if not any(column.numeric for column in columns):
        raise UnreadableFile(Trouble.NO_NUMBERS, name)
    return Table(id=table_id, name=Path(name).stem, columns=columns, row_ids=row_ids)


def guess_separator(text: str) -> str:
    """The separator that cuts the first lines most evenly, and into the most cells."""
    lines = [line for line in text.splitlines()[:50] if line.strip()]

    def evenness(separator: str) -> tuple[float, int]:
        counts = Counter(len(next(csv.reader([line], delimiter=separator))) for line in lines)
        width, times = max(counts.items(), key=lambda item: (item[0] > 1, item[1], item[0]))
        return (times / len(lines) if width > 1 else 0.0), width

    return max(_SEPARATORS, key=evenness)


def looks_like_header(records: list[list[str]]) -> bool:
    """Whether the first record names the columns: no number in it, a number further down."""
    first, rest = records[0], records[1:51]
    if any(as_number(cell) is not None for cell in first):
        return False
    return (
        not rest
        or any(as_number(cell) is not None for record in rest for cell in record)
        or not all(map(is_missing, first))
    )


def distinct_names(heads: list[str]) -> list[str]:
    """Headers as they are, blanks named by place, repeats numbered."""
    names: list[str] = []
    for index, head in enumerate(heads):
        base = head.strip() or place_name(index)
        name, number = base, 2
        while name in names:
            name, number = f"{base} {number}", number + 1
        names.append(name)
    return names


def _decoded(content: bytes, name: str) -> str:
    if not content.strip():
        raise UnreadableFile(Trouble.EMPTY, name)
    encoding = next((known for mark, known in _MARKS.items() if content.startswith(mark)), "utf-8")
    try:
        text = content.decode(encoding)
    except UnicodeDecodeError as error:
        line = content[: error.start].count(b"\n") + 1
        raise UnreadableFile(Trouble.NOT_TEXT, name, line=line) from None
    if "\0" in text:
        line = text[: text.index("\0")].count("\n") + 1
        raise UnreadableFile(Trouble.NOT_TEXT, name, line=line)
    return text


def _records(text: str, separator: str, name: str) -> list[tuple[int, list[str]]]:
    """Filled records with their line numbers, all as wide as the first."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator, skipinitialspace=True)
    records: list[tuple[int, list[str]]] = []
    width = 0
    try:
        for cells in reader:
            if not any(cell.strip() for cell in cells) and len(cells) != width:
                continue
            width = width or len(cells)
            while len(cells) > width and not cells[-1].strip():
                cells.pop()
            if len(cells) != width:
                detail = {"line": reader.line_num, "found": len(cells), "wanted": width}
                raise UnreadableFile(Trouble.RAGGED, name, **detail)
            records.append((reader.line_num, cells))
    except csv.Error:
        raise UnreadableFile(Trouble.NOT_TEXT, name, line=reader.line_num) from None
    return records
