"""Two states of one study, and two studies: what differs in data, choices and results, and nothing else."""

import msgspec
import numpy as np
import pytest

from bright_tether.command import parser
from bright_tether.demo.study import demo_study
from bright_tether.study import changes
from bright_tether.study.choices import CompareChoice, ForecastChoice
from bright_tether.study.column_changes import add_formula
from bright_tether.study.derived import with_tether
from bright_tether.study.package import save_study
from bright_tether.study.two_states import MOST_CELLS, two_states
from bright_tether.tables.computed import expression
from bright_tether.words.grids.two_states import difference_grids, difference_sentence


@pytest.fixture
def demo():
    return demo_study()


def told(before, after):
    """The rows of the three tables."""
    data, choices, results = difference_grids(two_states(before, after))
    return data.rows, choices.rows, results.rows


def with_column(study, table, at, **more):
    """The study with a column of a table otherwise."""
    held = study.table(table)
    columns = list(held.columns)
    columns[at] = msgspec.structs.replace(columns[at], **more)
    tables = tuple(
        msgspec.structs.replace(one, columns=tuple(columns)) if one.id == table else one
        for one in study.tables
    )
    return msgspec.structs.replace(study, tables=tables)


def test_nothing_differs_from_itself_nor_from_what_was_saved(demo, tmp_path):
    from bright_tether.study.package import open_study

    save_study(demo, tmp_path / "a.tether")
    for other in (demo, open_study(tmp_path / "a.tether")):
        states = two_states(other, demo)
        assert difference_sentence(states) == "Nothing differs in the data or in what results rest on."
        data, choices, results = told(other, demo)
        assert (data, choices) == ((), ())
        assert {row[1] for row in results} == {"as before"}
        assert len(results) == len(demo.tethers)


def test_a_changed_cell_is_told_with_its_case_and_what_comes_of_it(demo):
    cells = demo.table("t2").columns[1].cells.copy()
    cells[4] = 99.5
    later = with_column(demo, "t2", 1, cells=cells)
    data, choices, results = told(demo, later)
    assert data == (("Stage and discharge", "discharge (m3/s)", "row 5", "2.32", "99.5"),)
    assert choices == ()
    assert [row[:4] for row in results[1:3]] == [
        ("stage ⟶ discharge", "before", "40", "+0.978"), ("", "now", "40", "+0.473"),
    ]  # fmt: skip
    assert difference_sentence(two_states(demo, later)) == "What differs: 1 cell."


def test_choices_are_told_in_the_words_of_the_screen(demo):
    tether = demo.tethers[0]
    aside = tether.asides[0].row
    later = changes.take_back(demo, tether, {aside}).apply(demo)
    line = msgspec.structs.replace(tether.line, errors="HC3", weights=tether.x, slope_0=1.5)
    later = with_tether(later, msgspec.structs.replace(later.tethers[0], line=line, mutual=True))
    later = msgspec.structs.replace(later, rules=msgspec.structs.replace(later.rules, alpha=0.01))
    _, choices, _ = told(demo, later)
    name = "turbidity ⟶ sediment"
    assert set(choices) == {
        ("the study", "α", "the default", "0.01"),
        (name, "errors", "classical", "robust (HC3)"),
        (name, "weights", "—", "turbidity (NTU)"),
        (name, "slope asked for", "0", "1.5"),
        (name, "neither column explains the other", "no", "yes"),
        (name, f"row {aside + 1}", "set aside: “probe fouled”", "in play"),
    }


def test_rules_and_lists_are_told_as_they_are_read(demo):
    table, tether = demo.table("t1"), demo.tethers[0]
    made = expression("log10(turbidity)", table)
    with_rule = add_formula(demo, "t1", "fine", made).apply(demo)
    at = next(at for at, one in enumerate(with_rule.table("t1").columns) if one.name == "fine")
    fixed, other = (
        with_column(with_rule, "t1", at, formula=rule) for rule in (None, expression("stage * 2", table))
    )
    for before, after, was, now in (
        (with_rule, fixed, "worked out: log10(turbidity)", "measured"),
        (fixed, with_rule, "measured", "worked out: log10(turbidity)"),
        (with_rule, other, "worked out: log10(turbidity)", "worked out: stage * 2"),
    ):
        data = told(before, after)[0]
        assert data[0][1:3] == ("fine", "how it comes about")
        assert data[0][3:] == (was, now)
    stated = ForecastChoice(at=(50.0, 400.5), cases=((50.0, 200.0), (60.0, 210.5)))
    compared = CompareChoice(other="k2")
    later = with_tether(demo, msgspec.structs.replace(tether, forecast=stated, compare=compared))
    choices = {row[1]: row[2:] for row in told(demo, later)[1]}
    assert {after for _, after in choices.values()} >= {
        "50, 400.5", "(50, 200), (60, 210.5)", "stage ⟶ discharge"}  # fmt: skip
    gone = with_tether(later, msgspec.structs.replace(later.tethers[0], compare=CompareChoice(other="k99")))
    assert "a tether that is gone" in [row[3] for row in told(later, gone)[1]]


