"""Separated text: what is guessed, what is kept, what is refused."""

import numpy as np
import pytest

from bright_tether.tables.delimited import Trouble, UnreadableFile, guess_separator
from bright_tether.tables.read_plan import guess_plan, read_content


def read(content, name="pairs.csv"):
    return read_content(content, name, "t1", guess_plan(content, name))


def table_of(text):
    return read(text.encode())


@pytest.mark.parametrize("separator", [",", ";", "\t", "|"])
def test_separator_and_header_are_guessed(separator):
    text = "depth (m),flow (m3/s)\n1.5,2\n2.5,3\n".replace(",", separator)
    table = table_of(text)
    assert guess_separator(text) == separator
    assert [c.name for c in table.columns] == ["depth (m)", "flow (m3/s)"]
    assert [c.unit for c in table.columns] == ["m", "m3/s"]
    assert [c.short for c in table.columns] == ["depth", "flow"]
    assert table.columns[0].cells.tolist() == [1.5, 2.5]


def test_decimal_comma_with_semicolons():
    table = table_of("a;b\n1,5;2,25\n2,5;3\n")
    assert table.columns[1].cells.tolist() == [2.25, 3.0]


def test_no_header_names_columns_by_place():
    table = table_of("1,2\n3,4\n")
    assert [c.name for c in table.columns] == ["column 1", "column 2"]
    assert table.rows == 2


def test_kinds_and_strays_are_told_apart():
    table = table_of("date,site,x,y\n2021-01-02,A,1,NA\n2021-01-03,B,two,5\n2021-01-04,A,3,6\n"
                     "2021-01-05,B,4,\n2021-01-06,B,5,7\n2021-01-07,A,6,8\n")  # fmt: skip
    kinds = [column.kind for column in table.columns]
    assert kinds == ["date", "category", "number", "number"]
    x, y = table.columns[2:]
    assert x.strays == {1: "two"}
    assert np.isnan(x.cells[1])
    assert np.isnan(y.cells[0])
    assert x.cell(1, 1) == "two"
    assert y.cell(0, 0) is None


def test_repeated_and_blank_headers_become_distinct():
    table = table_of("x,x,\n1,2,3\n4,5,6\n")
    assert [c.name for c in table.columns] == ["x", "x 2", "column 3"]


def test_utf16_and_marked_utf8_are_read():
    text = "tiefe °C,y\n1,2\n3,4\n"
    for encoding in ("utf-16", "utf-8-sig"):
        assert read(text.encode(encoding)).columns[0].name == "tiefe °C"


@pytest.mark.parametrize(
    ("content", "trouble", "detail"),
    [
        (b"", Trouble.EMPTY, {}),
        (b" \n\n", Trouble.EMPTY, {}),
        (b"x\n1\n2\n", Trouble.ONE_COLUMN, {}),
        (b"x,y\n1,2\n1,2,3\n", Trouble.RAGGED, {"line": 3, "found": 3, "wanted": 2}),
        (b"x,y,z\n1,2,3\n1,2\n", Trouble.RAGGED, {"line": 3, "found": 2, "wanted": 3}),
        (b"x,y\n1,\xff\n", Trouble.NOT_TEXT, {"line": 2}),
        (b"x,y\n1,\x00\n", Trouble.NOT_TEXT, {"line": 2}),
        (b"x,y\n", Trouble.NO_ROWS, {}),
        (b"x,y\na,b\nc,d\n", Trouble.NO_NUMBERS, {}),
    ],
)
def test_bad_files_are_refused_with_the_place(content, trouble, detail):
    with pytest.raises(UnreadableFile) as found:
        read(content)
    assert found.value.trouble is trouble
    assert found.value.detail == detail


def test_numbers_come_back_from_their_shortest_text():
    values = [0.1, 1e-300, 123456789.12345679, -2.5e17, 3.0]
    text = "x,y\n" + "".join(f"{v!r},{v!r}\n" for v in values)
    assert table_of(text).columns[0].cells.tolist() == values
