"""Tables made of other tables, which they follow: stacked under each other, or joined by an identifier."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from itertools import pairwise

import msgspec
import numpy as np

from bright_tether.tables.column import Cells, Column, Kind, shown
from bright_tether.tables.formula import FromOthers
from bright_tether.tables.table import Join, PerCase, Recipe, Stack, Table

#: A stacked row's number is its part's beyond this many bits, and below them its own in that part.
_BITS = 32
#: Columns of a table that are held against those of another.
_MOST_COMPARED = 60


def sources_of(recipe: Recipe | None) -> tuple[str, ...]:
    """The ids of the tables that a table is made of."""
    if isinstance(recipe, Stack):
        return tuple(part.table for part in recipe.parts)
    if isinstance(recipe, PerCase):
        return (recipe.table,)
    return (recipe.first, recipe.second) if recipe is not None else ()


def origin_of(table: Table, row: int) -> tuple[str, int] | None:
    """The table and the row that a row of a made table comes from; of a join that of the first table."""
    if isinstance(table.recipe, Stack):
        part = next((one for one in table.recipe.parts if one.number == row >> _BITS), None)
        return None if part is None else (part.table, row & ((1 << _BITS) - 1))
    recipe = table.recipe
    return None if recipe is None else (recipe.table if isinstance(recipe, PerCase) else recipe.first, row)


def remade(table: Table, sources: Mapping[str, Table]) -> Table:
    """A made table as its sources now are; every row keeps its number, and so all that hangs on it.

    sources : by id; a table with one of them gone stays as it is.
    """
    recipe = table.recipe
    if recipe is None or any(one not in sources for one in sources_of(recipe)):
        return table
    if isinstance(recipe, Stack):
        ids = np.concatenate([(part.number << _BITS) | sources[part.table].row_ids for part in recipe.parts])
        columns = [_stacked(one, recipe, sources, ids) if _follows(one) else one for one in table.columns]
    elif isinstance(recipe, PerCase):
        source = sources[recipe.table]
        codes, firsts = _cases(source, recipe.key)
        ids = source.row_ids[firsts]
        columns = [
            _per_case(one, recipe, source, codes, firsts) if _follows(one) else one for one in table.columns
        ]
    else:
        first = sources[recipe.first]
        places = matches(recipe, sources).places
        kept = np.flatnonzero(places >= 0) if recipe.matched_only else np.arange(first.rows)
        ids = first.row_ids[kept]
        columns = [
            _joined(one, recipe, sources, kept, places[kept], ids) if _follows(one) else one
            for one in table.columns
        ]
    columns = [one if _follows(one) else _by_row(one, table.row_ids, ids) for one in columns]
    most = max(table.next_row, int(ids.max(initial=-1)) + 1)
    return msgspec.structs.replace(table, columns=tuple(columns), row_ids=ids, next_row=most)


class Matches(msgspec.Struct, frozen=True, kw_only=True):
    """How the rows of two tables find each other.

    places : (rows of the first,) the row of the second by its place, −1 for none, −2 where several have the identifier.
    unmatched, doubled : identifiers of the first without a row, or with several rows, in the second. unused :
    identifiers of the second that the first does not have. repeated : identifiers that several rows of the first share,
    and one of the second has. blank : rows of the first without an identifier.
    """

    places: np.ndarray
    matched: int
    unmatched: tuple[str, ...]
    doubled: tuple[str, ...]
    unused: tuple[str, ...]
    repeated: tuple[str, ...]
    blank: int


def matches(join: Join, sources: Mapping[str, Table]) -> Matches:
    """Hold the identifiers of two tables against each other."""
    first, second = (
        _keys(sources[table], key, join.loose)
        for table, key in ((join.first, join.first_key), (join.second, join.second_key))
    )
    counts, own = Counter(key for key in second if key), Counter(key for key in first if key)
    place = {key: at for at, key in enumerate(second) if key}
    places = np.array(
        [-1 if not key or key not in place else -2 if counts[key] > 1 else place[key] for key in first],
        np.int64,
    )
    return Matches(
        places=places,
        matched=int(np.count_nonzero(places >= 0)),
        unmatched=tuple(key for key in own if key not in counts),
        doubled=tuple(key for key in own if counts[key] > 1),
        unused=tuple(key for key in counts if key not in own),
        repeated=tuple(key for key, many in own.items() if many > 1 and counts[key] == 1),
        blank=sum(not key for key in first),
    )


def kind_of(columns: Sequence[Column]) -> Kind:
    """The kind of a column that is put together from these: theirs, or text where they differ."""
    kinds = {column.kind for column in columns}
    return kinds.pop() if len(kinds) == 1 else "text"


def _keys(table: Table, column_id: str, loose: bool) -> list[str]:
    column = table.column(column_id)
    texts = (shown(column.cell(at, row)).strip() for at, row in enumerate(table.row_ids.tolist()))
    return [text.casefold() for text in texts] if loose else list(texts)


def _follows(column: Column) -> bool:
    return isinstance(column.formula, FromOthers)


def _stacked(column: Column, stack: Stack, sources: Mapping[str, Table], ids: np.ndarray) -> Column:
    of = column.formula.of if isinstance(column.formula, FromOthers) else {}
    if not of:
        names = [np.full(sources[part.table].rows, part.name, object) for part in stack.parts]
        return msgspec.structs.replace(column, kind="category", cells=np.concatenate(names), strays={})
    held = {
        part.table: sources[part.table].column(of[part.table])
        for part in stack.parts
        if part.table in of and sources[part.table].has(of[part.table])
    }
    kind = kind_of(list(held.values())) if held else column.kind
    cells: list[Cells] = []
    strays: dict[int, str] = {}
    for part in stack.parts:
        table = sources[part.table]
        piece = held.get(part.table)
        if piece is None:
            cells.append(_blank(kind, table.rows))
            continue
        piece = piece.of_kind(kind, table.row_ids)
        cells.append(piece.cells)
        strays |= {(part.number << _BITS) | row: text for row, text in piece.strays.items()}
    dates = next((one.dates for one in held.values() if one.dates), None)
    return msgspec.structs.replace(column, kind=kind, cells=np.concatenate(cells), strays=strays, dates=dates)


def _joined(
    column: Column,
    join: Join,
    sources: Mapping[str, Table],
    kept: np.ndarray,
    places: np.ndarray,
    ids: np.ndarray,
) -> Column:
    of = column.formula.of if isinstance(column.formula, FromOthers) else {}
    for table_id, column_id in of.items():
        table = sources[table_id]
        if not table.has(column_id):
            break
        piece = table.column(column_id)
        at = kept if table_id == join.first else places
        if table_id == join.second:
            cells = _blank(piece.kind, ids.size)
            there = at >= 0
            cells[there] = piece.cells[at[there]]
        else:
            there, cells = np.ones(ids.size, bool), piece.cells[at]
        strays = {}
        if piece.strays:
            rows = table.row_ids[at[there]].tolist()
            strays = {own: piece.strays[row] for own, row in zip(ids[there].tolist(), rows, strict=True)
                      if row in piece.strays}  # fmt: skip
        return msgspec.structs.replace(column, kind=piece.kind, cells=cells, strays=strays, dates=piece.dates)
    return msgspec.structs.replace(column, cells=_blank(column.kind, ids.size), strays={})


def _cases(table: Table, key: str) -> tuple[np.ndarray, np.ndarray]:
    """The case of each row as a code, −1 where none is named, and the place of each case's first row."""
    known: dict[str, int] = {}
    firsts: list[int] = []
    codes = np.full(table.rows, -1, np.int64)
    for at, text in enumerate(_keys(table, key, False)):
        if text and text not in known:
            known[text] = len(firsts)
            firsts.append(at)
        codes[at] = known.get(text, -1)
    return codes, np.array(firsts, np.int64)


