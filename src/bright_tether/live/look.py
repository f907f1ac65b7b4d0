"""Results of the step that looks before it computes."""

from __future__ import annotations

import numpy as np

from bright_tether.core.checks.bend import curvature
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs, require, take_pairs
from bright_tether.core.results import Floats, Ints
from bright_tether.core.shape.clumps import Clumps, clumps
from bright_tether.core.shape.form import form
from bright_tether.core.shape.made_of import MadeOf, made_of
from bright_tether.core.shape.smooth import Smooth, smooth
from bright_tether.core.shape.timing import Timing, timing
from bright_tether.core.shape.values import Recurring, recurring
from bright_tether.core.strength.within import WithinGroups
from bright_tether.live.cases import CaseResults, judged_within
from bright_tether.live.line import LineResults
from bright_tether.study.declared import given, result
from bright_tether.tables.clock import zones_of
from bright_tether.tables.column import Cells, Column
from bright_tether.tables.texts import named

#: A category column is looked into when it has this many groups at most.
MOST_GROUPS = 8
#: Longer tables are not searched for groups that nobody asked for.
MOST_ROWS = 60_000


def _smooth(pairs: Pairs) -> Smooth:
    """The smooth local trend."""
    return smooth(pairs)


def _within_clumps(pairs: Pairs, found: Clumps, cases: Ints | None) -> WithinGroups | None:
    """r inside the clumps, None where there are none."""
    if not found.count:
        return None
    inside = found.of >= 0
    kept = take_pairs(pairs.x[inside], pairs.y[inside])
    names = [f"clump {at + 1}" for at in range(found.count)]
    mine = None if cases is None else np.unique(cases[inside], return_inverse=True)[1]
    return judged_within(kept, found.of[inside], names, mine)


def _within_columns(
    pairs: Pairs, columns: tuple[tuple[str, Cells], ...], cases: Ints | None
) -> tuple[tuple[str, WithinGroups], ...]:
    """r inside the groups of each of these columns that has some, by the column's id."""
    if pairs.n > MOST_ROWS:
        return ()
    found = []
    for column, cells in columns:
        codes, names = named(cells[pairs.at])
        if 2 <= len(names) <= MOST_GROUPS:
            found.append((column, judged_within(pairs, codes, names, cases)))
    return tuple(found)


def _other_line(pairs: Pairs) -> tuple[float, float] | None:
    """Slope and intercept of x on y, drawn where neither column explains the other."""
    require(pairs, 1)
    if pairs.centred_y.constant:
        return None
    turned = fit_line(take_pairs(pairs.y, pairs.x))
    back = float(turned.slope_exact) * 2.0 ** (turned.y.exponent - turned.x.exponent)
    return back, float(np.mean(pairs.x) - back * np.mean(pairs.y))


def _timing(times: Floats | None, pairs: Pairs) -> Timing | None:
    """When the rows in play were taken, None without a date."""
    return None if times is None else timing(times[pairs.at])


def _recurring(pairs: Pairs) -> Recurring | None:
    """What recurs in the pairs, None of very many."""
    return recurring(pairs) if 0 < pairs.n <= MOST_ROWS else None


def _made_of(pairs: Pairs, thirds: tuple[tuple[str, Floats], ...]) -> MadeOf | None:
    """How one of the two columns makes up the other with a third."""
    return made_of(pairs.x, pairs.y, pairs.at, thirds)


def _zones(cells: Cells | None) -> tuple[str, ...]:
    """The zones that stand behind the times of a column."""
    return () if cells is None else tuple(sorted(zones_of(cells)))


class LookResults(CaseResults):
    """The form of the scatter and the stories of its groups."""

    smooth = result(_smooth, LineResults.pairs)
    curvature = result(curvature, LineResults.plain)
    clumps = result(clumps, LineResults.pairs)

    @given
    def tightness(self) -> float | None:
        """The plain line's typical residual as a share of the sd of y."""
        s, sd = self.plain_s, self.y_summary.sd
        return s / sd if s is not None and sd else None

    form = result(form, LineResults.pairs, LineResults.plain_rows, curvature, clumps, LineResults.gaps, tightness,
                  LineResults.alpha)  # fmt: skip
    within_clumps = result(_within_clumps, LineResults.pairs, clumps, CaseResults.deciding_cases)

    @given
    def categories(self) -> tuple[tuple[str, Cells], ...]:
        """Every category column, by id with its cells, the tint first."""
        columns = sorted(self.table.columns, key=lambda column: column.id != self.tether.tint)
        return tuple((column.id, column.cells) for column in columns if column.kind == "category")

    within_by_id = result(_within_columns, LineResults.pairs, categories, CaseResults.deciding_cases)

    @property
    def within_columns(self) -> tuple[tuple[Column, WithinGroups], ...]:
        """r inside the groups of every category column, the tint first."""
        return tuple((self.table.column(column), within) for column, within in self.within_by_id)

    other_slope = result(_other_line, LineResults.pairs)

    @given
    def timed_by(self) -> Column | None:
        """The date that is x, else the one that orders the rows, else the table's only one."""
        dates = {column.id: column for column in self.table.columns if column.kind == "date"}
        for told in (self.tether.x, self.tether.line.order):
            if told in dates:
                return dates[told]
        return next(iter(dates.values())) if len(dates) == 1 else None

    @given
    def times(self) -> Floats | None:
        """Its moments, (rows,) in seconds since 1970."""
        return None if self.timed_by is None else self.along(self.timed_by)

    @given
    def time_cells(self) -> Cells | None:
        """Its texts, (rows,)."""
        return None if self.timed_by is None else self.timed_by.cells

    timing = result(_timing, times, LineResults.pairs)
    recurring = result(_recurring, LineResults.pairs)

    @given
    def measured_numbers(self) -> tuple[tuple[str, Floats], ...]:
        """Every column of numbers but x and y that is not worked out, by id with its cells."""
        pair = self.tether.x, self.tether.y
        return tuple(
            (one.id, one.cells)
            for one in self.table.columns
            if one.kind == "number" and one.formula is None and one.id not in pair
        )

    made_of = result(_made_of, LineResults.pairs, measured_numbers)
    zones = result(_zones, time_cells)
