"""Tables made of other tables, which they follow: stacked under each other, or joined by an identifier."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import cast

import msgspec
import numpy as np

from bright_tether.tables.column import Cells, Column, Kind
from bright_tether.tables.formula import FromOthers
from bright_tether.tables.table import Join, PerCase, Recipe, Stack, Table
from bright_tether.tables.texts import Texts, coded, coded_by, stacked

#: A stacked row's number is its part's beyond this many bits, and below them its own in that part.
_BITS = 32
#: Under what name a column of identifiers keeps where those of another table's stand in it.
_PLACES = "places"
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

    sources : by id; a table with one of them gone stays as it is, and one with a column gone that names its cases.
    """
    recipe = table.recipe
    if recipe is None or any(one not in sources for one in sources_of(recipe)) or not _named(recipe, sources):
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
        places = _places(recipe, sources)
        kept = np.flatnonzero(places >= 0) if recipe.matched_only else np.arange(first.rows)
        ids = first.row_ids[kept]
        columns = [
            _joined(one, recipe, sources, kept, places[kept], ids) if _follows(one) else one
            for one in table.columns
        ]
    columns = [one if _follows(one) else _by_row(one, table.row_ids, ids) for one in columns]
    most = max(table.next_row, int(ids.max(initial=-1)) + 1)
    return msgspec.structs.replace(table, columns=tuple(columns), row_ids=ids, next_row=most)


def _named(recipe: Recipe, sources: Mapping[str, Table]) -> bool:
    """Whether the columns that name its cases are there."""
    if isinstance(recipe, Stack):
        return True
    if isinstance(recipe, PerCase):
        return sources[recipe.table].has(recipe.key)
    return sources[recipe.first].has(recipe.first_key) and sources[recipe.second].has(recipe.second_key)


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
    (codes, own), (their_codes, theirs) = (
        _keys(sources[table], key, join.loose)
        for table, key in ((join.first, join.first_key), (join.second, join.second_key))
    )
    many, counts = np.bincount(codes, minlength=len(own)), np.bincount(their_codes, minlength=len(theirs) + 1)
    known = {key: at for at, key in enumerate(theirs) if key}
    there = np.array([known.get(key, -1) for key in own], np.int64)  # the last of the counts is 0
    place = np.full(len(theirs) + 1, -1, np.int64)
    place[their_codes] = np.arange(their_codes.size)
    of_key = np.where(there < 0, -1, np.where(counts[there] > 1, -2, place[there]))
    places = of_key[codes]

    mine, yours = own, theirs
    if join.loose:  # said as they are written
        mine = _written(sources[join.first], join.first_key, _firsts(codes, len(own)))
        yours = _written(sources[join.second], join.second_key, _firsts(their_codes, len(theirs)))

    def these(names: Sequence[str], which: np.ndarray) -> tuple[str, ...]:
        return tuple(name for at in np.flatnonzero(which).tolist() if (name := names[at]))

    unused = np.ones(len(theirs), bool)
    unused[there[there >= 0]] = False
    return Matches(
        places=places,
        matched=int(np.count_nonzero(places >= 0)),
        unmatched=these(mine, there < 0),
        doubled=these(mine, counts[there] > 1),
        unused=these(yours, unused),
        repeated=these(mine, (many > 1) & (counts[there] == 1)),
        blank=int(many[own.index("")]) if "" in own else 0,
    )


def _places(join: Join, sources: Mapping[str, Table]) -> np.ndarray:
    """The places of ``matches``, kept for as long as both columns of identifiers are the same."""
    mine, theirs = sources[join.first].column(join.first_key), sources[join.second].column(join.second_key)
    kept: tuple[Column, bool, np.ndarray] | None = theirs.__dict__.get(_PLACES)
    if kept is None or kept[0] is not mine or kept[1] != join.loose:
        kept = theirs.__dict__[_PLACES] = mine, join.loose, matches(join, sources).places
    return kept[2]


def kind_of(columns: Sequence[Column]) -> Kind:
    """The kind of a column that is put together from these: theirs, or text where they differ."""
    kinds = {column.kind for column in columns}
    return kinds.pop() if len(kinds) == 1 else "text"


