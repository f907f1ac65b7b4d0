"""Tables that leave: as numbers any program can read, or as words, in every form."""

import csv
import io
import pickle

import pytest
from docx import Document
from odfdo import Document as OdfDocument
from openpyxl import load_workbook

from bright_tether.account.outward import Number, outward
from bright_tether.account.outward_files import SUFFIXES, write_tables
from bright_tether.account.outward_text import TEXTS
from bright_tether.account.pieces import AllFindings, blocks_of
from bright_tether.account.press import NO_PRESS
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from bright_tether.study.codec import encoded
from bright_tether.study.pins import Figures, Grid, Pin
from bright_tether.words import digits as d
from bright_tether.words.grids.line import errors_grid
from bright_tether.words.grids.strength import coefficients_grid
from bright_tether.words.shown import Shown


@pytest.fixture(scope="module")
def findings():
    study = demo_study()
    return Findings(study, study.tethers[0])


@pytest.fixture
def odd():
    """Numbers as they are seldom seen, texts that would do harm, and cells without a value."""
    rows = (
        ("=cmd()", d.fixed(-1234567.25, 2), d.between((-0.5, 1.25), 2), d.p_value(1e-7), d.NONE),
        ("a|b & c_d", d.figure(1.5e-9, 3), d.between(None, 2), d.p_value(0.034), "“x” ≤ 3"),
        ("−", d.coefficient(0.99999, 3), d.between((1e13, 2e13), 1), d.p_value(None), "100 %"),
    )  # fmt: skip
    return Grid(title="Odd {ones}", heads=("name", "value", "interval", "p", "rest"), rows=rows, strong=1)


def test_numbers_keep_the_digits_shown_or_every_one(odd):
    shown, whole = outward(odd, "shown"), outward(odd, "all")
    assert shown.heads == whole.heads == ("name", "value", "interval, low", "interval, high", "p", "rest")
    texts = [[one.text if isinstance(one, Number) else one for one in row] for row in shown.rows]
    assert texts == [
        ["=cmd()", "-1234567.25", "-0.50", "1.25", "1e-07", ""],
        ["a|b & c_d", "1.50e-9", "", "", "0.034", "“x” ≤ 3"],
        ["−", "0.99999", "1.00e13", "2.00e13", "", "100 %"],
    ]
    assert [row[1].value for row in whole.rows] == [-1234567.25, 1.5e-9, 0.99999]
    assert whole.rows[2][1].text == "0.99999"
    assert whole.rows[0][4] == Number(1e-7, "1e-07")


def test_words_leave_as_they_read(odd):
    assert outward(odd, "words").rows == odd.rows
    assert outward(odd, "words").heads == odd.heads


def test_figures_have_their_intervals_in_columns_of_their_own():
    grid = Figures(title="Figures", rows=(("slope", d.fixed(1.25, 2), d.between((1.0, 1.5), 2)),
                                          ("s", d.fixed(3.0, 1), "mg/L"), ("r", d.NONE, d.p_value(0.2))))  # fmt: skip
    made = outward(grid, "shown")
    assert made.heads == ("figure", "value", "low", "high", "beside")
    assert made.rows[0] == ("slope", Number(1.25, "1.25"), Number(1.0, "1.00"), Number(1.5, "1.50"), "")
    assert made.rows[1][2:] == ("", "", "mg/L")
    assert made.rows[2][1:] == ("", "", "", "p = 0.200")


def test_every_test_of_the_coefficients_is_a_number(findings):
    made = outward(coefficients_grid(findings), "all")
    assert made.heads[4:] == ("t or z", "df", "p", "critical value")
    r, told = findings.pearson, [one.value for one in made.rows[0][1:]]
    assert told == [r.r, *r.ci, r.t, r.df, r.p, r.critical]
    assert made.rows[2][5] == ""  # z has no df


