"""Separated text: CSV, TSV and their kin."""

from __future__ import annotations

import csv
import io
from collections import Counter
from enum import StrEnum
from pathlib import Path

from bright_tether.tables.cells import EITHER, NumberStyle, as_number, is_missing
from bright_tether.tables.table import place_name
from bright_tether.tables.writing import printable

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
    DAMAGED = "damaged"
    NOT_RECORDS = "not_records"
    TOO_LARGE = "too_large"
    TOO_MANY_COLUMNS = "too_many_columns"
    LONG_HEAD = "long_head"
    LONG_CELL = "long_cell"
    TOO_NEW = "too_new"
    NOT_A_STUDY = "not_a_study"
    NO_TABLES = "no_tables"
    SEVERAL_FILES = "several_files"
    NEEDS_DUCKDB = "needs_duckdb"
    NOT_FAR = "not_far"
    MEMORY_SHORT = "memory_short"
    NEEDS_DASK = "needs_dask"
    NO_SCHEDULER = "no_scheduler"
    WORKERS_LOST = "workers_lost"
    NOT_IN_PARTS = "not_in_parts"


class UnreadableFile(Exception):
    """A file that gives no table.

    name : the file as the user named it; detail : figures for the sentence.
    """

    def __init__(self, trouble: Trouble, name: str, **detail: object) -> None:
        super().__init__(trouble, name)
        self.trouble, self.name, self.detail = trouble, printable(name), detail


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


def guess_separator(text: str) -> str:
    """The separator that cuts the first lines most evenly, and into the most cells."""
    lines = [line for line in text.splitlines()[:50] if line.strip()] or [""]

    def evenness(separator: str) -> tuple[float, int]:
        counts = Counter(_width(line, separator) for line in lines)
        width, times = max(counts.items(), key=lambda item: (item[0] > 1, item[1], item[0]))
        return (times / len(lines) if width > 1 else 0.0), width

    return max(_SEPARATORS, key=evenness)


def _width(line: str, separator: str) -> int:
    try:
        return len(next(csv.reader([line], delimiter=separator), []))
    except csv.Error:  # a cell longer than any reader takes: said when the file is read
        return 1


def looks_like_header(records: list[list[str]], style: NumberStyle = EITHER) -> bool:
    """Whether the first record names the columns: no number in it, though it is not all blank."""
    return not any(as_number(cell, style) is not None for cell in records[0]) and not all(
        map(is_missing, records[0])
    )


def distinct_names(heads: list[str]) -> list[str]:
    """Headers as they are, blanks named by place, repeats numbered."""
    names: dict[str, None] = {}
    numbers: dict[str, int] = {}
    for index, head in enumerate(heads):
        base = printable(head.strip()) or place_name(index)
        name, number = base, numbers.get(base, 2)
        while name in names:
            name, number = f"{base} {number}", number + 1
        names[name] = None
        numbers[base] = number
    return list(names)


def guess_encoding(content: bytes, name: str) -> str:
    """UTF-8, or what a mark at the start says. Raises UnreadableFile for anything else."""
    marked = next((known for mark, known in _MARKS.items() if content.startswith(mark)), None)
    if marked is None:
        decoded(content, name, "utf-8")
    return marked or "utf-8"


def decoded(content: bytes, name: str, encoding: str) -> str:
    """The text of a file. Raises UnreadableFile naming the line that is no text."""
    try:
        text = content.decode(encoding)
    except UnicodeDecodeError as error:
        line = content[: error.start].count(b"\n") + 1
        raise UnreadableFile(Trouble.NOT_TEXT, name, line=line) from None
    if "\0" in text:
        line = text[: text.index("\0")].count("\n") + 1
        raise UnreadableFile(Trouble.NOT_TEXT, name, line=line)
    return text


def records(text: str, separator: str, name: str, *, strict: bool = True) -> list[list[str]]:
    """Filled records, all as wide as the first; raises UnreadableFile at the first that is not, if strict."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator, skipinitialspace=True)
    found: list[list[str]] = []
    width = 0
    try:
        for cells in reader:
            if len(cells) != width and not any(cell.strip() for cell in cells):
                continue
            width = width or len(cells)
            while len(cells) > width and not cells[-1].strip():
                cells.pop()
            if len(cells) != width:
                if not strict:
                    continue
                detail = {"line": reader.line_num, "found": len(cells), "wanted": width}
                raise UnreadableFile(Trouble.RAGGED, name, **detail)
            found.append(cells)
    except csv.Error as error:
        trouble = Trouble.LONG_CELL if "field larger" in str(error) else Trouble.NOT_TEXT
        raise UnreadableFile(trouble, name, line=reader.line_num) from None
    return found
