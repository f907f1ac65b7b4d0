"""Results of the step that doubts the line."""

from __future__ import annotations

from collections.abc import Callable

from bright_tether.core.doubts.luck import by_luck
from bright_tether.core.doubts.power import Seen, could_see
from bright_tether.core.doubts.quantiles import Quantiles, quantiles
from bright_tether.core.doubts.statistics import Design
from bright_tether.core.doubts.verdicts import Doubt, Verdict, doubts
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Ints, Refusal
from bright_tether.live.line import LineResults
from bright_tether.study.declared import given, result, runs


def _design(fit: Fit, order: Ints | None) -> Design:
    """x as the checks use it."""
    return Design(fit, order)


def _seen(name: str, design: Design, alpha: float, progress: Callable[[tuple[int, int]], bool]) -> Seen:
    """What the check of one doubt could have seen."""
    return could_see(design, name, alpha, progress=progress)


def _whole(value: Seen, *_: object) -> bool:
    return value.whole


def _quantiles(design: Design, fit: Fit) -> Quantiles:
    """The residuals against normal quantiles."""
    return quantiles(design, fit.weighted_residual)


class DoubtResults(LineResults):
    """Six doubts, what could have been seen, and what answers them."""

    design = result(_design, LineResults.fit, LineResults.order)
    doubts = result(doubts, LineResults.fit, LineResults.checks, LineResults.rows, LineResults.order,
                    LineResults.alpha)  # fmt: skip
    signs_by_luck = result(by_luck, design, LineResults.alpha)
    seen = runs(_seen, design, LineResults.alpha, whole=_whole)
    quantiles = result(_quantiles, design, LineResults.fit)

    def doubt(self, name: str) -> Doubt:
        """One of the six."""
        return next(one for one in self.doubts if one.name == name)

    @given
    def unanswered(self) -> tuple[Doubt, ...]:
        """Doubts with a clear sign that nothing chosen answers."""
        try:
            clear = [one for one in self.doubts if one.verdict is Verdict.CLEAR]
        except Refusal:
            return ()
        return tuple(one for one in clear if self.answer_to(one.name) is None)

    def answer_to(self, name: str) -> str | None:
        """What answers a doubt: errors or weights in force, or the analyst's own reason."""
        for one in self.tether.answers:
            if one.doubt == name:
                return one.reason
        return self.errors_answer(name)

    def errors_answer(self, name: str) -> str | None:
        """The errors in force that answer a doubt."""
        chosen = self.tether.line
        if name == "spread" and (chosen.errors.startswith("HC") or chosen.errors == "newey_west"):
            return chosen.errors
        if name == "order" and chosen.errors in ("newey_west", "clustered"):
            return chosen.errors
        return None
