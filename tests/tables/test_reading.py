"""Every kind of file: guessed well, read right, refused in one sentence."""

import io
import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.account.tables import SUFFIXES, export_table
from bright_tether.demo.study import demo_study
from bright_tether.tables import read_plan
from bright_tether.tables.cells import NumberStyle, as_number, guess_number_style
from bright_tether.tables.column import Column, column_of_texts
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.read_plan import ReadPlan, guess_plan, plan_of, read_content, read_file, sheet_names
from bright_tether.tables.table import Table


@pytest.fixture
def table():
    columns = (
        Column(id="c1", name="lamp (lx)", kind="number", cells=np.array([1.5, -0.25, np.nan, 1e-7])),
        Column(id="c2", name="hum (dB)", kind="number", cells=np.array([1.0, 2, 3, 123456.789])),
        Column(id="c3", name="=note", kind="text", cells=np.array(["=1+1", "b", "", "d, e"], dtype=object)),
    )
    return Table(id="t1", name="Lamps", columns=columns, row_ids=np.arange(4))


@pytest.mark.parametrize("suffix", SUFFIXES)
def test_a_table_goes_out_and_comes_back(table, tmp_path, suffix):
    path = tmp_path / f"lamps{suffix}"
    export_table(table, path)
    back = read_file(path)
    assert [c.short for c in back.columns[:2]] == ["lamp", "hum"]
    for before, after in zip(table.columns[:2], back.columns[:2], strict=True):
        assert np.array_equal(before.cells, after.cells, equal_nan=True)
    assert back.columns[2].cells[3] == "d, e"
    assert plan_of(back.source).kind == guess_plan(path.read_bytes(), path.name).kind


def test_workbook_text_is_no_formula(table, tmp_path):
    import openpyxl

    export_table(table, tmp_path / "l.xlsx")
    sheet = openpyxl.load_workbook(tmp_path / "l.xlsx").active
    assert (sheet["C2"].value, sheet["C2"].data_type) == ("=1+1", "s")


def test_another_ending_is_refused(table, tmp_path):
    with pytest.raises(ValueError, match=r"\.ods"):
        export_table(table, tmp_path / "l.doc")


def test_sheet_and_first_row_are_chosen(tmp_path):
    import openpyxl

    book = openpyxl.Workbook()
    book.active.append(["nothing", "here"])
    second = book.create_sheet("readings")
    for row in (
        ["Lamp log", None, None],
        [None, None, None],
        [None, "lux", "hum"],
        [None, 1, 2],
        [None, 3, 5.5],
    ):
        second.append(row)
    book.save(tmp_path / "b.xlsx")
    content = (tmp_path / "b.xlsx").read_bytes()
    assert sheet_names(content, "b.xlsx") == ["Sheet", "readings"]
    read = read_content(content, "b.xlsx", "t1", ReadPlan(kind="sheet", sheet="readings", start=3))
    assert [c.name for c in read.columns] == ["lux", "hum"]
    assert read.columns[1].cells.tolist() == [2, 5.5]


def test_json_records():
    told = [{"lux": 1, "hum": 2.5, "room": "A"}, {"lux": 2, "room": "B"}, {"lux": 3, "hum": 4, "room": "A"}]
    for content in (json.dumps(told), json.dumps({"meta": 1, "data": told})):
        read = read_content(content.encode(), "r.json", "t1", guess_plan(content.encode(), "r.json"))
        assert [c.kind for c in read.columns] == ["number", "number", "category"]
        assert np.isnan(read.columns[1].cells[1])


@pytest.mark.parametrize(
    ("content", "name", "trouble"),
    [(b"{not json", "r.json", Trouble.DAMAGED), (b'{"a": 1}', "r.json", Trouble.NOT_RECORDS),
     (b"[1, 2]", "r.json", Trouble.NOT_RECORDS), (b"[" * 5000, "r.json", Trouble.DAMAGED),
     (b"PK\x03\x04 broken", "b.xlsx", Trouble.DAMAGED), (b"PAR1 broken PAR1", "p.parquet", Trouble.DAMAGED)],
)  # fmt: skip
def test_broken_files_are_refused(content, name, trouble):
    with pytest.raises(UnreadableFile) as found:
        read_content(content, name, "t1", guess_plan(content, name))
    assert found.value.trouble is trouble


@pytest.mark.parametrize(
    ("texts", "separator", "style"),
    [
        (["1.5", "2", "3.25"], ",", NumberStyle(".", "")),
        (["1,5", "2,25"], ";", NumberStyle(",", "")),
        (["1.234,5", "2.000,25"], ";", NumberStyle(",", ".")),
        (["1,234.5", "12"], "\t", NumberStyle(".", ",")),
        (["1,234", "25,000", "310"], "\t", NumberStyle(".", ",")),
        (["1 234,5", "2 000,25"], ";", NumberStyle(",", " ")),
        (["1'234.5", "2'000"], ";", NumberStyle(".", "'")),
        (["12", "13"], ",", NumberStyle(".", "")),
    ],
)
def test_number_style_is_guessed(texts, separator, style):
    assert guess_number_style(texts, separator) == style


