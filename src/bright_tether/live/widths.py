"""How wide the interval for one case is by each way of finding it, and a smooth beside the line."""

from __future__ import annotations

from collections.abc import Callable

from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause
from bright_tether.core.shape.local import LocalBand, local_band
from bright_tether.core.widths import KINDS, WidthKind, Widths, widths
from bright_tether.live.forecasting import ForecastResults
from bright_tether.live.line import LineResults
from bright_tether.study.declared import given, result, run


def _widths(
    pairs: Pairs, x: tuple[float, ...], level: float, kinds: tuple[WidthKind, ...],
    progress: Callable[[tuple[int, int]], bool],
) -> Widths:  # fmt: skip
    """Each way, and what it holds. progress : told how many of how many; False ends it."""
    return widths(pairs, x, level, progress, kinds)


def _widths_now(pairs: Pairs, x: tuple[float, ...], level: float, kinds: tuple[WidthKind, ...]) -> Widths:
    """The same before anything is looked at."""
    return widths(pairs, x, level, lambda _: False, kinds)


def _whole(value: Widths, *_: object) -> bool:
    return value.whole


def _local(pairs: Pairs, level: float, bandwidth: float | None) -> LocalBand | Cause:
    """The smooth through the pairs, without weights, or why there is none."""
    return local_band(pairs, level, bandwidth)


class WidthResults(ForecastResults):
    """Intervals beside the one in force."""

    @given
    def inner_x(self) -> tuple[float, ...]:
        """Each x asked for that the line knows, on the line's own scale."""
        return tuple(inner for _, inner in self.placed_x)

    @given
    def bandwidth(self) -> float | None:
        """The bandwidth of the smooth, where it was stated."""
        return self.tether.forecast.bandwidth

    @given
    def width_kinds(self) -> tuple[WidthKind, ...]:
        """The ways that make sense: no power of a date, which has no beginning of its own."""
        return tuple(one for one in KINDS if one != "power-x" or self.x_column.clock is None)

    widths = run(_widths, LineResults.unweighted, inner_x, LineResults.level, width_kinds, whole=_whole)
    widths_now = result(_widths_now, LineResults.unweighted, inner_x, LineResults.level, width_kinds)
    local_band = result(_local, LineResults.pairs, LineResults.level, bandwidth)

    @property
    def width_in_force(self) -> WidthKind | None:
        """Which of the ways is in force; None for another line, or other weights."""
        chosen = self.tether.line
        if self.by_ranks:
            return "ranks"
        if chosen.origin or chosen.weights is not None:
            return None
        patterns: dict[str | None, WidthKind] = {
            None: "even",
            "power-x": "power-x",
            "power-fitted": "power-fitted",
        }
        return patterns.get(chosen.weight_pattern)
