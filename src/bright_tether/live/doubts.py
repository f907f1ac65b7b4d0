"""Results of the step that doubts the line."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bright_tether.core.doubts.power import Seen, could_see
from bright_tether.core.doubts.quantiles import Quantiles, lineup, quantiles
from bright_tether.core.doubts.statistics import Design
from bright_tether.core.doubts.verdicts import Doubt, Verdict, doubts
from bright_tether.core.line.errors import NoErrors
from bright_tether.core.results import Refusal
from bright_tether.core.shape.histogram import Histogram, histogram, usual_bins
from bright_tether.core.shape.smooth import smooth_of
from bright_tether.live.line import LineResults

#: What the picture of each doubt can show, the first being its card's.
MODES: dict[str, tuple[str, ...]] = {
    "bend": ("miss on x", "miss on fitted"),
    "spread": ("size on x", "miss on x", "size on fitted"),
    "order": ("miss in order", "miss on the one before"),
    "shape": ("histogram", "normal quantiles"),
    "far-out": ("studentised in order", "studentised on x"),
    "pull": ("studentised on leverage", "Cook in order"),
}


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Sketch:
    """One picture of the misses. at : (n,) places among the pairs behind the points.

    curves : (x, y) each, drawn dark. levels : heights of broken lines. bars : instead of points.
    bright : height of the line itself, None where it has none. joined : whether points are joined.
    """

    x: np.ndarray
    y: np.ndarray
    at: np.ndarray
    x_name: str
    y_name: str
    curves: tuple[tuple[np.ndarray, np.ndarray], ...] = ()
    levels: tuple[float, ...] = ()
    bars: Histogram | None = None
    bright: float | None = 0.0
    joined: bool = False


class DoubtResults(LineResults):
    """Six doubts, what could have been seen, and the pictures of the misses."""

    @cached_property
    def design(self) -> Design:
        """x as the checks use it."""
        return self._keep("design", Design, self.fit, self.order)

    @cached_property
    def doubts(self) -> tuple[Doubt, ...]:
        """The six doubts judged."""
        return self._keep("doubts", doubts, self.fit, self.checks, self.rows, self.order, self.rules.alpha)

    def doubt(self, name: str) -> Doubt:
        """One of them."""
        return next(one for one in self.doubts if one.name == name)

    def seen(self, name: str) -> Seen:
        """What the check of one doubt could have seen."""
        return self._keep(f"seen {name}", could_see, self.design, name, self.rules.alpha)

    @cached_property
    def quantiles(self) -> Quantiles:
        """The misses against normal quantiles."""
        return self._keep("quantiles", quantiles, self.design, self.fit.misses)

    def lineup(self, others: int, seed: int) -> tuple[list[np.ndarray], int]:
        """The real misses among those of true lines."""
        return lineup(self.design, self.fit.misses, others=others, seed=seed)

    @cached_property
    def unanswered(self) -> tuple[Doubt, ...]:
        """Doubts with a clear sign that nothing chosen answers."""
        try:
            clear = [one for one in self.doubts if one.verdict is Verdict.CLEAR]
        except (Refusal, NoErrors):
            return ()
        return tuple(one for one in clear if self.answer_to(one.name) is None)

    def answer_to(self, name: str) -> str | None:
        """What answers a doubt: errors or weights in force, or the analyst's own reason."""
        chosen = self.tether.line
        for one in self.tether.answers:
            if one.doubt == name:
                return one.reason
        if name == "spread" and (chosen.errors.startswith("HC") or chosen.errors == "newey_west"):
            return chosen.errors
        if name == "order" and chosen.errors in ("newey_west", "clustered"):
            return chosen.errors
        return None

    def sketch(self, mode: str, *, standardised: bool = False, bins: tuple | None = None) -> Sketch:
        """The misses as one picture shows them. bins : start, width, number of a histogram by hand."""
        rows, n = self.rows, self.pairs.n
        places, x_name = np.arange(n), self.x_column.short
        order = places if self.order is None else self.order
        chosen = self.tether.line.order
        turn = "row" if chosen is None else self.table.column(chosen).short
        # With weights the checks look at the misses times √w, and so do the pictures.
        own = rows.residual if self.fit.weights is None else np.ldexp(self.fit.misses, self.fit.y.exponent)
        miss = rows.standardised if standardised else own
        name = "miss" if self.fit.weights is None else "miss × √weight"
        name = "miss, standardised" if standardised else name
        if self.fit.exact:
            none = np.zeros(0)
            return Sketch(x=none, y=none, at=np.zeros(0, np.int64), x_name="", y_name=name)
        if mode == "histogram":
            return self._histogram(own, bins, name)
        if mode == "normal quantiles":
            told = self.quantiles
            low_high = () if told.low is None else ((told.normal, told.low), (told.normal, told.high))
            ends = told.normal[[0, -1]]
            return Sketch(x=told.normal, y=told.miss, at=told.order, x_name="normal quantile",
                          y_name="miss / s", curves=((ends, ends), *low_high), bright=None)  # fmt: skip
        if mode == "miss in order":
            along = np.arange(1, n + 1)
            return Sketch(
                x=along, y=miss[order], at=order, x_name=f"place by {turn}", y_name=name, joined=True
            )
        if mode == "miss on the one before":
            return Sketch(x=miss[order][:-1], y=miss[order][1:], at=order[1:], x_name=f"{name} before",
                          y_name=name)  # fmt: skip
        if mode == "studentised in order":
            return Sketch(x=np.arange(1, n + 1), y=rows.studentised[order], at=order,
                          x_name=f"place by {turn}", y_name="studentised miss", levels=(-3, 3))  # fmt: skip
        if mode == "studentised on x":
            return Sketch(x=rows.x, y=rows.studentised, at=places, x_name=x_name, y_name="studentised miss",
                          levels=(-3, 3))  # fmt: skip
        if mode == "studentised on leverage":
            return Sketch(x=rows.leverage, y=rows.standardised, at=places, x_name="leverage",
                          y_name="standardised miss", curves=self._cook_curves())  # fmt: skip
        if mode == "Cook in order":
            return Sketch(x=np.arange(1, n + 1), y=rows.cooks_d[order], at=order, x_name=f"place by {turn}",
                          y_name="Cook’s distance", levels=(0.3, 1.0))  # fmt: skip
        across, across_name = (rows.x, x_name) if mode.endswith("x") else (rows.fitted, "fitted value")
        if mode.startswith("size"):
            size = np.abs(miss)
            return Sketch(x=across, y=size, at=places, x_name=across_name, y_name=f"size of {name}",
                          curves=(_trend(across, size, 1.0),))  # fmt: skip
        return Sketch(x=across, y=miss, at=places, x_name=across_name, y_name=name,
                      curves=(_trend(across, miss, 0.6),))  # fmt: skip

    def _histogram(self, miss: np.ndarray, bins: tuple | None, name: str) -> Sketch:
        start, width, number = bins or usual_bins(miss)
        counted = histogram(miss, start=start, width=width, number=number)
        s = self.line.s or 1.0
        at = np.linspace(counted.edges[0], counted.edges[-1], 120)
        curve = self.pairs.n * width / (s * np.sqrt(2 * np.pi)) * np.exp(-0.5 * (at / s) ** 2)
        middle = (counted.edges[:-1] + counted.edges[1:]) / 2
        return Sketch(x=middle, y=counted.counts.astype(float), at=np.zeros(0, np.int64), x_name=name,
                      y_name="rows", curves=((at, curve),), bars=counted, bright=None)  # fmt: skip

    def _cook_curves(self) -> tuple[tuple[np.ndarray, np.ndarray], ...]:
        """Where Cook's distance is 0.5 and 1."""
        top = float(np.nanmax(self.rows.leverage))
        h = np.linspace(min(0.01, top / 3), min(top * 1.1, 0.999), 80)
        parameters = self.fit.parameters
        told = []
        for distance in (0.5, 1.0):
            edge = np.sqrt(distance * parameters * (1 - h) / h)
            told += [(h, edge), (h, -edge)]
        return tuple(told)


def _trend(x: np.ndarray, y: np.ndarray, share: float) -> tuple[np.ndarray, np.ndarray]:
    there = np.isfinite(y)
    if np.count_nonzero(there) < 3 or np.ptp(x[there]) == 0:
        return np.zeros(0), np.zeros(0)
    made = smooth_of(x[there], y[there], share=share, points=41)
    return made.x, made.y