def test_thousands_are_read_only_where_they_are_whole():
    style = NumberStyle(",", ".")
    assert as_number("1.234.567,5", style) == 1234567.5
    assert as_number("1.23,5", style) is None
    assert as_number("1\u202f234,5", NumberStyle(",", " ")) == 1234.5
    assert as_number("1e999") is None
    assert as_number("nan") is None


def test_other_missing_codes_and_corrected_kinds():
    content = b"a,b,c\n1,-999,5\n2,4,6\n3,x,7\n4,5,8\n5,6,9\n6,7,10\n"
    plan = ReadPlan(missing=("-999", "X"), kinds={"c": "category"})
    read = read_content(content, "m.csv", "t1", plan)
    assert np.isnan(read.columns[1].cells[[0, 2]]).all()
    assert not read.columns[1].strays
    assert (read.columns[2].kind, read.columns[2].cells[0]) == ("category", "5")


def test_labels_are_told_from_measurements():
    content = b"bottle,site code,x\n1,A1,5\n2,B7,6\n3,C2,8\n"
    assert [c.kind for c in read_content(content, "m.csv", "t1", ReadPlan()).columns] == [
        "label",
        "label",
        "number",
    ]


def test_the_fast_road_reads_the_same_as_the_slow_one():
    draw = np.random.default_rng(4)
    lines = ["x (m),y,site,when"]
    for at in range(40_000):
        value = repr(float(draw.normal())) if at % 9 else "NA"
        lines.append(f"{value},{draw.integers(1000)},{'AB'[at % 2]},2021-03-{at % 28 + 1:02d}")
    content = "\n".join(lines).encode()
    assert len(content) > 1_000_000

    fast = read_plan._long_text_columns(content, ReadPlan())
    slow = read_content(content, "m.csv", "t1", ReadPlan()).columns
    for one, two in zip(fast, slow, strict=True):
        assert (one.name, one.kind) == (two.name, two.kind)
        assert np.array_equal(one.cells, two.cells, equal_nan=one.numeric)


@given(
    st.lists(
        st.tuples(st.floats(allow_nan=False, allow_infinity=False), st.text('ab,"\n;é', max_size=6)),
        min_size=3,
        max_size=12,
    )
)
@settings(max_examples=80, deadline=None)
def test_any_csv_of_numbers_and_texts_reads_back(rows):
    import csv

    file = io.StringIO()
    writer = csv.writer(file)
    writer.writerow(["x", "y", "note"])
    writer.writerows((repr(x), repr(x), f"n{note}") for x, note in rows)
    content = file.getvalue().encode()
    read = read_content(content, "p.csv", "t1", ReadPlan())
    assert read.columns[0].cells.tolist() == [x for x, _ in rows]
    assert [text.replace("\r\n", "\n") for text in read.columns[2].cells] == [
        f"n{note}".strip() for _, note in rows
    ]


@given(st.binary(max_size=300))
@settings(max_examples=150, deadline=None)
def test_no_bytes_at_all_escape_the_one_sentence(content):
    for name in ("a.csv", "a.json", "a.xlsx", "a.parquet"):
        try:
            read_content(content, name, "t1", guess_plan(content, name))
        except UnreadableFile:
            continue


def test_the_demo_has_every_trap():
    study = demo_study()
    assert len(study.tables) == len(study.tethers) == 7
    from bright_tether.tables.slips import likely_slips

    assert [likely_slips(table) for table in study.tables] == [()] * 7


def test_half_a_character_among_the_codes_for_missing_is_kept_as_a_question_mark(csv_file):
    plan = ReadPlan(missing=("\ud800", "-9"))
    table = read_file(csv_file("a,b\n1,-9\n2,3\n"), "t1", plan)
    assert np.isnan(table.columns[1].cells[0])
    assert plan_of(table.source).missing == ("?", "-9")


NAMES = [f"B{at:06d}" for at in range(30_000)]
VERY_MANY = {
    "names": (NAMES, "label"),
    "numbers": ([f"{at}.25" for at in range(30_000)], "number"),
    "one in ten is no number": ([one if at % 10 == 0 else f"{at}.5" for at, one in enumerate(NAMES)], "number"),
    "six in ten are numbers": ([one if at % 5 < 2 else f"{at}.5" for at, one in enumerate(NAMES)], "label"),
    "moments": ([f"2021-{at % 12 + 1:02}-{at % 28 + 1:02} {at // 1260:02}:{at % 60:02}:{at // 60 % 60:02}"
                 for at in range(30_000)], "date"),
    "few of many cells": (NAMES + ["5"] * 150_000, "number"),
}  # fmt: skip


@pytest.mark.parametrize("which", VERY_MANY)
def test_very_many_different_texts_are_of_the_kind_that_four_in_five_are(which):
    texts, kind = VERY_MANY[which]
    made = column_of_texts("c", "what", texts, range(len(texts)))
    assert made.kind == kind
    if kind == "number":
        assert len(made.strays) == sum(text.startswith("B") for text in texts)
    else:
        assert made.cells.tolist() == texts
        assert not made.counted
        assert made.missing == 0
        assert made.counted
