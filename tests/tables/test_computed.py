"""Computed columns: right, live, and safe whatever is typed."""

import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.study import cell_changes, changes, column_changes
from bright_tether.study.in_play import InPlay
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column, column_of_texts
from bright_tether.tables.computed import BadFormula, evaluated, expression
from bright_tether.tables.filters import Condition
from bright_tether.tables.formula import Draw
from bright_tether.tables.slips import SlipKind, likely_slips
from bright_tether.tables.table import Table
from bright_tether.words.slips import condition_sentence, filter_sentence, slip_sentence


def table_of(**columns):
    made = []
    for at, (name, cells) in enumerate(columns.items(), 1):
        number = not isinstance(cells[0], str)
        values = np.array(cells, float) if number else np.array(cells, dtype=object)
        kind = "number" if number else "date" if "-" in cells[0] else "category"
        made.append(Column(id=f"c{at}", name=name.replace("_", " "), kind=kind, cells=values))
    return Table(id="t1", name="T", columns=tuple(made), row_ids=np.arange(len(cells)))


TABLE = table_of(x=[1, 10, 100, 0], y_two=[2, 4, 4, 9])


IDS = np.arange(4)


@pytest.mark.parametrize(
    ("text", "cells"),
    [
        ("log10(x)", [0, 1, 2, np.nan]),
        ("x**2 - 1", [0, 99, 9999, -1]),
        ("'y two' / x", [2, 0.4, 0.04, np.nan]),
        ('rank("y two")', [1, 2.5, 2.5, 4]),
        ("lag(x)", [np.nan, 1, 10, 100]),
        ("change(x)", [np.nan, 9, 90, -100]),
        ("total(x)", [1, 11, 111, 111]),
        ("−x · 2", [-2, -20, -200, 0]),
        ("sqrt(abs(-x))", [1, np.sqrt(10), 10, 0]),
    ],
)
def test_expressions(text, cells):
    made = expression(text, TABLE)
    held = {column.id: column for column in TABLE.columns}
    found = evaluated(made, {i: held[i] for i in made.columns.values()}, IDS)
    assert np.allclose(found, cells, equal_nan=True)


def test_z_has_mean_0_and_sd_1():
    made = expression("z(x)", TABLE)
    found = evaluated(made, {"c1": TABLE.columns[0]}, IDS)
    assert found.mean() == pytest.approx(0, abs=1e-15)
    assert found.std(ddof=1) == pytest.approx(1)


REFUSED = (
    "", "x +", "__import__('os')", "x.__class__", "(lambda: x)()", "[x for x in y]", "open('a')", "f'{x}'",
    "x[0]", "x if x else x", "x := 2", "log(x, 2)", "exp(*x)", "x and x", "x == x", "nope + 1", "1 + 2",
    "(" * 200 + "x" + ")" * 200, "x" * 500, "-" * 390 + "x", "x @ x", "x // 2", "print(x)",
)  # fmt: skip


@pytest.mark.parametrize("text", REFUSED)
def test_nothing_but_arithmetic_is_understood(text):
    with pytest.raises(BadFormula):
        expression(text, TABLE)


@given(st.text(max_size=60) | st.text("x+-*/()'\"logsqrt10.e ", max_size=40))
@settings(max_examples=400, deadline=None)
def test_whatever_is_typed_is_a_column_or_one_sentence(text):
    try:
        made = expression(text, TABLE)
    except BadFormula:
        return
    assert evaluated(made, {"c1": TABLE.columns[0], "c2": TABLE.columns[1]}, IDS).shape == (4,)


def test_computed_columns_follow_and_survive_renaming():
    study = Study(tables=(TABLE,))
    study = column_changes.add_formula(study, "t1", "l", expression("log10(x)", TABLE)).apply(study)
    study = column_changes.add_formula(study, "t1", "d", expression("l * 2", study.tables[0])).apply(study)
    study = changes.rename_column(study, "t1", "c1", "other").apply(study)
    study = cell_changes.set_cells(study, "t1", {(3, "c1"): 1000.0}).apply(study)
    assert study.tables[0].columns[3].cells.tolist() == [0, 2, 4, 6]
    before = study.tables[0].columns[2].cells
    study = cell_changes.set_cells(study, "t1", {(0, "c2"): 7.0}).apply(study)
    assert study.tables[0].columns[2].cells is before
    gone = column_changes.delete_column(study, "t1", "c1").apply(study)
    assert np.isnan(gone.tables[0].named("l").cells).all()


def test_a_computed_cell_cannot_be_typed_over():
    study = Study(tables=(TABLE,))
    study = column_changes.add_formula(study, "t1", "l", expression("log10(x)", TABLE)).apply(study)
    assert cell_changes.set_cells(study, "t1", {(0, "c3"): 9.0}) is None


