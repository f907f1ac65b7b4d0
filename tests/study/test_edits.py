"""Every edit can be taken back, and does what it says."""

import msgspec
import numpy as np
import pytest

from bright_tether.study import axes, cell_changes, changes, column_changes, row_changes, table_changes
from bright_tether.study.choices import CompareChoice, ForecastChoice, LineChoice
from bright_tether.study.codec import weight
from bright_tether.study.derived import row_figures, with_tether
from bright_tether.study.edits import CellChange, ChangeCells, ChangeRules, with_trail
from bright_tether.study.figures import Figure
from bright_tether.study.history import History
from bright_tether.study.package import open_study, save_study
from bright_tether.study.pins import Grid
from bright_tether.study.rules import RuleChoices, ground_rules
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table, blank_table


@pytest.fixture
def study(short_table):
    return Study(tables=(short_table,), tethers=(Tether(id="k1", table="t1", x="c1", y="c2"),))


def snapshot(study):
    return [
        (c.name, c.kind, [c.cell(i, int(r)) for i, r in enumerate(t.row_ids)], t.row_ids.tolist())
        for t in study.tables
        for c in t.columns
    ] + [study.tethers, study.rules]


EDITS = {
    "cells": lambda s: cell_changes.set_cells(s, "t1", {(0, "c1"): 9.0, (3, "c3"): "q", (1, "c2"): None}),
    "stray": lambda s: cell_changes.set_cells(s, "t1", {(2, "c1"): "oops"}),
    "delete rows": lambda s: row_changes.delete_rows(s, "t1", [1, 3]),
    "delete ends": lambda s: row_changes.delete_rows(s, "t1", [0, 4]),
    "add rows": lambda s: row_changes.add_rows(s, "t1", 2, 1),
    "paste beyond": lambda s: cell_changes.type_block(s, "t1", 4, 2, [["x", "1"], ["y", "2"], ["z", "3"]]),
    "swap": lambda s: axes.swap_axes(s, s.tethers[0]),
    "aside": lambda s: changes.set_aside(s, s.tethers[0], {1, 2}, "fouled"),
    "rename": lambda s: changes.rename_column(s, "t1", "c2", "discharge (m3/s)"),
    "rule": lambda s: changes.change_rule(s, "alpha", 0.01),
    "tether": lambda s: changes.add_tether(s, "t1")[0],
    "drop": lambda s: changes.drop_tether(s, s.tethers[0]),
    "tint": lambda s: changes.tint_by(s, s.tethers[0], "c3"),
}


@pytest.mark.parametrize("name", EDITS)
def test_undo_and_redo_are_exact(study, name):
    edit = EDITS[name](study)
    before = snapshot(study)
    changed = History(study).after(edit)
    after = snapshot(changed.study)
    assert after != before
    assert edit.label
    undone = changed.back()
    assert snapshot(undone.study) == before
    assert snapshot(undone.forward().study) == after
    assert undone.back() is undone
    assert changed.forward() is changed


def test_a_new_change_forgets_what_was_taken_back(study):
    history = History(study).after(EDITS["cells"](study)).back()
    assert not history.after(EDITS["swap"](study)).undone


def test_labels_say_what_happened(study):
    assert EDITS["aside"](study).label == "Set 2 rows aside: fouled"
    assert cell_changes.set_cells(study, "t1", {(0, "c1"): 9.0}).label == "depth, row 1: 1 → 9"
    assert EDITS["delete rows"](study).label == "Delete 2 rows"


def test_nothing_to_do_is_no_edit(study):
    assert cell_changes.set_cells(study, "t1", {(0, "c1"): 1.0}) is None
    assert changes.rename_column(study, "t1", "c1", " ") is None
    assert changes.change_rule(study, "alpha", None) is None


def test_no_new_row_inherits_the_reason_of_a_deleted_one(study):
    history = History(study).after(changes.set_aside(study, study.tethers[0], {4}, "late"))
    history = history.after(row_changes.delete_rows(history.study, "t1", [4]))
    assert history.study.tables[0].rows == 4
    assert not history.study.tethers[0].asides
    assert history.back().study.tables[0].row_ids.tolist() == [0, 1, 2, 3, 4]
    assert history.back().study.tethers[0].asides[0].row == 4
    more = history.after(row_changes.add_rows(history.study, "t1", 1)).study
    assert more.tables[0].row_ids.tolist() == [0, 1, 2, 3, 5]
    assert not more.tethers[0].asides


