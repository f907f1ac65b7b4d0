"""Results of the step that lays lines side by side."""

from __future__ import annotations

from bright_tether.core.compare.groups import Parts
from bright_tether.core.line.errors import ErrorKind
from bright_tether.core.results import Refusal
from bright_tether.live.cases import CaseResults
from bright_tether.live.comparison import (
    Asked,
    NoOtherLine,
    NotCombined,
    OtherLine,
    SecondResponse,
    make_common_slope,
    make_comparison,
)
from bright_tether.live.line import LineResults
from bright_tether.study.declared import given, result
from bright_tether.study.names import tether_name
from bright_tether.tables.column import Cells, Column


class CompareResults(CaseResults):
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
    def group_cells(self) -> Cells | Parts | None:
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
        return pairs, _tether_names(self, other), apart, self._cases_of(other)

    def _cases_of(self, other: CompareResults) -> tuple[str, ...] | None:
        """The case of each of another tether's pairs, where its table tells it under the same name."""
        named = self.case_column
        mine = None if named is None else next((c for c in other.table.columns if c.name == named.name), None)
        return None if mine is None else tuple(str(cell) for cell in mine.cells[other.pairs.at].tolist())

    @given
    def cluster_names(self) -> tuple[str, ...] | None:
        """The case of each pair by name, where another tether is compared with; None otherwise."""
        if self.other is None or self.cluster_cells is None or self.error_kind != "clustered":
            return None
        return tuple(str(cell) for cell in self.cluster_cells[self.pairs.at].tolist())

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
                   height_at, error_kind, LineResults.order, LineResults.clusters,
                   cluster_names)  # fmt: skip
    comparison = result(make_comparison, combined, asked, second_response, group_cells, other_line)

    @property
    def common_groups(self) -> str | None:
        """The column within whose groups one slope is taken: the groups compared, else the clusters."""
        chosen = self.tether.compare.group or self.tether.line.cluster
        return chosen if self.table.has(chosen) else None

    @given
    def common_cells(self) -> Cells | Parts | None:
        """Its cells."""
        return self._cells(self.common_groups)

    common_slope = result(
        make_common_slope, LineResults.pairs, LineResults.level, LineResults.against, common_cells
    )


def _units_differ(one: Column, other: Column) -> bool:
    """Whether both units are known, and not the same."""
    return bool(one.unit and other.unit) and one.unit != other.unit


def _tether_names(first: CompareResults, second: CompareResults) -> tuple[str, str]:
    both = (first, second)
    names = [f"{one.y_column.short} on {one.x_column.short}" for one in both]
    if names[0] == names[1]:
        names = [f"{name}, {one.table.name}" for name, one in zip(names, both, strict=True)]
    return (names[0], f"{names[1]} (second)") if names[0] == names[1] else (names[0], names[1])
