"""Every change to a study: a small frozen value that can be applied and taken back."""

from __future__ import annotations

from collections.abc import Collection
from typing import TypeVar

import msgspec
import numpy as np

from bright_tether.study.derived import following, with_table, with_tether
from bright_tether.study.figures import FigureChoices
from bright_tether.study.pins import PageStyle, Pin
from bright_tether.study.rules import RuleChoices, ground_rules
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.study.trail import LaterChange, later_rows, later_rules
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

T = TypeVar("T")


class _Edit(msgspec.Struct, frozen=True, eq=False, kw_only=True, tag=True):
    label: str


class CellChange(msgspec.Struct, frozen=True):
    """One cell, by row id and column id, before and after."""

    row: int
    column: str
    before: Cell
    after: Cell


class ChangeCells(_Edit, frozen=True, eq=False, kw_only=True):
    """Other cells in rows that stay."""

    table: str
    changes: tuple[CellChange, ...]

    def apply(self, study: Study) -> Study:
        table = study.table(self.table)
        by_column: dict[str, list[CellChange]] = {}
        for change in self.changes:
            by_column.setdefault(change.column, []).append(change)
        for column_id, changes in by_column.items():
            place = {int(table.row_ids[p]): p for p in table.places(c.row for c in changes).tolist()}
            held = [c for c in changes if c.row in place]
            column = table.column(column_id).with_cells(
                [place[c.row] for c in held], [c.row for c in held], [c.after for c in held]
            )
            table = table.with_column(column)
        table = table.mended((c.row, c.column, c.before, c.after) for c in self.changes)
        return with_table(study, table)

    def inverse(self) -> ChangeCells:
        swapped = tuple(CellChange(c.row, c.column, c.after, c.before) for c in self.changes)
        return ChangeCells(label=self.label, table=self.table, changes=swapped)


class PutRows(_Edit, frozen=True, eq=False, kw_only=True):
    """Rows put in at these positions (put_in) or taken out from there.

    at : rising positions as they are with the rows in. cells : one tuple a column. by_hand : those of the
    rows that the table's file never had.
    """

    table: str
    at: tuple[int, ...]
    row_ids: tuple[int, ...]
    cells: tuple[tuple[Cell, ...], ...]
    put_in: bool = True
    by_hand: tuple[int, ...] = ()

    def apply(self, study: Study) -> Study:
        table, at = study.table(self.table), np.array(self.at, np.int64)
        table = table.with_by_hand(self.by_hand, self.put_in)
        if self.put_in:
            return with_table(study, table.with_rows(at, np.array(self.row_ids, np.int64), self.cells))
        return with_table(study, table.without_rows(at))

    def inverse(self) -> PutRows:
        return msgspec.structs.replace(self, put_in=not self.put_in)


class OrderRows(_Edit, frozen=True, eq=False, kw_only=True):
    """The same rows in another order. order : (rows,), the place where the row now at i stood."""

    table: str
    order: np.ndarray

    def apply(self, study: Study) -> Study:
        return with_table(study, study.table(self.table).in_order(self.order))

    def inverse(self) -> OrderRows:
        return msgspec.structs.replace(self, order=np.argsort(self.order))


class PutColumn(_Edit, frozen=True, eq=False, kw_only=True):
    """A column put in at a position (put_in) or taken out."""

    table: str
    at: int
    column: Column
    put_in: bool = True

    def apply(self, study: Study) -> Study:
        table = study.table(self.table)
        columns = _put(table.columns, self.at, self.column, self.put_in)
        return with_table(study, msgspec.structs.replace(table, columns=columns))

    def inverse(self) -> PutColumn:
        return msgspec.structs.replace(self, put_in=not self.put_in)