def test_pasting_with_headers_into_an_empty_table_names_its_columns():
    from bright_tether.study.study import empty_study

    study = empty_study()
    edit = cell_changes.type_block(study, "t1", 0, 0, [["lamp (lx)", "hum (dB)"], ["1", "2"], ["3", "4,5"]])
    table = edit.apply(study).tables[0]
    assert [c.name for c in table.columns] == ["lamp (lx)", "hum (dB)"]
    assert table.columns[1].cells.tolist() == [2.0, 4.5]
    assert edit.inverse().apply(edit.apply(study)).tables[0].rows == 0


def test_pasted_columns_take_their_own_kind(study):
    table = EDITS["paste beyond"](study).apply(study).tables[0]
    assert table.columns[3].kind == "number"
    assert np.isnan(table.columns[3].cells[0])
    assert table.columns[3].cells[4:].tolist() == [1, 2, 3]
    assert table.rows == 7


def test_unchanged_columns_are_shared(study):
    after = cell_changes.set_cells(study, "t1", {(0, "c1"): 9.0}).apply(study)
    assert after.tables[0].columns[1] is study.tables[0].columns[1]


def test_a_table_whose_kept_residuals_are_right_stays_the_same(study):
    study = column_changes.keep_figure(study, study.tethers[0], "residual").apply(study)
    again = changes.tint_by(study, study.tethers[0], "c3").apply(study)
    assert again.tables[0] is study.tables[0]
    later = cell_changes.set_cells(again, "t1", {(0, "c1"): 9.0}).apply(again)
    kept = [one.tables[0].columns[-1].cells.tolist() for one in (study, later)]
    assert kept[0] != kept[1]


def test_rules_follow_and_remember_where_they_come_from():
    rules = ground_rules(RuleChoices())
    assert (rules.alpha, rules.level, rules.origin_of("alpha")) == (0.05, 0.95, "default")
    rules = ground_rules(RuleChoices(alpha=0.01))
    assert (rules.level, rules.origin_of("level"), rules.origin_of("alpha")) == (0.99, "default", "study")
    rules = ground_rules(RuleChoices(alpha=0.01), RuleChoices(alpha=0.1, level=0.8))
    assert (rules.alpha, rules.level, rules.origin_of("level")) == (0.1, 0.8, "tether")


def test_a_column_read_as_another_kind_loses_nothing(short_table):
    notes = short_table.columns[2]
    numbers = notes.of_kind("number", short_table.row_ids)
    assert numbers.strays == dict(enumerate("abcde"))
    back = numbers.of_kind("text", short_table.row_ids)
    assert back.cells.tolist() == list("abcde")
    assert msgspec.structs.replace(back, kind=notes.kind).cells.tolist() == notes.cells.tolist()


def test_a_table_goes_with_its_tethers_and_the_last_one_stays(study):
    assert table_changes.drop_table(study, "t1") is None
    edit, tether_id = table_changes.start_table(study)
    two = edit.apply(study)
    gone = table_changes.drop_table(two, "t1").apply(two)
    assert [table.id for table in gone.tables] == [two.tables[1].id]
    assert [tether.id for tether in gone.tethers] == [tether_id]
    assert table_changes.drop_table(gone, gone.tables[0].id) is None


def test_no_row_of_a_table_is_in_force_unless_it_is_said():
    assert not 0 <= Grid(title="", heads=("a",), rows=(("1",), ("2",))).strong < 2


@pytest.mark.parametrize("gone", ["c1", "c2"])
def test_columns_pasted_after_one_was_deleted_have_ids_of_their_own(gone, tmp_path):
    table = blank_table("t1", "Table 1")
    study = Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x=None, y=None),))
    study = column_changes.delete_column(study, "t1", gone).apply(study)
    block = [["a", "b", "c"], ["1", "2", "3"], ["2", "5", "4"]]
    study = cell_changes.type_block(study, "t1", 0, 0, block).apply(study)
    assert [one.name for one in study.tables[0].columns] == ["a", "b", "c"]
    assert len({one.id for one in study.tables[0].columns}) == 3
    save_study(study, tmp_path / "s.tether")
    assert [one.name for one in open_study(tmp_path / "s.tether").tables[0].columns] == ["a", "b", "c"]


