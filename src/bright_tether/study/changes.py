"""The edits an analyst makes, built from what was pointed at."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import Literal

import msgspec

from bright_tether.study.edits import (
    CellChange,
    ChangeCells,
    ChangeColumn,
    ChangeRules,
    ChangeTether,
    Edit,
    PutColumn,
    PutRows,
    PutTable,
    PutTether,
    Rename,
    Several,
    SingleEdit,
)
from bright_tether.study.pin_changes import drop_pins
from bright_tether.study.rules import words_in_text
from bright_tether.study.study import Study
from bright_tether.study.tether import Answer, Picked, Tether, View
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column, Kind, blank_column, column_of_texts, shown
from bright_tether.tables.delimited import looks_like_header
from bright_tether.tables.filters import Condition
from bright_tether.tables.roles import first_pair
from bright_tether.tables.slips import Slip
from bright_tether.tables.table import Table, place_name

ChoicePart = Literal["view", "line", "compare", "forecast", "rehearse"]


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

    Into an empty table a first record that names the columns becomes the header.
    """
    table = study.table(table_id)
    width = max(map(len, block))
    records = [list(cells) + [""] * (width - len(cells)) for cells in block]
    if not table.rows and len(records) > 1 and looks_like_header(records) and (row, column) == (0, 0):
        return _filled_from(study, table, records)
    edits: list[SingleEdit] = []
    present = study
    for at in range(len(table.columns), column + width):
        body = [cells[at - column] if at >= column else "" for cells in records]
        kind = column_of_texts("", "", body, range(len(body))).kind if any(body) else "number"
        added = _add_column(present, table_id, place_name(at), kind)
        edits.append(added)
        present = added.apply(present)
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
    if len(edits) == 1:
        return edits[0]
    size = f"{len(records)} × {width} cells"
    return Several(
        label=label or (put.label if put and width * len(records) == 1 else f"Paste {size}"),
        edits=tuple(edits),
    )


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
    for at, head in enumerate(heads):
        column_id = table.columns[at].id if at < len(table.columns) else f"c{at + 1}"
        texts = [cells[at] for cells in body]
        columns.append(column_of_texts(column_id, head.strip() or place_name(at), texts, row_ids.tolist()))
    columns.extend(column.with_blanks(row_ids - row_ids[0]) for column in table.columns[len(heads) :])
    filled = msgspec.structs.replace(table, columns=tuple(columns), row_ids=row_ids)
    at = study.tables.index(table)
    label = f"Paste {len(body)} rows with their headers"
    return Several(
        label=label,
        edits=(
            PutTable(label=label, at=at, table=table, put_in=False),
            PutTable(label=label, at=at, table=filled),
        ),
    )


def add_rows(study: Study, table_id: str, count: int, at: int | None = None) -> PutRows:
    """Blank rows, at the end or at a position."""
    table = study.table(table_id)
    start = table.rows if at is None else at
    fresh = tuple(table.fresh_row_ids(count).tolist())
    return PutRows(
        label=f"Add {count} rows" if count > 1 else "Add a row",
        table=table_id,
        at=tuple(range(start, start + count)),
        row_ids=fresh,
        cells=((None,) * count,) * len(table.columns),
        by_hand=() if table.source is None else fresh,
    )


def delete_rows(study: Study, table_id: str, rows: Iterable[int]) -> Edit:
    """Take rows out, by row id; what was said of them when they were set aside goes with them."""
    table = study.table(table_id)
    at = table.places(rows).tolist()
    label = f"Delete {len(at)} rows" if len(at) > 1 else f"Delete row {at[0] + 1}"
    gone = table.row_ids[at].tolist()
    out = PutRows(
        label=label,
        table=table_id,
        at=tuple(at),
        row_ids=tuple(gone),
        cells=table.cells_at(at),
        put_in=False,
        by_hand=tuple(row for row in gone if row in table.by_hand),
    )
    forgotten = forget_asides(study, table_id, set(gone), label)
    return Several(label=label, edits=(*forgotten, out)) if forgotten else out


def forget_asides(study: Study, table_id: str, rows: set[int], label: str) -> list[ChangeTether]:
    """Drop these rows from what the table's tethers set aside, so that no new row inherits a reason."""
    return [
        ChangeTether(label=label, before=tether, after=tether.without_asides(rows))
        for tether in study.tethers
        if tether.table == table_id and any(aside.row in rows for aside in tether.asides)
    ]


