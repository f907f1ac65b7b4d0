"""Files into tables: what is guessed of a file, and the table that a plan makes of it."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from datetime import date
from functools import wraps
from pathlib import Path
from typing import Any, Literal, ParamSpec, TypeVar

import msgspec
import numpy as np

from bright_tether.tables import delimited
from bright_tether.tables.arrow import arrow, by_words
from bright_tether.tables.cells import MISSING_WORDS, NumberStyle, guess_number_style
from bright_tether.tables.clock import DateOrder
from bright_tether.tables.column import Column, Kind, column_of_texts, column_of_words, shown
from bright_tether.tables.databases import SQLITE, is_duckdb, is_sqlite, table_names, table_rows
from bright_tether.tables.delimited import (
    Trouble,
    UnreadableFile,
    distinct_names,
    file_bytes,
    looks_like_header,
)
from bright_tether.tables.packed import unpacked
from bright_tether.tables.table import Source, Table
from bright_tether.tables.texts import lots_of
from bright_tether.tables.workbooks import open_workbook, sheet_rows
from bright_tether.tables.writing import path_text, printable

FileKind = Literal["text", "sheet", "parquet", "arrow", "json", "database"]
_KINDS: dict[str, FileKind] = {
    ".xlsx": "sheet", ".xlsm": "sheet", ".xls": "sheet", ".ods": "sheet",
    ".parquet": "parquet", ".json": "json", ".arrow": "arrow", ".feather": "arrow", ".ipc": "arrow",
}  # fmt: skip
_STARTS: tuple[tuple[bytes, FileKind], ...] = (
    (b"PK\x03\x04", "sheet"), (b"PAR1", "parquet"), (b"ARROW1", "arrow"), (SQLITE, "database"),
)  # fmt: skip
#: Files in which one of several tables is chosen.
WITH_SHEETS = ("sheet", "database")
#: Text files above this size take the fast road.
_LONG = 2_000_000
#: Columns of a table, and characters of a header: what a person can still work with.
_MOST_COLUMNS, _LONGEST_HEAD = 4_000, 1_000

P = ParamSpec("P")
T = TypeVar("T")


def guarded(read: Callable[P, T]) -> Callable[P, T]:
    """A reader of files that ends in UnreadableFile whatever the file finds in it, and in nothing else."""

    @wraps(read)
    def safely(*arguments: P.args, **named: P.kwargs) -> T:
        name = next((one for one in arguments if isinstance(one, str)), "this file")
        try:
            return read(*arguments, **named)
        except UnreadableFile:
            raise
        except MemoryError:
            raise UnreadableFile(Trouble.TOO_LARGE, name) from None
        except Exception:  # a hostile file finds every error there is: no list of them is whole
            raise UnreadableFile(Trouble.DAMAGED, name) from None

    return safely


class ReadPlan(msgspec.Struct, frozen=True, kw_only=True):
    """How a file is to be read. start : the first line or row that counts, from 1.

    missing : further texts that stand for no value. kinds : by header, where the guess was corrected. dates : by
    header, which of day and month comes first.
    """

    kind: FileKind = "text"
    encoding: str = "utf-8"
    separator: str = ","
    decimal: str = "."
    thousands: str = ""
    header: bool = True
    start: int = 1
    sheet: str = ""
    missing: tuple[str, ...] = ()
    kinds: dict[str, Kind] = {}
    dates: dict[str, DateOrder] = {}

    @property
    def style(self) -> NumberStyle:
        """How numbers are written."""
        return NumberStyle(self.decimal, self.thousands)


def read_file(path: Path, table_id: str = "t1", plan: ReadPlan | None = None) -> Table:
    """The table in a file, by a plan or by the guess. Raises UnreadableFile."""
    content = file_bytes(path)
    with ThreadPoolExecutor(1) as beside:  # both take as long as each other
        digest = beside.submit(lambda: hashlib.sha256(content).hexdigest())
        plan = plan or guess_plan(content, path.name)
        table = read_content(content, path.name, table_id, plan)
    # what was typed into the plan may hold halves of characters, which no JSON can
    choices = printable(json.dumps(msgspec.to_builtins(plan), ensure_ascii=False))
    modified = ""
    with suppress(OSError):
        modified = date.fromtimestamp(path.stat().st_mtime).isoformat()
    source = Source(path=path_text(path), choices={"plan": choices}, digest=digest.result(),
                    size=len(content), modified=modified)  # fmt: skip
    return msgspec.structs.replace(table, source=source)


def plan_of(source: Source) -> ReadPlan:
    """The plan a table was read by."""
    return msgspec.json.decode(source.choices["plan"], type=ReadPlan)


@guarded
def guess_plan(content: bytes, name: str) -> ReadPlan:
    """What a file seems to be. Raises UnreadableFile where it is nothing that can be read."""
    if not content[:4096].strip() and not content.strip():
        raise UnreadableFile(Trouble.EMPTY, name)
    content, name = unpacked(content, name)
    kind = next((known for start, known in _STARTS if content.startswith(start)), None)
    kind = "database" if is_duckdb(content) else kind
    kind = kind or _KINDS.get(Path(name).suffix.lower(), "text")
    if kind == "json":
        return ReadPlan(kind="json")
    if kind != "text":
        return ReadPlan(kind=kind, sheet=sheet_names(content, name)[0] if kind in WITH_SHEETS else "")
    # Of a long text only the start is looked at; what comes after is checked as it is read.
    start = content if len(content) <= _LONG else content[: content.rfind(b"\n", 0, _LONG) + 1] or content
    encoding = delimited.guess_encoding(start, name)
    head = start[:200_000].decode(encoding, errors="replace")
    if len(start) > 200_000:
        head = head[: head.rfind("\n")]
    separator = delimited.guess_separator(head)
    records = delimited.records(head, separator, name, strict=False)
    cells = [cell for record in records[:500] for cell in record]
    style = guess_number_style(cells, separator)
    header = looks_like_header(records, style) if records else True
    return ReadPlan(
        encoding=encoding,
        separator=separator,
        decimal=style.decimal,
        thousands=style.thousands,
        header=header,
    )


@guarded
def read_content(content: bytes, name: str, table_id: str, plan: ReadPlan) -> Table:
    """The table that a plan makes of a file's bytes. Raises UnreadableFile."""
    content, name = unpacked(content, name)
    if plan.kind in ("parquet", "arrow"):
        columns = _arrow_file_columns(content, name, plan.kind)
    elif plan.kind == "text" and len(content) > _LONG and (found := _long_text_columns(content, plan)):
        columns = found
    else:
        columns = _columns_of(_records(content, name, plan), plan, name)
    _refuse_odd_heads(columns, name)
    columns = tuple(_corrected(column, plan) for column in columns)
    if not any(column.numeric for column in columns):
        raise UnreadableFile(Trouble.NO_NUMBERS, name)
    row_ids = np.arange(columns[0].cells.size, dtype=np.int64)
    return Table(id=table_id, name=printable(Path(name).stem), columns=columns, row_ids=row_ids)


