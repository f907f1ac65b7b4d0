"""The results of a tether whose table stays where it is: all that is a sum; what needs rows is refused."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.compare.groups import Parts
from bright_tether.core.compare.ladder import MOST_GROUPS
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import EveryRow
from bright_tether.core.strength.kendall import Kendall, kendall_of
from bright_tether.core.strength.spearman import Spearman, spearman
from bright_tether.core.summary import ColumnSummary, Five, summary_of
from bright_tether.core.sums.counting import five_numbers
from bright_tether.core.sums.summed import SummedPairs, summed_pairs
from bright_tether.far.engine import Engine, Overview
from bright_tether.far.question import Question
from bright_tether.live.findings import Findings
from bright_tether.study.choices import CompareChoice, ForecastChoice, LineChoice
from bright_tether.study.declared import given
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column, blank_column
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.table import Table

T = TypeVar("T")


class FarFindings(Findings):
    """Findings by an engine. question : the pairs that are asked for."""

    def __init__(self, study: Study, tether: Tether, engine: Engine, question: Question) -> None:
        super().__init__(study, tether)
        self.engine, self.question = engine, question

    @once
    def overview(self) -> Overview:
        """What there is before any sum."""
        return self.engine.overview(self.question)

    @given
    def pairs(self) -> Pairs:
        """The pairs in play, by their sums."""
        return self._summed

    @once
    def _summed(self) -> SummedPairs:
        return self._of(self.question, self.overview)

    def _of(self, question: Question, found: Overview) -> SummedPairs:
        return summed_pairs(self.engine.rows(question), found.extent, found.counted)

    @once
    def _five(self) -> tuple[Five, Five]:
        extent = self.overview.extent
        return five_numbers(self.engine.rows(self.question), extent.n, (extent.x, extent.y))

    @given
    def x_summary(self) -> ColumnSummary:
        """x of the pairs in figures. Raises TooFewPairs where there is none."""
        require(self.pairs, 1)
        return summary_of(self.pairs.centred_x, self.pairs.n, self._five[0])

    @given
    def y_summary(self) -> ColumnSummary:
        """y of the pairs in figures. Raises TooFewPairs where there is none."""
        require(self.pairs, 1)
        return summary_of(self.pairs.centred_y, self.pairs.n, self._five[1])

    def without_number(self, column: Column) -> int:
        """How many rows of the table have no number there."""
        return self.overview.without[0 if column.id == self.tether.x else 1]

    @once
    def parts(self) -> Parts:
        """The pairs of each group, in order of first appearance."""
        named = []
        for level in self.engine.groups(self.question, MOST_GROUPS):
            mine = replace(self.question, level=level)
            named.append((level, self._of(mine, self.engine.overview(mine)), np.zeros(0, np.int64)))
        return Parts(tuple(named))

    @given
    def grouping_cells(self) -> Parts | None:
        """The groups told of beside the whole."""
        return self.parts if self.question.group else None

    @given
    def group_cells(self) -> Parts | None:
        """The groups that are compared."""
        return self.parts if self.question.group else None

    @given
    def common_cells(self) -> Parts | None:
        """The groups within which one slope is taken."""
        return self.parts if self.question.group else None

    @given
    def spearman(self) -> Spearman:
        """ρ by the ranks that the engine gives. Raises Refusal."""
        return self._spearman

    @given
    def kendall(self) -> Kendall:
        """τ by every two pairs held against each other where they are. Raises Refusal."""
        return self._kendall

    @once
    def _kendall(self) -> Kendall:
        rules, pairs = self.rules, self._summed
        require(pairs, 2)
        found = _in_room(lambda: self.engine.compared(self.question, pairs.n))
        return kendall_of(found, alpha=rules.alpha, alternative=rules.alternative, level=rules.level)

    @once
    def _spearman(self) -> Spearman:
        rules, pairs = self.rules, self._summed

        def ranked() -> SummedPairs | None:
            rows = self.engine.ranks(self.question)
            return None if rows is None else pairs.with_ranks(rows)

        return spearman(_in_room(ranked), alpha=rules.alpha, alternative=rules.alternative, level=rules.level)


def _in_room(put_in_order: Callable[[], T | None]) -> T:
    """What an engine makes of all rows in order, if it can, and if they have room. Raises EveryRow."""
    try:
        found = put_in_order()
    except UnreadableFile as short:
        if short.trouble is not Trouble.MEMORY_SHORT:
            raise
        raise EveryRow from None
    if found is None:
        raise EveryRow
    return found


class FarAsked(msgspec.Struct, frozen=True, kw_only=True):
    """What is asked of a table that stays where it is. name : of the table. line, compare, forecast : as chosen."""

    name: str
    question: Question
    line: LineChoice
    compare: CompareChoice
    forecast: ForecastChoice
    rules: RuleChoices


def far_findings(engine: Engine, asked: FarAsked) -> FarFindings:
    """The results of what is asked; each is worked out when it is asked for."""
    question = asked.question
    x = blank_column("c1", question.x, "number" if question.clock is None else "date", 0)
    columns = [x, blank_column("c2", question.y, "number", 0)]
    compare = asked.compare
    if question.group:
        columns.append(blank_column("c3", question.group, "category", 0))
        compare = msgspec.structs.replace(compare, group="c3")
    table = Table(id="t1", name=asked.name, columns=tuple(columns), row_ids=np.zeros(0, np.int64))
    tether = Tether(id="k1", table="t1", x="c1", y="c2", chosen=True, clock=question.clock, line=asked.line,
                    compare=compare, forecast=asked.forecast)  # fmt: skip
    return FarFindings(Study(tables=(table,), tethers=(tether,), rules=asked.rules), tether, engine, question)
