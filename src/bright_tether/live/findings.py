"""All that is known of one tether: each result asked for is made once and kept."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import cached_property

from bright_tether.core.decision import Decision, decide
from bright_tether.core.results import Refusal
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
        return self._keep(
            "decision",
            decide,
            self.rules.decide,
            correlation=self.pearson,
            line=self.line,
            coefficients=self.coefficients if self.rules.decide == "slope" else None,
            slope_df=self.errors.df if self.rules.decide == "slope" else None,
            spearman=self.spearman if self.rules.decide == "spearman" else None,
            kendall=self.kendall if self.rules.decide == "kendall" else None,
            alpha=self.rules.alpha,
            alternative=self.rules.alternative,
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
