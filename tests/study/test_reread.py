"""A file read again: what was done to a case follows the case, never its place."""

import numpy as np
import pytest

from bright_tether.study import cell_changes, changes, column_changes, row_changes, table_changes
from bright_tether.study.reread import Reread, reread_table
from bright_tether.study.study import Study
from bright_tether.tables.computed import expression
from bright_tether.tables.read_plan import plan_of, read_file
from bright_tether.words.reread import reread_sentence

PLAIN = "x,y\n1,2\n2,4\n3,7\n4,8\n"
LABELLED = "site,x,y\nA,1,2\nB,2,4\nC,3,7\nD,4,8\n"


@pytest.fixture
def study_on(csv_file):
    """A study on a file, and a function that reads the file again with another content."""

    def make(text):
        path = csv_file(text)
        table = read_file(path)
        study = Study(tables=(table,), tethers=(table_changes.first_tether(table, "k1"),))

        def again(study, text):
            csv_file(text)
            made = reread_table(study, "t1", read_file(path, "t1", plan_of(table.source)))
            return made, made.edit.apply(study) if made.edit else study

        return study, again

    return make


def aside(study, rows):
    return changes.set_aside(study, study.tethers[0], rows, "late").apply(study)


def out(study):
    """x of the rows that are set aside."""
    table = study.tables[0]
    rows = {one.row for one in study.tethers[0].asides}
    return table.column(study.tethers[0].x).cells[table.places(rows)].tolist()


def test_an_exclusion_follows_its_row_when_rows_are_put_before_it(study_on):
    study, again = study_on(PLAIN)
    made, after = again(aside(study, {2}), "x,y\n9,9\n8,8\n1,2\n2,4\n3,7\n4,8\n")
    assert (made.new, made.gone) == (2, 0)
    assert out(after) == [3.0]
    assert "2 rows new" in reread_sentence(made, "pairs")


def test_where_the_row_cannot_be_told_nothing_is_changed(study_on):
    study, again = study_on(PLAIN)
    study = aside(study, {2})
    made, after = again(study, "x,y\n1,2\n2,4\n3,7.5\n4,8\n")
    assert made.edit is None
    assert after is study
    assert "row 3 was set aside or mended here" in reread_sentence(made, "pairs")


def test_rows_alike_are_not_guessed_between(study_on):
    study, again = study_on("x,y\n1,2\n1,2\n3,7\n4,8\n")
    made, _ = again(aside(study, {1}), "x,y\n1,2\n3,7\n4,8\n")
    assert made.unsure == 2
    made, after = again(aside(study, {1}), "x,y\n3,7\n1,2\n1,2\n4,8\n")
    assert made.unsure is None
    assert out(after) == [1.0]


def test_labels_carry_an_exclusion_through_changed_values_and_another_order(study_on):
    study, again = study_on(LABELLED)
    made, after = again(aside(study, {2}), "site,x,y\nD,4,8\nC,33,7\nA,1,2\nE,5,9\n")
    assert made.label == "site"
    assert (made.new, made.gone, made.changed) == (1, 1, 1)
    assert out(after) == [33.0]
    assert after.tables[0].row_ids.tolist() == [3, 2, 0, 4]


def test_a_mend_stays_with_its_case_until_the_file_says_otherwise(study_on):
    study, again = study_on(LABELLED)
    study = cell_changes.set_cells(study, "t1", {(1, "c3"): 44.0, (3, "c3"): 88.0}).apply(study)
    made, after = again(study, "site,x,y\nB,2,4\nA,1,2\nC,3,7\nD,4,8.5\n")
    assert (made.kept, made.dropped) == (1, 1)
    y = after.tables[0].column("c3").cells
    assert y.tolist() == [44.0, 2.0, 7.0, 8.5]
    assert [(m.row, m.was) for m in after.tables[0].mends] == [(1, 4.0)]
    undone = cell_changes.set_cells(study, "t1", {(1, "c3"): 4.0, (3, "c3"): 8.0}).apply(study)
    assert undone.tables[0].mends == ()


