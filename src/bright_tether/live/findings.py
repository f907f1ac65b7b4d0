"""All that is known of one tether: each result asked for is made once and kept."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import cached_property

from bright_tether.core.decision import Decision, decide, decider
from bright_tether.core.results import Decider, Refusal
from bright_tether.live.alternatives import AlternativeResults
from bright_tether.live.basis import NothingTied, NotNumbers
from bright_tether.live.doubts import DoubtResults
from bright_tether.live.line import zero_is_near
from bright_tether.live.look import LookResults
from bright_tether.live.rehearse import RehearseResults
from bright_tether.tables.slips import Slip, likely_slips

__all__ = ["Findings", "NotNumbers", "NothingTied", "zero_is_near"]


class Findings(LookResults, RehearseResults, DoubtResults, AlternativeResults):
    """The results of one tether of one study.

    Results raise Refusal where the pairs allow none; ``pairs``, ``rules`` and the columns always answer.
    """

    @cached_property
    def slips(self) -> tuple[Slip, ...]:
        """Likely slips in the table."""
        cells = tuple(column.cells for column in self.table.columns)
        limits = tuple((c.id, c.low, c.high, c.kind) for c in self.table.columns)
        make = lambda *_: likely_slips(self.table)  # noqa: E731
        return self._memory.keep((self.tether.table, "slips"), make, self.table.dismissed, limits, *cells)

    @cached_property
    def decision(self) -> Decision:
        """What the deciding test says."""
        test, rules = self.decider, self.rules
        by_slope = test == "slope"
        return self._keep(
            "decision",
            decide,
            test,
            correlation=self.pearson if test == "pearson" else None,
            line=self.line,
            coefficients=self.coefficients if by_slope else None,
            slope_df=self.errors.df if by_slope else None,
            spearman=self.spearman if test == "spearman" else None,
            kendall=self.kendall if test == "kendall" else None,
            alpha=rules.alpha,
            alternative=rules.alternative,
            instead_of=None if test == rules.decide else rules.decide,
        )

    @property
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

    def prepare(self, cancelled: Callable[[], bool] = lambda: False) -> None:
        """Make everything a step shows, so that asking is free afterwards. Refusals are kept.

        cancelled is asked between results.
        """
        for name in (
            "cloud",
            "x_summary",
            "y_summary",
            "line",
            "rows",
            "pearson",
            "decision",
            "covariance",
            "band",
            "spearman",
            "kendall",
            "form",
            "smooth",
            "within_groups",
            "products",
            "unanswered",
        ):
            if cancelled():
                return
            with suppress(Refusal):
                getattr(self, name)
