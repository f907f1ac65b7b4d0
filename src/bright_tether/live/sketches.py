"""The residuals as the pictures of each doubt show them: numbers alone, their words stand in ``words.axes``."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from bright_tether.core.results import Floats, Ints
from bright_tether.core.shape.dots import stacked_dots
from bright_tether.core.shape.fences import fences
from bright_tether.core.shape.histogram import Histogram, histogram, usual_bins
from bright_tether.core.shape.smooth import smooth_of
from bright_tether.live.doubts import DoubtResults

#: What the picture of each doubt can show, the first being its card's.
MODES: dict[str, tuple[str, ...]] = {
    "bend": ("residual-on-x", "residual-on-fitted"),
    "spread": ("size-on-x", "residual-on-x", "size-on-fitted"),
    "order": ("residual-in-order", "residual-on-previous"),
    "shape": ("histogram", "normal-quantiles", "box-and-dots"),
    "far-out": ("studentised-in-order", "studentised-on-x"),
    "pull": ("studentised-on-leverage", "cook-in-order"),
}
Curve = tuple[Floats, Floats]
_NOWHERE: Floats = np.zeros(0)
_NONE: Ints = np.zeros(0, np.int64)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Sketch:
    """One picture of the residuals. at : (n,) places among the pairs behind the points.

    curves : (x, y) each, drawn dark. levels : heights of broken lines. bars : instead of points.
    bright : height of the line itself, None where it has none. joined : whether points are joined.
    """

    mode: str
    x: Floats
    y: Floats
    at: Ints
    curves: tuple[Curve, ...] = ()
    levels: tuple[float, ...] = ()
    bars: Histogram | None = None
    bright: float | None = 0.0
    joined: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class _Shown:
    """What a sketch is drawn from. residual : as shown, own : in y units, times √weight where there are some."""

    found: DoubtResults
    mode: str
    residual: Floats
    own: Floats
    order: Ints

    @property
    def places(self) -> Ints:
        return np.arange(self.own.size)

    @property
    def turns(self) -> Floats:
        return np.arange(1, self.own.size + 1, dtype=float)


def sketch(
    found: DoubtResults,
    mode: str,
    *,
    standardised: bool = False,
    bins: tuple[float, float, int] | None = None,
) -> Sketch:
    """The residuals as one mode shows them. bins : start, width, number of a histogram by hand. Raises Refusal."""
    fit = found.fit
    if fit.exact:
        return Sketch(mode=mode, x=_NOWHERE, y=_NOWHERE, at=_NONE)
    # With weights the checks look at the residuals times √w, and so do the pictures.
    own = found.rows.residual if fit.weights is None else np.ldexp(fit.weighted_residual, fit.y.exponent)
    residual = found.rows.standardised if standardised else own
    order = np.arange(own.size) if found.order is None else found.order
    shown = _Shown(found, mode, residual, own, order)
    if mode == "histogram":
        return _histogram(shown, bins)
    return _MAKERS[mode](shown)


def _histogram(shown: _Shown, bins: tuple[float, float, int] | None) -> Sketch:
    start, width, number = bins or usual_bins(shown.own)
    counted = histogram(shown.own, start=start, width=width, number=number)
    s = shown.found.line.s or 1.0
    at = np.linspace(counted.edges[0], counted.edges[-1], 120)
    curve = shown.own.size * width / (s * np.sqrt(2 * np.pi)) * np.exp(-0.5 * (at / s) ** 2)
    middle = (counted.edges[:-1] + counted.edges[1:]) / 2
    return Sketch(mode=shown.mode, x=middle, y=counted.counts.astype(float), at=_NONE, curves=((at, curve),),
                  bars=counted, bright=None)  # fmt: skip


def _quantiles(shown: _Shown) -> Sketch:
    found = shown.found.quantiles
    band = () if found.low is None or found.high is None else (
        (found.normal, found.low), (found.normal, found.high))  # fmt: skip
    ends = found.normal[[0, -1]]
    return Sketch(mode=shown.mode, x=found.normal, y=found.residual, at=found.order,
                  curves=((ends, ends), *band), bright=None)  # fmt: skip


def _box_and_dots(shown: _Shown) -> Sketch:
    """Dots stacked where they would lie on each other, and below them the box with its fences' whiskers."""
    own = shown.own
    box = fences(own)
    low, high, middle = -0.4, -0.12, -0.26
    ends = ((box.low_whisker, box.q1), (box.q3, box.high_whisker))
    outline = np.array([box.q1, box.q3, box.q3, box.q1, box.q1]), np.array([low, low, high, high, low])
    median = np.array([box.median, box.median]), np.array([low, high])
    whiskers = tuple((np.array(pair), np.array([middle, middle])) for pair in ends)
    return Sketch(mode=shown.mode, x=own, y=stacked_dots(own), at=shown.places, curves=(outline, median, *whiskers),
                  bright=None)  # fmt: skip


