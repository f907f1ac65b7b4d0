"""Results where several rows are of one case."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Literal

import msgspec
import numpy as np

from bright_tether.core.compare.groups import Parts
from bright_tether.core.line.plain import Fit
from bright_tether.core.pairs import Pairs
from bright_tether.core.resampling.permutation import Permutation, permutation
from bright_tether.core.results import Alternative, Decider, Interval, Ints, Refusal, Why
from bright_tether.core.strength.by_case import (
    ByCase,
    CoefficientsByCase,
    coefficients_by_case,
    within_by_case,
)
from bright_tether.core.strength.cases import CaseStory, KnownCase, OneRowEach, case_story, known_case
from bright_tether.core.strength.within import WithinGroups, within_groups, within_parts
from bright_tether.live.line import LineResults
from bright_tether.live.strength import StrengthResults
from bright_tether.study.declared import Task, given, result
from bright_tether.tables.column import Cells, Column
from bright_tether.tables.texts import named

#: What each coefficient's value is called in its result.
VALUES: dict[Decider, str] = {"pearson": "r", "spearman": "rho", "kendall": "tau_b"}


class InForce(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A coefficient with the test and interval in force: by case where cases decide, else by rows.

    letter, statistic, df : t, or z without df. critical, p_exact : by rows alone.
    """

    value: float | None
    letter: Literal["t", "z"]
    statistic: float | None
    df: int | None
    p: float | None
    p_exact: float | None
    ci: Interval | None
    critical: float | None
    by_case: bool
    why: Why


def _case_story(pairs: Pairs, clusters: Ints | None) -> CaseStory | None:
    """Within and between cases; None where none is told, or each has one row."""
    if clusters is None or pairs.n < 3:
        return None
    try:
        return case_story(pairs, clusters)
    except OneRowEach:
        return None


def _by_case(
    pairs: Pairs, plain: Fit, cases: Ints | None, alternative: Alternative, level: float
) -> CoefficientsByCase | None:
    """r, ρ and τ judged by case; None where rows decide."""
    if cases is None:
        return None
    return coefficients_by_case(pairs, plain, cases, alternative=alternative, level=level)


def judged_within(pairs: Pairs, codes: Ints, names: Sequence[str], cases: Ints | None) -> WithinGroups:
    """r inside groups, its p by case where cases decide. codes : which name each pair's group has, (n,)."""
    found = within_groups(pairs, codes, names)
    return found if cases is None else within_by_case(found, pairs, codes, cases)


def _within(pairs: Pairs, cells: Cells | Parts | None, cases: Ints | None) -> WithinGroups | None:
    """r inside the groups told of, None without any."""
    if isinstance(cells, Parts):
        return within_parts(pairs, [(name, part) for name, part, _ in cells.named])
    return None if cells is None else judged_within(pairs, *named(cells[pairs.at]), cases)


class CaseResults(LineResults, StrengthResults):
    """Within and between cases, and what is judged by case."""

    @given
    def case_column(self) -> Column | None:
        """The column that says which rows are of one case."""
        named = self.tether.line.cluster
        return self.table.column(named) if named and self.table.has(named) else None

    case_story = result(_case_story, LineResults.pairs, LineResults.clusters)

    @given
    def deciding_cases(self) -> Ints | None:
        """The case of each pair, (n,), where errors by case are in force and a case has several rows."""
        decide = self.tether.line.errors == "clustered" and self.case_story is not None
        return self.clusters if decide else None

    @property
    def case_decides(self) -> bool:
        """Whether cases decide rather than rows."""
        try:
            return self.deciding_cases is not None
        except Refusal:
            return False

    within_groups = result(_within, LineResults.pairs, LineResults.grouping_cells, deciding_cases)
    by_case = result(_by_case, LineResults.pairs, LineResults.plain, deciding_cases, LineResults.alternative,
                     LineResults.level)  # fmt: skip

    def in_force(self, name: Decider) -> InForce:
        """A coefficient as it is tested here. Raises Refusal."""
        found, by_case = getattr(self, name), self.by_case
        value = getattr(found, VALUES[name])
        if by_case is not None:
            one: ByCase = getattr(by_case, name)
            return InForce(value=value, letter="t", statistic=one.t, df=one.df, p=one.p, p_exact=None, ci=one.ci,
                           critical=None, by_case=True, why=one.why)  # fmt: skip
        letter: Literal["t", "z"] = "z" if name == "kendall" else "t"
        return InForce(value=value, letter=letter, statistic=getattr(found, letter), df=getattr(found, "df", None),
                       p=found.p, p_exact=getattr(found, "p_exact", None), ci=found.ci, critical=found.critical,
                       by_case=False, why=found.why)  # fmt: skip

    def permutation(self, shuffles: int, seed: int) -> Task[Permutation]:
        """r against what luck gives, y shuffled against x so often from this seed, by case where cases decide."""
        key = (self.owner, "permutation")
        inputs = (self.pairs, shuffles, seed, self.alternative, self.deciding_cases)
        return Task(key, inputs, self.memory, _shuffled, _all_shuffled)

    @given
    def case_code(self) -> int | None:
        """The case whose further row is forecast, as its code among the pairs."""
        cells, wanted = self.cluster_cells, self.tether.forecast.case
        if cells is None or not wanted:
            return None
        codes, names = named(cells[self.pairs.at])
        if wanted not in names or self.clusters is None:
            return None
        return int(self.clusters[np.flatnonzero(codes == names.index(wanted))[0]])

    def known_case(self, x: float) -> KnownCase | None:
        """What a further row of that case is expected to be at an x on the line's scale; None without a case."""
        try:
            there = self.case_code is not None and self.clusters is not None and self.case_story is not None
        except Refusal:
            return None
        if not there:
            return None
        assert self.case_code is not None
        assert self.clusters is not None
        return known_case(self.pairs, self.clusters, self.case_code, x, self.rules.level)


def _shuffled(
    pairs: Pairs, shuffles: int, seed: int, alternative: Alternative, cases: Ints | None,
    progress: Callable[[int], bool],
) -> Permutation:  # fmt: skip
    return permutation(pairs, shuffles, seed, alternative=alternative, cases=cases, progress=progress)


def _all_shuffled(found: Permutation, pairs: Pairs, shuffles: int, *_: object) -> bool:
    return found.shuffles == shuffles or found.p is None
