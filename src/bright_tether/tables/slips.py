"""Likely slips in a table: found by stated rules, each with what would mend it. Nothing is changed here."""

from __future__ import annotations

import hashlib
import math
import re
from collections.abc import Callable
from enum import StrEnum

import msgspec
import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from bright_tether.tables.cases import repeated_cases
from bright_tether.tables.cells import Cell, as_number
from bright_tether.tables.clock import DateOrder, Floats, first_unclear, is_date, order_told
from bright_tether.tables.column import Column, shown
from bright_tether.tables.heads import names_columns
from bright_tether.tables.row_ids import ids_of
from bright_tether.tables.table import Table

Ints = NDArray[np.int64]
#: Rows above which whole rows are not compared with each other.
_MOST_COMPARED = 200_000
#: Codes and fill values that stand for no value in common file formats, as 32-bit floats write them too.
_CODES = (
    -99.0, -999.0, -9999.0, -99999.0, 999.0, 9999.0, 99999.0,
    1e20, -1e20, 1e30, -1e30, 1e35, -1e35,
    9.969209968386869e36, 9.96921e36, 9.9692e36,
    3.4028234663852886e38, -3.4028234663852886e38, 3.4028235e38, -3.4028235e38, 3.40282e38, -3.40282e38,
    3.4e38, -3.4e38, -1.7e308, 1.7e308, 1.7976931348623157e308, -1.7976931348623157e308,
    -2147483648.0, -32768.0,
)  # fmt: skip
_FEWEST = 8
#: In logarithms, what a slipped point leaves free between it and the values that are right.
_GAP = 0.4
_NUMBER = re.compile(r"[-−]?\d+(?:[.,]\d+)?")


class SlipKind(StrEnum):
    """What kind of slip it may be. The words stand in ``words.slips``."""

    DECIMAL_MARK = "decimal_mark"
    TEXT = "text"
    MISSING_CODE = "missing_code"
    TENFOLD = "tenfold"
    OUT_OF_RANGE = "out_of_range"
    REPEATED = "repeated"
    NAMES = "names"
    UNCLEAR_DATES = "unclear_dates"
    NO_DATE = "no_date"
    SHARED_CASES = "shared_cases"


class Slip(msgspec.Struct, frozen=True, kw_only=True):
    """A slip: where, and the cells that would mend it (None where the rows would be taken out).

    rows : row ids. cells : what to put into the column, one a row. dates : by which order its dates would be read.
    within : of texts among numbers, the one number that stands in each, None for none or several.
    """

    kind: SlipKind
    column: str
    rows: tuple[int, ...]
    cells: tuple[Cell, ...] | None
    dates: DateOrder | None = None
    within: tuple[float | None, ...] = ()


def likely_slips(
    table: Table, of_column: Callable[[Column, Ints, int | None], tuple[Slip, ...]] | None = None
) -> tuple[Slip, ...]:
    """Every likely slip that was not dismissed, column by column, then repeated rows.

    of_column : what says ``column_slips``, where it is remembered.
    """
    of_column = of_column or column_slips
    found: list[Slip] = []
    heads = int(table.row_ids[0]) if names_columns(table) else None
    if heads is not None:
        found.append(Slip(kind=SlipKind.NAMES, column="", rows=(heads,), cells=None))
    for column in table.columns:
        found += of_column(column, table.row_ids, heads)
    found += _repeated(table)
    found += _shared_cases(table)
    known = frozenset(table.dismissed)
    return tuple(left for slip in found if (left := _without(slip, table, known)))


def column_slips(column: Column, row_ids: Ints, heads: int | None) -> tuple[Slip, ...]:
    """Those of one column. row_ids : (rows,) the table's. heads : a row that seems to hold names."""
    if column.formula is not None:
        return ()
    if not column.numeric:
        return tuple(_dates(column, row_ids))
    found = _strays(column, row_ids, heads) + _codes(column, row_ids) + _tenfold(column, row_ids)
    return tuple(found + _impossible(column, row_ids))


