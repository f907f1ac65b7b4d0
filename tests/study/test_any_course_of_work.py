"""Whatever is done in whatever order can be taken back, saved, and recovered."""

import tempfile
from contextlib import ExitStack
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.study.members import members, packed

from bright_tether.study import axes, cell_changes, changes, column_changes, row_changes
from bright_tether.study.history import History
from bright_tether.study.journal import Journal, recover
from bright_tether.study.package import read_package
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.computed import expression
from bright_tether.tables.filters import Condition
from bright_tether.tables.formula import Draw
from bright_tether.tables.table import Table


def start():
    columns = (
        Column(id="c1", name="x", kind="number", cells=np.array([1.0, 2, 3, 4])),
        Column(id="c2", name="y (m)", kind="number", cells=np.array([2.0, 4, np.nan, 9])),
        Column(id="c3", name="site", kind="category", cells=np.array(["A", "B", "A", "B"], dtype=object)),
    )
    table = Table(id="t1", name="T", columns=columns, row_ids=np.arange(4))
    return Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="c1", y="c2"),))


def rows_of(study):
    return study.tables[0].row_ids.tolist()


def columns_of(study):
    return [column.id for column in study.tables[0].columns]


def some_edit(data, study):
    """One edit that applies to the study as it is, or None."""
    table, tether = study.tables[0], study.tethers[0]
    row = data.draw(st.sampled_from(rows_of(study))) if table.rows else None
    column = data.draw(st.sampled_from(columns_of(study)))
    kind = data.draw(st.integers(0, 13))
    cell = data.draw(st.one_of(st.none(), st.floats(-9, 9), st.sampled_from(["odd", "7,5", ""])))
    match kind:
        case 0 | 1 if row is not None:
            read = table.column(column).read("" if cell is None else str(cell))
            return cell_changes.set_cells(study, "t1", {(row, column): read})
        case 2 if row is not None and table.rows > 1:
            return row_changes.delete_rows(study, "t1", [row])
        case 3:
            return row_changes.add_rows(study, "t1", 2, data.draw(st.integers(0, table.rows)))
        case 4:
            return cell_changes.type_block(study, "t1", table.rows, 0, [["5", "6"], ["7", "q"]])
        case 5 if row is not None:
            return changes.set_aside(study, tether, {row}, "tried")
        case 6:
            return axes.swap_axes(study, tether)
        case 7:
            return changes.change_rule(study, "alpha", data.draw(st.sampled_from([None, 0.01, 0.1])))
        case 8:
            return column_changes.change_kind(
                study, "t1", column, data.draw(st.sampled_from(["text", "number"]))
            )
        case 9 if table.has("c1") and table.column("c1").numeric:
            made = expression(f'"{table.column("c1").name}" * 2', table)
            return column_changes.add_formula(study, "t1", "double", made)
        case 10:
            return column_changes.add_formula(study, "t1", "dice", Draw(kind="whole", seed=3, a=1.0, b=6.0))
        case 11 if len(table.columns) > 1:
            return column_changes.delete_column(study, "t1", column)
        case 12:
            return column_changes.move_column(study, "t1", column, data.draw(st.sampled_from([-1, 1])))
        case 13:
            wanted = (Condition(column=column, relation="has", texts=("A",)),)
            return changes.filter_rows(study, tether, wanted)
    return changes.rename_column(study, "t1", column, f"name {kind}")


@given(st.data())
@settings(max_examples=15, deadline=None)
def test_any_course_can_be_taken_back_saved_and_recovered(data):
    history = History(start())
    first = members(history.study)
    with tempfile.TemporaryDirectory() as folder, ExitStack() as stack:
        journal = Journal(history.study, None, Path(folder))
        stack.callback(journal.close)
        for _ in range(data.draw(st.integers(1, 12))):
            edit = some_edit(data, history.study)
            if edit is not None:
                history = history.after(edit)
                journal.add(edit, history.study)
        last = members(history.study)
        assert members(recover(journal.folder)[0].study) == last
    assert members(read_package(packed(history.study), "s")) == last
    back = history
    while back.done:
        back = back.back()
    assert members(back.study) == first
    while back.undone:
        back = back.forward()
    assert members(back.study) == last