def _per_case(
    column: Column, recipe: PerCase, source: Table, codes: np.ndarray, firsts: np.ndarray
) -> Column:
    of = column.formula.of if isinstance(column.formula, FromOthers) else {}
    if not of:
        counts = np.bincount(codes[codes >= 0], minlength=firsts.size).astype(float)
        return msgspec.structs.replace(column, kind="number", cells=counts, strays={})
    if not source.has(of[recipe.table]):
        return msgspec.structs.replace(column, cells=_blank(column.kind, firsts.size), strays={})
    piece = source.column(of[recipe.table])
    groups = _split(codes)
    if piece.numeric:
        cells: Cells = np.array([_stands_for(piece.cells[at], recipe.by) for at in groups], float)
    else:
        texts = [[text for text in piece.cells[at].tolist() if text] for at in groups]
        last = -1 if recipe.by == "last" else 0
        alike = [
            own[last] if own and (recipe.by in ("first", "last") or len(set(own)) == 1) else ""
            for own in texts
        ]
        cells = np.array(alike or [""], object)[: len(alike)]
    return msgspec.structs.replace(column, kind=piece.kind, cells=cells, strays={}, dates=piece.dates)


def _split(codes: np.ndarray) -> list[np.ndarray]:
    order = np.argsort(codes, kind="stable")
    edges = np.searchsorted(codes[order], np.arange(int(codes.max(initial=-1)) + 2))
    return [order[a:b] for a, b in pairwise(edges)]


def _stands_for(values: np.ndarray, by: str) -> float:
    there = values[np.isfinite(values)]
    if not there.size:
        return np.nan
    if by == "mean":
        start = float(there[0])
        return start + float(np.mean(there - start))
    return float(np.median(there)) if by == "median" else float(there[0] if by == "first" else there[-1])


def _by_row(column: Column, before: np.ndarray, ids: np.ndarray) -> Column:
    """A column of the table's own: its cells follow their rows."""
    if np.array_equal(before, ids):
        return column
    place = {row: at for at, row in enumerate(before.tolist())}
    cells = _blank(column.kind, ids.size)
    for at, row in enumerate(ids.tolist()):
        if row in place:
            cells[at] = column.cells[place[row]]
    wanted = set(ids.tolist())
    strays = {row: text for row, text in column.strays.items() if row in wanted}
    return msgspec.structs.replace(column, cells=cells, strays=strays)


def _blank(kind: Kind, rows: int) -> Cells:
    return np.full(rows, np.nan) if kind == "number" else np.full(rows, "", dtype=object)


def likely_keys(first: Table, second: Table) -> tuple[str, str]:
    """The columns that most likely identify cases in both: those that share most texts, names breaking ties."""
    best, found = (-1.0, False), (first.columns[0].id, second.columns[0].id)
    own = {column.id: set(_keys(first, column.id, False)) - {""} for column in first.columns[:_MOST_COMPARED]}
    for theirs in second.columns[:_MOST_COMPARED]:
        texts = set(_keys(second, theirs.id, False)) - {""}
        for column in first.columns[:_MOST_COMPARED]:
            if (
                not texts
                or not own[column.id]
                or (column.kind == theirs.kind == "number" and column.name != theirs.name)
            ):
                continue
            share = len(texts & own[column.id]) / min(len(texts), len(own[column.id]))
            rank = (share, column.name == theirs.name)
            if rank > best:
                best, found = rank, (column.id, theirs.id)
    return found
