"""Further formats: databases, Arrow, packed tables, tables copied from a page; and what cannot be read, said."""

import gzip
import io
import sqlite3
import zipfile

import numpy as np
import pyarrow as pa
import pytest

from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.glance import glance
from bright_tether.tables.html_table import table_of
from bright_tether.tables.read_plan import guess_plan, read_content, read_file, sheet_names
from bright_tether.words.causes import unreadable

CSV = b"x,y,site\n1,2.5,A\n2,3.5,B\n3,,A\n"


def check(table):
    """The three rows, whatever they were read from."""
    assert [column.name for column in table.columns] == ["x", "y", "site"]
    assert table.columns[0].cells.tolist() == [1, 2, 3]
    np.testing.assert_array_equal(table.columns[1].cells, [2.5, 3.5, np.nan])
    assert table.columns[2].cells.tolist() == ["A", "B", "A"]


def sqlite_of(tmp_path, *statements):
    """A database made by these statements."""
    path = tmp_path / "held.sqlite"
    with sqlite3.connect(path) as held:
        for one in statements:
            held.execute(one)
    held.close()
    return path


ROWS = "insert into visits values (1, 2.5, 'A'), (2, 3.5, 'B'), (3, null, 'A')"


def test_a_table_of_an_sqlite_file_is_chosen(tmp_path):
    path = sqlite_of(tmp_path, "create table notes (text, n)", "create table visits (x, y real, site text)", ROWS,
                     "create view odd as select * from visits where x % 2 = 1")  # fmt: skip
    found = glance(path)
    assert found.plan.kind == "database"
    assert found.sheets == ["notes", "visits", "odd"]
    chosen = type(found.plan)(kind="database", sheet="visits")
    check(read_file(path, "t1", chosen))
    assert read_file(path, "t1", type(found.plan)(kind="database", sheet="odd")).rows == 2


def test_a_table_of_a_duckdb_file_is_chosen(tmp_path):
    duckdb = pytest.importorskip("duckdb")
    path = tmp_path / "held.duckdb"
    with duckdb.connect(str(path)) as held:
        held.execute("create table visits (x integer, y double, site varchar)")
        held.execute(ROWS)
    assert guess_plan(path.read_bytes(), path.name).sheet == "visits"
    check(read_file(path))


@pytest.mark.parametrize("stream", [False, True])
def test_arrow_files(tmp_path, stream):
    table = pa.table({"x": [1, 2, 3], "y": [2.5, 3.5, None], "site": ["A", "B", "A"]})
    path = tmp_path / "held.arrow"
    with (pa.ipc.new_stream if stream else pa.ipc.new_file)(str(path), table.schema) as writer:
        writer.write_table(table)
    check(read_file(path))


def test_packed_tables(tmp_path):
    packed = tmp_path / "held.csv.gz"
    packed.write_bytes(gzip.compress(CSV))
    check(read_file(packed))
    assert glance(packed).content == CSV
    folder = tmp_path / "held.zip"
    with zipfile.ZipFile(folder, "w") as package:
        package.writestr("inside/held.csv", CSV)
        package.writestr("__MACOSX/._held.csv", b"nothing")
    check(read_file(folder))
    assert glance(folder).name == "held.csv"


def zipped(*names):
    """A zip of these files."""
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w") as package:
        for name in names:
            package.writestr(zipfile.ZipInfo(name), CSV)
    return held.getvalue()


@pytest.mark.parametrize(
    ("content", "name", "trouble"),
    [(zipped("a.csv", "b.csv"), "two.zip", Trouble.SEVERAL_FILES), (zipped(), "none.zip", Trouble.SEVERAL_FILES),
     (gzip.compress(CSV, mtime=0)[:20], "cut.csv.gz", Trouble.DAMAGED),
     (b"PK\x03\x04 nothing", "cut.zip", Trouble.DAMAGED),
     (gzip.compress(b"0," * 20_000_000, mtime=0), "trap.csv.gz", Trouble.TOO_LARGE),
     (b"SQLite format 3\x00" + b"x" * 200, "cut.sqlite", Trouble.DAMAGED),
     (b"12345678DUCK" + b"x" * 200, "cut.duckdb", Trouble.DAMAGED),
     (b"ARROW1\x00\x00 nothing", "cut.arrow", Trouble.DAMAGED)],
    ids=lambda one: one if isinstance(one, str) else "",
)  # fmt: skip
def test_what_cannot_be_read_is_said(content, name, trouble):
    with pytest.raises(UnreadableFile) as found:
        read_content(content, name, "t1", guess_plan(content, name))
    assert found.value.trouble is trouble
    assert f"“{name}”" in unreadable(found.value)


def test_a_database_without_tables_and_a_view_without_end(tmp_path):
    empty = sqlite_of(tmp_path, "pragma user_version = 7")
    with pytest.raises(UnreadableFile) as found:
        sheet_names(empty.read_bytes(), empty.name)
    assert "database without a table" in unreadable(found.value)


def test_tables_copied_from_a_page():
    page = (
        "<html><body><style>td {}</style><table><tr><th>site</th><th colspan=2>level &amp; depth</th></tr>"
        "<tr><td>A</td><td>1.5<sup>a</sup></td><td>30 cm</td></tr>"
        "<tr><td>B<br>C</td><td>2</td></tr></table></body></html>"
    )
    assert table_of(page) == [["site", "level & depth", ""], ["A", "1.5a", "30 cm"], ["B C", "2", ""]]
    assert table_of("<p>no table</p>") == []
    assert table_of("<table><tr><td>1</td></tr></table>") == []
    assert table_of("<table><td>1<td>2<tr><td>3<td>4") == [["1", "2"], ["3", "4"]]