def _add_column(study: Study, table_id: str, name: str, kind: Kind) -> PutColumn:
    table = study.table(table_id)
    blank = blank_column(table.fresh_column_id(), name, kind, table.rows, guessed=True)
    return PutColumn(label=f"Add column {name}", table=table_id, at=len(table.columns), column=blank)


def choose_axes(study: Study, tether: Tether, *, x: str | None, y: str | None) -> Edit | None:
    """Tie other columns; choosing for one axis what the other holds swaps them."""
    return _tether_edit(study, tether, msgspec.structs.replace(tether, x=x, y=y, chosen=True))


def swap_axes(study: Study, tether: Tether) -> Edit | None:
    """Let x and y change places."""
    after = msgspec.structs.replace(tether, x=tether.y, y=tether.x, chosen=True)
    return _tether_edit(study, tether, after, "Swap x and y")


def set_aside(study: Study, tether: Tether, rows: set[int], reason: str) -> Edit | None:
    """Keep rows out of the line, with a reason."""
    label = f"Set {_rows_in_words(study, tether, rows)} aside: {reason}"
    return _tether_edit(study, tether, tether.with_asides(rows, reason), label)


def take_back(study: Study, tether: Tether, rows: set[int]) -> Edit | None:
    """Bring rows that were set aside back into play."""
    label = f"Bring {_rows_in_words(study, tether, rows)} back"
    return _tether_edit(study, tether, tether.without_asides(rows), label)


def filter_rows(study: Study, tether: Tether, conditions: tuple[Condition, ...]) -> Edit | None:
    """Look only at rows that meet every condition."""
    after = msgspec.structs.replace(tether, conditions=conditions)
    return _tether_edit(study, tether, after, "Filter the rows" if conditions else "Look at every row")


def say_one_row(study: Study, tether: Tether, words: str) -> Edit | None:
    """Say what one row is: one bottle, the mean of 5 bottles."""
    after = msgspec.structs.replace(tether, one_row=" ".join(words.split()))
    return _tether_edit(study, tether, after, f"One row is {after.one_row or 'not said'}")


def mend_slip(study: Study, table_id: str, slip: Slip) -> Edit | None:
    """Put a likely slip right."""
    if slip.cells is None:
        return delete_rows(study, table_id, slip.rows)
    cells = {(row, slip.column): cell for row, cell in zip(slip.rows, slip.cells, strict=True)}
    return set_cells(study, table_id, cells)


def tint_by(study: Study, tether: Tether, column: str | None) -> Edit | None:
    """Tint the points by a category column, or by none."""
    after = msgspec.structs.replace(tether, tint=column)
    name = study.table(tether.table).column(column).short if column else "nothing"
    return _tether_edit(study, tether, after, f"Tint by {name}")


def change_choice(
    study: Study, tether: Tether, part: ChoicePart, label: str, **fields: object
) -> Edit | None:
    """Choose otherwise in one part of a tether: how it is shown, fitted, compared, forecast or rehearsed."""
    chosen = msgspec.structs.replace(getattr(tether, part), **fields)
    return _tether_edit(study, tether, msgspec.structs.replace(tether, **{part: chosen}), label)


def answer_doubt(study: Study, tether: Tether, doubt: str, reason: str) -> Edit | None:
    """Let a doubt stand, with a reason; an empty one takes the answer back."""
    kept = tuple(one for one in tether.answers if one.doubt != doubt)
    after = (*kept, Answer(doubt, reason)) if reason else kept
    label = f"Let the doubt about {doubt} stand" if reason else f"Take up the doubt about {doubt} again"
    return _tether_edit(study, tether, msgspec.structs.replace(tether, answers=after), label)


def keep_lineup(study: Study, tether: Tether, picked: Picked) -> Edit | None:
    """Keep what was picked in a lineup as evidence."""
    after = msgspec.structs.replace(tether, lineups=(*tether.lineups, picked))
    return _tether_edit(study, tether, after, "Keep a lineup")


def say_mutual(study: Study, tether: Tether, mutual: bool) -> Edit | None:
    """Say whether neither column explains the other."""
    after = msgspec.structs.replace(tether, mutual=mutual)
    label = "Neither column explains the other" if mutual else "One column explains the other"
    return _tether_edit(study, tether, after, label)


def change_rule(study: Study, name: str, value: object) -> Edit | None:
    """Choose a ground rule; None goes back to the default."""
    after = msgspec.structs.replace(study.rules, **{name: value})
    if after == study.rules:
        return None
    said = "its default" if value is None else words_in_text(value) if isinstance(value, tuple) else value
    return ChangeRules(label=f"Ground rule {name}: {said}", before=study.rules, after=after)


