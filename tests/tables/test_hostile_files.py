"""Files that are broken, huge or meant to hurt: one sentence each, soon, and next to no memory."""

import io
import json
import random
import zipfile

import openpyxl
import pyarrow as pa
import pytest
from pyarrow import parquet

from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.words.causes import unreadable


def workbook():
    book = openpyxl.Workbook()
    for row in [("x", "y"), *((at, at * 2.5) for at in range(30))]:
        book.active.append(row)
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def with_part(content, name, change):
    """A zip with one of its parts changed."""
    file = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as new:
        for info in old.infolist():
            part = old.read(info)
            new.writestr(info.filename, change(part) if info.filename == name else part)
    return file.getvalue()


def read(content, name):
    return read_content(content, name, "t1", guess_plan(content, name))


SHEET = "xl/worksheets/sheet1.xml"
ODS = b"""<?xml version="1.0"?><office:document-content xmlns:office="o" xmlns:table="t"><office:body>
<office:spreadsheet><table:table><table:table-row table:number-rows-repeated="1000000">
<table:table-cell table:number-columns-repeated="1000" office:value-type="float" office:value="1"/>
</table:table-row></table:table></office:spreadsheet></office:body></office:document-content>"""


def ods():
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as package:
        package.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        package.writestr("content.xml", ODS)
    return file.getvalue()


def far_cell(part):
    return part.replace(b"</sheetData>", b'<row r="1048576"><c r="XFD1048576"><v>1</v></c></row></sheetData>')


def row(cell):
    return b",".join(cell * 100_000) + b"\n"


ENTITIES = b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>'
HOSTILE = {
    "a cell at the far end": ("w.xlsx", lambda: with_part(workbook(), SHEET, far_cell), Trouble.TOO_LARGE),
    "a cut sheet": ("w.xlsx", lambda: with_part(workbook(), SHEET, lambda p: p[: len(p) // 2]), None),
    "entities": ("w.xlsx", lambda: with_part(workbook(), SHEET, lambda p: ENTITIES + p), Trouble.DAMAGED),
    "a swelling sheet": (
        "w.xlsx", lambda: with_part(workbook(), SHEET, lambda p: p + b" " * 90_000_000), Trouble.TOO_LARGE
    ),
    "a cut workbook": ("w.xlsx", lambda: workbook()[:3000], Trouble.DAMAGED),
    "repeated for ever": ("w.ods", ods, Trouble.TOO_LARGE),
    "no workbook": ("w.xls", lambda: b"\xd0\xcf\x11\xe0" + bytes(600), Trouble.DAMAGED),
    "a long header": ("h.csv", lambda: b"x" * 1_000_000 + b",y\n1,2\n2,3\n", Trouble.LONG_CELL),
    "a header of two thousand letters": ("h.csv", lambda: b"x" * 2000 + b",y\n1,2\n2,3\n", Trouble.LONG_HEAD),
    "many columns": ("c.csv", lambda: row([b"1"]) * 2, Trouble.TOO_MANY_COLUMNS),
    "many equal heads": ("c.csv", lambda: row([b"a"]) + row([b"1"]), Trouble.TOO_MANY_COLUMNS),
    "numbers beyond any double": ("n.json", lambda: json.dumps([{"x": 10**400, "y": 1}]).encode(), None),
    "not parquet": ("p.parquet", lambda: b"PAR1" + bytes(100) + b"PAR1", Trouble.DAMAGED),
}  # fmt: skip


@pytest.mark.parametrize("name", HOSTILE)
def test_a_hostile_file_ends_in_one_sentence(name):
    file, content, trouble = HOSTILE[name]
    found = refusal(content(), file)
    assert trouble is None or found.trouble is trouble


def refusal(content, name):
    """How a file was refused, in one sentence; None where it was read."""
    try:
        read(content, name)
    except UnreadableFile as found:
        said = unreadable(found)
        if said.count("\n") or len(said) > 300:
            raise AssertionError(said) from None
        return found
    return None


def test_names_repeat_and_hold_halves_of_letters():
    table = read(b"a,a,a,b\n1,2,3,4\n2,3,4,5\n", "a.csv")
    assert [column.name for column in table.columns] == ["a", "a 2", "a 3", "b"]


def sources():
    """A sound file of every kind."""
    columns = pa.table({"x": [1.0, 2.5, 3.0, 7.0], "y": [2.0, 4.1, 6.5, 9.0], "site": ["A", "B", "A", "B"]})
    packed = io.BytesIO()
    parquet.write_table(columns, packed)
    text = "x,y,site\n1,2,A\n2.5,4.1,B\n3,6.5,A\n7,9,B\n"
    return {
        "a.csv": text.encode(),
        "a.tsv": text.replace(",", "\t").encode("utf-16"),
        "a.json": json.dumps([{"x": at, "y": at * 2.0, "site": "A"} for at in range(6)]).encode(),
        "a.xlsx": workbook(),
        "a.parquet": packed.getvalue(),
    }


def spoiled(content, draw):
    """A file flipped, cut, or joined with itself."""
    made = bytearray(content)
    for _ in range(draw.randint(1, 6)):
        at = draw.randrange(len(made) or 1)
        match draw.randrange(5):
            case 0:
                made[at : at + 1] = bytes([draw.randrange(256)])
            case 1:
                del made[at : at + draw.randint(1, 40)]
            case 2:
                made[at:at] = draw.randbytes(draw.randint(1, 20))
            case 3:
                made = made[:at] or made
            case 4:
                made[at:at] = made[draw.randrange(len(made) or 1) :][:80]
    return bytes(made)


def spoil(count, seed):
    """How many spoiled files were read and refused; anything else is a fault."""
    draw, told = random.Random(seed), {"read": 0, "refused": 0}
    kinds = list(sources().items())
    for turn in range(count):
        name, content = kinds[turn % len(kinds)]
        told["refused" if refusal(spoiled(content, draw), name) else "read"] += 1
    return told


def test_spoiled_files_are_read_or_refused():
    assert sum(spoil(120, 5).values()) == 120


@pytest.mark.verify
def test_thousands_of_spoiled_files(capsys):
    told = spoil(6000, 6)
    with capsys.disabled():
        print(f"\nspoiled tables: {told['read']} read, {told['refused']} refused, 0 faults")