def test_rows_typed_here_stay(study_on):
    study, again = study_on(PLAIN)
    study = cell_changes.type_block(study, "t1", 4, 0, [["50", "60"]]).apply(study)
    made, after = again(study, "x,y\n1,2\n2,4\n3,7\n4,8\n5,9\n")
    assert (made.new, made.gone, made.by_hand) == (1, 0, 1)
    assert after.tables[0].column("c1").cells.tolist() == [1, 2, 3, 4, 5, 50]


def test_columns_keep_their_ids_and_computed_ones_are_carried(study_on):
    study, again = study_on(PLAIN)
    made = expression("log10(x)", study.tables[0])
    study = column_changes.add_formula(study, "t1", "l", made).apply(study)
    _, after = again(study, "y,x,new\n3,10,0\n5,20,0\n8,30,1\n")
    table = after.tables[0]
    assert [c.name for c in table.columns] == ["y", "x", "new", "l"]
    assert table.column(after.tethers[0].x).cells.tolist() == [10, 20, 30]
    assert table.columns[3].cells[0] == 1.0


def test_the_same_file_changes_nothing(study_on):
    study, again = study_on(PLAIN)
    made, _ = again(study, PLAIN)
    assert made.edit is None
    assert "nothing changed" in reread_sentence(made, "pairs")


def test_a_strays_text_follows_its_row(study_on):
    study, again = study_on("x,y\n1,2\n2,bad\n3,7\n4,8\n5,9\n6,9\n")
    _, after = again(study, "x,y\n0,0\n1,2\n2,bad\n3,7\n4,8\n5,9\n6,9\n")
    table = after.tables[0]
    column = table.column("c2")
    assert [column.cell(at, row) for at, row in enumerate(table.row_ids.tolist())][2] == "bad"
    assert np.isnan(column.cells[2])


def test_an_id_is_never_given_twice():
    from bright_tether.study.study import empty_study

    study = empty_study()
    study = row_changes.add_rows(study, "t1", 3).apply(study)
    out = row_changes.delete_rows(study, "t1", [2])
    study = out.apply(study)
    study = row_changes.add_rows(study, "t1", 1).apply(study)
    assert study.tables[0].row_ids.tolist() == [0, 1, 3]


def test_a_slip_left_alone_hides_no_other(csv_file):
    from bright_tether.tables.slips import likely_slips

    values = "\n".join(f"{at},{20 + at % 5}" for at in range(20))
    table = read_file(csv_file(f"x,y\n{values}\n20,bad\n"))
    study = Study(tables=(table,), tethers=(table_changes.first_tether(table, "k1"),))
    (slip,) = likely_slips(table)
    study = cell_changes.dismiss_slip(study, "t1", slip).apply(study)
    assert likely_slips(study.tables[0]) == ()
    worse = cell_changes.set_cells(study, "t1", {(20, "c2"): "worse"}).apply(study)
    assert [one.rows for one in likely_slips(worse.tables[0])] == [(20,)]
    another = cell_changes.set_cells(study, "t1", {(3, "c2"): "odd"}).apply(study)
    assert [one.rows for one in likely_slips(another.tables[0])] == [(3,)]


@pytest.mark.parametrize("fill", ["9.96921e+36", "1e20", "3.4028235e38", "-9999", "1.7e308"])
def test_common_fill_values_are_likely_missing_codes(csv_file, fill):
    from bright_tether.tables.slips import SlipKind, likely_slips

    values = "\n".join(f"{at},{20 + at % 5}" for at in range(20))
    table = read_file(csv_file(f"x,y\n{values}\n20,{fill}\n"))
    assert [one.kind for one in likely_slips(table)] == [SlipKind.MISSING_CODE]


def test_what_told_rows_apart_is_named_only_where_something_came_of_it():
    assert reread_sentence(Reread(edit=None, label="bottle", new=2), "pairs") == (
        "“pairs” read again, told apart by bottle: 2 rows new."
    )
    assert (
        reread_sentence(Reread(edit=None, label="bottle"), "pairs") == "“pairs” read again: nothing changed."
    )
    assert reread_sentence(Reread(edit=None, gone=1), "pairs") == "“pairs” read again: 1 row gone."