def _in_order(shown: _Shown) -> Sketch:
    return Sketch(mode=shown.mode, x=shown.turns, y=shown.residual[shown.order], at=shown.order, joined=True)


def _on_previous(shown: _Shown) -> Sketch:
    along = shown.residual[shown.order]
    return Sketch(mode=shown.mode, x=along[:-1], y=along[1:], at=shown.order[1:])


def _studentised_in_order(shown: _Shown) -> Sketch:
    y = shown.found.rows.studentised[shown.order]
    return Sketch(mode=shown.mode, x=shown.turns, y=y, at=shown.order, levels=(-3, 3))


def _studentised_on_x(shown: _Shown) -> Sketch:
    rows = shown.found.rows
    return Sketch(mode=shown.mode, x=rows.x, y=rows.studentised, at=shown.places, levels=(-3, 3))


def _on_leverage(shown: _Shown) -> Sketch:
    rows = shown.found.rows
    return Sketch(mode=shown.mode, x=rows.leverage, y=rows.standardised, at=shown.places,
                  curves=_cook_curves(rows.leverage, shown.found.fit.parameters))  # fmt: skip


def _cook_in_order(shown: _Shown) -> Sketch:
    y = shown.found.rows.cooks_d[shown.order]
    return Sketch(mode=shown.mode, x=shown.turns, y=y, at=shown.order, levels=(0.3, 1.0))


def _residual_on(x: Floats, shown: _Shown) -> Sketch:
    trend = _trend(x, shown.residual, 0.6)
    return Sketch(mode=shown.mode, x=x, y=shown.residual, at=shown.places, curves=(trend,))


def _size_on(x: Floats, shown: _Shown) -> Sketch:
    size = np.abs(shown.residual)
    return Sketch(mode=shown.mode, x=x, y=size, at=shown.places, curves=(_trend(x, size, 1.0),))


_MAKERS: dict[str, Callable[[_Shown], Sketch]] = {
    "residual-on-x": lambda shown: _residual_on(shown.found.rows.x, shown),
    "residual-on-fitted": lambda shown: _residual_on(shown.found.rows.fitted, shown),
    "size-on-x": lambda shown: _size_on(shown.found.rows.x, shown),
    "size-on-fitted": lambda shown: _size_on(shown.found.rows.fitted, shown),
    "residual-in-order": _in_order,
    "residual-on-previous": _on_previous,
    "normal-quantiles": _quantiles,
    "box-and-dots": _box_and_dots,
    "studentised-in-order": _studentised_in_order,
    "studentised-on-x": _studentised_on_x,
    "studentised-on-leverage": _on_leverage,
    "cook-in-order": _cook_in_order,
}


def _cook_curves(leverage: Floats, parameters: int) -> tuple[Curve, ...]:
    """Where Cook's distance is 0.5 and 1."""
    top = float(np.nanmax(leverage))
    h = np.linspace(min(0.01, top / 3), min(top * 1.1, 0.999), 80)
    edges = [np.sqrt(distance * parameters * (1 - h) / h) for distance in (0.5, 1.0)]
    return tuple((h, sign * edge) for edge in edges for sign in (1, -1))


def _trend(x: Floats, y: Floats, share: float) -> Curve:
    there = np.isfinite(y)
    if np.count_nonzero(there) < 3 or np.ptp(x[there]) == 0:
        return _NOWHERE, _NOWHERE
    trend = smooth_of(x[there], y[there], share=share, points=41)
    return trend.x, trend.y
