"""What would happen over and over with other columns held."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from msgspec.structs import replace

from bright_tether.core.line.longer import LongerFit
from bright_tether.core.rehearse.kinds import Judged
from bright_tether.core.results import Ints, Refusal
from bright_tether.live.held import HeldResults
from bright_tether.live.line import LineResults
from bright_tether.live.rehearse import RehearseResults, Stated, make_truth
from bright_tether.study.declared import given, result, run

if TYPE_CHECKING:
    from bright_tether.core.rehearse.held import HeldDraws
    from bright_tether.core.rehearse.sampling import Sampling
    from bright_tether.core.rehearse.truth import Truth


def _held_truth(longer: LongerFit | None, stated: Stated) -> Truth | None:
    """What samples are drawn from, over the x and the held columns as they are; None where nothing can be held."""
    if longer is None or longer.exact:
        return None
    return make_truth(longer, replace(stated, intercept=None, n=None, design="kept"))


def _held_samples(
    longer: LongerFit | None, truth: Truth | None, by_rows: bool, draws: int, seed: int, judged: Judged,
    cases: Ints | None, watch: Callable[[HeldDraws], bool],
) -> HeldDraws | None:  # fmt: skip
    """The slope held, and alone, over and over; None where nothing can be held."""
    from bright_tether.core.rehearse.held import draw_held

    if longer is None or truth is None:
        return None
    return draw_held(longer, None if by_rows else truth, draws, seed, judged, cases, watch)


def _all_drawn(
    found: HeldDraws | None, longer: object, truth: object, by_rows: bool, draws: int, *_: object
) -> bool:
    return found is None or found.done == draws


class HeldRehearsals(RehearseResults, HeldResults):
    """Samples of the line with columns held."""

    @given
    def longer_if_any(self) -> LongerFit | None:
        """The line with the columns held, None where they cannot be."""
        try:
            return self.longer
        except Refusal:
            return None

    @given
    def by_rows_again(self) -> bool:
        """Whether the rows themselves are drawn."""
        return self.rehearsed.source == "rows"

    @given
    def held_cases_drawn(self) -> Ints | None:
        """The case of each pair that has every held column, where whole cases are drawn."""
        longer = self.longer_if_any
        if longer is None or not self.by_rows_again or self.deciding_cases is None:
            return None
        return LineResults.clusters.make(self.cluster_cells, longer.pairs)

    held_truth = result(_held_truth, longer_if_any, RehearseResults.stated)
    held_samples = run(_held_samples, longer_if_any, held_truth, by_rows_again, RehearseResults.draws,
                       RehearseResults.seed, RehearseResults.judged, held_cases_drawn, whole=_all_drawn)  # fmt: skip

    def held_sampled(self, drawn: HeldDraws) -> Sampling | None:
        """The slope held over the samples drawn so far."""
        from bright_tether.core.rehearse.held import held_sampling

        return held_sampling(drawn, level=self.rules.level)