DRAWS = {
    "uniform": lambda v: v.min() >= 2 and v.max() < 5,
    "normal": lambda v: abs(v.mean() - 2) < 0.5 and abs(v.std() - 5) < 0.5,
    "whole": lambda v: set(v.tolist()) == {2, 3, 4, 5},
    "evenly": lambda v: np.allclose(np.sort(v), np.linspace(2, 5, 1000)) and (np.diff(v) < 0).any(),
    "steps": lambda v: np.array_equal(v, 2 + 5 * np.arange(1000)),
    "category": lambda v: {"a", "b"} == set(v.tolist()) and abs((v == "a").mean() - 0.5) < 0.1,
    "running": lambda v: abs(np.diff(v).mean() - 2) < 0.5,
    "line": lambda v: abs(np.polyfit(np.arange(1000), v, 1)[0] - 5) < 0.01,
}


@pytest.mark.parametrize("kind", DRAWS)
def test_random_columns_repeat_by_their_seed(kind):
    x = Column(id="c1", name="x", kind="number", cells=np.arange(1000.0))
    draw = Draw(kind=kind, seed=7, a=2, b=5, c=1, x="c1" if kind == "line" else None, names=("a", "b"))
    first = evaluated(draw, {"c1": x} if kind == "line" else {}, np.arange(1000))
    again = evaluated(draw, {"c1": x} if kind == "line" else {}, np.arange(1000))
    assert np.array_equal(first, again)
    assert DRAWS[kind](first)


ROWS = table_of(
    station=["Weir", "Ford", "Weir", "Ford"], when=["2021-01-05", "2021-06-01", "2022-01-01", "2022-03-04"],
    stage=[0.3, 0.5, np.nan, 0.9],
)  # fmt: skip


def rows_kept(*conditions):
    """As a tether has it: conditions on columns that are gone are passed over."""
    return InPlay(Study(tables=(ROWS,)), Tether(id="k1", table="t1", conditions=conditions)).kept


STAGES = Condition(column="c3", relation="between", low=0.4, high=1.0)
BETWEEN = Condition(column="c2", relation="between", texts=("2021-06", "2022-01"))


@pytest.mark.parametrize(
    ("condition", "kept", "sentence"),
    [
        (Condition(column="c1", relation="is", texts=("Weir",)), [1, 0, 1, 0], "station is Weir"),
        (Condition(column="c1", relation="is not", texts=("Weir",)), [0, 1, 0, 1], "station is not Weir"),
        (Condition(column="c1", relation="has", texts=("or",)), [0, 1, 0, 1], "station has “or” in it"),
        (Condition(column="c2", relation="from", texts=("2022",)), [0, 0, 1, 1], "when is 2022 or later"),
        (Condition(column="c2", relation="until", texts=("2021",)), [1, 1, 0, 0], "when is 2021 or earlier"),
        (BETWEEN, [0, 1, 1, 0], "when is from 2021-06 to 2022-01"),
        (STAGES, [0, 1, 0, 1], "stage is from 0.4 to 1"),
        (Condition(column="c3", relation="from", low=0.5), [0, 1, 0, 1], "stage is at least 0.5"),
        (Condition(column="c3", relation="is not", texts=("0.3",)), [0, 1, 0, 1], "stage is not 0.3"),
        (Condition(column="gone", relation="has", texts=("x",)), None, "a column that is gone has “x” in it"),
    ],
)  # fmt: skip
def test_filters_keep_what_they_say(condition, kept, sentence):
    found = rows_kept(condition)
    assert (None if found is None else found.astype(int).tolist()) == kept
    assert condition_sentence(condition, ROWS) == sentence


def test_conditions_are_joined():
    both = (
        Condition(column="c1", relation="is", texts=("Ford",)),
        Condition(column="c3", relation="from", low=0.6),
    )
    assert rows_kept(*both).tolist() == [False, False, False, True]
    assert filter_sentence(both, ROWS) == "only rows where station is Ford and stage is at least 0.6"


def test_every_planted_slip_is_found_and_mended():
    x = [1.5, 2.5, 3.1, 41, 5.0, 6.1, 6.9, 8.1, 8.8, 9.9, 11.2, 11.2]
    y = [30.5, 31, -999, 33.5, 34, 35.2, np.nan, 37.5, 38, 39.5, 40, 40]
    table = table_of(x=x, y=y)
    marked = Column(id="c3", name="z", kind="number", cells=np.array([*range(10), np.nan, np.nan], float),
                    strays={10: "4,5", 11: "about 3"}, low=0.5)  # fmt: skip
    import msgspec

    table = msgspec.structs.replace(table, columns=(*table.columns, marked))
    study, kinds = Study(tables=(table,)), set()
    for _ in range(8):
        slips = likely_slips(study.tables[0])
        if not slips:
            break
        kinds.add(slips[0].kind)
        assert slip_sentence(slips[0], study.tables[0])
        study = cell_changes.mend_slip(study, "t1", slips[0]).apply(study)
    assert not likely_slips(study.tables[0])
    assert kinds == {
        SlipKind.TENFOLD,
        SlipKind.MISSING_CODE,
        SlipKind.DECIMAL_MARK,
        SlipKind.TEXT,
        SlipKind.OUT_OF_RANGE,
    }
    columns = study.tables[0].columns
    assert columns[0].cells[3] == 4.1
    assert np.isnan(columns[1].cells[2])
    assert columns[2].cells[10] == 4.5


