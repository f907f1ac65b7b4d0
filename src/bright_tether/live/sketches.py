"""The residuals as the pictures of each doubt show them: numbers alone, their words stand in ``words.axes``."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from bright_tether.core.doubts.quantiles import Quantiles, lineup
from bright_tether.core.doubts.statistics import Design
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.once import once
from bright_tether.core.order import places_in
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Floats, Ints
from bright_tether.core.shape.dots import stacked_dots
from bright_tether.core.shape.fences import fences
from bright_tether.core.shape.histogram import Histogram, histogram, usual_bins
from bright_tether.core.shape.smooth import smooth_of
from bright_tether.live.cloud import Cloud
from bright_tether.live.doubts import DoubtResults
from bright_tether.live.line import LineResults
from bright_tether.study.declared import family, runs

#: What the picture of each doubt can show, the first being its card's.
MODES: dict[str, tuple[str, ...]] = {
    "bend": ("residual-on-x", "residual-on-fitted"),
    "spread": ("size-on-x", "residual-on-x", "size-on-fitted"),
    "order": ("residual-in-order", "residual-on-previous"),
    "shape": ("histogram", "normal-quantiles", "box-and-dots"),
    "far-out": ("studentised-in-order", "studentised-on-x"),
    "pull": ("studentised-on-leverage", "cook-in-order"),
}
#: More points than this are thinned evenly on a card; so many are kept besides towards each end, from where so many of
#: those evenly taken stand.
MOST_ON_CARD, _IN_A_TAIL, _ENOUGH = 1500, 60, 10
Curve = tuple[Floats, Floats]
_NOWHERE: Floats = np.zeros(0)
_NONE: Ints = np.zeros(0, np.int64)


#: Mode, whether standardised, and bins by hand: start, width, number.
Setting = tuple[str, bool, tuple[float, float, int] | None]


class Small(msgspec.Struct, frozen=True, eq=False):
    """What a card shows of a sketch. ends : left, right, low, high.

    x, y : (m,), of very many points that have both every so many-th, and those that lie furthest out.
    values : the lowest and the highest x of all points.
    """

    x: Floats
    y: Floats
    ends: tuple[float, float, float, float]
    values: tuple[float, float]


@dataclass(frozen=True, kw_only=True, eq=False)
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

    @once
    def small(self) -> Small:
        """The same at the size of a card."""
        there = np.isfinite(self.y)
        whole = bool(there.all())
        x, y = (self.x, self.y) if whole else (self.x[there], self.y[there])
        values = (float(self.x.min()), float(self.x.max())) if self.x.size else (0.0, 0.0)
        ends = _ends(self, values, y)
        if one_in(x.size) > 1:
            shown = _on_card(x, y)
            x, y = x[shown], y[shown]
        return Small(x, y, ends, values)

    @once
    def in_turn(self) -> bool:
        """Whether the points stand in the order of their pairs."""
        return bool((self.at[1:] > self.at[:-1]).all())

    def of_pairs(self, pairs: Ints) -> Ints:
        """(k,) places among the points, of those at these places among the pairs, (k,) rising."""
        if not self.in_turn:
            return np.flatnonzero(np.isin(self.at, pairs))
        return places_in(self.at, pairs)

    def thinned(self) -> Sketch:
        """The points of a card alone, between the ends of all."""
        small = self.small
        found = replace(self, x=small.x, y=small.y)
        found.__dict__["small"] = small
        return found


def one_in(n: int) -> int:
    """Of how many points a card shows one."""
    return max(1, n // MOST_ON_CARD)


def _on_card(x: Floats, y: Floats) -> Ints:
    """Places of the points of a card, rising: every so many-th, and those furthest up, down, right and left.

    With the very furthest alone there would be gaps about what is evenly taken, which is not in the data.
    """
    ends = (_furthest(values) for values in (y, -y, x, -x))
    return np.unique(np.concatenate([np.arange(0, y.size, one_in(y.size)), *ends]))


def _furthest(values: Floats) -> Ints:
    """Places of the highest, and of ever fewer below them, down to where enough of those evenly taken stand."""
    edge = np.partition(values[:: one_in(values.size)], -_ENOUGH)[-_ENOUGH]
    beyond = np.flatnonzero(values >= edge)
    falling = beyond[np.argsort(-values[beyond], kind="stable")]
    ranks = np.unique(np.geomspace(1, falling.size, _IN_A_TAIL).astype(np.int64)) - 1
    return np.asarray(falling[ranks])


def _ends(sketch: Sketch, values: tuple[float, float], heights: Floats) -> tuple[float, float, float, float]:
    if sketch.bars is not None:
        curve = float(np.max(sketch.curves[0][1])) if sketch.curves else 0.0
        top = max(float(sketch.bars.counts.max()), curve)
        return float(sketch.bars.edges[0]), float(sketch.bars.edges[-1]), 0.0, top * 1.05 or 1.0
    up = [*sketch.levels, *(() if sketch.bright is None else (sketch.bright,))]
    up += [float(heights.min()), float(heights.max())] if heights.size else [0.0]
    (left, right), low, high = values, min(up), max(up)
    wide, tall = (right - left) or 1.0, (high - low) or 1.0
    return left - wide * 0.04, right + wide * 0.04, low - tall * 0.05, high + tall * 0.05


class _Shown(msgspec.Struct, frozen=True, eq=False):
    """What a sketch is drawn from. residual : as shown, own : in y units, times √weight where there are some."""

    mode: str
    fit: Fit
    rows: RowByRow
    residual: Floats
    own: Floats
    order: Ints

    @property
    def places(self) -> Ints:
        return np.arange(self.own.size)

    @property
    def turns(self) -> Floats:
        return np.arange(1, self.own.size + 1, dtype=float)


def _sketch(setting: Setting, fit: Fit, rows: RowByRow, stated: Ints | None) -> Sketch:
    """The residuals as one mode shows them."""
    mode, standardised, bins = setting
    if fit.exact:
        return Sketch(mode=mode, x=_NOWHERE, y=_NOWHERE, at=_NONE)
    # With weights the checks look at the residuals times √w, and so do the pictures.
    own = rows.residual if fit.weights is None else fit.weighted_in_units
    order = np.arange(own.size) if stated is None else stated
    shown = _Shown(mode, fit, rows, rows.standardised if standardised else own, own, order)
    return _histogram(shown, bins) if mode == "histogram" else _MAKERS[mode](shown)


def _points(sketch: Sketch, points: Cloud, pairs: Pairs) -> Cloud | None:
    """The points of a sketch as rows; None where it has none."""
    if not sketch.at.size:
        return None
    at, there = pairs.at[sketch.at], np.isfinite(sketch.y)
    where = np.full(int(points.at.max()) + 1, -1)
    where[points.at] = np.arange(points.at.size)
    place = where[at[there]]
    return points.moved(place, np.asarray(sketch.x[there], float), sketch.y[there])


class Dealt(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Pictures of a lineup, one of them real. whole : whether it was not stopped before its end."""

    sketches: tuple[Sketch, ...]
    real: int
    whole: bool