def change_own_rule(study: Study, tether: Tether, name: str, value: object) -> Edit | None:
    """Choose a ground rule for one tether; None goes back to the study's."""
    after = msgspec.structs.replace(tether, rules=msgspec.structs.replace(tether.rules, **{name: value}))
    said = "as in the study" if value is None else words_in_text(value) if isinstance(value, tuple) else value
    return _tether_edit(study, tether, after, f"Ground rule {name} of this tether: {said}")


def rename_study(study: Study, title: str) -> Edit | None:
    """Give the study another title."""
    title = title.strip()
    if not title or title == study.title:
        return None
    return Rename(label=f"Call the study {title}", before=study.title, after=title)


def rename_column(study: Study, table_id: str, column_id: str, name: str) -> Edit | None:
    """Give a column another header."""
    before = study.table(table_id).column(column_id)
    name = name.strip()
    if not name or name == before.name:
        return None
    after = msgspec.structs.replace(before, name=name)
    return ChangeColumn(label=f"Rename {before.short} to {name}", table=table_id, before=before, after=after)


def bring_in(study: Study, table: Table) -> tuple[Edit, str]:
    """Put a table in with a tether on its first two number columns; the edit and the tether's id.

    It stands in place of the blank study's own table where that is untouched.
    """
    label, blank = f"Open {table.name}", is_untouched(study)
    tether = first_tether(table, study.fresh_id("k"))
    away: tuple[SingleEdit, ...] = ()
    if blank:
        away = (
            PutTether(label=label, at=0, tether=study.tethers[0], put_in=False),
            PutTable(label=label, at=0, table=study.tables[0], put_in=False),
        )
    put = PutTable(label=label, at=0 if blank else len(study.tables), table=table)
    tie = PutTether(label=label, at=0 if blank else len(study.tethers), tether=tether)
    return Several(label=label, edits=(*away, put, tie)), tether.id


def is_untouched(study: Study) -> bool:
    """Whether the study still is the blank one: a table without rows, its one tether, nothing pinned."""
    return len(study.tables) == len(study.tethers) == 1 and not (study.tables[0].rows or study.pins)


def first_tether(table: Table, tether_id: str) -> Tether:
    """A tether on the first two columns of measurements, for the analyst to change."""
    x, y = first_pair(table.columns)
    return Tether(id=tether_id, table=table.id, x=x, y=y)


def add_tether(study: Study, table_id: str) -> tuple[Edit, str]:
    """One more tether on a table; the edit and the tether's id."""
    tether = Tether(id=study.fresh_id("k"), table=table_id)
    return PutTether(label="Tie a new tether", at=len(study.tethers), tether=tether), tether.id


def tie(study: Study, like: Tether, *, x: str, y: str) -> tuple[Edit, str]:
    """One more tether on the table of another, with its rows in play; the edit and the tether's id."""
    tether = msgspec.structs.replace(like, id=study.fresh_id("k"), x=x, y=y, chosen=False, view=View())
    label = f"Tie {tether_name(study, tether)}"
    return PutTether(label=label, at=len(study.tethers), tether=tether), tether.id


def drop_tether(study: Study, tether: Tether) -> Edit:
    """Let a tether go, and its live pins with it; its table stays."""
    label = "Let the tether go"
    out = PutTether(label=label, at=study.tethers.index(tether), tether=tether, put_in=False)
    pins = drop_pins(study, tether.id, label)
    return Several(label=label, edits=(*pins, out)) if pins else out


def _tether_edit(study: Study, before: Tether, after: Tether, label: str = "") -> Edit | None:
    if after == before:
        return None
    return ChangeTether(label=label or f"Tie {tether_name(study, after)}", before=before, after=after)


def tether_name(study: Study, tether: Tether) -> str:
    """x ⟶ y in the columns' own names."""
    table = study.table(tether.table)

    def name(column_id: str | None) -> str:
        return table.column(column_id).short if column_id and table.has(column_id) else "not chosen"

    if tether.x is None and tether.y is None:
        return "nothing tied yet"
    return f"{name(tether.x)} ⟶ {name(tether.y)}"


def _rows_in_words(study: Study, tether: Tether, rows: set[int]) -> str:
    at = study.table(tether.table).places(rows)
    return f"row {at[0] + 1}" if at.size == 1 else f"{at.size} rows"