class MoveColumn(_Edit, frozen=True, eq=False, kw_only=True):
    """A column in another place among its fellows."""

    table: str
    before: int
    after: int

    def apply(self, study: Study) -> Study:
        table = study.table(self.table)
        moved = table.columns[self.before]
        columns = _put(_put(table.columns, self.before, moved, False), self.after, moved, True)
        return with_table(study, msgspec.structs.replace(table, columns=columns))

    def inverse(self) -> MoveColumn:
        return MoveColumn(label=self.label, table=self.table, before=self.after, after=self.before)


class PutTable(_Edit, frozen=True, eq=False, kw_only=True):
    """A table put in (put_in) or taken out."""

    at: int
    table: Table
    put_in: bool = True

    def apply(self, study: Study) -> Study:
        after = msgspec.structs.replace(study, tables=_put(study.tables, self.at, self.table, self.put_in))
        return following(after, study)

    def inverse(self) -> PutTable:
        return msgspec.structs.replace(self, put_in=not self.put_in)


class NameTable(_Edit, frozen=True, eq=False, kw_only=True):
    """A table's name as it was and as it is."""

    table: str
    before: str
    after: str

    def apply(self, study: Study) -> Study:
        tables = tuple(
            msgspec.structs.replace(one, name=self.after) if one.id == self.table else one
            for one in study.tables
        )
        return msgspec.structs.replace(study, tables=tables)

    def inverse(self) -> NameTable:
        return msgspec.structs.replace(self, before=self.after, after=self.before)


class PutTether(_Edit, frozen=True, eq=False, kw_only=True):
    """A tether put in (put_in) or taken out."""

    at: int
    tether: Tether
    put_in: bool = True

    def apply(self, study: Study) -> Study:
        tethers = _put(study.tethers, self.at, self.tether, self.put_in)
        return msgspec.structs.replace(study, tethers=tethers)

    def inverse(self) -> PutTether:
        return msgspec.structs.replace(self, put_in=not self.put_in)


class ChangeTether(_Edit, frozen=True, eq=False, kw_only=True):
    """A tether as it was and as it is."""

    before: Tether
    after: Tether

    def apply(self, study: Study) -> Study:
        return with_tether(study, self.after)

    def inverse(self) -> ChangeTether:
        return ChangeTether(label=self.label, before=self.after, after=self.before)


class ChangeColumn(_Edit, frozen=True, eq=False, kw_only=True):
    """A column as it was and as it is: its header or its kind."""

    table: str
    before: Column
    after: Column

    def apply(self, study: Study) -> Study:
        return with_table(study, study.table(self.table).with_column(self.after))

    def inverse(self) -> ChangeColumn:
        return msgspec.structs.replace(self, before=self.after, after=self.before)


class ChangeRules(_Edit, frozen=True, eq=False, kw_only=True):
    """The study's ground rules as they were and as they are."""

    before: RuleChoices
    after: RuleChoices

    def apply(self, study: Study) -> Study:
        return msgspec.structs.replace(study, rules=self.after)

    def inverse(self) -> ChangeRules:
        return ChangeRules(label=self.label, before=self.after, after=self.before)


class Rename(_Edit, frozen=True, eq=False, kw_only=True):
    """The study's title as it was and as it is."""

    before: str
    after: str

    def apply(self, study: Study) -> Study:
        return msgspec.structs.replace(study, title=self.after)

    def inverse(self) -> Rename:
        return Rename(label=self.label, before=self.after, after=self.before)


class NoteLater(_Edit, frozen=True, eq=False, kw_only=True):
    """A change put on the trail (put_in), as its last, or taken off it."""

    at: int
    entry: LaterChange
    put_in: bool = True

    def apply(self, study: Study) -> Study:
        return msgspec.structs.replace(study, trail=_put(study.trail, self.at, self.entry, self.put_in))

    def inverse(self) -> NoteLater:
        return msgspec.structs.replace(self, put_in=not self.put_in)


class PutPin(_Edit, frozen=True, eq=False, kw_only=True):
    """A pin put in at a place (put_in) or taken out."""

    at: int
    pin: Pin
    put_in: bool = True

    def apply(self, study: Study) -> Study:
        return msgspec.structs.replace(study, pins=_put(study.pins, self.at, self.pin, self.put_in))

    def inverse(self) -> PutPin:
        return msgspec.structs.replace(self, put_in=not self.put_in)