def slip_keys(slip: Slip, table: Table) -> tuple[str, ...]:
    """What a dismissal remembers: kind, column, row and what stands there, for each row.

    So neither another row's slip nor the next wrong value in the same cell is hidden by it.
    """
    at = table.places(slip.rows).tolist()
    if slip.kind is SlipKind.SHARED_CASES:
        return (f"{slip.kind}:{slip.column}",)
    columns = [table.column(slip.column)] if slip.column else [c for c in table.columns if c.formula is None]
    keys = []
    for place in at:
        row = int(table.row_ids[place])
        cells = "\x1f".join(shown(column.cell(place, row)) for column in columns)
        cells = (
            cells if len(cells) <= 40 else hashlib.sha256(cells.encode("utf-8", "replace")).hexdigest()[:24]
        )
        keys.append(f"{slip.kind}:{slip.column}:{row}:{cells}")
    return tuple(keys)


def each_row(slip: Slip, most: int) -> tuple[Slip, ...]:
    """The slip row by row, no more than so many."""
    return tuple(_only(slip, [at]) for at in range(min(most, len(slip.rows))))


def _only(slip: Slip, at: list[int]) -> Slip:
    """What these of its rows have of a slip."""
    cells = None if slip.cells is None else tuple(slip.cells[one] for one in at)
    within = tuple(slip.within[one] for one in at) if slip.within else ()
    return replace(slip, rows=tuple(slip.rows[one] for one in at), cells=cells, within=within)


def readings(slip: Slip) -> Slip | None:
    """The same slip mended the other way: by the number within each text, or with the month first; None without one."""
    if slip.kind is SlipKind.UNCLEAR_DATES:
        return replace(slip, dates="month first")
    return replace(slip, cells=slip.within) if slip.within and None not in slip.within else None


def number_within(text: str) -> float | None:
    """The one number that stands in a text such as “about 30” or “12.5 ?”; None for none or several."""
    found = _NUMBER.findall(text)
    return as_number(found[0]) if len(found) == 1 else None


def _without(slip: Slip, table: Table, dismissed: frozenset[str]) -> Slip | None:
    """What is left of a slip; None where all of it was dismissed."""
    if not dismissed:
        return slip
    if slip.kind is SlipKind.SHARED_CASES:
        return None if dismissed.issuperset(slip_keys(slip, table)) else slip
    left = [at for at, key in enumerate(slip_keys(slip, table)) if key not in dismissed]
    if len(left) == len(slip.rows):
        return slip
    return _only(slip, left) if left else None


def _dates(column: Column, row_ids: Ints) -> list[Slip]:
    """Dates of which day and month cannot be told apart, and texts among dates."""
    if column.kind == "date":
        lost = (column.cells != "") & np.isnan(column.along)
        rows = tuple(row_ids[lost].tolist())
        return (
            [Slip(kind=SlipKind.NO_DATE, column=column.id, rows=rows, cells=(None,) * len(rows))]
            if rows
            else []
        )
    if column.texts.hardly_any(is_date):
        return []
    filled = [text for text in column.texts.different if text]
    if order_told(filled) != "ask":
        return []
    first = int(row_ids[np.flatnonzero(column.cells == first_unclear(filled))[0]])
    return [Slip(kind=SlipKind.UNCLEAR_DATES, column=column.id, rows=(first,), cells=None, dates="day first")]


def _strays(column: Column, row_ids: Ints, heads: int | None) -> list[Slip]:
    """Texts among numbers. heads : a row that seems to hold names, which is said once for all columns."""
    here = row_ids[np.isin(row_ids, ids_of(column.strays))].tolist() if column.strays else []
    here = [row for row in here if row != heads]
    readable = {row: as_number(column.strays[row]) for row in here}
    commas = [row for row in here if readable[row] is not None]
    others = tuple(row for row in here if readable[row] is None)
    slips = []
    if commas:
        cells = tuple(readable[row] for row in commas)
        slips.append(Slip(kind=SlipKind.DECIMAL_MARK, column=column.id, rows=tuple(commas), cells=cells))
    if others:
        within = tuple(number_within(column.strays[row]) for row in others)
        slips.append(
            Slip(
                kind=SlipKind.TEXT,
                column=column.id,
                rows=others,
                cells=(None,) * len(others),
                within=within,
            )
        )
    return slips


