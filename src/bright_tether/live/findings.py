"""All that is known of one tether: each result asked for is made once and kept."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from contextlib import suppress
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.decision import Decision, decide, decider
from bright_tether.core.doubts.in_groups import BY_GROUPS, p_in_groups
from bright_tether.core.doubts.verdicts import p_of
from bright_tether.core.line.coefficients import Coefficients
from bright_tether.core.line.figures import Line
from bright_tether.core.once import once
from bright_tether.core.results import Alternative, Decider, Interval, Ints, Refusal
from bright_tether.core.shape.form import far_out
from bright_tether.core.strength.kendall import Kendall
from bright_tether.core.strength.pearson import Pearson
from bright_tether.core.strength.spearman import Spearman
from bright_tether.live.alternatives import AlternativeResults
from bright_tether.live.basis import NothingTied, NotNumbers
from bright_tether.live.line import zero_is_near
from bright_tether.live.look import LookResults
from bright_tether.live.other_choices import OtherChoiceResults
from bright_tether.live.rehearse_held import HeldRehearsals
from bright_tether.live.resting import (
    BY_FEW,
    LEAST_LEFT,
    MOST_ROWS,
    LeftOut,
    Resting,
    Without,
    noticed,
    turns,
)
from bright_tether.live.scenes import SceneResults
from bright_tether.live.sketches import SketchResults
from bright_tether.live.widths import WidthResults
from bright_tether.study.declared import Given, given, result
from bright_tether.study.memory import Memory
from bright_tether.tables.column import Column
from bright_tether.tables.slips import Slip, column_slips, likely_slips
from bright_tether.tables.texts import named

__all__ = ["Findings", "NotNumbers", "NothingTied", "zero_is_near"]

#: What the deciding test rests on: the coefficient, or the slope by the errors in force with their df.
Deciding = tuple[Pearson | None, Spearman | None, Kendall | None, Coefficients | None, int | None]


#: A result, or what has to be asked so that what it rests on is there.
Need = Given[Any] | Callable[["Findings"], object]


def _decision(
    test: Decider, named: Decider, deciding: Deciding, line: Line, alpha: float, alternative: Alternative
) -> Decision:
    """What the deciding test says."""
    correlation, spearman, kendall, coefficients, slope_df = deciding
    return decide(test, correlation=correlation, line=line, spearman=spearman, kendall=kendall,
                  coefficients=coefficients, slope_df=slope_df, alpha=alpha, alternative=alternative,
                  instead_of=None if test == named else named)  # fmt: skip


class Findings(
    SceneResults, HeldRehearsals, SketchResults, AlternativeResults, OtherChoiceResults, WidthResults
):
    """The results of one tether of one study.

    Results raise Refusal where the pairs allow none; ``pairs``, ``rules`` and the columns always answer.
    """

    @given
    def slips(self) -> tuple[Slip, ...]:
        """Likely slips in the table, which all its tethers share."""
        table = self.table
        cells = tuple(column.cells for column in table.columns)
        limits = tuple((c.id, c.low, c.high, c.kind) for c in table.columns)

        def of_column(column: Column, row_ids: Ints, heads: int | None) -> tuple[Slip, ...]:
            return self.memory.keep((table.id, "slips", column.id), column_slips, column, row_ids, heads)

        return self.memory.keep(
            (table.id, "slips"), lambda *_: likely_slips(table, of_column), table.dismissed, limits, cells
        )

    @given
    def decider(self) -> Decider:
        """The test that decides: the one named in the rules, or the slope where only it can judge."""
        chosen = self.tether.line
        return decider(
            self.rules.decide,
            errors=chosen.errors,
            weighted=chosen.weight_pattern is not None or self.table.has(chosen.weights),
            origin=chosen.origin,
            slope_0=chosen.slope_0,
        )

    @given
    def decider_named(self) -> Decider:
        """The test that the rules name."""
        return self.rules.decide

    @given
    def deciding(self) -> Deciding:
        """What the deciding test rests on."""
        test = self.decider
        return (
            self.pearson if test == "pearson" else None,
            self.spearman if test == "spearman" else None,
            self.kendall if test == "kendall" else None,
            self.coefficients if test == "slope" else None,
            self.errors.df if test == "slope" else None,
        )

    decision = result(_decision, decider, decider_named, deciding, LookResults.line, LookResults.alpha,
                      LookResults.alternative)  # fmt: skip

    @given
    def resting(self) -> Resting | None:
        """The rows that the decision on no relationship rests on: without them it would come out otherwise."""
        return self.memory.keep(
            (self.owner, "resting"), lambda *_: self._resting(), self.decision, self.doubts
        )

    def _resting(self) -> Resting | None:
        found = self.decision
        if found.p is None or found.null != 0:
            return None
        places = self.noticed
        for many in range(1, min(places.size, self.pairs.n - 3) + 1):
            rest = self._less(places[:many])
            if not rest.pairs.n:  # weights by the line that is left leave none
                return None
            flat = rest.pairs.centred_x.constant or rest.pairs.centred_y.constant
            try:
                without = None if flat else rest.decision
            except Refusal:  # what is left says nothing of the decision
                return None
            if without is None and not found.reject:
                return None
            if without is None or turns(found, without):
                return Resting(rows=np.sort(places[:many]), without=without)
        return None

    @given
    def without_carried(self) -> Without | None:
        """The slope without the rows that carry the line by their x alone; None where what is left has none."""
        try:
            basis = self._slope_basis()
        except Refusal:
            return None
        return self.memory.keep(
            (self.owner, "without_carried"), lambda *_: self._without_carried(), self.design, *basis
        )

    def _slope_basis(self) -> tuple[object, ...]:
        """What the slope's interval rests on. Raises Refusal where it has none."""
        return self.errors, self.against

    def _slope_told(self) -> tuple[float | None, Interval | None]:
        """The slope with its interval. Raises Refusal."""
        return self.line.slope, self.coefficients.ci_slope

    def _without_carried(self) -> Without | None:
        places = self.design.carried
        if not places.size or self.pairs.n > MOST_ROWS:
            return None
        try:
            slope, ci = self._less(places)._slope_told()
        except Refusal:
            return None
        return None if slope is None or ci is None else Without(slope=slope, ci=ci)

    @given
    def signs_without(self) -> LeftOut | None:
        """What doubts about all rows come to without the few that doubts about single rows notice."""
        return self.memory.keep((self.owner, "signs_without"), lambda *_: self._signs_without(), self.doubts)

    def _signs_without(self) -> LeftOut | None:
        names = [one.name for one in self.doubts if one.sign and one.name in BY_FEW]
        places = self.noticed if names else np.zeros(0, np.int64)
        if not places.size or self.pairs.n - places.size < LEAST_LEFT:
            return None
        try:
            rest = self._less(places)
            judged = (rest.fit, rest.checks, rest.rows, rest.order, self.alpha)
        except Refusal:
            return None
        return LeftOut(rows=np.sort(places), p={name: p_of(name, *judged) for name in names})

    @given
    def signs_in_groups(self) -> dict[str, float | None]:
        """The p of each doubt about all rows that shows a sign, beside a line for each group of the tint."""
        return self.memory.keep(
            (self.owner, "signs_in_groups"),
            lambda *_: self._signs_in_groups(),
            self.doubts,
            self.grouping_cells,
        )

    def _signs_in_groups(self) -> dict[str, float | None]:
        cells, fit = self.grouping.cells if self.grouping else None, self.fit
        names = [one.name for one in self.doubts if one.sign and one.name in BY_GROUPS]
        plainly = fit is self.plain and not self.held_cells and self.pairs.n <= MOST_ROWS
        if not names or cells is None or not plainly:
            return {}
        codes, _ = named(cells[self.pairs.at])
        return p_in_groups(names, self.pairs, codes, self.order, self.alpha)

    @property
    def noticed(self) -> Ints:
        """Places of the few single rows that stand out, the most influential first."""
        if self.fit.exact or self.pairs.n > MOST_ROWS:
            return np.zeros(0, np.int64)
        return noticed(self.doubts, self.design, self.rows, far_out(self.pairs.x))

    @once
    def left_free(self) -> Findings | None:
        """The same with an intercept, where the line is held through the origin: what its claims need is made."""
        chosen = self.tether.line
        if not chosen.origin:
            return None
        tether = msgspec.structs.replace(
            self.tether, line=msgspec.structs.replace(chosen, origin=False, slope_0=0.0)
        )
        free = Findings(self.study, tether, Memory())
        free.prepare((Findings.coefficients, Findings.signs_without, Findings.signs_in_groups))
        return free

    def _less(self, places: Ints) -> Findings:
        """The same without these places among the pairs."""
        left_out = self.table.row_ids[self.pairs.at[places]].tolist()
        return Findings(self.study, self.tether.with_asides(left_out, "left out"), Memory())

    def prepare(self, needs: Iterable[Need], cancelled: Callable[[], bool] = lambda: False) -> None:
        """Make these results and all they rest on, so that asking is free afterwards. Refusals are kept.

        cancelled : asked between results.
        """
        for one in needs:
            if cancelled():
                return
            with suppress(Refusal):
                _ = getattr(self, one.name) if isinstance(one, Given) else one(self)
