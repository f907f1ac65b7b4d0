"""Results of the step that lays lines side by side."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

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
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Refusal
from bright_tether.live.line import LineResults


class NothingCompared(Refusal):
    """No groups, second response or other tether was chosen."""


class NotCombined(Refusal):
    """A comparison of lines with weights or through the origin is not defined."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Comparison:
    """Section 6. What is for two lines is None for more or fewer, for the cause in ``why_not_two``.

    same_rows, dependent : two responses on the same rows. rows_are : what a row is, as said or taken.
    decides : same_rows or separate; equivalence rests on that one. units_differ : of two responses, of which
    correlations alone are compared then.
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
    rows_are: str | None
    decides: Basis
    units_differ: bool = False


class CompareResults(LineResults):
    """Lines side by side."""

    @cached_property
    def second(self) -> np.ndarray | None:
        """The second response in the rows complete in all columns, and those pairs."""
        chosen = self.tether.compare.second
        return None if chosen is None or not self.table.has(chosen) else self.table.column(chosen).cells

    @cached_property
    def comparison(self) -> Comparison:
        """The comparison chosen for this tether. Raises NothingCompared."""
        choice = self.tether.compare
        if self.tether.line.origin or self.pairs.weights is not None:
            raise NotCombined
        inputs = (
            self.pairs,
            self.rules.level,
            self.rules.alpha,
            self.against,
            choice.margin,
            choice.height_at,
        )
        kind, order, clusters = self.tether.line.errors, self.order, self.clusters
        if self.second is not None:
            return self._keep(
                "compare responses", _responses, *inputs, kind, order, clusters, self.second,
                choice.rows_are, self._names(self.tether.y, choice.second), self._units_differ(choice.second),
            )  # fmt: skip
        if choice.group is not None and self.table.has(choice.group):
            cells = self.table.column(choice.group).cells
            return self._keep("compare groups", _groups, *inputs, kind, order, clusters, cells)
        if choice.other is not None and any(t.id == choice.other for t in self.study.tethers):
            other = self.other
            return self._keep(
                "compare tethers", _tethers, *inputs, kind, order, clusters, other.pairs,
                self._tether_names(other),
            )  # fmt: skip
        raise NothingCompared

    @property
    def common_groups(self) -> str | None:
        """The column within whose groups one slope is taken: the groups compared, else the clusters."""
        chosen = self.tether.compare.group or self.tether.line.cluster
        return chosen if self.table.has(chosen) else None

    @cached_property
    def common_slope(self) -> CommonSlope:
        """One slope within the groups, each at its own height."""
        cells = self.table.column(self.common_groups or "").cells
        return self._keep("common slope", _common, self.pairs, self.rules.level, self.against, cells)

    @cached_property
    def other(self) -> CompareResults:
        """The other tether's results."""
        tether = self.study.tether(self.tether.compare.other)
        return type(self)(self.study, tether, self._memory)

    def _units_differ(self, second: str | None) -> bool:
        """Whether both responses say their unit, and not the same."""
        units = {self.y_column.unit, self.table.column(second or "").unit}
        return None not in units and len(units) == 2

    def _names(self, *columns: str | None) -> tuple[str, ...]:
        return tuple(self.table.column(one).name for one in columns if one)

    def _tether_names(self, other: CompareResults) -> tuple[str, str]:
        told = [f"{one.y_column.short} on {one.x_column.short}" for one in (self, other)]
        if told[0] == told[1]:
            told = [f"{name}, {one.table.name}" for name, one in zip(told, (self, other), strict=True)]
        return (told[0], f"{told[1]} (second)") if told[0] == told[1] else (told[0], told[1])


def _groups(pairs, level, alpha, against, margin, height_at, kind, order, clusters, cells) -> Comparison:
    groups = group_lines(_split(pairs, cells), against, kind, order=order, clusters=clusters)
    return _compared("groups", groups, level, alpha, margin, height_at)


def _split(pairs: Pairs, cells: np.ndarray) -> list[tuple[str, Pairs, np.ndarray]]:
    """The pairs of each group that a column names, in order of first appearance."""
    texts = [str(cell).strip() for cell in cells[pairs.at].tolist()]
    names = [name for name in dict.fromkeys(texts) if name]
    place = {name: at for at, name in enumerate(names)}
    return split(pairs, np.array([place.get(text, -1) for text in texts], np.int64), names)


def _common(pairs: Pairs, level: float, against: Hypotheses, cells: np.ndarray) -> CommonSlope:
    return common_slope(group_lines(_split(pairs, cells), against), level)


def _tethers(
    pairs, level, alpha, against, margin, height_at, kind, order, clusters, others, names
) -> Comparison:
    first = group_lines(
        [(names[0], pairs, np.arange(pairs.n))], against, kind, order=order, clusters=clusters
    )
    second = group_lines([(names[1], others, np.arange(others.n))], against, _without_columns(kind))
    return _compared("tethers", first + second, level, alpha, margin, height_at)


def _without_columns(kind):
    """Errors that need no column of this table, for the other tether."""
    return "HC3" if kind in ("newey_west", "clustered") else kind


def _responses(
    pairs, level, alpha, against, margin, height_at, kind, order, clusters, second, rows_are, names,
    units_differ,
) -> Comparison:  # fmt: skip
    there = np.isfinite(second[pairs.at])
    places = np.flatnonzero(there)
    both = [
        Pairs(
            x=pairs.x[there], y=y, at=pairs.at[there], rows=pairs.rows, missing=0, set_aside=0, filtered_out=0
        )
        for y in (pairs.y[there], second[pairs.at][there])
    ]
    named = [(name, one, places) for name, one in zip(names, both, strict=True)]
    groups = group_lines(named, against, kind, order=order, clusters=clusters)
    is_cases = (rows_are or "cases") == "cases"
    told = replace(
        _compared("responses", groups, level, alpha, margin, height_at),
        rows_are=rows_are or "cases",
        decides="same_rows" if is_cases and len(with_lines(groups)) == 2 else "separate",
        dependent=dependent_correlations(both[0].x, both[0].y, both[1].y) if both[0].n > 1 else None,
    )
    if units_differ:
        none = no_test(Cause.UNITS_DIFFER)
        return replace(
            told,
            units_differ=True,
            slopes=None,
            intercepts=None,
            heights=None,
            ladder=replace(told.ladder, parallel=none, same_height=none, coincident=none, common_slope=None),
            pairwise=(),
            pairwise_cause=Cause.UNITS_DIFFER,
            equivalence=None if margin is None else no_equivalence(margin, Cause.UNITS_DIFFER, told.decides),
        )
    if len(with_lines(groups)) < 2:
        return told
    along = None if order is None else np.argsort(np.argsort(order)[places], kind="stable")
    own = None if clusters is None else np.unique(clusters[places], return_inverse=True)[1]
    together = same_rows(both[0], both[1].y, kind, level, order=along, clusters=own, height_at=height_at)
    if is_cases and margin is not None:
        told = replace(told, equivalence=equivalence(together.slope, margin, alpha, "same_rows"))
    return replace(told, same_rows=together)


def _compared(source, groups, level, alpha, margin, height_at) -> Comparison:
    lined = with_lines(groups)
    two = lined if len(lined) == 2 else None
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
