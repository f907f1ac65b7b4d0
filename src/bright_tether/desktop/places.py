"""Where a change can be seen: on which tether, and in which step where it does not show in all of them."""

from __future__ import annotations

from typing import NamedTuple

from bright_tether.study.edits import (
    ChangeCells,
    ChangeColumn,
    ChangePin,
    ChangeStyle,
    ChangeTether,
    Edit,
    MoveColumn,
    MovePin,
    NameTable,
    OrderRows,
    PutColumn,
    PutPin,
    PutRows,
    PutTable,
    PutTether,
    Several,
    SingleEdit,
)
from bright_tether.study.study import Study

#: Parts of a tether that one step alone shows.
_STEPS = {
    "forecast": "forecast", "compare": "compare", "rehearse": "rehearse", "answers": "doubts", "lineups": "doubts",
}  # fmt: skip


class Place(NamedTuple):
    """A tether's id, "" for whichever is on the stage; a step's id, "" for whichever is on the stage."""

    tether: str = ""
    step: str = ""


def place_of(edit: Edit, study: Study, tether_id: str) -> Place:
    """Where an edit shows in a study that holds it. tether_id : of the tether on the stage."""
    parts = edit.edits if isinstance(edit, Several) else (edit,)
    places = [_place(part, study, tether_id) for part in parts]
    tethers = [place.tether for place in places if place.tether]
    steps = {place.step for place in places}
    step = steps.pop() if len(steps) == 1 else ""
    return Place(tether_id if tether_id in tethers else (tethers[0] if tethers else ""), step)


def _place(edit: SingleEdit, study: Study, tether_id: str) -> Place:
    match edit:
        case ChangeTether(before=before, after=after):
            changed = {
                name for name in after.__struct_fields__ if getattr(before, name) != getattr(after, name)
            }
            steps = {_STEPS.get(name, "") for name in changed}
            return Place(after.id, steps.pop() if len(steps) == 1 else "")
        case PutTether(tether=tether, put_in=True):
            return Place(tether.id)
        case PutPin() | MovePin() | ChangePin() | ChangeStyle():
            return Place(step="write-up")
        case ChangeCells(table=table, changes=changes):
            return _in_table(study, table, tether_id, {one.column for one in changes})
        case PutColumn(table=table, column=column) | ChangeColumn(table=table, after=column):
            return _in_table(study, table, tether_id, {column.id})
        case PutRows(table=table):
            return _in_table(study, table, tether_id, None)
        case MoveColumn(table=table) | NameTable(table=table) | OrderRows(table=table):
            return _in_table(study, table, tether_id, set())
        case PutTable(table=whole, put_in=True):
            return _in_table(study, whole.id, tether_id, set())
    return Place()


def _in_table(study: Study, table: str, tether_id: str, columns: set[str] | None) -> Place:
    """A tether on the table; Gather where none of the columns is tied. columns : None for all of them."""
    on_it = [one for one in study.tethers if one.table == table]
    if not on_it:
        return Place()
    shown = next((one for one in on_it if one.id == tether_id), on_it[0])
    seen = columns is None or bool(columns & {shown.x, shown.y, shown.tint})
    return Place(shown.id, "" if seen else "gather")