def _deal(
    setting: tuple[int, int], design: Design, fit: Fit, pairs: Pairs,
    progress: Callable[[tuple[int, int]], bool],
) -> Dealt:  # fmt: skip
    """The real residuals among those of true lines. setting : how many others, and the seed."""
    others, seed = setting

    def of(residuals: Floats) -> Sketch:
        return Sketch(mode="residual-on-x", x=pairs.x, y=residuals, at=_NONE).thinned()

    sketches, real = lineup(design, fit.weighted_residual, of, others=others, seed=seed, progress=progress)
    return Dealt(sketches=tuple(sketches), real=real, whole=len(sketches) == others + 1)


def _whole(value: Dealt, *_: object) -> bool:
    return value.whole


class SketchResults(DoubtResults):
    """The residuals as pictures show them."""

    lineup = runs(_deal, DoubtResults.design, LineResults.fit, LineResults.pairs, whole=_whole)

    _sketched = family(_sketch, LineResults.fit, LineResults.rows, LineResults.order)

    def sketch(
        self, mode: str, *, standardised: bool = False, bins: tuple[float, float, int] | None = None
    ) -> Sketch:
        """The residuals as one mode shows them. bins : start, width, number by hand. Raises Refusal."""
        if mode == "normal-quantiles" and not self.fit.exact:
            return _quantiles(self.quantiles)
        return self._sketched((mode, standardised, bins))

    def points_of(self, sketch: Sketch) -> Cloud | None:
        """The points of a sketch as rows that can be marked; None where there are none to show."""
        if self.cloud is None or self.refusal is not None:
            return None
        return self.memory.keep((self.owner, "points of a sketch"), _points, sketch, self.cloud, self.pairs)