def test_repeated_rows_are_found_and_a_left_slip_stays_left():
    table = table_of(x=[1, 2, 2, 3], y=[5, 6, 6, 6])
    (slip,) = likely_slips(table)
    assert (slip.kind, slip.rows) == (SlipKind.REPEATED, (2,))
    study = Study(tables=(table,))
    assert cell_changes.mend_slip(study, "t1", slip).apply(study).tables[0].rows == 3
    left = cell_changes.dismiss_slip(study, "t1", slip).apply(study)
    assert likely_slips(left.tables[0]) == ()


def dated(texts, **numbers):
    """A table with a date column “when” and these number columns."""
    columns = [column_of_texts("c0", "when", texts, range(len(texts)))]
    columns += [
        column_of_texts(f"c{at}", name, [str(value) for value in values], range(len(texts)))
        for at, (name, values) in enumerate(numbers.items(), 1)
    ]
    return Table(id="t1", name="Logger", columns=tuple(columns), row_ids=np.arange(len(texts)))


def worked_out(text, table):
    """The cells that an expression gives over a table."""
    formula = expression(text, table)
    return evaluated(formula, {i: table.column(i) for i in formula.columns.values()}, table.row_ids)


def test_parts_of_a_date():
    table = dated(["2021-03-04 06:30", "2021-12-31", "", "2020-02-29"], level=[1, 2, 3, 4])
    assert worked_out("month(when)", table).tolist()[:2] == [3, 12]
    assert worked_out("hour(when) + level", table)[0] == 7.5
    assert worked_out("weekday(when)", table)[0] == 4  # a Thursday
    assert worked_out('days_since(when, "2020-02-28")', table)[3] == 1
    assert worked_out("day_of_year(when)", table)[1] == 365
    assert np.isnan(worked_out("year(when)", table)[2])


def test_rows_before_and_the_clock_before():
    hours = [
        "2021-03-04 00:00",
        "2021-03-04 01:02",
        "2021-03-04 03:00",
        "2021-03-04 02:00",
        "2021-03-04 04:00",
    ]
    table = dated(hours, level=[10, 11, 13, 12, 14])
    assert worked_out("lag(level, 2)", table)[2:].tolist() == [10, 11, 13]
    assert worked_out("change(level, 2)", table)[2] == 3
    exact = worked_out('earlier(level, when, "1 hour")', table)
    near = worked_out('earlier(level, when, "1 hour", "5 minutes")', table)
    assert np.isnan(exact[:2]).all()  # 01:02 has none at 00:02, and a gap gives nothing
    assert exact[2:].tolist()[0] == 12  # in time, not in the table: 03:00 follows 02:00
    assert np.isnan(exact[3])
    assert near[[1, 2, 3, 4]].tolist() == [10, 12, 11, 13]
    twice = dated(["2021-03-04", "2021-03-04", "2021-03-05"], level=[1, 2, 3])
    assert np.isnan(worked_out('earlier(level, when, "1 day")', twice)).all()  # which of two cannot be told


@pytest.mark.parametrize(
    ("text", "said"),
    [("when + 1", "is a date"), ("month(level)", "holds no dates"), ("lag(level, 0)", "whole number"),
     ('earlier(level, when, "soon")', "1 hour"), ('days_since(when, "x")', "2021-03-04"),
     ("earlier(level, when)", "earlier(column, date column"), ("log(level, 2)", "log(column)"),
     ("cube(level)", "not known here")],
)  # fmt: skip
def test_what_dates_cannot_do_is_said(text, said):
    with pytest.raises(BadFormula, match=re.escape(said)):
        expression(text, dated(["2021-03-04", "2021-03-05"], level=[1, 2]))


def test_the_tail_of_many_rows_is_no_slip_and_a_point_that_slipped_still_is():
    draw = np.random.default_rng(3)
    x, y = (draw.normal(50, 10, 200_000).round(3) for _ in range(2))
    assert min(x.min(), y.min()) < 7
    assert not [one for one in likely_slips(table_of(x=x, y=y)) if one.kind is SlipKind.TENFOLD]
    x[1000:1007] = 51.2
    x[1003] = 512
    (slip,) = (one for one in likely_slips(table_of(x=x, y=y)) if one.kind is SlipKind.TENFOLD)
    assert (slip.column, slip.rows, slip.cells) == ("c1", (1003,), (51.2,))
