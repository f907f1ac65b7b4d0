"""What is said of rows that share a case: taken together from then on, or brought to one row each."""

from __future__ import annotations

import msgspec

from bright_tether.study.edits import ChangeTether, Edit, Several, SingleEdit
from bright_tether.study.making import one_row_a_case
from bright_tether.study.study import Study
from bright_tether.study.table_changes import replace_table
from bright_tether.tables.slips import Slip, slip_keys


def say_cases(study: Study, table_id: str, column_id: str) -> list[SingleEdit]:
    """Rows that share a text of this column are one case, for every tether on the table: cases decide."""
    table = study.table(table_id)
    label = f"Several rows of one {table.column(column_id).short}"
    edits: list[SingleEdit] = []
    for tether in study.tethers:
        if tether.table == table_id:
            line = msgspec.structs.replace(tether.line, cluster=column_id, errors="clustered")
            after = msgspec.structs.replace(tether, line=line)
            if after != tether:
                edits.append(ChangeTether(label=label, before=tether, after=after))
    return edits


def settle_cases(study: Study, table_id: str, slip: Slip) -> Edit:
    """Answer the question whether several rows are of one case: they are."""
    label = f"Several rows of one {study.table(table_id).column(slip.column).short}"
    edits = say_cases(study, table_id, slip.column)
    return Several(label=label, edits=(*edits, *asked(study, table_id, slip, label)))


def bring_to_cases(study: Study, table_id: str, slip: Slip, by: str = "mean") -> tuple[Edit, str]:
    """Answer it by a table of one row a case; the edit and the tether's id."""
    edit, tether = one_row_a_case(study, table_id, slip.column, by)
    return Several(label=edit.label, edits=(*asked(study, table_id, slip, edit.label), *edit.edits)), tether


def asked(study: Study, table_id: str, slip: Slip, label: str) -> tuple[SingleEdit, ...]:
    """The question is not put again."""
    table = study.table(table_id)
    after = msgspec.structs.replace(table, dismissed=(*table.dismissed, *slip_keys(slip, table)))
    return replace_table(study, table, after, label).edits