class MovePin(_Edit, frozen=True, eq=False, kw_only=True):
    """A pin in another place among its fellows."""

    before: int
    after: int

    def apply(self, study: Study) -> Study:
        moved = study.pins[self.before]
        pins = _put(_put(study.pins, self.before, moved, False), self.after, moved, True)
        return msgspec.structs.replace(study, pins=pins)

    def inverse(self) -> MovePin:
        return MovePin(label=self.label, before=self.after, after=self.before)


class ChangePin(_Edit, frozen=True, eq=False, kw_only=True):
    """A pin as it was and as it is: its text, or whether it is frozen."""

    before: Pin
    after: Pin

    def apply(self, study: Study) -> Study:
        pins = tuple(self.after if pin.id == self.after.id else pin for pin in study.pins)
        return msgspec.structs.replace(study, pins=pins)

    def inverse(self) -> ChangePin:
        return ChangePin(label=self.label, before=self.after, after=self.before)


class ChangeStyle(_Edit, frozen=True, eq=False, kw_only=True):
    """The style of the write-up as it was and as it is."""

    before: PageStyle
    after: PageStyle

    def apply(self, study: Study) -> Study:
        return msgspec.structs.replace(study, style=self.after)

    def inverse(self) -> ChangeStyle:
        return ChangeStyle(label=self.label, before=self.after, after=self.before)


class ChangeFigures(_Edit, frozen=True, eq=False, kw_only=True):
    """What is kept of figures as it was and as it is."""

    before: FigureChoices
    after: FigureChoices

    def apply(self, study: Study) -> Study:
        return msgspec.structs.replace(study, figures=self.after)

    def inverse(self) -> ChangeFigures:
        return ChangeFigures(label=self.label, before=self.after, after=self.before)


SingleEdit = (
    ChangeCells
    | PutRows
    | OrderRows
    | PutColumn
    | MoveColumn
    | PutTable
    | NameTable
    | PutTether
    | ChangeTether
    | ChangeColumn
    | ChangeRules
    | Rename
    | NoteLater
    | PutPin
    | MovePin
    | ChangePin
    | ChangeStyle
    | ChangeFigures
)


def with_trail(study: Study, edit: Edit, seen: Collection[str], when: str) -> Edit:
    """The edit, with what it leaves on the trail when the results of these tethers were seen before."""
    parts = edit.edits if isinstance(edit, Several) else (edit,)
    entries: list[LaterChange] = []
    for part in parts:
        if isinstance(part, ChangeRules) and seen:
            entries += later_rules(ground_rules(part.before), ground_rules(part.after), when)
        elif isinstance(part, ChangeTether) and part.before.id in seen:
            before, after = (ground_rules(study.rules, one.rules) for one in (part.before, part.after))
            entries += later_rules(before, after, when, part.after.id)
            entries += later_rows(part.before, part.after, when)
    if not entries:
        return edit
    first = len(study.trail)
    notes = tuple(NoteLater(label=edit.label, at=first + i, entry=one) for i, one in enumerate(entries))
    return Several(label=edit.label, edits=(*parts, *notes))


class Several(_Edit, frozen=True, eq=False, kw_only=True):
    """Changes that are one to the analyst."""

    edits: tuple[SingleEdit, ...]

    def apply(self, study: Study) -> Study:
        for edit in self.edits:
            study = edit.apply(study)
        return study

    def inverse(self) -> Several:
        return Several(label=self.label, edits=tuple(edit.inverse() for edit in reversed(self.edits)))


#: A change with a name in plain words (label), which can be applied and taken back.
Edit = SingleEdit | Several


def _put(items: tuple[T, ...], at: int, item: T, put_in: bool) -> tuple[T, ...]:
    return (*items[:at], item, *items[at:]) if put_in else (*items[:at], *items[at + 1 :])
