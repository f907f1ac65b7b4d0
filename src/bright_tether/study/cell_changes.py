"""The edits an analyst makes by typing and pasting into cells."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import count

import msgspec

from bright_tether.study.axes import tied_again
from bright_tether.study.cases import settle_cases
from bright_tether.study.column_changes import read_dates
from bright_tether.study.edits import (
    CellChange,
    ChangeCells,
    ChangeColumn,
    Edit,
    PutColumn,
    PutTable,
    Several,
    SingleEdit,
)
from bright_tether.study.row_changes import add_rows, delete_rows, forget_asides
from bright_tether.study.study import Study
from bright_tether.study.table_changes import replace_table
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import TYPED_ROWS, Column, Kind, blank_column, column_of_texts, shown
from bright_tether.tables.delimited import distinct_names
from bright_tether.tables.heads import names_are_clear, names_columns, row_texts
from bright_tether.tables.slips import Slip, SlipKind, slip_keys
from bright_tether.tables.table import Table, place_name


def set_cells(
    study: Study, table_id: str, cells: dict[tuple[int, str], Cell], label: str = ""
) -> ChangeCells | None:
    """Put cells, by (row id, column id); None where nothing would change."""
    table = study.table(table_id)
    place = {int(table.row_ids[p]): p for p in table.places({row for row, _ in cells}).tolist()}
    changes = []
    for (row, column_id), after in cells.items():
        before = table.column(column_id).cell(place[row], row)
        if before != after and table.column(column_id).formula is None:
            changes.append(CellChange(row, column_id, before, after))
    if not changes:
        return None
    first = changes[0]
    name = table.column(first.column).short
    where = f"{name}, row {place[first.row] + 1}"
    said = f"{where}: {shown(first.before) or 'blank'} → {shown(first.after) or 'blank'}"
    label = label or (said if len(changes) == 1 else f"Change {len(changes)} cells")
    return ChangeCells(label=label, table=table_id, changes=tuple(changes))


def clear_cells(study: Study, table_id: str, cells: Iterable[tuple[int, str]]) -> Edit | None:
    """Blank these cells."""
    wanted = dict.fromkeys(cells)
    return set_cells(study, table_id, wanted, "" if len(wanted) == 1 else f"Clear {len(wanted)} cells")


def type_block(
    study: Study, table_id: str, row: int, column: int, block: Sequence[Sequence[str]], label: str = ""
) -> Edit | None:
    """Put a block of texts with its first cell at a position; rows and columns grow as needed.

    A first record that clearly names the columns becomes their names where it stands above all rows and they
    have none of their own yet; one that only repeats their names is left out. Else it stays cells.
    """
    table = study.table(table_id)
    if table.recipe is not None and row + len(block) > table.rows:
        return None  # its rows come from other tables
    width = max(map(len, block))
    records = [list(cells) + [""] * (width - len(cells)) for cells in block]
    if not table.rows and names_are_clear(records) and (row, column) == (0, 0):
        return _with_ties(study, table_id, _filled_from(study, table, records))
    edits: list[SingleEdit] = []
    present = study
    for at in range(len(table.columns), column + width):
        body = [cells[at - column] if at >= column else "" for cells in records]
        kind = column_of_texts("", "", body, range(len(body))).kind if any(body) else "number"
        added = _add_column(present, table_id, place_name(at), kind)
        edits.append(added)
        present = added.apply(present)
    named = _names_of(present.table(table_id), row, column, records)
    if named is not None:
        for edit in named:
            edits.append(edit)
            present = edit.apply(present)
        records = records[1:]
        if not label:
            label = f"Paste {len(records)} rows with their names" if named else f"Paste {len(records)} rows"
    missing = row + len(records) - table.rows
    if missing > 0:
        more = add_rows(present, table_id, missing)
        edits.append(more)
        present = more.apply(present)
    grown = present.table(table_id)
    cells = {}
    for i, record in enumerate(records):
        row_id = int(grown.row_ids[row + i])
        for j, text in enumerate(record):
            target = grown.columns[column + j]
            cells[row_id, target.id] = target.read(text)
    put = set_cells(present, table_id, cells, label)
    if put:
        edits.append(put)
        edits.extend(_guess_again(put.apply(present), table_id, grown.columns[column : column + width]))
    if not edits:
        return None
    size = f"{len(records)} × {width} cells"
    words = label or (put.label if put and width * len(records) == 1 else f"Paste {size}")
    whole = edits[0] if len(edits) == 1 else Several(label=words, edits=tuple(edits))
    return _with_ties(study, table_id, whole)


def name_columns(study: Study, table_id: str, row: int) -> Edit | None:
    """Make the texts of a row, by its id, the names of its columns, and take the row out of the table.

    None where the row names nothing.
    """
    table = study.table(table_id)
    places = table.places([row])
    if not places.size:
        return None
    at = int(places[0])
    texts = row_texts(table, at)
    if not any(texts):
        return None
    heads = distinct_names([text or one.name for text, one in zip(texts, table.columns, strict=True)])
    out = table.without_rows(places)
    columns = []
    for column, name in zip(out.columns, heads, strict=True):
        again = column
        if column.formula is None and table.typed and column.guessed:
            ids = out.row_ids.tolist()
            cells = [shown(column.cell(place, row_id)) for place, row_id in enumerate(ids)]
            read = column_of_texts(column.id, name, cells, ids)
            again = msgspec.structs.replace(column, kind=read.kind, cells=read.cells, strays=read.strays)
        columns.append(msgspec.structs.replace(again, name=name))
    label = f"Row {at + 1} names the columns"
    put = replace_table(study, table, msgspec.structs.replace(out, columns=tuple(columns)), label)
    forgotten = forget_asides(study, table_id, {row}, label)
    return _with_ties(study, table_id, Several(label=label, edits=(*forgotten, *put.edits)))


def names_typed(study: Study, table_id: str) -> Edit | None:
    """What makes a first row that was typed the names of its columns; None where that is not plain.

    Plain it is in the moment in which the second row brings the first number below a name.
    """
    table = study.table(table_id)
    fresh = table.typed and all(
        one.guessed and one.name == place_name(at) for at, one in enumerate(table.columns)
    )
    if not fresh or table.rows != 2:
        return None
    if not names_columns(table) or any(any(map(str.isdigit, text)) for text in row_texts(table, 0)):
        return None
    return name_columns(study, table_id, int(table.row_ids[0]))


def mend_slip(study: Study, table_id: str, slip: Slip) -> Edit | None:
    """Put a likely slip right."""
    if slip.kind is SlipKind.NAMES:
        return name_columns(study, table_id, slip.rows[0])
    if slip.kind is SlipKind.SHARED_CASES:
        return settle_cases(study, table_id, slip)
    if slip.dates is not None:
        return read_dates(study, table_id, slip.column, slip.dates)
    if slip.cells is None:
        return delete_rows(study, table_id, slip.rows)
    cells = {(row, slip.column): cell for row, cell in zip(slip.rows, slip.cells, strict=True)}
    return set_cells(study, table_id, cells)


def dismiss_slip(study: Study, table_id: str, slip: Slip) -> Edit:
    """Leave a slip as it is, and do not show it again."""
    table = study.table(table_id)
    after = msgspec.structs.replace(table, dismissed=(*table.dismissed, *slip_keys(slip, table)))
    return replace_table(study, table, after, "Leave a likely slip as it is")


def _names_of(table: Table, row: int, column: int, records: list[list[str]]) -> list[ChangeColumn] | None:
    """What a block's first record does to the names of its columns; None where it is cells like the others."""
    if len(records) < 2:
        return None
    held = table.columns[column : column + len(records[0])]
    heads = [text.strip() for text in records[0]]
    if all(head in (one.name, one.short) for head, one in zip(heads, held, strict=True)):
        return []
    blank = all(one.name == place_name(at) for at, one in enumerate(held, column))
    if row or not blank or not names_are_clear(records) or any(one.formula for one in held):
        return None
    taken = {one.name for one in table.columns} - {one.name for one in held}
    if len(set(heads)) < len(heads) or taken & set(heads):
        return None
    return [
        ChangeColumn(label=f"Call {one.name} {head}", table=table.id, before=one,
                     after=msgspec.structs.replace(one, name=head))
        for one, head in zip(held, heads, strict=True) if head
    ]  # fmt: skip