def test_kept_figures_follow_their_own_tether(study):
    other = changes.add_tether(study, "t1")[0].apply(study)
    second = axes.choose_axes(other, other.tethers[1], x="c2", y="c1").apply(other)
    for tether in second.tethers:
        second = column_changes.keep_figure(second, second.tether(tether.id), "residual").apply(second)
    own, mirrored = (column.cells.tolist() for column in second.tables[0].columns[-2:])
    later = cell_changes.set_cells(second, "t1", {(0, "c1"): 9.0}).apply(second)
    for column, tether in zip(later.tables[0].columns[-2:], later.tethers, strict=True):
        np.testing.assert_array_equal(column.cells, row_figures(later, tether, "residual"))
    assert own != mirrored


@pytest.mark.parametrize(
    ("name", "value", "says"),
    [("digits", 5, "Ground rule digits: 5"), ("alpha", 0.01, "Ground rule alpha: 0.01"),
     ("words", ((0.0, "weak"), (0.5, "strong")), "Ground rule words: 0 weak · 0.5 strong")],
)  # fmt: skip
def test_a_rule_is_told_as_it_was_chosen_and_as_a_default(study, name, value, says):
    edit = changes.change_rule(study, name, value)
    assert says in edit.label
    later = edit.apply(study)
    assert getattr(later.rules, name) == value
    assert changes.change_rule(later, name, value) is None
    back = changes.change_rule(later, name, None)
    assert back.label == f"Ground rule {name}: its default"
    assert back.apply(later).rules == study.rules
    own = changes.change_own_rule(study, study.tethers[0], name, value)
    assert says.removeprefix(f"Ground rule {name}: ") in own.label
    after = own.apply(study)
    dropped = changes.change_own_rule(after, after.tethers[0], name, None)
    assert dropped.label == f"Ground rule {name} of this tether: as in the study"


@pytest.mark.parametrize(
    ("row", "column", "block", "label"),
    [(0, 0, [["9"]], "depth, row 1: 1 → 9"), (0, 0, [["9", "8"]], "Change 2 cells"),
     (0, 0, [["9", "8"], ["7", "6"]], "Change 4 cells"), (4, 0, [["9", "8"], ["7", "6"]], "Paste 2 × 2 cells"),
     (4, 0, [["9"], ["7"]], "Paste 2 × 1 cells"), (5, 0, [["7"]], "depth, row 6: blank → 7"),
     (0, 3, [["7", "6"]], "Paste 1 × 2 cells")],
)  # fmt: skip
def test_what_was_typed_or_pasted_is_told_by_its_size(study, row, column, block, label):
    assert cell_changes.type_block(study, "t1", row, column, block).label == label


def test_a_long_block_beyond_the_columns_has_the_kind_of_its_texts():
    """So many rows that no kind is guessed again: each new column has its own, the blank one between has none."""
    study = Study(tables=(blank_table("t1", 0, 0),), tethers=())
    block = [[["Weir", "Ford"][at % 2], str(at), f"2024-01-{at % 28 + 1:02}"] for at in range(1200)]
    edit = cell_changes.type_block(study, "t1", 0, 1, block)
    table = edit.apply(study).tables[0]
    assert [one.kind for one in table.columns] == ["number", "category", "number", "date"]
    assert [one.missing for one in table.columns] == [1200, 0, 0, 0]


@pytest.mark.parametrize("mutual", [True, False])
def test_neither_or_one_explains_is_told_as_it_is(study, mutual):
    tether = msgspec.structs.replace(study.tethers[0], mutual=not mutual)
    study = with_tether(study, tether)
    edit = changes.say_mutual(study, tether, mutual)
    says = "Neither column explains the other" if mutual else "One column explains the other"
    assert edit.label == says
    assert edit.apply(study).tethers[0].mutual is mutual
    assert changes.say_mutual(study, tether, not mutual) is None


def test_a_new_table_of_numbers_counts_its_columns_from_one(study):
    edit, tether = table_changes.add_table(study, "found", {"a": np.arange(3.0), "b": np.ones(3)})
    after = edit.apply(study)
    assert [(one.id, one.name) for one in after.tables[-1].columns] == [("c1", "a"), ("c2", "b")]
    assert (after.tether(tether).x, after.tether(tether).y) == ("c1", "c2")