def _keys(table: Table, column_id: str, loose: bool) -> tuple[np.ndarray, tuple[str, ...]]:
    """The identifier of each row as a code, (rows,), and the different ones in the order in which they come."""
    texts = table.column(column_id).as_texts(table.row_ids)
    return texts.named(lambda text: text.strip().casefold()) if loose else texts.named(str.strip)


def _firsts(codes: np.ndarray, number: int) -> np.ndarray:
    """(number,) the place at which each code stands first."""
    firsts = np.zeros(number, np.int64)
    firsts[codes[::-1]] = np.arange(codes.size - 1, -1, -1)  # the first place is written last
    return firsts


def _written(table: Table, column_id: str, at: np.ndarray) -> tuple[str, ...]:
    return tuple(text.strip() for text in table.column(column_id).as_texts(table.row_ids)[at].tolist())


def _names(table: Table, column_id: str) -> set[str]:
    return set(_keys(table, column_id, False)[1]) - {""}


def _follows(column: Column) -> bool:
    return isinstance(column.formula, FromOthers)


def _stacked(column: Column, stack: Stack, sources: Mapping[str, Table], ids: np.ndarray) -> Column:
    of = column.formula.of if isinstance(column.formula, FromOthers) else {}
    if not of:
        codes = np.repeat(np.arange(len(stack.parts)), [sources[part.table].rows for part in stack.parts])
        named = cast(Cells, coded_by([part.name for part in stack.parts], codes))
        return msgspec.structs.replace(column, kind="category", cells=named, strays={})
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
    whole = np.concatenate(cells) if kind == "number" else _under_each_other(cells)
    return msgspec.structs.replace(column, kind=kind, cells=whole, strays=strays, dates=dates)


def _under_each_other(cells: Sequence[Cells]) -> Cells:
    return cast(Cells, stacked([one if isinstance(one, Texts) else coded(one) for one in cells]))


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
        there, cells = at >= 0, piece.at_or_blank(at)
        strays = {}
        if piece.strays:
            rows = table.row_ids[at[there]].tolist()
            strays = {own: piece.strays[row] for own, row in zip(ids[there].tolist(), rows, strict=True)
                      if row in piece.strays}  # fmt: skip
        return msgspec.structs.replace(column, kind=piece.kind, cells=cells, strays=strays, dates=piece.dates)
    return msgspec.structs.replace(column, cells=_blank(column.kind, ids.size), strays={})


def _cases(table: Table, key: str) -> tuple[np.ndarray, np.ndarray]:
    """The case of each row as a code, −1 where none is named, and the place of each case's first row."""
    codes, names = _keys(table, key, False)
    firsts = _firsts(codes, len(names))
    if "" not in names:
        return codes, firsts
    blank = names.index("")
    return np.where(codes == blank, -1, codes - (codes > blank)), np.delete(firsts, blank)


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
    if before.size:
        rising = np.argsort(before, kind="stable")
        at = rising[np.searchsorted(before, ids, sorter=rising).clip(max=before.size - 1)]
        cells = column.at_or_blank(np.where(before[at] == ids, at, -1))
    else:
        cells = _blank(column.kind, ids.size)
    wanted = set(ids.tolist())
    strays = {row: text for row, text in column.strays.items() if row in wanted}
    return msgspec.structs.replace(column, cells=cells, strays=strays)


def _blank(kind: Kind, rows: int) -> Cells:
    return np.full(rows, np.nan) if kind == "number" else np.full(rows, "", dtype=object)


def likely_keys(first: Table, second: Table) -> tuple[str, str]:
    """The columns that most likely identify cases in both: those that share most texts, names breaking ties."""
    best, found = (-1.0, False), (first.columns[0].id, second.columns[0].id)
    own = {column.id: _names(first, column.id) for column in first.columns[:_MOST_COMPARED]}
    for theirs in second.columns[:_MOST_COMPARED]:
        texts = _names(second, theirs.id)
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