@guarded
def sheet_names(content: bytes, name: str) -> list[str]:
    """The sheets of a workbook, or the tables of a database."""
    content, name = unpacked(content, name)
    if is_sqlite(content) or is_duckdb(content):
        return table_names(content, name)
    names: list[str] = open_workbook(content, name).sheet_names
    return names


def _refuse_odd_heads(columns: tuple[Column, ...], name: str) -> None:
    if len(columns) > _MOST_COLUMNS:
        raise UnreadableFile(Trouble.TOO_MANY_COLUMNS, name, found=len(columns), most=_MOST_COLUMNS)
    for at, column in enumerate(columns, 1):
        if len(column.name) > _LONGEST_HEAD:
            detail = {"column": at, "found": len(column.name), "most": _LONGEST_HEAD}
            raise UnreadableFile(Trouble.LONG_HEAD, name, **detail)


def _records(content: bytes, name: str, plan: ReadPlan) -> list[list[str]]:
    if plan.kind == "sheet":
        book = open_workbook(content, name)
        wanted = plan.sheet if plan.sheet in book.sheet_names else book.sheet_names[0]
        rows = [[_text_of(cell) for cell in row] for row in sheet_rows(book, wanted, name)]
        return _squared([row for row in rows[plan.start - 1 :] if any(row)], name)
    if plan.kind == "json":
        return _json_records(content, name)
    if plan.kind == "database":
        names = table_names(content, name)
        held = table_rows(content, name, plan.sheet if plan.sheet in names else names[0])
        return [[_text_of(cell) for cell in row] for row in held]
    text = delimited.decoded(content, name, plan.encoding)
    if plan.start > 1:
        text = "".join(text.splitlines(keepends=True)[plan.start - 1 :])
    return delimited.records(text, plan.separator, name)


