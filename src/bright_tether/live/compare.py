"""Results of the step that lays lines side by side."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bright_tether.core.compare.differences import (
    CorrelationTest,
    Differences,
    Equivalence,
    SameRows,
    correlations,
    dependent_correlations,
    equivalence,
    height_differences,
    intercept_differences,
    same_rows,
    slope_differences,
)
from bright_tether.core.compare.groups import Group, group_lines, split, with_lines
from bright_tether.core.compare.ladder import MOST_GROUPS, Ladder, TwoGroups, every_two, ladder
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
    decides : same_rows or separate. equivalence_same_rows : by the errors that go together.
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
    equivalence_same_rows: Equivalence | None
    correlations: CorrelationTest | None
    dependent: CorrelationTest | None
    same_rows: SameRows | None
    rows_are: str | None
    decides: str


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
                choice.rows_are, self._names(self.tether.y, choice.second),
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

    @cached_property
    def other(self) -> CompareResults:
        """The other tether's results."""
        tether = self.study.tether(self.tether.compare.other)
        return type(self)(self.study, tether, self._memory)

    def _names(self, *columns: str | None) -> tuple[str, ...]:
        return tuple(self.table.column(one).name for one in columns if one)

    def _tether_names(self, other: CompareResults) -> tuple[str, str]:
        told = [f"{one.y_column.short} on {one.x_column.short}" for one in (self, other)]
        if told[0] == told[1]:
            told = [f"{name}, {one.table.name}" for name, one in zip(told, (self, other), strict=True)]
        return (told[0], f"{told[1]} (second)") if told[0] == told[1] else (told[0], told[1])


def _groups(pairs, level, alpha, against, margin, height_at, kind, order, clusters, cells) -> Comparison:
    texts = [str(cell).strip() for cell in cells[pairs.at].tolist()]
    names = [name for name in dict.fromkeys(texts) if name]
    place = {name: at for at, name in enumerate(names)}
    codes = np.array([place.get(text, -1) for text in texts], np.int64)
    groups = group_lines(split(pairs, codes, names), against, kind, order=order, clusters=clusters)
    return _compared("groups", groups, level, alpha, margin, height_at)


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
    pairs, level, alpha, against, margin, height_at, kind, order, clusters, second, rows_are, names
) -> Comparison:
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
    told = _compared("responses", groups, level, alpha, margin, height_at)
    if len(with_lines(groups)) < 2:
        return told
    along = None if order is None else np.argsort(np.argsort(order)[places], kind="stable")
    own = None if clusters is None else np.unique(clusters[places], return_inverse=True)[1]
    together = same_rows(both[0], both[1].y, kind, level, order=along, clusters=own, height_at=height_at)
    is_cases = (rows_are or "cases") == "cases"
    return replace(
        told,
        same_rows=together,
        dependent=dependent_correlations(both[0].x, both[0].y, both[1].y),
        equivalence_same_rows=None if margin is None else equivalence(together.slope, margin, alpha),
        rows_are=rows_are or "cases",
        decides="same_rows" if is_cases else "separate",
    )


def _compared(source, groups, level, alpha, margin, height_at) -> Comparison:
    lined = with_lines(groups)
    two = lined if len(lined) == 2 else None
    slopes = slope_differences(*two, level) if two else None
    if height_at is None and two:
        height_at = float(np.concatenate([group.pairs.x for group in two]).mean())
    cause = Cause.TOO_MANY_GROUPS if len(lined) > MOST_GROUPS else None
    return Comparison(
        source=source,
        groups=groups,
        slopes=slopes,
        intercepts=intercept_differences(*two, level) if two else None,
        heights=height_differences(*two, height_at, level) if two else None,
        height_at=height_at,
        ladder=ladder(groups),
        pairwise=every_two(groups, level),
        pairwise_cause=cause,
        equivalence=equivalence(slopes.separate, margin, alpha) if slopes and margin is not None else None,
        equivalence_same_rows=None,
        correlations=correlations(*two) if two else None,
        dependent=None,
        same_rows=None,
        rows_are=None,
        decides="separate",
    )
