"""Tables made of others: stacked, joined, live, and every row the same case for life."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.study import cell_changes, changes, column_changes, row_changes, table_changes
from bright_tether.study.history import History
from bright_tether.study.making import join_tables, stack_tables
from bright_tether.study.package import read_package, save_study
from bright_tether.study.reread import reread_table
from bright_tether.study.study import Study
from bright_tether.tables.made import likely_keys, matches, origin_of
from bright_tether.tables.matching import could_go_with, date_order, lines_of, other_units, renamed
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.tables.table import Join
from bright_tether.words.stacking import join_words, line_words, stack_name


def read(text, table_id, name="t.csv"):
    """A table from a text."""
    content = text.encode()
    return read_content(content, name, table_id, guess_plan(content, name))


MAY = "site,level (m),note\nA,1.5,x\nB,2.5,y\n"
JUNE = "site,level (m),depth (cm)\nC,3.5,30\nB,4.5,about 40\n"


@pytest.fixture
def stacked():
    """Two tables and the one that is made of them."""
    tables = [read(MAY, "t1", "May.csv"), read(JUNE, "t2", "June.csv")]
    study = Study(tables=tuple(tables), tethers=(table_changes.first_tether(tables[0], "k1"),))
    edit, tether = stack_tables(study, tables, lines_of(tables), "Both", "month")
    return edit.apply(study), tether


def rows_of(table):
    """Every row as its cells."""
    return [
        tuple(column.cell(at, row) for column in table.columns)
        for at, row in enumerate(table.row_ids.tolist())
    ]


def test_rows_stand_under_each_other_and_say_where_they_come_from(stacked):
    study, _ = stacked
    made = study.tables[-1]
    assert [column.name for column in made.columns] == ["month", "site", "level (m)", "note", "depth (cm)"]
    assert rows_of(made)[0] == ("May", "A", 1.5, "x", None)
    assert rows_of(made)[3] == ("June", "B", 4.5, None, "about 40")
    assert [origin_of(made, row) for row in made.row_ids.tolist()] == [
        ("t1", 0),
        ("t1", 1),
        ("t2", 0),
        ("t2", 1),
    ]


def test_a_made_table_follows_its_sources_and_rows_keep_what_hangs_on_them(stacked):
    study, tether_id = stacked
    made = study.tables[-1]
    last = int(made.row_ids[3])
    study = changes.set_aside(study, study.tether(tether_id), {last}, "odd").apply(study)
    study = cell_changes.set_cells(study, "t2", {(1, "c2"): 9.0}).apply(study)
    assert rows_of(study.tables[-1])[3][2] == 9.0
    grown = row_changes.add_rows(study, "t1", 1, 0)
    study = grown.apply(study)
    assert study.tables[-1].rows == 5
    assert study.tether(tether_id).asides[0].row == int(study.tables[-1].row_ids[4])
    back = grown.inverse().apply(study)
    assert back.tables[-1].rows == 4
    gone = row_changes.delete_rows(study, "t1", [0]).apply(study)
    assert [row[1] for row in rows_of(gone.tables[-1])] == [None, "B", "C", "B"]


def test_a_source_read_again_moves_nothing_else(stacked):
    study, tether_id = stacked
    fresh = read("site,level (m),note\nZ,0.5,new\nA,1.5,x\nB,2.5,y\n", "t1", "May.csv")
    row = int(study.tables[-1].row_ids[1])
    study = changes.set_aside(study, study.tether(tether_id), {row}, "odd").apply(study)
    taken = reread_table(study, "t1", fresh)
    after = taken.edit.apply(study)
    made = after.tables[-1]
    assert [cells[1] for cells in rows_of(made)] == ["Z", "A", "B", "C", "B"]
    assert rows_of(made)[int(made.places([row])[0])][1] == "B"
    assert rows_of(taken.edit.inverse().apply(after).tables[-1]) == rows_of(study.tables[-1])


def test_a_made_table_stays_when_a_source_is_let_go(stacked):
    study, _ = stacked
    before = rows_of(study.tables[-1])
    drop = table_changes.drop_table(study, "t2")
    gone = drop.apply(study)
    assert rows_of(gone.tables[-1]) == before
    assert rows_of(drop.inverse().apply(gone).tables[-1]) == before


def test_own_columns_and_rows_of_a_made_table(stacked):
    study, _ = stacked
    made = study.tables[-1].id
    assert cell_changes.type_block(study, made, 4, 1, [["Q"]]) is None  # its rows come from others
    assert cell_changes.set_cells(study, made, {(int(study.tables[-1].row_ids[0]), "c3"): 1.0}) is None
    typed = cell_changes.type_block(study, made, 1, 5, [["mine"]]).apply(study)
    grown = row_changes.add_rows(typed, "t1", 1, 0).apply(typed)
    assert [row[-1] for row in rows_of(grown.tables[-1])] == [None, None, "mine", None, None]


def test_a_made_table_is_saved_with_its_recipe(stacked, tmp_path):
    study, _ = stacked
    save_study(study, tmp_path / "s.tether")
    again = read_package((tmp_path / "s.tether").read_bytes(), "s.tether")
    assert again.tables[-1].recipe == study.tables[-1].recipe
    assert rows_of(again.tables[-1]) == rows_of(study.tables[-1])
    live = cell_changes.set_cells(again, "t1", {(0, "c2"): 7.0}).apply(again)
    assert rows_of(live.tables[-1])[0][2] == 7.0


def test_columns_are_matched_by_name_and_by_what_is_said():
    tables = [read("a,level (m)\n1,2\n3,4\n", "t1"), read("a,level (cm)\n1,200\n2,300\n", "t2"),
              read("a,height (m)\n5,6\n7,8\n", "t3")]  # fmt: skip
    lines = lines_of(tables)
    assert [line.name for line in lines] == ["a", "level (m)", "level (cm)", "height (m)"]
    assert [one.name for one in other_units(lines[2], lines, tables)] == ["level (m)"]
    assert "another unit" in line_words(lines[2], lines, tables)
    assert [one.name for one in could_go_with(lines[3], lines)] == ["level (m)", "level (cm)"]
    said = lines_of(tables, {("t3", "c2"): ("t1", "c2")})
    assert said[1].of == {"t1": "c2", "t3": "c2"}
    two = [tables[0], tables[2]]
    assert renamed(lines_of(two)[2], lines_of(two), two).name == "level (m)"
    assert "under another name" in line_words(lines_of(two)[2], lines_of(two), two)


def test_dates_of_one_table_tell_those_of_another():
    first = read("when,y\n03/04/2021,1\n05/04/2021,2\n", "t1")
    second = read("when,y\n25/04/2021,1\n26/04/2021,2\n", "t2")
    lines = lines_of([first, second])
    assert date_order(lines[0], [first, second]) == "day first"
    assert date_order(lines[0], [first]) == "ask"
    assert date_order(lines[1], [first, second]) is None


SITES = "site,rock,height (m)\nA,slate,100\nb,moss,200\nC,chalk,300\nC,clay,310\nD,chalk,400\n"


def test_a_join_counts_before_it_is_done_and_stays_live():
    first, second = (
        read("site,level (m)\nA,1\nA,2\nB,3\nC,4\nE,5\n", "t1", "Visits.csv"),
        read(SITES, "t2", "Sites.csv"),
    )
    study = Study(tables=(first, second), tethers=(table_changes.first_tether(first, "k1"),))
    assert likely_keys(first, second) == ("c1", "c1")
    join = Join(first="t1", second="t2", first_key="c1", second_key="c1")
    found = matches(join, {"t1": first, "t2": second})
    assert (found.matched, found.unmatched, found.doubled, found.unused) == (
        2,
        ("B", "E"),
        ("C",),
        ("b", "D"),
    )
    said = join_words(found, first, second)
    assert "2 of 5 rows of Visits find their case in Sites." in said
    assert "1 identifier more than once in Sites" in said
    edit, _ = join_tables(study, join)
    study = edit.apply(study)
    made = study.tables[-1]
    assert [column.name for column in made.columns] == ["site", "level (m)", "rock", "height (m)"]
    assert rows_of(made) == [("A", 1, "slate", 100), ("A", 2, "slate", 100), ("B", 3, None, None),
                             ("C", 4, None, None), ("E", 5, None, None)]  # fmt: skip
    study = cell_changes.set_cells(study, "t2", {(4, "c1"): "E"}).apply(study)
    assert rows_of(study.tables[-1])[4] == ("E", 5, "chalk", 400)
    loose, _ = join_tables(study, Join(first="t1", second="t2", first_key="c1", second_key="c1", loose=True,
                                       matched_only=True))  # fmt: skip
    assert [row[0] for row in rows_of(loose.apply(study).tables[-1])] == ["A", "A", "B", "E"]


@pytest.mark.parametrize(("gone_from", "column"), [("t1", "c1"), ("t2", "c1")])
def test_a_join_stays_as_it_is_while_the_column_that_names_its_cases_is_gone(gone_from, column):
    first, second = read("site,level (m)\nA,1\nC,4\n", "t1"), read(SITES, "t2")
    study = Study(tables=(first, second), tethers=(table_changes.first_tether(first, "k1"),))
    history = History(study).after(
        join_tables(study, Join(first="t1", second="t2", first_key="c1", second_key="c1"))[0]
    )
    before = rows_of(history.study.tables[-1])
    history = history.after(column_changes.delete_column(history.study, gone_from, column))
    assert rows_of(history.study.tables[-1]) == before
    history = history.after(cell_changes.set_cells(history.study, "t1", {(0, "c2"): 7.0}))
    assert rows_of(history.study.tables[-1]) == before
    history = history.back()
    history = history.back()
    history = history.after(cell_changes.set_cells(history.study, "t1", {(0, "c2"): 7.0}))
    assert rows_of(history.study.tables[-1])[0] == ("A", 7, "slate", 100)


def test_names_of_what_is_stacked():
    assert stack_name(["Logger 01", "Logger 02"]) == "Logger"
    assert stack_name(["May", "June"]) == "2 tables"
    assert stack_name(["June", "July"]) == "2 tables"
    assert stack_name(["weir visits 2024", "weir visits 2025"]) == "weir visits"
    assert stack_name(["weir dry", "weir drizzle"]) == "weir"


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_whatever_is_done_to_the_sources_a_row_stays_the_same_case(data):
    """Every row of a made table shows what its own source row shows, after any course of work and its undoing."""
    tables = [read("k,v\n" + "".join(f"{name}{at},{at}\n" for at in range(4)), f"t{at}", f"{name}.csv")
              for at, name in enumerate("pq", 1)]  # fmt: skip
    study = Study(tables=tuple(tables), tethers=(table_changes.first_tether(tables[0], "k1"),))
    study = stack_tables(study, tables, lines_of(tables), "Both", "file")[0].apply(study)
    seen = dict(zip(study.tables[-1].row_ids.tolist(), _keys(study), strict=True))
    done = []
    for _ in range(data.draw(st.integers(1, 5))):
        table = study.table(data.draw(st.sampled_from(["t1", "t2"])))
        what = data.draw(st.sampled_from(["put in", "take out", "sort", "change"]))
        if what == "put in":
            edit = row_changes.add_rows(study, table.id, 1, data.draw(st.integers(0, table.rows)))
        elif what == "take out" and table.rows > 1:
            edit = row_changes.delete_rows(
                study, table.id, [data.draw(st.sampled_from(table.row_ids.tolist()))]
            )
        elif what == "sort":
            edit = row_changes.sort_rows(study, table.id, "c2", falling=True)
        else:
            row = data.draw(st.sampled_from(table.row_ids.tolist()))
            edit = cell_changes.set_cells(
                study, table.id, {(row, "c2"): data.draw(st.integers(10, 99)) + 0.5}
            )
        if edit is None:
            continue
        done.append(edit)
        study = edit.apply(study)
        made = study.tables[-1]
        for row, key in zip(made.row_ids.tolist(), _keys(study), strict=True):
            assert seen.setdefault(row, key) == key
            source, own = origin_of(made, row)
            place = int(study.table(source).places([own])[0])
            mine = made.columns[2].cells[int(made.places([row])[0])]
            np.testing.assert_equal(mine, study.table(source).columns[1].cells[place])
    for edit in reversed(done):
        study = edit.inverse().apply(study)
    assert _keys(study) == list(seen.values())[:8]


def _keys(study):
    return [str(cell) for cell in study.tables[-1].columns[1].cells.tolist()]