def test_a_text_where_a_number_was_is_told(demo):
    cells = demo.table("t2").columns[1].cells.copy()
    row = int(demo.table("t2").row_ids[5])
    cells[5] = np.nan
    later = with_column(demo, "t2", 1, cells=cells, strays={row: "about 3"})
    data, _, _ = told(demo, later)
    assert [one[4] for one in data] == ["about 3"]
    otherwise = with_column(later, "t2", 1, strays={row: "about 4"})
    assert [one[3:] for one in told(later, otherwise)[0]] == [("about 3", "about 4")]
    assert told(later, later)[0] == ()


def test_rows_columns_tables_and_tethers_that_came_and_went(demo):
    table = demo.table("t5")

    def moved(column):
        """Without its first cell, and with another at the end."""
        last = [7.5] if column.cells.dtype.kind == "f" else column.cells[:1]
        return msgspec.structs.replace(column, cells=np.append(column.cells[1:], last))

    longer = msgspec.structs.replace(
        table, columns=tuple(map(moved, table.columns)), row_ids=np.append(table.row_ids[1:], 900)
    )
    later = msgspec.structs.replace(
        demo, tables=tuple(longer if one.id == "t5" else one for one in demo.tables)
    )
    renamed = with_column(later, "t3", 0, name="stretch")
    gone = msgspec.structs.replace(
        renamed, tables=tuple(one for one in renamed.tables if one.id != "t7"),
        tethers=tuple(one for one in renamed.tethers if one.table != "t7"),
    )  # fmt: skip
    data, choices, results = told(demo, gone)
    kinds = [row[1] for row in data]
    assert kinds.count("table gone") == 1
    assert kinds.count("column renamed") == 1
    assert kinds.count("row new") == kinds.count("row gone") == 1
    assert [row[1] for row in choices] == ["tether gone"]
    assert [row[1] for row in results if row[1] == "gone"] == ["gone"]
    back = [row[1] for row in told(gone, demo)[0]]
    assert back.count("table new") == 1


def test_many_cells_are_counted_and_few_listed():
    from bright_tether.study.study import Study
    from bright_tether.study.tether import Tether
    from bright_tether.tables.column import Column
    from bright_tether.tables.table import Table

    def study(cells):
        columns = tuple(Column(id=f"c{at}", name=name, kind="number", cells=one)
                        for at, (name, one) in enumerate((("x", np.arange(1000.0)), ("y", cells))))  # fmt: skip
        table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(1000))
        return Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="c0", y="c1"),))

    before, after = (
        study(np.arange(1000.0)),
        study(np.where(np.arange(1000) % 2, np.nan, -1.0 * np.arange(1000))),
    )
    states = two_states(before, after)
    (change,) = states.tables[0].columns
    assert (change.many, len(change.cells)) == (999, MOST_CELLS)  # row 1 is 0 in both
    assert any("799 more cells" in row[2] for row in told(before, after)[0])
    # one blank and another blank are the same
    assert two_states(after, study(after.table("t1").columns[1].cells.copy())).tables[0].same


def test_the_command_prints_them_and_refuses_what_is_no_study(demo, tmp_path, capsys):
    save_study(demo, tmp_path / "a.tether")
    save_study(msgspec.structs.replace(demo, title="Other"), tmp_path / "b.tether")
    (tmp_path / "c.tether").write_bytes(b"no")
    call = ["differences", str(tmp_path / "a.tether"), str(tmp_path / "b.tether")]
    assert parser.run(call, lambda files: 9) == 0
    out = capsys.readouterr().out.splitlines()
    assert out[0] == "What differs: 1 choice."
    assert "the study\ttitle of the study\tTarrow sediment survey\tOther" in out
    assert parser.run(["differences", "demo", call[2]], lambda files: 9) == 0
    assert "Other" in capsys.readouterr().out
    assert parser.run([*call[:2], str(tmp_path / "c.tether")], lambda files: 9) == 2
    assert capsys.readouterr().err.count("\n") == 1


def test_tethers_that_are_new_and_those_that_are_gone_are_counted_together(demo):
    before = msgspec.structs.replace(demo, tethers=demo.tethers[1:])
    later = msgspec.structs.replace(demo, tethers=demo.tethers[:-1])
    assert difference_sentence(two_states(before, later)) == "What differs: 2 tethers."


def test_tables_that_are_new_and_those_that_are_gone_are_counted_together(demo):
    kept = [msgspec.structs.replace(demo, tables=demo.tables[:1], tethers=()),
            msgspec.structs.replace(demo, tables=demo.tables[1:3], tethers=())]  # fmt: skip
    assert difference_sentence(two_states(*kept)).startswith("What differs: 3 tables")
