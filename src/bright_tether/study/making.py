"""Tables made of others: stacked or joined, with their sources beside them in the study."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np

from bright_tether.study.edits import Edit, PutTable, PutTether, Several, SingleEdit
from bright_tether.study.names import free_name
from bright_tether.study.study import Study
from bright_tether.study.table_changes import first_tether, is_untouched, replace_table
from bright_tether.tables.column import Column
from bright_tether.tables.formula import FromOthers
from bright_tether.tables.made import remade
from bright_tether.tables.matching import Line
from bright_tether.tables.table import Join, Part, PerCase, Recipe, Stack, Table


def stack_tables(
    study: Study, tables: Sequence[Table], lines: Sequence[Line], name: str, head: str
) -> tuple[Edit, str]:
    """One table of several under each other; the edit and the tether's id.

    tables : of the study, or new ones that come in with it. head : of the column that names a row's table.
    """
    parts = tuple(Part(at, table.id, table.name) for at, table in enumerate(tables, 1))
    taken = {line.name for line in lines}
    heads = [(free_name(head, taken), {}), *((line.name, line.of) for line in lines)]
    return _made(study, tables, Stack(parts), name, heads, f"Stack {len(tables)} tables")


def add_parts(study: Study, table_id: str, tables: Sequence[Table], lines: Sequence[Line]) -> Edit:
    """Further tables under those that a table is stacked of; its rows, and what hangs on them, stay.

    tables : new ones. lines : the columns of all its parts and of these, as matched.
    """
    stacked = study.table(table_id)
    recipe = stacked.recipe
    if not isinstance(recipe, Stack):
        raise ValueError("only a stacked table takes further parts")
    label = f"Add {', '.join(table.name for table in tables)} to {stacked.name}"
    edits: list[SingleEdit] = []
    present = _with_tables(study, tables, label, edits)
    last = max(part.number for part in recipe.parts)
    parts = tuple(Part(last + at, table.id, table.name) for at, table in enumerate(tables, 1))
    columns, left = list(stacked.columns), list(lines)
    for at, column in enumerate(columns):
        held = column.formula.of if isinstance(column.formula, FromOthers) else {}
        line = next((one for one in left if set(one.of.items()) & set(held.items())), None)
        if line is not None:
            left.remove(line)
            columns[at] = msgspec.structs.replace(column, formula=FromOthers(held | line.of))
    grown = msgspec.structs.replace(stacked, columns=tuple(columns), recipe=Stack((*recipe.parts, *parts)))
    taken = {column.name for column in columns}
    for line in left:
        blank = Column(id=grown.fresh_column_id(), name=free_name(line.name, taken), kind="text",
                       cells=np.empty(0, object), formula=FromOthers(line.of))  # fmt: skip
        taken.add(blank.name)
        grown = msgspec.structs.replace(grown, columns=(*grown.columns, blank))
    after = remade(grown, {one.id: one for one in present.tables})
    return Several(label=label, edits=(*edits, *replace_table(present, stacked, after, label).edits))


def join_tables(study: Study, join: Join, name: str = "") -> tuple[Edit, str]:
    """One table of two, by an identifier; the edit and the tether's id."""
    first, second = study.table(join.first), study.table(join.second)
    heads = [(column.name, {first.id: column.id}) for column in first.columns]
    taken = {column.name for column in first.columns}
    for column in second.columns:
        if column.id != join.second_key:
            head = free_name(column.name, taken)
            taken.add(head)
            heads.append((head, {second.id: column.id}))
    name = name or f"{first.name} with {second.name}"
    return _made(study, (first, second), join, name, heads, f"Join {second.name} to {first.name}")


def one_row_a_case(study: Study, table_id: str, column_id: str, by: str = "mean") -> tuple[Several, str]:
    """A table of one row for each case that a column names; the edit and the tether's id."""
    table = study.table(table_id)
    key = table.column(column_id)
    heads = [(column.name, {table_id: column.id}) for column in table.columns]
    heads.append((free_name("rows", {column.name for column in table.columns}), {}))
    recipe = msgspec.convert({"type": "per case", "table": table_id, "key": column_id, "by": by}, PerCase)
    name = f"{table.name}, one row a {key.short}"
    return _made(study, (table,), recipe, name, heads, f"One row a {key.short}, by its {by}")


def _made(
    study: Study, tables: Sequence[Table], recipe: Recipe, name: str,
    heads: Sequence[tuple[str, dict[str, str]]], label: str,
) -> tuple[Several, str]:  # fmt: skip
    fresh = [table for table in tables if not any(one.id == table.id for one in study.tables)]
    edits: list[SingleEdit] = []
    present = study
    if fresh and is_untouched(study):
        edits += [
            PutTether(label=label, at=0, tether=study.tethers[0], put_in=False),
            PutTable(label=label, at=0, table=study.tables[0], put_in=False),
        ]
    for edit in edits:
        present = edit.apply(present)
    present = _with_tables(present, fresh, label, edits)
    names = {table.name for table in present.tables}
    columns = tuple(
        Column(id=f"c{at}", name=head, kind="text", cells=np.empty(0, object), formula=FromOthers(of))
        for at, (head, of) in enumerate(heads, 1)
    )
    taken = {one.id for one in (*study.tables, *present.tables)}
    table_id = next(f"t{n}" for n in range(1, len(taken) + 2) if f"t{n}" not in taken)
    blank = Table(
        id=table_id,
        name=free_name(name, names),
        columns=columns,
        row_ids=np.empty(0, np.int64),
        recipe=recipe,
    )
    table = remade(blank, {one.id: one for one in present.tables})
    tether = first_tether(table, study.fresh_id("k"))
    edits += [
        PutTable(label=label, at=len(present.tables), table=table),
        PutTether(label=label, at=len(present.tethers), tether=tether),
    ]
    return Several(label=label, edits=tuple(edits)), tether.id


def _with_tables(study: Study, tables: Sequence[Table], label: str, edits: list[SingleEdit]) -> Study:
    """The study with these tables put in, each under a name of its own; the edits are added to the list."""
    names = {table.name for table in study.tables}
    for table in tables:
        own = free_name(table.name, names)
        names.add(own)
        put = PutTable(label=label, at=len(study.tables), table=msgspec.structs.replace(table, name=own))
        edits.append(put)
        study = put.apply(study)
    return study


def fresh_ids(study: Study, many: int) -> list[str]:
    """So many free ids for tables that come in together."""
    taken = {one.id for one in study.tables}
    free = (f"t{n}" for n in range(1, len(taken) + many + 1))
    return [one for one in free if one not in taken][:many]