def test_rows_that_go_take_their_reasons_with_them_and_nobody_elses(study):
    other, tether = table_changes.add_table(study, "found", {"a": np.arange(5.0), "b": np.ones(5)})
    study = other.apply(study)
    for one in study.tethers:
        study = changes.set_aside(study, study.tether(one.id), {1, 2}, f"of {one.id}").apply(study)
    after = row_changes.delete_rows(study, "t1", [1, 3]).apply(study)
    assert [aside.row for aside in after.tether("k1").asides] == [2]
    assert after.tether(tether).asides == study.tether(tether).asides


@pytest.mark.parametrize(
    ("alpha", "level"), [(0.05, 0.95), (0.1, 0.9), (1e-14, 1 - 1e-14), (1e-17, np.nextafter(1, 0))]
)
def test_a_level_follows_alpha_and_stays_below_1(study, alpha, level):
    study = changes.change_rule(study, "alpha", alpha).apply(study)
    found = ground_rules(study.rules, study.tethers[0].rules).level
    assert found < 1
    assert found == pytest.approx(level, rel=0, abs=1e-12)


def test_names_that_are_repeated_above_one_row_are_left_out(study):
    edit = cell_changes.type_block(study, "t1", 1, 0, [["depth", "flow"], ["9", "8"]])
    assert edit.label == "Paste 1 rows with their names" or edit.label == "Paste 1 rows"
    after = edit.apply(study).tables[0]
    assert after.rows == 5
    assert (after.columns[0].cells[1], after.columns[1].cells[1]) == (9, 8)
    alone = cell_changes.type_block(study, "t1", 1, 0, [["depth", "flow"]]).apply(study).tables[0]
    assert alone.columns[0].strays == {1: "depth"}


def test_typing_inside_the_table_changes_cells_and_nothing_else(study):
    assert isinstance(cell_changes.type_block(study, "t1", 1, 0, [["9", "8"], ["7", "6"]]), ChangeCells)


@pytest.mark.parametrize(
    ("x", "y", "at", "back"),
    [("c1", "c2", (2.0,), (5.0,)), ("c1", "c1", (2.0,), ()), ("c2", "c2", (), (5.0,)), ("c2", "c1", (), ())],
)
def test_a_tether_like_another_keeps_what_is_typed_along_the_axes_it_shares(study, x, y, at, back):
    like = msgspec.structs.replace(
        study.tethers[0], forecast=ForecastChoice(at=(2.0,), back=(5.0,)), line=LineChoice(slope_0=1.0, errors="HC3"),
        compare=CompareChoice(group="c3", margin=0.5),
    )  # fmt: skip
    study = with_tether(study, like)
    edit, new = changes.tie(study, like, x=x, y=y)
    made = edit.apply(study).tether(new)
    assert (made.x, made.y, made.forecast.at, made.forecast.back) == (x, y, at, back)
    assert (made.line.slope_0, made.line.errors) == (0.0, "HC3")
    assert (made.compare.group, made.compare.margin) == ("c3", None)
    assert not made.chosen
    searched, other = changes.tie(study, like, x=x, y=y, among=3)
    assert searched.apply(study).tether(other).chosen
    assert searched.apply(study).tether(other).among == 3


def test_what_is_changed_after_results_were_seen_is_told_in_its_order(study):
    before, after = RuleChoices(), RuleChoices(alpha=0.01, alternative="greater", decide="spearman")
    edit = with_trail(study, ChangeRules(label="r", before=before, after=after), {"k1"}, "today")
    noted = [one.entry for one in edit.edits[1:]]
    assert len(noted) >= 3
    assert list(edit.apply(study).trail) == noted
    assert edit.inverse().apply(edit.apply(study)).trail == ()
    again = with_trail(edit.apply(study), ChangeRules(label="r", before=after, after=before), {"k1"}, "later")
    trail = again.apply(edit.apply(study)).trail
    assert list(trail[: len(noted)]) == noted
    assert len(trail) > len(noted)


def test_lines_and_points_of_a_figure_are_as_they_come_unless_it_is_said():
    assert (Figure().line, Figure().dot, Figure().minor) == (0, 0, 0)


