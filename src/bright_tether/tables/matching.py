"""Columns of several tables that belong under one head."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

import msgspec
from msgspec.structs import replace

from bright_tether.tables.clock import DateOrder, order_told
from bright_tether.tables.column import Column
from bright_tether.tables.made import kind_of
from bright_tether.tables.table import Table

#: A column by its table's and its own id.
Place = tuple[str, str]


class Line(msgspec.Struct, frozen=True):
    """One column of a stacked table: its head, and which column of each table stands in it, by table id."""

    name: str
    of: dict[str, str]


def lines_of(tables: Sequence[Table], same: Mapping[Place, Place] = {}) -> tuple[Line, ...]:
    """The columns of tables stacked: by their heads, and those said to be the same.

    same : of a column with a head of its own, a column that it goes with.
    """
    lines: list[Line] = []
    for table in tables:
        for column in table.columns:
            place = table.id, column.id
            wanted = same.get(place)
            at = next(
                (
                    at
                    for at, line in enumerate(lines)
                    if table.id not in line.of
                    and (line.of.get(wanted[0]) == wanted[1] if wanted else line.name == column.name)
                ),
                None,
            )
            if at is None:
                lines.append(Line(column.name, {table.id: column.id}))
            else:
                lines[at] = replace(lines[at], of=lines[at].of | {table.id: column.id})
    return tuple(lines)


def columns_in(line: Line, tables: Sequence[Table]) -> list[Column]:
    """The columns that stand in a line, table by table."""
    return [table.column(line.of[table.id]) for table in tables if table.id in line.of]


def could_go_with(line: Line, lines: Sequence[Line]) -> tuple[Line, ...]:
    """The lines that hold no column of the same table: a column with another name may belong there."""
    return tuple(one for one in lines if not set(one.of) & set(line.of))


def renamed(line: Line, lines: Sequence[Line], tables: Sequence[Table]) -> Line | None:
    """The line that a column with a head of its own may stand for: the one it lacks, of the same kind and unit."""
    kind, unit = kind_of(columns_in(line, tables)), columns_in(line, tables)[0].unit
    found = [
        one
        for one in could_go_with(line, lines)
        if set(one.of) | set(line.of) == {table.id for table in tables}
        and (kind_of(columns_in(one, tables)), columns_in(one, tables)[0].unit) == (kind, unit)
    ]
    return found[0] if len(found) == 1 else None


def other_units(line: Line, lines: Sequence[Line], tables: Sequence[Table]) -> tuple[Line, ...]:
    """Lines of the same name in another unit."""
    first = columns_in(line, tables)[0]
    return tuple(
        one for one in could_go_with(line, lines)
        for column in columns_in(one, tables)[:1]
        if column.short == first.short and column.unit != first.unit
    )  # fmt: skip


def date_order(line: Line, tables: Sequence[Table]) -> DateOrder | Literal["ask"] | None:
    """How a line's dates are written: as one of its tables tells, to be asked, or None where they are no dates."""
    order: DateOrder | Literal["ask"] | None = None
    for column in columns_in(line, tables):
        if column.kind == "date":
            order = column.dates or order
            continue
        if column.numeric:
            return None
        found = order_told([text for text in column.texts.different if text])
        if found is None:
            return None
        if order is None or found != "ask":
            order = found
    kinds = {column.kind for column in columns_in(line, tables)}
    return order if kinds - {"date"} else None


def dated(line: Line, tables: Sequence[Table], order: DateOrder) -> list[Table]:
    """The tables with the texts of a line read as dates by this order."""
    found = []
    for table in tables:
        column = table.column(line.of[table.id]) if table.id in line.of else None
        found.append(
            table if column is None or column.kind == "date" else table.with_column(column.with_dates(order))
        )
    return found
