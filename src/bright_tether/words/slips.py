"""Likely slips, and the row filter, in words."""

from __future__ import annotations

from bright_tether.tables.cases import repeated_cases
from bright_tether.tables.clock import ORDERS, canonical
from bright_tether.tables.column import Column
from bright_tether.tables.filters import Condition
from bright_tether.tables.heads import row_texts
from bright_tether.tables.slips import Slip, SlipKind
from bright_tether.tables.table import Table
from bright_tether.words import digits as d

_MOST_NAMED = 4


def slip_sentence(slip: Slip, table: Table) -> str:
    """What may be wrong, and where."""
    places = (table.places(slip.rows[:_MOST_NAMED]) + 1).tolist()
    rows = ", ".join(map(str, places)) + (" …" if len(slip.rows) > _MOST_NAMED else "")
    where = f"row {rows}" if len(slip.rows) == 1 else f"rows {rows}"
    if slip.kind is SlipKind.REPEATED:
        return f"{d.count(len(slip.rows), 'row')} the same as an earlier one in every cell ({where})"
    if slip.kind is SlipKind.NAMES:
        names = ", ".join(text for text in row_texts(table, places[0] - 1) if text)
        return f"Row {places[0]} looks like the names of the columns ({names})"
    column = table.column(slip.column)
    if slip.kind is SlipKind.SHARED_CASES:
        return _cases_question(column, table)
    cell = column.cells[places[0] - 1]
    shown = column.strays.get(slip.rows[0]) or (d.entered(float(cell)) if column.numeric else str(cell))
    match slip.kind:
        case SlipKind.DECIMAL_MARK:
            return f"{column.short}: “{shown}” has another decimal mark ({where})"
        case SlipKind.TEXT:
            return f"{column.short}: “{shown}” is no number and counts as missing ({where})"
        case SlipKind.UNCLEAR_DATES:
            days = " or ".join(canonical(shown, order) or "" for order in ORDERS)
            return f"{column.short}: “{shown}” can be {days}: no date before that is said"
        case SlipKind.NO_DATE:
            return f"{column.short}: “{shown}” is no date and counts as missing ({where})"
        case SlipKind.MISSING_CODE:
            return f"{column.short}: {shown} looks like a code for “missing” ({where})"
        case SlipKind.OUT_OF_RANGE:
            return f"{column.short}: {shown} lies outside the possible range ({where})"
    mended = "" if slip.cells is None or not isinstance(slip.cells[0], float) else d.entered(slip.cells[0])
    return f"{column.short}: {shown} may be {mended} with the point slipped ({where})"


def _cases_question(column: Column, table: Table) -> str:
    found = repeated_cases(table)
    if found is None:
        return f"{column.short} names cases"
    rows = d.count(found.rows, "row")
    return (
        f"{column.short} names {d.count(found.cases, 'case')} in {rows}, up to {d.grouped(found.most)} each: are these "
        "separate cases, or several rows of one?"
    )


def mend_words(slip: Slip) -> str:
    """What mending would do, on a button."""
    return {
        SlipKind.DECIMAL_MARK: "Read as numbers",
        SlipKind.TEXT: "Blank",
        SlipKind.MISSING_CODE: "Blank",
        SlipKind.OUT_OF_RANGE: "Blank",
        SlipKind.TENFOLD: "Shift the point",
        SlipKind.REPEATED: "Take the repeats out",
        SlipKind.NAMES: "Make them the names",
        SlipKind.UNCLEAR_DATES: "Day first",
        SlipKind.NO_DATE: "Blank",
        SlipKind.SHARED_CASES: "Several rows of a case",
    }[slip.kind]


def read_words(slip: Slip) -> str:
    """What reading the number within a text would do, on a button."""
    if slip.dates:
        return "Month first"
    first = slip.cells[0] if slip.cells else None
    one = len(slip.rows) == 1 and isinstance(first, float)
    return f"Read as {d.entered(first)}" if one and isinstance(first, float) else "Read the numbers"


def condition_sentence(condition: Condition, table: Table) -> str:
    """One condition of the row filter, readable: station is Weir; stage is from 0.3 to 1.2."""
    name = table.column(condition.column).short if table.has(condition.column) else "a column that is gone"
    either = " or ".join(condition.texts)
    low = d.entered(condition.low) if condition.low is not None else (*condition.texts, "")[0]
    high = d.entered(condition.high) if condition.high is not None else (*condition.texts, "", "")[1]
    match condition.relation:
        case "is":
            return f"{name} is {either}"
        case "is not":
            return f"{name} is not {either}"
        case "between":
            return f"{name} is from {low} to {high}"
        case "from":
            return f"{name} is {low} or later" if condition.low is None else f"{name} is at least {low}"
        case "until":
            until = high if condition.high is not None else low
            return f"{name} is {until} or earlier" if condition.high is None else f"{name} is at most {until}"
    return f"{name} has “{either}” in it"


def filter_sentence(conditions: tuple[Condition, ...], table: Table) -> str:
    """The whole filter: only rows where … and …."""
    if not conditions:
        return "every row is looked at"
    return "only rows where " + " and ".join(condition_sentence(c, table) for c in conditions)