def _columns_of(records: list[list[str]], plan: ReadPlan, name: str) -> tuple[Column, ...]:
    if not records:
        raise UnreadableFile(Trouble.EMPTY, name)
    if len(records[0]) > _MOST_COLUMNS:  # said before a column is made of each
        found = len(records[0])
        raise UnreadableFile(Trouble.TOO_MANY_COLUMNS, name, found=found, most=_MOST_COLUMNS)
    if len(records[0]) < 2:
        raise UnreadableFile(Trouble.ONE_COLUMN, name)
    heads, body = (records[0], records[1:]) if plan.header else ([""] * len(records[0]), records)
    if not body:
        raise UnreadableFile(Trouble.NO_ROWS, name)
    codes = frozenset(code.strip().lower() for code in plan.missing)
    columns = []
    for at, head in enumerate(distinct_names(heads)):
        texts = [record[at] for record in body]
        if codes:
            texts = ["" if text.strip().lower() in codes else text for text in texts]
        dates = plan.dates.get(head)
        columns.append(column_of_texts(f"c{at + 1}", head, texts, np.arange(len(texts)), plan.style, dates))
    return tuple(columns)


def _corrected(column: Column, plan: ReadPlan) -> Column:
    kind = plan.kinds.get(column.name, column.kind)
    return column if kind == column.kind else column.of_kind(kind, np.arange(column.cells.size))


def _long_text_columns(content: bytes, plan: ReadPlan) -> tuple[Column, ...] | None:
    """The fast road for a long text; None where the slow one must say what is wrong."""
    if plan.thousands or plan.encoding not in ("utf-8", "utf-8-sig"):
        return None
    pa = arrow()
    from pyarrow import csv

    skip = b"\xef\xbb\xbf" if plan.encoding == "utf-8-sig" else b""
    missing = sorted(MISSING_WORDS | {w.upper() for w in MISSING_WORDS} | {"NaN"} | set(plan.missing))
    options = csv.ConvertOptions(
        decimal_point=plan.decimal,
        null_values=missing,
        strings_can_be_null=False,
        true_values=[],
        false_values=[],
        timestamp_parsers=[],
    )
    # where headers alone are quoted no cell goes on in the next line, and threads can share the text
    cells_quoted = content.find(b'"', content.find(b"\n") + 1) >= 0
    try:
        read = csv.read_csv(
            pa.BufferReader(memoryview(content)[len(skip) :]),
            csv.ReadOptions(skip_rows=plan.start - 1, autogenerate_column_names=not plan.header),
            csv.ParseOptions(delimiter=plan.separator, newlines_in_values=cells_quoted),
            options,
        )
    except pa.ArrowInvalid:
        return None
    if read.num_columns < 2 or read.num_rows == 0:
        return None
    heads = distinct_names(read.column_names if plan.header else [""] * read.num_columns)
    columns = read.columns
    del read
    pa.default_memory_pool().release_unused()  # what the threads that read had to themselves
    return _arrow_columns(columns, heads, plan.style, plan.dates)


def _arrow_file_columns(content: bytes, name: str, kind: FileKind) -> tuple[Column, ...]:
    pa = arrow()
    try:
        if kind == "parquet":
            from pyarrow import parquet

            read = parquet.read_table(pa.BufferReader(content))
        elif content.startswith(b"ARROW1"):
            read = pa.ipc.open_file(pa.BufferReader(content)).read_all()
        else:
            read = pa.ipc.open_stream(pa.BufferReader(content)).read_all()
    except (pa.ArrowException, OSError):
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    if read.num_columns < 2:
        raise UnreadableFile(Trouble.ONE_COLUMN, name)
    if not read.num_rows:
        raise UnreadableFile(Trouble.NO_ROWS, name)
    return arrow_table_columns(read, name)


