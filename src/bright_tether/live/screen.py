"""Which columns go with y: every one of them looked at, over the rows in play."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
import numpy as np

from bright_tether.core.results import Bools, Floats, Ints
from bright_tether.core.strength.screen import Looked, every_two, screen
from bright_tether.live.findings import Findings
from bright_tether.tables.column import Column
from bright_tether.tables.texts import named


class Screen(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What was looked at: the columns, and what each two of them give. whole : whether all are done.

    y : place of the column that the others are held against, None where every two are or there is none.
    alpha : of the tests. by_case : the column that tells cases, where these decide.
    """

    columns: tuple[Column, ...]
    looked: tuple[Looked, ...]
    coefficient: str
    every: bool
    y: int | None
    alpha: float
    kept: Bools
    by_case: Column | None
    whole: bool


def look_at_columns(
    findings: Findings, coefficient: str, every: bool, progress: Callable[[int], bool] = lambda done: True
) -> Screen:
    """Look at every column of numbers against y, or at every two of them. every : of all, not of y alone.

    A date is looked at as the time since its first day.
    """
    table, y = findings.table, findings.tether.y
    columns = tuple(column for column in table.columns if column.numeric or column.kind == "date")
    cells = [_cells(findings, column) for column in columns]
    place = next((at for at, column in enumerate(columns) if column.id == y), None)
    if every:
        couples = every_two(len(columns))
    else:
        couples = [] if place is None else [(at, place) for at in range(len(columns)) if at != place]
    rules = findings.rules
    aside = np.isin(table.row_ids, findings.aside_rows)
    case_column = findings.case_column if findings.tether.line.errors == "clustered" else None
    looked = screen(cells, couples, coefficient, kept=findings.kept, set_aside=aside, alpha=rules.alpha,
                    alternative=rules.alternative, level=rules.level,
                    cases=None if case_column is None else _codes(case_column), progress=progress)  # fmt: skip
    kept = ~aside if findings.kept is None else ~aside & findings.kept
    return Screen(columns=columns, looked=looked, coefficient=coefficient, every=every,
                  y=None if every else place, alpha=rules.alpha, kept=kept, by_case=case_column,
                  whole=len(looked) == len(couples))  # fmt: skip


def _codes(column: Column) -> Ints:
    """The case of each row as a code from 0, −1 where none is told, (rows,)."""
    codes, names = named(column.cells, str.strip)
    return np.where(codes == names.index(""), -1, codes) if "" in names else codes


def _cells(findings: Findings, column: Column) -> Floats:
    return findings.along(column) if column.kind == "date" else column.cells