@pytest.mark.parametrize(
    ("rows", "named"), [([["speed", "drag"]], False), ([["speed", "drag"], ["3", ""]], True),
                        ([["speed", "drag"], ["fast", ""]], False), ([["4", "2"], ["3", "1"]], False),
                        ([["speed", "drag"], ["3", ""], ["4", ""]], False)],
)  # fmt: skip
def test_a_first_row_that_was_typed_names_the_columns_once_a_number_stands_below(rows, named):
    study = Study(tables=(blank_table("t1", 0, 2),), tethers=())
    for at, row in enumerate(rows):
        for column, text in enumerate(row):
            if text:
                study = cell_changes.type_block(study, "t1", at, column, [[text]]).apply(study)
    edit = cell_changes.names_typed(study, "t1")
    assert (edit is not None) is named
    if named:
        table = edit.apply(study).tables[0]
        assert [one.name for one in table.columns] == ["speed", "drag"]
        assert table.columns[0].cells.tolist() == [3]


@pytest.mark.parametrize("before", ["column", "inverse-x", "power-x", "none"])
@pytest.mark.parametrize("kind", ["even", "power-x", "power-fitted", "ranks"])
def test_another_way_to_find_intervals_takes_the_place_of_what_is_in_its_way(study, before, kind):
    weights = {"column": {"weights": "c3"}, "none": {}}.get(before, {"weight_pattern": before})
    line = LineChoice(**weights, new_weight=2.0, errors="HC3")
    study = with_tether(study, msgspec.structs.replace(study.tethers[0], line=line))
    edit = changes.take_width(study, study.tethers[0], kind)
    after = (study if edit is None else edit.apply(study)).tethers[0]
    assert after.forecast.width == ("ranks" if kind == "ranks" else "spread")
    if kind.startswith("power"):
        wanted = LineChoice(weight_pattern=kind)
    elif kind == "even":
        wanted = LineChoice(errors="HC3")
    else:  # ranks need no weights of a fitted power, and leave others as they are
        wanted = LineChoice(new_weight=2.0, errors="HC3") if before == "power-x" else line
    assert after.line == wanted


@pytest.mark.parametrize(("column", "steps", "order"), [
    ("b", -1, "bac"), ("b", -5, "bac"), ("c", -1, "acb"), ("c", -2, "cab"), ("a", 1, "bac"),
    ("a", 2, "bca"), ("a", 9, "bca"),
    ("a", -1, None), ("c", 1, None), ("b", 0, None),
])  # fmt: skip
def test_a_column_moves_as_far_as_the_first_and_the_last_place(column, steps, order):
    columns = tuple(Column(id=name, name=name, kind="number", cells=np.arange(2.0)) for name in "abc")
    study = Study(tables=(Table(id="t1", name="t", columns=columns, row_ids=np.arange(2)),), tethers=())
    edit = column_changes.move_column(study, "t1", column, steps)
    assert (edit is None) == (order is None)
    if edit is not None:
        moved = History(study).after(edit)
        assert "".join(one.id for one in moved.study.table("t1").columns) == order
        assert "".join(one.id for one in moved.back().study.table("t1").columns) == "abc"


@pytest.mark.parametrize(
    ("falling", "label"), [(False, "Sort the rows by b, rising"), (True, "Sort the rows by b, falling")]
)
def test_sorting_says_which_way(falling, label):
    columns = tuple(Column(id=name, name=name, kind="number", cells=np.array([2.0, 3, 1])) for name in "ab")
    study = Study(tables=(Table(id="t1", name="t", columns=columns, row_ids=np.arange(3)),), tethers=())
    edit = row_changes.sort_rows(study, "t1", "b", falling=falling)
    assert edit.label == f"Sort the rows by b, {'falling' if falling else 'rising'}"
    assert edit.apply(study).table("t1").columns[0].cells.tolist() == ([3, 2, 1] if falling else [1, 2, 3])


def test_the_weight_of_an_edit_counts_its_cells(study):
    assert weight(cell_changes.set_cells(study, "t1", {(1, "c1"): 2.0})) == 0
    many = ChangeCells(label="", table="t1", changes=(CellChange(1, "c1", 1.0, 2.0),) * 100_000)
    assert weight(many) > 4_000_000
    out = row_changes.delete_rows(study, "t1", [1])
    assert weight(msgspec.structs.replace(out, cells=((1.0,) * 1_000_000,))) > 4_000_000