def test_text_forms_hold_the_same_cells_and_nothing_runs(odd):
    made = outward(odd, "shown")
    for name, mark in (("tabs", "\t"), ("CSV", ",")):
        rows = list(csv.reader(io.StringIO(TEXTS[name][1]([made])), delimiter=mark))
        assert rows[1][:2] == ["'=cmd()", "-1234567.25"]
        assert float(rows[2][1]) == 1.5e-9
    html = TEXTS["HTML"][1]([made])
    assert '<td style="text-align:right">-1234567.25</td>' in html
    assert "a|b &amp; c_d" in html
    latex = TEXTS["LaTeX"][1]([made])
    assert r"\begin{tabular}{lrrrrl}" in latex
    assert r"=cmd() & $-1234567.25$ & $-0.50$ & 1.25 & 1e-07 &  \\" in latex
    assert r"a$|$b \& c\_d" in latex
    assert r"\caption{Odd \{ones\}}" in latex
    markdown = TEXTS["Markdown"][1]([made]).splitlines()
    assert markdown[1] == "| --- | ---: | ---: | ---: | ---: | --- |"
    assert markdown[3].startswith(r"| a\|b \& c\_d | 1.50e-9 |")


def test_a_workbook_holds_numbers_and_a_document_reads_like_the_table(findings, odd, tmp_path):
    made = [outward(errors_grid(findings), "shown"), outward(odd, "shown")]
    write_tables(made, tmp_path / "t.xlsx")
    book = load_workbook(tmp_path / "t.xlsx")
    assert book.sheetnames == ["Errors side by side", "Odd {ones}"]
    cell = book["Errors side by side"]["B2"]
    assert (cell.value, cell.number_format) == (findings.coefficients_by("classical").se_slope, "0.0000")
    assert book["Odd {ones}"]["A2"].value == "=cmd()"
    assert book["Odd {ones}"]["A2"].data_type == "s"
    assert book["Odd {ones}"]["B3"].font.bold
    write_tables(made, tmp_path / "t.docx")
    tables = Document(tmp_path / "t.docx").tables
    assert [one.text for one in tables[1].rows[1].cells] == [
        "=cmd()",
        "-1234567.25",
        "-0.50",
        "1.25",
        "1e-07",
        "",
    ]
    assert "w:tblHeader" in tables[0].rows[0]._tr.xml
    assert "w:cantSplit" in tables[0].rows[3]._tr.xml
    write_tables(made, tmp_path / "t.odt")
    assert "1.50e-9" in OdfDocument(tmp_path / "t.odt").body.get_tables()[1].serialize()
    for suffix in SUFFIXES:
        write_tables(made, tmp_path / f"one{suffix}")
        assert (tmp_path / f"one{suffix}").stat().st_size > 100
    with pytest.raises(ValueError, match=r"\.tsv, \.csv"):
        write_tables(made, tmp_path / "t.doc")


def test_what_is_shown_goes_through_files_and_copies_as_words():
    one = d.between((1.0, 2.5), 1)
    assert encoded([one]) == '["1.0 … 2.5"]'.encode()
    again = pickle.loads(pickle.dumps(Shown("3 ± 1", 3.0, 1.0, names=("", ", error"))))
    assert (again, again.numbers, again.names) == ("3 ± 1", (3.0, 1.0), ("", ", error"))


def test_every_table_of_every_step_leaves_with_as_many_cells_as_heads():
    """Intervals, counts of two kinds and workings among them."""
    study = demo_study()
    everything, seen = AllFindings(study), 0
    for tether in study.tethers[:4]:
        for step in STEPS:
            for view in [one.id for one in step.views_of(everything.of(tether.id))]:
                if view == "widths" and tether.id != "k1":  # the same columns, worked out at length
                    continue
                for part in ("figures", "table"):
                    pin = Pin(id="p1", part=part, tether=tether.id, step=step.id, view=view)
                    for block in blocks_of(pin, everything.of(tether.id), NO_PRESS):
                        if not isinstance(block, Figures | Grid):
                            continue
                        seen += 1
                        for content in ("words", "shown", "all"):
                            out = outward(block, content)
                            assert {len(row) for row in out.rows} <= {len(out.heads)}, (
                                step.id,
                                view,
                                part,
                                content,
                            )
    assert seen > 60


def test_a_figure_that_is_an_interval_has_its_ends_and_no_value():
    pair = (d.between((1.25, 2.5), 2), d.half(0.625, 3))
    (row,) = outward(Figures(title="F", rows=(("mean, 95 %", *pair),)), "all").rows
    assert row == ("mean, 95 %", "", Number(1.25, "1.25"), Number(2.5, "2.5"), "± 0.625")
