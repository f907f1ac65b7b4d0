"""All that is known of one tether: each result asked for is made once and kept."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from contextlib import suppress
from typing import Any

from bright_tether.core.decision import Decision, decide, decider
from bright_tether.core.line.coefficients import Coefficients
from bright_tether.core.line.figures import Line
from bright_tether.core.results import Alternative, Decider, Refusal
from bright_tether.core.strength.kendall import Kendall
from bright_tether.core.strength.pearson import Pearson
from bright_tether.core.strength.spearman import Spearman
from bright_tether.live.alternatives import AlternativeResults
from bright_tether.live.basis import NothingTied, NotNumbers
from bright_tether.live.line import zero_is_near
from bright_tether.live.look import LookResults
from bright_tether.live.other_choices import OtherChoiceResults
from bright_tether.live.rehearse_held import HeldRehearsals
from bright_tether.live.scenes import SceneResults
from bright_tether.live.sketches import SketchResults
from bright_tether.live.widths import WidthResults
from bright_tether.study.declared import Given, given, result
from bright_tether.tables.slips import Slip, likely_slips

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
        return self.memory.keep(
            (table.id, "slips"), lambda *_: likely_slips(table), table.dismissed, limits, cells
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

    def prepare(self, needs: Iterable[Need], cancelled: Callable[[], bool] = lambda: False) -> None:
        """Make these results and all they rest on, so that asking is free afterwards. Refusals are kept.

        cancelled : asked between results.
        """
        for one in needs:
            if cancelled():
                return
            with suppress(Refusal):
                _ = getattr(self, one.name) if isinstance(one, Given) else one(self)
