"""The kind of a typed column follows what is typed, until it is set by hand."""

import msgspec
import pytest

from bright_tether.live.notes import notes_of
from bright_tether.study import cell_changes
from bright_tether.study.column_changes import change_kind
from bright_tether.study.figures import Figure, FigureChoices, FigureStyle
from bright_tether.study.memory import Memory
from bright_tether.study.study import Study, empty_study
from bright_tether.study.tether import Tether
from bright_tether.tables.table import Source


def typed(study, *texts, column=0):
    for row, text in enumerate(texts):
        study = cell_changes.type_block(study, "t1", row, column, [[text]]).apply(study)
    return study


def column_of(study, at=0):
    return study.tables[0].columns[at]


@pytest.mark.parametrize(
    ("texts", "kind"),
    [
        (["W", "M"], "category"),
        (["W", "M", "W"], "category"),
        (["NA", "4", "5"], "number"),
        (["NA", "W", "M"], "category"),
        (["3", "about 30", "4"], "number"),
        (["turbidity", "27", "43"], "number"),
        (["2021-03-22", "2021-04-03"], "date"),
        (["Weir 1", "Weir 2", "Weir 3", "Ford 1", "Ford 2"], "label"),
        (["probe fouled by leaves, cleaned later"], "text"),
    ],
)
@pytest.mark.parametrize("column", [0, 2, 4])
def test_a_typed_column_is_what_it_looks_like(texts, kind, column):
    study = typed(empty_study(), *texts, column=column)
    assert column_of(study, column).kind == kind


def test_every_text_is_kept_and_undo_brings_back_the_kind():
    study = typed(empty_study(), "W")
    edit = cell_changes.type_block(study, "t1", 1, 0, [["3"]])
    after = edit.apply(study)
    assert column_of(after).kind == "number"
    assert [column_of(after).cell(at, row) for at, row in enumerate(after.tables[0].row_ids.tolist())][
        :2
    ] == ["W", 3.0]
    before = edit.inverse().apply(after)
    assert column_of(before).kind == column_of(study).kind == "category"
    assert edit.label == "column 1, row 2: blank → 3"


def test_a_kind_set_by_hand_stays():
    study = typed(empty_study(), "W", "M")
    study = change_kind(study, "t1", "c1", "label").apply(study)
    study = cell_changes.type_block(study, "t1", 2, 0, [["W"]]).apply(study)
    assert column_of(study).kind == "label"


def test_the_kind_of_a_file_s_column_stays(short_table):
    study = Study(tables=(short_table,))
    column = short_table.columns[0]
    texts = [["W"]] * short_table.rows
    after = cell_changes.type_block(study, short_table.id, 0, 0, texts).apply(study)
    assert column.kind == column_of(after).kind == "number"


def test_a_cell_typed_into_a_files_table_ties_nothing_anew(short_table):
    table = msgspec.structs.replace(short_table, source=Source(path="pairs.csv"))
    study = Study(tables=(table,), tethers=(Tether(id="k1", table=table.id, x="c3", y="c2"),))
    after = cell_changes.type_block(study, table.id, 0, 1, [["9"]]).apply(study)
    assert (after.tethers[0].x, after.tethers[0].y) == ("c3", "c2")
    typed_one = msgspec.structs.replace(study, tables=(msgspec.structs.replace(table, source=None),))
    after = cell_changes.type_block(typed_one, table.id, 0, 1, [["9"]]).apply(typed_one)
    assert (after.tethers[0].x, after.tethers[0].y) == ("c1", "c2")


@pytest.mark.parametrize("source", [Source(path="bottles.csv"), None], ids=["of a file", "typed"])
def test_a_row_that_names_columns_leaves_the_kinds_that_were_set(source):
    study = typed(typed(empty_study(), "NTU", "1", "2"), "mg/L", "3", "4", column=1)
    study = change_kind(study, "t1", "c1", "label").apply(study)
    table = msgspec.structs.replace(study.tables[0], source=source)
    study = msgspec.structs.replace(study, tables=(table,))
    after = cell_changes.name_columns(study, "t1", int(table.row_ids[0])).apply(study).tables[0]
    assert [column.name for column in after.columns[:2]] == ["NTU", "mg/L"]
    assert [column.kind for column in after.columns[:2]] == ["label", "number"]


def test_clearing_cells_says_what_it_clears():
    study = typed(empty_study(), "1", "2", "3")
    first, second = study.tables[0].row_ids[:2].tolist()
    assert cell_changes.clear_cells(study, "t1", [(first, "c1")]).label == "column 1, row 1: 1 → blank"
    both = cell_changes.clear_cells(study, "t1", [(first, "c1"), (second, "c1"), (first, "c1")])
    assert both.label == "Clear 2 cells"
    assert cell_changes.clear_cells(both.apply(study), "t1", [(first, "c1")]) is None


def test_a_style_of_figures_takes_the_place_of_one_of_its_name():
    small, large = (FigureStyle(name="for print", figure=Figure(wide=wide)) for wide in (60.0, 120.0))
    other = FigureStyle(name="for a wall", figure=Figure())
    kept = FigureChoices().with_style(other).with_style(small)
    assert kept.styles == (other, small)
    assert kept.with_style(large).styles == (other, large)
    assert kept.without_style("for a wall").styles == (small,)


def test_notes_of_marked_rows_are_of_those_alone():
    study = typed(empty_study(), "1", "2", "", "7")
    table = study.tables[0]
    first, second = table.row_ids[[1, 3]].tolist()
    memory = Memory()
    assert notes_of(memory, table, "c1", frozenset()).marked is None
    notes = notes_of(memory, table, "c1", frozenset({first, second}))
    assert (notes.whole.n, notes.whole.missing) == (3, 1)
    assert (notes.marked.n, notes.marked.missing, notes.marked.summary.mean) == (2, 0, 4.5)