def _codes(column: Column, row_ids: Ints) -> list[Slip]:
    """A round code that lies further from all other values than twice their whole range."""
    values = column.cells
    coded = np.isin(values, _CODES)
    others = values[np.isfinite(values) & ~coded]
    if not coded.any() or others.size < 3:
        return []
    low, high = float(others.min()), float(others.max())
    with np.errstate(over="ignore"):  # beyond what a double holds no code is far enough
        width = max(high - low, abs(high) * 0.1)
        coded &= (values < low - 2 * width) | (values > high + 2 * width) | ((values < 0) & (low >= 0))
    rows = tuple(row_ids[coded].tolist())
    if not rows:
        return []
    return [Slip(kind=SlipKind.MISSING_CODE, column=column.id, rows=rows, cells=(None,) * len(rows))]


def _tenfold(column: Column, row_ids: Ints) -> list[Slip]:
    """A value 10, 100 or 1000 times too large or small beside its column and its neighbours in row order.

    In logarithms it must lie beyond two quartile ranges from the median; a factor 2.5 beyond all usual values and
    those that lead on from them without such a gap, as the tail of many rows does; and within a factor 1.6 of a whole
    power of ten from the median of the three rows on either side, which must agree among themselves.
    """
    values = column.cells
    places = np.flatnonzero(np.isfinite(values) & ~np.isin(values, _CODES))
    if places.size < _FEWEST or (values[places] <= 0).any():
        return []
    logs = np.log10(values[places])
    q1, middle, q3 = np.quantile(logs, (0.25, 0.5, 0.75))
    far = np.flatnonzero(np.abs(logs - middle) > max(2 * (q3 - q1), 0.6))
    if far.size > max(3, places.size // 20):
        return []
    usual = np.delete(logs, far)
    low, high = -_led_on_to(-usual.min(), -logs[far]), _led_on_to(usual.max(), logs[far])
    alone = np.maximum(logs[far] - high, low - logs[far]) > _GAP
    rows, cells = [], []
    for at in far[alone].tolist():
        near = np.delete(logs[max(at - 3, 0) : at + 4], min(at, 3))
        gap = float(logs[at] - np.median(near))
        power, apart = round(gap), float(np.median(np.abs(near - np.median(near))))
        if power and abs(power) <= 3 and abs(gap - power) < 0.2 and apart < 0.3:
            rows.append(int(row_ids[places[at]]))
            cells.append(float(f"{values[places[at]] / 10.0**power:.15g}"))
    if not rows:
        return []
    return [Slip(kind=SlipKind.TENFOLD, column=column.id, rows=tuple(rows), cells=tuple(cells))]


def _led_on_to(end: float, values: Floats) -> float:
    """The largest value that is reached from an end without a gap; the end itself where there is none."""
    for value in np.sort(values[values > end]).tolist():
        if value - end > _GAP:
            break
        end = value
    return float(end)


def _impossible(column: Column, row_ids: Ints) -> list[Slip]:
    low = -np.inf if column.low is None else column.low
    high = np.inf if column.high is None else column.high
    with np.errstate(invalid="ignore"):
        beyond = (column.cells < low) | (column.cells > high)
    rows = tuple(row_ids[beyond].tolist())
    if not rows:
        return []
    return [Slip(kind=SlipKind.OUT_OF_RANGE, column=column.id, rows=rows, cells=(None,) * len(rows))]


def _shared_cases(table: Table) -> list[Slip]:
    """A column that seems to name cases of which several rows are: asked about once."""
    found = repeated_cases(table)
    if found is None:
        return []
    column = table.column(found.column)
    texts = np.array(column.written(np.arange(table.rows), table.row_ids), object)
    rows = table.row_ids[texts == found.first].tolist()
    return [Slip(kind=SlipKind.SHARED_CASES, column=column.id, rows=tuple(rows), cells=None)]


def _repeated(table: Table) -> list[Slip]:
    """Rows equal to an earlier one in every cell, where at least two cells are filled."""
    if not 1 < table.rows <= _MOST_COMPARED:
        return []
    measured = [column for column in table.columns if column.formula is None]
    if len(measured) < 2:
        return []
    seen: set[tuple[object, ...]] = set()
    rows = []
    lists = [
        [None if math.isnan(cell) else cell for cell in column.cells.tolist()]
        if column.numeric
        else column.cells.tolist()
        for column in measured
    ]
    for at, cells in enumerate(zip(*lists, strict=True)):
        if sum(cell not in (None, "") for cell in cells) < 2:
            continue
        if cells in seen:
            rows.append(int(table.row_ids[at]))
        seen.add(cells)
    return [Slip(kind=SlipKind.REPEATED, column="", rows=tuple(rows), cells=None)] if rows else []
