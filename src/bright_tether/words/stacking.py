"""Tables that become one, in words."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import takewhile

from bright_tether.tables.clock import ORDERS, canonical, first_unclear
from bright_tether.tables.column import Column
from bright_tether.tables.made import Matches
from bright_tether.tables.matching import Line, columns_in, other_units, renamed
from bright_tether.tables.table import Table
from bright_tether.words import digits as d
from bright_tether.words.said import listed

#: What keeping a column apart is called.
OWN_COLUMN = "is a column of its own"
#: Names of one list before the rest is counted.
_MOST_NAMED = 4


def stack_words(tables: Sequence[Table], lines: Sequence[Line]) -> str:
    """What would come of it."""
    rows, columns = sum(table.rows for table in tables), len(lines) + 1
    return f"{len(tables)} tables as one: {d.count(rows, 'row')}, {d.count(columns, 'column')}"


def one_words(table: Table) -> str:
    """A single file beside a stacked table."""
    return f"“{table.name}”: {d.count(table.rows, 'row')}, {d.count(len(table.columns), 'column')}"


def stack_name(names: Sequence[str]) -> str:
    """What the tables have in common, else how many they are."""
    alike = takewhile(lambda letters: len(set(letters)) == 1, zip(*names, strict=False))
    common = "".join(letters[0] for letters in alike)
    if any(name[len(common) :][:1].isalpha() for name in names):  # the last word of it goes on otherwise
        common = common[: len(common) - len(list(takewhile(str.isalpha, reversed(common))))]
    common = common.rstrip(" _-.,0123456789")
    return common or f"{len(names)} tables"


def line_words(line: Line, lines: Sequence[Line], tables: Sequence[Table]) -> str:
    """A column that not every table has: where it stands, and what it may be."""
    here = listed_short([table.name for table in tables if table.id in line.of])
    said = f"“{line.name}” stands in {here} alone"
    units = other_units(line, lines, tables)
    if units:
        return f"{said}; “{units[0].name}” is the same in another unit: work one out from the other first."
    other = renamed(line, lines, tables)
    if other is not None:
        return f"{said}, where “{other.name}” is missing: is it the same under another name?"
    kinds = {column.kind for column in columns_in(line, tables)}
    return f"{said}." if len(kinds) == 1 else f"{said}, and as {listed(sorted(kinds))}."


def column_words(column: Column, line: Line) -> str:
    """What a table has of a column: its kind, and its head where that is another."""
    return column.kind if column.name == line.name else f"{column.name} · {column.kind}"


def mixed_words(line: Line, tables: Sequence[Table]) -> str:
    """A column that holds other things in some tables, so that all of it becomes text; "" where it does not."""
    columns = columns_in(line, tables)
    kinds = {column.kind for column in columns}
    if len(kinds) == 1 or not kinds & {"number", "date"}:
        return ""
    odd = [table.name for table, column in zip((t for t in tables if t.id in line.of), columns, strict=True)
           if column.kind not in ("number", "date")]  # fmt: skip
    return f"{line.name} holds {listed(sorted(kinds))} ({listed_short(odd)}): as one column it is text."


def date_question(line: Line, tables: Sequence[Table]) -> str:
    """Dates that could be two days in every table."""
    texts = [text for column in columns_in(line, tables) for text in column.cells.tolist()]
    first = first_unclear(texts)
    days = " or ".join(canonical(first, order) or "" for order in ORDERS)
    return f"“{first}” in {line.name} can be {days}, and no row of any table tells which."


def join_words(found: Matches, first: Table, second: Table) -> str:
    """What joining would find: matched, unmatched, doubled and unused identifiers."""
    said = [
        f"{d.grouped(found.matched)} of {d.count(first.rows, 'row')} of {first.name} find their case in {second.name}."
    ]
    for names, words in (
        (found.unmatched, f"not in {second.name}"),
        (found.doubled, f"more than once in {second.name}, so which row is meant cannot be told: left blank"),
        (found.repeated, f"in several rows of {first.name}, each of which gets the same"),
        (found.unused, f"in {second.name} alone, and not taken"),
    ):
        if names:
            said.append(f"{d.count(len(names), 'identifier')} {words} ({listed_short(names)}).")
    if found.blank:
        said.append(f"{d.count(found.blank, 'row')} of {first.name} without an identifier.")
    return " ".join(said)


def listed_short(names: Sequence[str]) -> str:
    """The first few names, and how many more there are."""
    more = len(names) - _MOST_NAMED
    return listed([*names[:_MOST_NAMED], *([d.grouped(more) + " more"] if more > 0 else [])])