def _histogram(shown: _Shown, bins: tuple[float, float, int] | None) -> Sketch:
    start, width, number = bins or usual_bins(shown.own)
    counted = histogram(shown.own, start=start, width=width, number=number)
    s = shown.fit.spread_unscaled(shown.fit.s_scaled) or 1.0
    at = np.linspace(counted.edges[0], counted.edges[-1], 120)
    curve = shown.own.size * width / (s * np.sqrt(2 * np.pi)) * np.exp(-0.5 * (at / s) ** 2)
    middle = (counted.edges[:-1] + counted.edges[1:]) / 2
    return Sketch(mode=shown.mode, x=middle, y=counted.counts.astype(float), at=_NONE, curves=((at, curve),),
                  bars=counted, bright=None)  # fmt: skip


def _quantiles(found: Quantiles) -> Sketch:
    band = () if found.low is None or found.high is None else (
        (found.normal, found.low), (found.normal, found.high))  # fmt: skip
    ends = found.normal[[0, -1]]
    return Sketch(mode="normal-quantiles", x=found.normal, y=found.residual, at=found.order,
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
    y = shown.rows.studentised[shown.order]
    return Sketch(mode=shown.mode, x=shown.turns, y=y, at=shown.order, levels=(-3, 3))


def _studentised_on_x(shown: _Shown) -> Sketch:
    rows = shown.rows
    return Sketch(mode=shown.mode, x=rows.x, y=rows.studentised, at=shown.places, levels=(-3, 3))


def _on_leverage(shown: _Shown) -> Sketch:
    rows = shown.rows
    return Sketch(mode=shown.mode, x=rows.leverage, y=rows.standardised, at=shown.places,
                  curves=_cook_curves(rows.leverage, shown.fit.parameters))  # fmt: skip


def _cook_in_order(shown: _Shown) -> Sketch:
    y = shown.rows.cooks_d[shown.order]
    return Sketch(mode=shown.mode, x=shown.turns, y=y, at=shown.order, levels=(0.3, 1.0))


def _residual_on(x: Floats, shown: _Shown) -> Sketch:
    trend = _trend(x, shown.residual, 0.6)
    return Sketch(mode=shown.mode, x=x, y=shown.residual, at=shown.places, curves=(trend,))


def _size_on(x: Floats, shown: _Shown) -> Sketch:
    size = np.abs(shown.residual)
    return Sketch(mode=shown.mode, x=x, y=size, at=shown.places, curves=(_trend(x, size, 1.0),))


_MAKERS: dict[str, Callable[[_Shown], Sketch]] = {
    "residual-on-x": lambda shown: _residual_on(shown.rows.x, shown),
    "residual-on-fitted": lambda shown: _residual_on(shown.rows.fitted, shown),
    "size-on-x": lambda shown: _size_on(shown.rows.x, shown),
    "size-on-fitted": lambda shown: _size_on(shown.rows.fitted, shown),
    "residual-in-order": _in_order,
    "residual-on-previous": _on_previous,
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
