"""What a typed cell means."""

import numpy as np
import pytest

from bright_tether.tables.cells import as_number, is_missing, number_cell
from bright_tether.tables.column import blank_column, column_of_texts, shown
from bright_tether.tables.decimals import usual_decimals


@pytest.mark.parametrize(
    ("text", "number"),
    [("1", 1), (" 2.5 ", 2.5), ("2,5", 2.5), ("−3", -3), ("+.5", 0.5), (",5", 0.5), ("1e-3", 1e-3),
     ("1E−3", 1e-3), ("5.", 5), ("", None), ("1 2", None), ("12%", None), ("0x10", None),
     ("1_000", None), ("inf", None),
     ("1e400", None), ("--1", None), ("1,2,3", None), ("abc", None)],
)  # fmt: skip
def test_numbers(text, number):
    assert as_number(text) == number


@pytest.mark.parametrize(
    "text", ["", " ", "NA", "n/a", "NaN", "null", ".", "-", "–", "—", "?", "None", "missing"]
)
def test_words_for_missing(text):
    assert is_missing(text)
    assert number_cell(text) is None


def test_other_texts_are_kept_as_they_are():
    assert number_cell(" about 3 ") == "about 3"
    assert not is_missing("0")


@pytest.mark.parametrize(
    ("cell", "text"), [(None, ""), ("a", "a"), (3.0, "3"), (-0.5, "-0.5"), (1e20, "1e+20")]
)
def test_cells_shown(cell, text):
    assert shown(cell) == text


def test_usual_decimals_line_the_points_up():
    assert usual_decimals(column_of_texts("c", "x", ["1", "2.50", "3.125"], range(3))) == 3
    with np.errstate(over="raise"):
        assert usual_decimals(column_of_texts("c", "x", ["1e308", "2.50"], range(2))) is None
    assert usual_decimals(column_of_texts("c", "x", [repr(1 / 3)], range(1))) is None
    assert usual_decimals(blank_column("c", "x", "number", 3)) == 0


@pytest.mark.parametrize(
    ("texts", "kind"),
    [(["1", "2", "x", "4", "5"], "number"), (["1", "x", "y", "4"], "label"),
     (["a", "b", "a", "b"], "category"), (["2021-01-01", "2021-01-02"], "date"), (["", ""], "text"),
     (["a long story that goes on", "b"], "text")],
)  # fmt: skip
def test_kinds(texts, kind):
    assert column_of_texts("c", "x", texts, range(len(texts))).kind == kind
