"""What a file read again changes: row by row, and in what every tether says."""

from __future__ import annotations

from collections.abc import Iterable

from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.study.memory import Memory
from bright_tether.study.names import tether_name
from bright_tether.study.pins import Grid
from bright_tether.study.reread import MOST_DIFFERENCES, Reread
from bright_tether.study.study import Study
from bright_tether.tables.column import shown
from bright_tether.tables.table import Table
from bright_tether.words import digits as d

#: Lines of one list; the rest is counted.
MOST_LISTED = MOST_DIFFERENCES
RESULT_HEADS = ("tether", "", "n", "r", "slope", "its interval", "p")


def changes_grid(study: Study, table_id: str, fresh: Table, taken: Reread) -> Grid:
    """Rows that came, went and changed, each with what tells its case."""
    table = study.table(table_id)
    rows: list[tuple[str, ...]] = []
    for one in taken.differences:
        place = int(table.places([one.row])[0])
        name = case_words(table, place, taken.by)
        rows.append(("changed", name, table.column(one.column).short, shown(one.before), shown(one.after)))
    by = _like(fresh, table, taken.by)
    added, lost = (some[:MOST_LISTED].tolist() for some in (taken.added, taken.lost))
    rows += [("new", case_words(fresh, at, by), "", "", _cells(fresh, at)) for at in added]
    for row in lost:
        place = int(table.places([row])[0])
        rows.append(("gone", case_words(table, place, taken.by), "", _cells(table, place), ""))
    more = taken.changed + taken.new + taken.gone - MOST_LISTED
    if more > 0:
        rows = [*rows[:MOST_LISTED], ("", f"and {d.grouped(more)} more", "", "", "")]
    return Grid(
        title="What the file has otherwise", heads=("", "case", "column", "was", "is"), rows=tuple(rows)
    )


def results_grid(before: Study, after: Study | None, tethers: Iterable[str]) -> Grid:
    """What each tether says with the table as it was and as it would be."""
    rows: list[tuple[str, ...]] = []
    for tether_id in tethers:
        for words, study in (("before", before), ("after", after)):
            if study is not None:
                name = tether_name(before, before.tether(tether_id)) if words == "before" else ""
                rows.append((name, words, *results_row(Findings(study, study.tether(tether_id), Memory()))))
    return Grid(title="What the tethers say", heads=RESULT_HEADS, rows=tuple(rows))


def case_words(table: Table, at: int, by: str) -> str:
    """A row by what tells its case, else by its place."""
    column = table.column(by) if by and table.has(by) else table.label_column
    name = "" if column is None else shown(column.cell(at, int(table.row_ids[at])))
    return name or f"row {at + 1}"


def cells_words(table: Table, at: int) -> str:
    """A whole row in one line."""
    return _cells(table, at)


def _like(fresh: Table, table: Table, by: str) -> str:
    column = fresh.named(table.column(by).name) if by and table.has(by) else None
    return column.id if column is not None else ""


def _cells(table: Table, at: int) -> str:
    row = int(table.row_ids[at])
    texts = (shown(column.cell(at, row)) or "–" for column in table.columns if column.formula is None)
    return ", ".join(texts)


def results_row(findings: Findings) -> tuple[str, ...]:
    """The few figures that a tether is known by; an unfinished one has none."""
    try:
        if findings.refusal is not None:
            return (d.grouped(findings.counted.n), "no line", "", "", "")
        digits, line, by = findings.rules.digits, findings.line, findings.coefficients
        size = d.decimals_for(by.se_slope, digits, line.slope)
        return (
            d.grouped(findings.pairs.n), d.coefficient(findings.pearson.r, digits),
            d.fixed(line.slope, size), d.between(by.ci_slope, size), d.p_value(findings.decision.p),
        )  # fmt: skip
    except Refusal:
        return ("0", "no line", "", "", "")