@guarded
def arrow_table_columns(read: Any, name: str) -> tuple[Column, ...]:
    """The columns of a table of Arrow, which came from the file of this name."""
    columns = _arrow_columns(read.columns, distinct_names(read.column_names), NumberStyle(), {})
    _refuse_odd_heads(columns, name)
    return columns


def _arrow_columns(
    waiting: list[Any], heads: list[str], style: NumberStyle, dates: dict[str, DateOrder]
) -> tuple[Column, ...]:
    """Columns of Arrow turned over one after the other, each let go of as it is done. waiting : emptied."""
    pa = arrow()

    columns = []
    for at, head in enumerate(heads):
        cells, waiting[at], column_id = waiting[at], None, f"c{at + 1}"
        if pa.types.is_floating(cells.type) or pa.types.is_integer(cells.type):
            values = cells.cast(pa.float64(), safe=False).to_numpy()
            values = values if values.flags.writeable else values.copy()
            values[~np.isfinite(values)] = np.nan
            columns.append(Column(id=column_id, name=head, kind="number", cells=values))
        else:
            columns.append(_column_of_arrow(column_id, head, cells, style, dates.get(head)))
        del cells
        pa.default_memory_pool().release_unused()
    return tuple(columns)


def _column_of_arrow(
    column_id: str, head: str, cells: Any, style: NumberStyle, dates: DateOrder | None
) -> Column:
    """A column of texts, dates or the like, by its different values: none is made an object of its own row by row."""
    pa = arrow()

    row_ids = np.arange(len(cells))
    try:
        coded = by_words(cells)
    except (pa.ArrowInvalid, pa.ArrowNotImplementedError):  # lists and the like have no dictionary
        return column_of_texts(column_id, head, map(_text_of, cells.to_pylist()), row_ids, style, dates)
    values = [_text_of(cell) for lot in lots_of(coded.dictionary) for cell in lot]
    places = coded.indices.to_numpy(zero_copy_only=False)  # NaN for a missing one
    codes = np.nan_to_num(places, nan=len(values)).astype(np.int64)
    known: dict[str, int] = {}  # two values may read alike, and a missing one as nothing
    alike = np.array([known.setdefault(text, len(known)) for text in (*values, "")], np.int64)
    return column_of_words(column_id, head, list(known), alike[codes], row_ids, style, dates)


def _json_records(content: bytes, name: str) -> list[list[str]]:
    try:
        records = msgspec.json.decode(content)
    except (msgspec.DecodeError, RecursionError, UnicodeDecodeError):
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    if isinstance(records, dict):
        records = next((value for value in records.values() if isinstance(value, list)), None)
    if not isinstance(records, list) or not records or not all(isinstance(one, dict) for one in records):
        raise UnreadableFile(Trouble.NOT_RECORDS, name)
    heads = list(dict.fromkeys(key for one in records for key in one))
    return [heads, *([_text_of(one.get(head)) for head in heads] for one in records)]


def _squared(rows: list[list[str]], name: str) -> list[list[str]]:
    """Rows cut to the columns that hold something, all equally wide."""
    if not rows:
        raise UnreadableFile(Trouble.EMPTY, name)
    width = max(map(len, rows))
    rows = [row + [""] * (width - len(row)) for row in rows]
    filled = [at for at in range(width) if any(row[at].strip() for row in rows)]
    return [[row[at] for at in filled] for row in rows]


def _text_of(cell: object) -> str:
    if isinstance(cell, str):
        return cell.removesuffix(" 00:00:00").removesuffix("T00:00:00") if cell.endswith("00:00:00") else cell
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, int | float):
        try:
            return shown(float(cell)) if np.isfinite(float(cell)) else ""
        except OverflowError:  # a whole number beyond any double stays as it is written
            return str(cell)
    said = str(cell)
    return said.removesuffix(" 00:00:00").removesuffix("T00:00:00")
