"""Lines side by side, put together from groups, two responses or two tethers."""

from __future__ import annotations

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.checks.added import FTest, no_test
from bright_tether.core.compare.by_case import ComparedByCase, compared_by_case
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
from bright_tether.core.compare.groups import Group, Parts, group_lines, mean_x_of, split, with_lines
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
from bright_tether.live.line import codes_of
from bright_tether.study.choices import RowsAre
from bright_tether.tables.column import Cells
from bright_tether.tables.texts import named


class NothingCompared(Refusal):
    """No groups, second response or other tether was chosen."""


class NotCombined(Refusal):
    """A comparison of lines with weights or through the origin is not defined."""


class NoOtherLine(Refusal):
    """The other tether has no pairs to draw a line through. Its name, and why."""

    def __init__(self, name: str, why: Refusal) -> None:
        super().__init__(name, why)
        self.name, self.why = name, why


class Comparison(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Section 6. What is for two lines is None for more or fewer, for the cause in ``why_not_two``.

    same_rows, dependent : two responses on the same rows. rows_are : what a row is, as said or taken.
    decides : same_rows, by_case or separate; equivalence rests on that one. by_case : where errors by case are in
    force and told for every line. units_differ : of two responses or two
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
    by_case: ComparedByCase | None = None
    units_differ: bool = False


#: Cells, what a row is, both names, and whether their units differ.
SecondResponse = tuple[Cells, RowsAre | None, tuple[str, str], bool]
#: Pairs, both names, whether the units of x or of y differ, and the case of each row where it is told.
OtherLine = tuple[Pairs, tuple[str, str], bool, tuple[str, ...] | None]


class Asked(msgspec.Struct, frozen=True, eq=False):
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
    cluster_names: tuple[str, ...] | None


def make_comparison(
    combined: bool,
    asked: Asked,
    second: SecondResponse | None,
    groups: Cells | Parts | None,
    other: OtherLine | None,
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


def _groups(asked: Asked, cells: Cells | Parts) -> Comparison:
    return _compared("groups", _lines(asked, _split(asked.pairs, cells)), asked)


def _lines(asked: Asked, named: list[tuple[str, Pairs, Ints]]) -> tuple[Group, ...]:
    return group_lines(named, asked.against, asked.kind, order=asked.order, clusters=asked.clusters)


def _split(pairs: Pairs, cells: Cells | Parts) -> list[tuple[str, Pairs, np.ndarray]]:
    """The pairs of each group that a column names, in order of first appearance."""
    if isinstance(cells, Parts):
        return list(cells.named)
    codes, names = named(cells[pairs.at], str.strip)
    if "" in names:  # of no group
        blank = names.index("")
        codes = np.where(codes == blank, -1, codes - (codes > blank))
    return split(pairs, codes, [name for name in names if name])


def make_common_slope(
    pairs: Pairs, level: float, against: Hypotheses, cells: Cells | Parts | None
) -> CommonSlope:
    """One slope within the groups, each at its own height. Raises NothingCompared."""
    if cells is None:
        raise NothingCompared
    return common_slope(group_lines(_split(pairs, cells), against), level)


def _tethers(
    asked: Asked, others: Pairs, names: tuple[str, str], units_differ: bool, cases: tuple[str, ...] | None
) -> Comparison:
    first = _lines(asked, [(names[0], asked.pairs, np.arange(asked.pairs.n))])
    # errors that need no column of this table, for the other tether
    kind: ErrorKind = "HC3" if asked.kind in ("newey_west", "clustered") else asked.kind
    codes = None
    if asked.kind == "clustered" and asked.cluster_names is not None and cases is not None:
        kind, codes = "clustered", _codes(asked.cluster_names, cases)
    own = None if codes is None else np.unique(codes[1], return_inverse=True)[1]
    second = group_lines([(names[1], others, np.arange(others.n))], asked.against, kind, clusters=own)
    found = _compared("tethers", first + second, asked, codes)
    return _correlations_alone(found, asked.margin) if units_differ else found


def _codes(*named: tuple[str, ...]) -> tuple[Ints, ...]:
    """Names as codes from 0, alike in all."""
    known: dict[str, int] = {}
    return tuple(codes_of(each, known) for each in named)


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
    codes = None
    if asked.clusters is not None:  # two experiments share no case, whatever their rows are called
        mine = asked.clusters[places]
        codes = (mine, mine if is_cases else mine + int(asked.clusters.max()) + 1)
    compared = _compared("responses", groups, asked, codes)
    found = replace(
        compared,
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
        by_case=found.by_case and _by_case_alone(found.by_case, none),
    )


def _by_case_alone(found: ComparedByCase, none: FTest) -> ComparedByCase:
    return replace(found, slopes=None, intercepts=None, heights=None, parallel=none, same_height=none, coincident=none,
                   pairwise=())  # fmt: skip


def _compared(
    source: str, groups: tuple[Group, ...], asked: Asked, codes: tuple[Ints, ...] | None = None
) -> Comparison:
    """codes : the case of each row of each group, alike in all; where none are told, those of the rows asked about."""
    level, alpha, margin, height_at = asked.level, asked.alpha, asked.margin, asked.height_at
    lined = with_lines(groups)
    two = (lined[0], lined[1]) if len(lined) == 2 else None
    slopes = slope_differences(*two, level) if two else None
    if height_at is None and two:
        height_at = mean_x_of(two)
    cause = Cause.TOO_MANY_GROUPS if len(lined) > MOST_GROUPS else None
    by_case = _by_case(groups, asked, codes, height_at)
    decides: Basis = "separate"
    judged = slopes.separate if slopes else None
    if by_case is not None and by_case.shared and by_case.slopes is not None:
        decides, judged = "by_case", by_case.slopes
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
        else equivalence(judged, margin, alpha, decides)
        if judged
        else no_equivalence(margin, Cause.NOT_TWO_GROUPS, "separate"),
        correlations=correlations(*two) if two else None,
        dependent=None,
        same_rows=None,
        rows_are=None,
        decides=decides,
        by_case=by_case,
    )


def _by_case(
    groups: tuple[Group, ...], asked: Asked, codes: tuple[Ints, ...] | None, height_at: float | None
) -> ComparedByCase | None:
    """All lines judged by case; None where cases do not decide, or are not told for every line."""
    if asked.kind != "clustered" or asked.clusters is None:
        return None
    if codes is None:
        if any(group.places.size != group.n for group in groups) or len(groups) < 2:
            return None
        codes = tuple(asked.clusters[group.places] for group in groups)
    lined = [(group, mine) for group, mine in zip(groups, codes, strict=True) if group.fit is not None]
    if len(lined) < 2:
        return None
    return compared_by_case([one for one, _ in lined], [mine for _, mine in lined], asked.level, height_at)