def _with_ties(study: Study, table_id: str, edit: Edit) -> Edit:
    """The edit, and with it better columns for tethers whose axes nobody chose; of short typed tables alone.

    In a file's table a typed cell changes a cell, and nothing else.
    """
    table = study.table(table_id)
    open_choice = any(one.table == table_id and not one.chosen for one in study.tethers)
    if not table.typed or table.rows > TYPED_ROWS or not open_choice:
        return edit
    ties = tuple(tied_again(edit.apply(study), table_id))
    if not ties:
        return edit
    edits = edit.edits if isinstance(edit, Several) else (edit,)
    return Several(label=edit.label, edits=(*edits, *ties))


def _guess_again(study: Study, table_id: str, typed: Iterable[Column]) -> Iterator[ChangeColumn]:
    table = study.table(table_id)
    for column in typed:
        before = table.column(column.id)
        after = before.guessed_again(table.row_ids)
        if after is not before:
            yield ChangeColumn(
                label=f"{before.short} is a {after.kind}", table=table_id, before=before, after=after
            )


def _filled_from(study: Study, table: Table, records: list[list[str]]) -> Edit:
    heads, body = records[0], records[1:]
    row_ids = table.fresh_row_ids(len(body))
    columns = []
    names = distinct_names([head.strip() for head in heads])
    held = [column.id for column in table.columns]
    free = (one for number in count(1) if (one := f"c{number}") not in held)
    for at, name in enumerate(names):
        column_id = held[at] if at < len(held) else next(free)
        texts = [cells[at] for cells in body]
        columns.append(column_of_texts(column_id, name, texts, row_ids.tolist()))
    columns.extend(column.with_blanks(row_ids - row_ids[0]) for column in table.columns[len(heads) :])
    filled = msgspec.structs.replace(table, columns=tuple(columns), row_ids=row_ids)
    at = study.tables.index(table)
    label = f"Paste {len(body)} rows with their names"
    return Several(
        label=label,
        edits=(
            PutTable(label=label, at=at, table=table, put_in=False),
            PutTable(label=label, at=at, table=filled),
        ),
    )


def _add_column(study: Study, table_id: str, name: str, kind: Kind) -> PutColumn:
    table = study.table(table_id)
    blank = blank_column(table.fresh_column_id(), name, kind, table.rows, guessed=True)
    return PutColumn(label=f"Add column {name}", table=table_id, at=len(table.columns), column=blank)
