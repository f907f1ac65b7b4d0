"""Results of the step that lays lines side by side."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from bright_tether.core.centred import centre, fraction_unscaled
from bright_tether.core.checks.added import no_test
from bright_tether.core.compare.differences import (
    Basis,
    CorrelationTest,
    Differences,
    Equivalence,
    SameRows,
    correlations,
    dependent_correlations,
    equivalence,
    height_differences,
    intercept_differences,
    no_equivalence,
    same_rows,
    slope_differences,
)
from bright_tether.core.compare.groups import Group, group_lines, split, with_lines
from bright_tether.core.compare.ladder import (
    MOST_GROUPS,
    CommonSlope,
    Ladder,
    TwoGroups,
    common_slope,
    every_two,
    ladder,
)
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import ErrorKind
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Ints, Refusal
from bright_tether.live.line import LineResults
from bright_tether.study.choices import RowsAre
from bright_tether.study.declared import given, result
from bright_tether.study.names import tether_name
from bright_tether.tables.column import Cells, Column


class NothingCompared(Refusal):
    """No groups, second response or other tether was chosen."""


class NotCombined(Refusal):
    """A comparison of lines with weights or through the origin is not defined."""


class NoOtherLine(Refusal):
    """The other tether has no pairs to draw a line through. Its name, and why."""

    def __init__(self, name: str, why: Refusal) -> None:
        super().__init__(name, why)
        self.name, self.why = name, why


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Comparison:
    """Section 6. What is for two lines is None for more or fewer, for the cause in ``why_not_two``.

    same_rows, dependent : two responses on the same rows. rows_are : what a row is, as said or taken.
    decides : same_rows or separate; equivalence rests on that one. units_differ : of two responses or two
    tethers, of which correlations alone are compared then.
    """

    source: str
    groups: tuple[Group, ...]
    slopes: Differences | None
    intercepts: Differences | None
    heights: Differences | None
    height_at: float | None
    ladder: Ladder
    pairwise: tuple[TwoGroups, ...]
    pairwise_cause: Cause | None
    equivalence: Equivalence | None
    correlations: CorrelationTest | None
    dependent: CorrelationTest | None
    same_rows: SameRows | None
    rows_are: RowsAre | None
    decides: Basis
    units_differ: bool = False


#: Cells, what a row is, both names, and whether their units differ.
SecondResponse = tuple[Cells, RowsAre | None, tuple[str, str], bool]
#: Pairs, both names, and whether the units of x or of y differ.
OtherLine = tuple[Pairs, tuple[str, str], bool]


@dataclass(frozen=True, slots=True, eq=False)
class Asked:
    """What every comparison is asked with."""

    pairs: Pairs
    level: float
    alpha: float
    against: Hypotheses
    margin: float | None
    height_at: float | None
    kind: ErrorKind
    order: Ints | None
    clusters: Ints | None


def _comparison(
    combined: bool, asked: Asked, second: SecondResponse | None, groups: Cells | None, other: OtherLine | None
) -> Comparison:
    """The comparison chosen for this tether. Raises NothingCompared, NotCombined."""
    if combined:
        raise NotCombined
    if second is not None:
        return _responses(asked, *second)
    if groups is not None:
        return _groups(asked, groups)
    if other is not None:
        return _tethers(asked, *other)
    raise NothingCompared


def _groups(asked: Asked, cells: Cells) -> Comparison:
    return _compared("groups", _lines(asked, _split(asked.pairs, cells)), asked)


def _lines(asked: Asked, named: list[tuple[str, Pairs, Ints]]) -> tuple[Group, ...]:
    return group_lines(named, asked.against, asked.kind, order=asked.order, clusters=asked.clusters)


def _split(pairs: Pairs, cells: np.ndarray) -> list[tuple[str, Pairs, np.ndarray]]:
    """The pairs of each group that a column names, in order of first appearance."""
    texts = [str(cell).strip() for cell in cells[pairs.at].tolist()]
    names = [name for name in dict.fromkeys(texts) if name]
    place = {name: at for at, name in enumerate(names)}
    return split(pairs, np.array([place.get(text, -1) for text in texts], np.int64), names)


def _common(pairs: Pairs, level: float, against: Hypotheses, cells: Cells | None) -> CommonSlope:
    """One slope within the groups, each at its own height. Raises NothingCompared."""
    if cells is None:
        raise NothingCompared
    return common_slope(group_lines(_split(pairs, cells), against), level)


def _tethers(asked: Asked, others: Pairs, names: tuple[str, str], units_differ: bool) -> Comparison:
    first = _lines(asked, [(names[0], asked.pairs, np.arange(asked.pairs.n))])
    # errors that need no column of this table, for the other tether
    kind: ErrorKind = "HC3" if asked.kind in ("newey_west", "clustered") else asked.kind
    second = group_lines([(names[1], others, np.arange(others.n))], asked.against, kind)
    found = _compared("tethers", first + second, asked)
    return _correlations_alone(found, asked.margin) if units_differ else found


def _responses(
    asked: Asked, second: Cells, rows_are: RowsAre | None, names: tuple[str, str], units_differ: bool
) -> Comparison:
    pairs, margin, level = asked.pairs, asked.margin, asked.level
    there = np.isfinite(second[pairs.at])
    places = np.flatnonzero(there)
    both = [
        Pairs(
            x=pairs.x[there], y=y, at=pairs.at[there], rows=pairs.rows, missing=0, set_aside=0, filtered_out=0
        )
        for y in (pairs.y[there], second[pairs.at][there])
    ]
    groups = _lines(asked, [(name, one, places) for name, one in zip(names, both, strict=True)])
    is_cases = (rows_are or "cases") == "cases"
    found = replace(
        _compared("responses", groups, asked),
        rows_are=rows_are or "cases",
        decides="same_rows" if is_cases and len(with_lines(groups)) == 2 else "separate",
        dependent=dependent_correlations(both[0].x, both[0].y, both[1].y) if both[0].n > 1 else None,
    )
    if units_differ:
        return _correlations_alone(found, margin)
    if len(with_lines(groups)) < 2:
        return found
    order, clusters = asked.order, asked.clusters
    along = None if order is None else np.argsort(np.argsort(order)[places], kind="stable")
    own = None if clusters is None else np.unique(clusters[places], return_inverse=True)[1]
    together = same_rows(both[0], both[1].y, asked.kind, level, order=along, clusters=own,
                         height_at=asked.height_at)  # fmt: skip
    if is_cases and margin is not None:
        found = replace(found, equivalence=equivalence(together.slope, margin, asked.alpha, "same_rows"))
    return replace(found, same_rows=together)


def _correlations_alone(found: Comparison, margin: float | None) -> Comparison:
    """What is left of a comparison of lines whose units differ: nothing is subtracted."""
    none = no_test(Cause.UNITS_DIFFER)
    return replace(
        found,
        units_differ=True,
        slopes=None,
        intercepts=None,
        heights=None,
        ladder=replace(found.ladder, parallel=none, same_height=none, coincident=none, common_slope=None),
        pairwise=(),
        pairwise_cause=Cause.UNITS_DIFFER,
        equivalence=None if margin is None else no_equivalence(margin, Cause.UNITS_DIFFER, found.decides),
    )


def _compared(source: str, groups: tuple[Group, ...], asked: Asked) -> Comparison:
    level, alpha, margin, height_at = asked.level, asked.alpha, asked.margin, asked.height_at
    lined = with_lines(groups)
    two = (lined[0], lined[1]) if len(lined) == 2 else None
    slopes = slope_differences(*two, level) if two else None
    if height_at is None and two:
        both = centre(np.concatenate([group.pairs.x for group in two]))
        height_at = fraction_unscaled(both.mean, both.exponent)
    cause = Cause.TOO_MANY_GROUPS if len(lined) > MOST_GROUPS else None
    return Comparison(
        source=source,
        groups=groups,
        slopes=slopes,
        intercepts=intercept_differences(*two, level) if two else None,
        heights=height_differences(*two, height_at, level) if two and height_at is not None else None,
        height_at=height_at,
        ladder=ladder(groups),
        pairwise=every_two(groups, level),
        pairwise_cause=cause,
        equivalence=None
        if margin is None
        else equivalence(slopes.separate, margin, alpha, "separate")
        if slopes
        else no_equivalence(margin, Cause.NOT_TWO_GROUPS, "separate"),
        correlations=correlations(*two) if two else None,
        dependent=None,
        same_rows=None,
        rows_are=None,
        decides="separate",
    )


class CompareResults(LineResults):
    """Lines side by side."""

    @property
    def second(self) -> Column | None:
        """The second response, where one was chosen."""
        chosen = self.tether.compare.second
        return self.table.column(chosen) if chosen and self.table.has(chosen) else None

    @property
    def other(self) -> CompareResults | None:
        """The other tether's results, where one was chosen."""
        chosen = self.tether.compare.other
        tether = next((one for one in self.study.tethers if one.id == chosen), None)
        return None if tether is None else type(self)(self.study, tether, self.memory)

    @given
    def second_response(self) -> SecondResponse | None:
        """What is told of the second response."""
        choice, second = self.tether.compare, self.second
        if second is None:
            return None
        names = (self.y_column.name, second.name)
        return second.cells, choice.rows_are, names, _units_differ(self.y_column, second)

    @given
    def group_cells(self) -> Cells | None:
        """The column whose groups are compared."""
        return self._cells(self.tether.compare.group)

    @given
    def other_line(self) -> OtherLine | None:
        """The other tether's pairs, and what both are called. Raises NotCombined, NoOtherLine."""
        if self.second is not None or self.group_cells is not None:
            return None
        other = self.other
        if other is None:
            return None
        try:
            pairs, combined = other.pairs, other.combined
        except Refusal as why:
            raise NoOtherLine(tether_name(self.study, other.tether), why) from None
        if combined:
            raise NotCombined
        apart = _units_differ(self.x_column, other.x_column) or _units_differ(self.y_column, other.y_column)
        return pairs, _tether_names(self, other), apart

    @given
    def combined(self) -> bool:
        """Whether the line has weights or goes through the origin."""
        return self.tether.line.origin or self.pairs.weights is not None

    @given
    def margin(self) -> float | None:
        """The margin of equivalence."""
        return self.tether.compare.margin

    @given
    def height_at(self) -> float | None:
        """The x at which heights are compared, where one was chosen."""
        return self.tether.compare.height_at

    @given
    def error_kind(self) -> ErrorKind:
        """The errors chosen."""
        return self.tether.line.errors

    asked = result(Asked, LineResults.pairs, LineResults.level, LineResults.alpha, LineResults.against, margin,
                   height_at, error_kind, LineResults.order, LineResults.clusters)  # fmt: skip
    comparison = result(_comparison, combined, asked, second_response, group_cells, other_line)

    @property
    def common_groups(self) -> str | None:
        """The column within whose groups one slope is taken: the groups compared, else the clusters."""
        chosen = self.tether.compare.group or self.tether.line.cluster
        return chosen if self.table.has(chosen) else None

    @given
    def common_cells(self) -> Cells | None:
        """Its cells."""
        return self._cells(self.common_groups)

    common_slope = result(_common, LineResults.pairs, LineResults.level, LineResults.against, common_cells)


def _units_differ(one: Column, other: Column) -> bool:
    """Whether both units are known, and not the same."""
    return bool(one.unit and other.unit) and one.unit != other.unit


def _tether_names(first: CompareResults, second: CompareResults) -> tuple[str, str]:
    both = (first, second)
    names = [f"{one.y_column.short} on {one.x_column.short}" for one in both]
    if names[0] == names[1]:
        names = [f"{name}, {one.table.name}" for name, one in zip(names, both, strict=True)]
    return (names[0], f"{names[1]} (second)") if names[0] == names[1] else (names[0], names[1])
