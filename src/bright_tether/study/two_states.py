"""Two studies, or two states of one: what differs in their data and in what was chosen."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any, TypeVar

import msgspec
import numpy as np

from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

#: Cells of one column that are listed; the rest is counted.
MOST_CELLS = 200
#: Fields of a tether that are told in a way of their own, or say nothing of what is found.
_APART = ("id", "table", "view", "lineups", "asides", "chosen")
T = TypeVar("T", Table, Tether)


class OtherCell(msgspec.Struct, frozen=True):
    """One cell. row : its place in the later table, from 0."""

    row: int
    before: Cell
    after: Cell


class ColumnChange(msgspec.Struct, frozen=True):
    """Cells of one column. many : how many differ, those listed among them; renamed : its name before, "" as now."""

    column: Column
    cells: tuple[OtherCell, ...]
    many: int
    renamed: str = ""
    formula: bool = False


class TableChange(msgspec.Struct, frozen=True):
    """One table in both. new, gone : places of rows, from 0, in the later and in the earlier table."""

    before: Table
    after: Table
    columns: tuple[ColumnChange, ...]
    new_columns: tuple[str, ...]
    gone_columns: tuple[str, ...]
    new: tuple[int, ...]
    gone: tuple[int, ...]

    @property
    def same(self) -> bool:
        """Whether nothing differs."""
        return not (self.columns or self.new_columns or self.gone_columns or self.new or self.gone)


class ChoiceChange(msgspec.Struct, frozen=True):
    """One choice. tether : of the later study, None for the study itself. field : with dots, as it is kept."""

    tether: Tether | None
    field: str
    before: Any
    after: Any


class TwoStates(msgspec.Struct, frozen=True, kw_only=True):
    """All that differs. tethers : those in both, each as it was and as it is."""

    before: Study
    after: Study
    tables: tuple[TableChange, ...]
    new_tables: tuple[Table, ...]
    gone_tables: tuple[Table, ...]
    choices: tuple[ChoiceChange, ...]
    tethers: tuple[tuple[Tether, Tether], ...]
    new_tethers: tuple[Tether, ...]
    gone_tethers: tuple[Tether, ...]


def two_states(before: Study, after: Study) -> TwoStates:
    """Hold a study against another. Tables and tethers are told by their ids, or by their names; rows by their ids."""
    tables, gone_tables, new_tables = _matched(before.tables, after.tables, _alike)
    moved = {one.id: other.id for one, other in tables}
    tethers, gone_tethers, new_tethers = _matched(
        before.tethers, after.tethers, lambda one, other: moved.get(one.table) == other.table
    )
    choices = [*_changes(None, _flat(before), _flat(after))]
    for one, other in tethers:
        choices += _changes(other, _flat_tether(one), _flat_tether(other))
        choices += _asides(one, other)
    return TwoStates(
        before=before, after=after, tables=tuple(_table_change(one, other) for one, other in tables),
        new_tables=new_tables, gone_tables=gone_tables, choices=tuple(choices), tethers=tethers,
        new_tethers=new_tethers, gone_tethers=gone_tethers,
    )  # fmt: skip


def _alike(one: Table, other: Table) -> bool:
    """Whether two tables of one id can be the same table: columns of unlike names are of unlike studies."""
    return bool({column.name for column in one.columns} & {column.name for column in other.columns})


def _matched(
    before: Sequence[T], after: Sequence[T], fits: Callable[[T, T], bool]
) -> tuple[tuple[tuple[T, T], ...], tuple[T, ...], tuple[T, ...]]:
    """Those in both, those gone, those new."""
    left, pairs, new = list(before), [], []
    for other in after:
        found = next((one for one in left if one.id == other.id and fits(one, other)), None)
        if found is None and other.name:
            found = next((one for one in left if one.name == other.name and fits(one, other)), None)
        if found is None:
            new.append(other)
        else:
            left.remove(found)
            pairs.append((found, other))
    return tuple(pairs), tuple(left), tuple(new)


def _table_change(before: Table, after: Table) -> TableChange:
    held = {column.id: column for column in before.columns}
    names = {column.name: column for column in before.columns}
    _, old, now = np.intersect1d(before.row_ids, after.row_ids, assume_unique=True, return_indices=True)
    order = np.argsort(now)
    old, now = old[order], now[order]
    found, taken, new_columns = [], set[str](), []
    for column in after.columns:
        was = held.get(column.id) if column.id in held and held[column.id].kind == column.kind else None
        was = names.get(column.name, was)
        if was is None or was.id in taken:
            new_columns.append(column.name)
            continue
        taken.add(was.id)
        change = _column_change(before, after, was, column, old, now)
        if change.many or change.renamed or change.formula:
            found.append(change)
    return TableChange(
        before=before, after=after, columns=tuple(found), new_columns=tuple(new_columns),
        gone_columns=tuple(one.name for one in before.columns if one.id not in taken),
        new=tuple(np.setdiff1d(np.arange(after.rows), now).tolist()),
        gone=tuple(np.setdiff1d(np.arange(before.rows), old).tolist()),
    )  # fmt: skip


def _column_change(
    before: Table, after: Table, was: Column, column: Column, old: np.ndarray, now: np.ndarray
) -> ColumnChange:
    """What differs in one column; cells that are worked out by the same rule only follow, and are not told."""
    renamed = was.name if was.name != column.name else ""
    other_rule = was.formula != column.formula
    if column.formula is not None and not other_rule:
        return ColumnChange(column, (), 0, renamed)
    first, second = was.cells[old], column.cells[now]
    if first.dtype.kind == second.dtype.kind:
        differ = first != second
        if first.dtype.kind == "f":
            differ &= ~(np.isnan(first) & np.isnan(second))
    else:
        differ = np.ones(old.size, bool)
    for at in np.flatnonzero(np.isin(after.row_ids[now], list({*was.strays, *column.strays}))):
        differ[at] = _cell(was, before, old[at]) != _cell(column, after, now[at])
    places = [
        int(at)
        for at in np.flatnonzero(differ)
        if first.dtype.kind == second.dtype.kind
        or _cell(was, before, old[at]) != _cell(column, after, now[at])
    ]
    cells = tuple(
        OtherCell(int(now[at]), _cell(was, before, old[at]), _cell(column, after, now[at]))
        for at in places[:MOST_CELLS]
    )
    return ColumnChange(column, cells, len(places), renamed, other_rule)


def _cell(column: Column, table: Table, at: int) -> Cell:
    return column.cell(int(at), int(table.row_ids[at]))


def _changes(tether: Tether | None, before: dict[str, Any], after: dict[str, Any]) -> Iterator[ChoiceChange]:
    for field, value in after.items():
        if before[field] != value:
            yield ChoiceChange(tether, field, before[field], value)


def _flat(study: Study) -> dict[str, Any]:
    return {"title": study.title} | {f"rules.{name}": value for name, value in _fields(study.rules)}


def _flat_tether(tether: Tether) -> dict[str, Any]:
    flat: dict[str, Any] = {}
    for name, value in _fields(tether):
        if name in ("line", "compare", "held", "forecast", "rehearse", "rules"):
            flat |= {f"{name}.{inner}": held for inner, held in _fields(value)}
        elif name not in _APART:
            flat[name] = value
    return flat


def _fields(struct: msgspec.Struct) -> Iterator[tuple[str, Any]]:
    return ((name, getattr(struct, name)) for name in struct.__struct_fields__)


def _asides(before: Tether, after: Tether) -> Iterator[ChoiceChange]:
    """Rows set aside and brought back, each by its id."""
    was, now = ({one.row: one.reason for one in tether.asides} for tether in (before, after))
    for row in dict.fromkeys((*was, *now)):
        if was.get(row) != now.get(row):
            yield ChoiceChange(after, f"aside {row}", was.get(row), now.get(row))
