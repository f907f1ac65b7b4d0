"""Tables out: CSV, workbooks and Parquet, in which no text can run as a formula."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from io import BytesIO
from pathlib import Path

from bright_tether.live.findings import Findings
from bright_tether.tables.arrow import arrow
from bright_tether.tables.cells import Cell
from bright_tether.tables.csv_out import write_csv
from bright_tether.tables.table import Table
from bright_tether.tables.writing import put_made, xml_text

SUFFIXES = (".csv", ".xlsx", ".ods", ".parquet")
#: Characters that a cell of a workbook can hold.
_CELL_HOLDS = 32_767


def export_table(table: Table, path: Path) -> None:
    """Write a table in the kind its name asks for. Raises ValueError for another kind, OSError."""
    writers = {".csv": _csv, ".xlsx": _xlsx, ".ods": _ods, ".parquet": _parquet}
    writer = writers.get(path.suffix.lower())
    if writer is None:
        raise ValueError(
            f"A table can be written as {', '.join(SUFFIXES)}: give the file one of these endings."
        )
    put_made(path, lambda file: writer(table, file))


def _csv(table: Table, file: BytesIO) -> None:
    write_csv(table, file, inert=True)


def _records(table: Table) -> Iterator[Sequence[Cell]]:
    """The heads, then the cells of each row."""
    yield [column.name for column in table.columns]
    for at, row in enumerate(table.row_ids.tolist()):
        yield [column.cell(at, row) for column in table.columns]


def _xlsx(table: Table, file: BytesIO) -> None:
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    name = "".join(c for c in xml_text(table.name) if c not in "[]:*?/\\'\n\r\t")
    sheet = book.create_sheet(name[:31] or "Table")
    for record in _records(table):
        row = []
        for cell in record:
            sheet_cell = WriteOnlyCell(
                sheet, value=xml_text(cell)[:_CELL_HOLDS] if isinstance(cell, str) else cell
            )
            if isinstance(cell, str):
                sheet_cell.data_type = "s"  # text stays text, whatever it starts with
            row.append(sheet_cell)
        sheet.append(row)
    book.save(file)


def _ods(table: Table, file: BytesIO) -> None:
    from odfdo import Cell as SheetCell
    from odfdo import Row
    from odfdo import Table as Sheet

    from bright_tether.account.odf import own_document

    document = own_document("spreadsheet", xml_text(table.name))
    sheet = Sheet(xml_text(table.name))
    rows = []
    for record in _records(table):
        row = Row()
        row.extend_cells(
            SheetCell(cell, text=repr(cell), cell_type="float")
            if isinstance(cell, float)
            else SheetCell(xml_text(cell or ""), cell_type="string")
            for cell in record
        )
        rows.append(row)
    document.body.append(sheet)
    sheet.extend_rows(
        rows
    )  # one by one, or before the sheet has its place, each costs as much as all before it
    document.save(file)


def _parquet(table: Table, file: BytesIO) -> None:
    pa = arrow()
    from pyarrow import parquet

    from bright_tether.tables.csv_out import arrow_texts

    arrays = {
        column.name: pa.array(column.cells, from_pandas=True)
        if column.numeric and not column.strays
        else arrow_texts(table, column)
        for column in table.columns
    }
    parquet.write_table(pa.table(arrays), file)


def forecasts_csv(findings: Findings) -> str:
    """Every forecast with all its digits, one a line. Raises Refusal where there is no line."""
    lines = ["x,line,level,fitted,mean_low,mean_high,case_low,case_high,outside"]
    for one in findings.expected:
        group = '"' + (one.group or "all").replace('"', '""') + '"'
        numbers = map(repr, (one.fitted, *one.ci, *(one.pi or ())))
        case = "" if one.pi else ",,"
        lines.append(f"{one.x!r},{group},{one.level!r},{','.join(numbers)}{case},{one.outside}")
    return "\n".join(lines) + "\n"
