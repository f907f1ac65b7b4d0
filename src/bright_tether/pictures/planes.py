"""Pictures behind the coefficients: signed products, ranks, comparisons, differences."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QFont

from bright_tether.claims.rows import places_of
from bright_tether.core.results import Refusal
from bright_tether.live.cloud import Cloud
from bright_tether.live.findings import Findings
from bright_tether.pictures.frame import ShiftedAxis
from bright_tether.pictures.points import Looks
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.reading import there

_NONE = np.zeros(0)
#: Above this many points halos are a smear.
_MOST_HALOS = 2000


def _soft(hue: str, alpha: int) -> QColor:
    colour = QColor(hue)
    colour.setAlpha(alpha)
    return colour


class Cross:
    """Two straight lines through one point of a plot, and the quarters they cut tinted."""

    def __init__(self, item: pg.PlotItem) -> None:
        self._item = item
        self.lines = [pg.InfiniteLine(0, angle=angle) for angle in (0, 90)]
        self._quarters = [pg.QtWidgets.QGraphicsRectItem() for _ in range(2)]
        for quarter in self._quarters:
            quarter.setZValue(-60)
            quarter.setPen(pg.mkPen(None))
            item.addItem(quarter, ignoreBounds=True)
        for line in self.lines:
            line.setZValue(-40)
            item.addItem(line, ignoreBounds=True)
        item.getViewBox().sigRangeChanged.connect(lambda *_: self._tint())

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        for line in self.lines:
            line.setPen(pg.mkPen(tokens.muted))
        for quarter in self._quarters:
            quarter.setBrush(pg.mkBrush(_soft(tokens.hues[0], 22)))

    def put(self, x: float, y: float) -> None:
        """Cross here; the lower left and the upper right quarter are tinted."""
        for line, value in zip(self.lines, (y, x), strict=True):
            line.setValue(value)
        self._tint()

    def show(self, shown: bool) -> None:
        """Show or hide."""
        for part in (*self.lines, *self._quarters):
            part.setVisible(shown)

    def _tint(self) -> None:
        (left, right), (low, high) = self._item.viewRange()
        y, x = (line.value() for line in self.lines)
        self._quarters[0].setRect(QRectF(left, low, max(x - left, 0), max(y - low, 0)))
        self._quarters[1].setRect(QRectF(x, y, max(right - x, 0), max(high - y, 0)))


class Halos:
    """Soft discs behind points, by size and hue."""

    def __init__(self, item: pg.PlotItem, sizes: tuple[int, ...], hues: tuple[int, ...]) -> None:
        self._items = {(size, hue): Looks("o", size) for size in sizes for hue in hues}
        for look in self._items.values():
            look.setZValue(-5)
            item.addItem(look)

    def restyle(self, tokens: Tokens) -> None:
        """Take the hues of a theme."""
        for (size, hue), look in self._items.items():
            look.style(pg.mkPen(None), QBrush(_soft(tokens.hues[hue], 90)), size)

    def put(self, size: int, hue: int, x: np.ndarray, y: np.ndarray) -> None:
        """Put the discs of one size and hue."""
        self._items[size, hue].put(x, y)

    def clear(self) -> None:
        """Take all away."""
        for look in self._items.values():
            look.put(_NONE, _NONE)


class ProductsPicture(ScatterPicture):
    """The scatter about its means: each point's disc grows with its product of z-values.

    The numbers below and left are the columns' own, those above and right z-values; points can be moved.
    """

    of_tether = False

    _STEPS = ((0.25, 12), (1.0, 18), (2.5, 28))

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.cross = Cross(self.main)
        self.halos = Halos(self.main, tuple(size for _, size in self._STEPS), (0, 2))
        self.z_axes = {side: ShiftedAxis(side) for side in ("top", "right")}
        self.main.setAxisItems(self.z_axes)
        for side in self.z_axes:
            self.main.showAxis(side)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.cross.restyle(tokens)
        self.halos.restyle(tokens)
        for axis in self.z_axes.values():
            axis.restyle(tokens, self.own_font)
        super().restyle(tokens)

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether about its means."""
        lined = findings.refusal is None
        self.halos.clear()
        self.cross.show(lined)
        if lined:
            x, y = findings.x_summary, findings.y_summary
            self.cross.put(there(x.mean), there(y.mean))
            self.z_axes["top"].measure_from(there(x.mean), x.sd or 1.0)
            self.z_axes["right"].measure_from(there(y.mean), y.sd or 1.0)
            pairs, product = findings.pairs, findings.products.product
            if pairs.n <= _MOST_HALOS:
                edges = [edge for edge, _ in self._STEPS]
                size = np.searchsorted(edges, np.abs(product), side="right") - 1
                for step, (_, pixels) in enumerate(self._STEPS):
                    for hue, side in ((0, product > 0), (2, product < 0)):
                        here = (size == step) & side
                        self.halos.put(pixels, hue, pairs.x[here], pairs.y[here])
        super().draw(findings, marked)

    def row_in_words(self, at: int) -> str:
        """A row with its product."""
        words, findings = super().row_in_words(at), self.findings
        place = np.flatnonzero(findings.pairs.at == self.seen.at[at])
        if findings.refusal is not None or not place.size:
            return words
        products = findings.products
        z_x, z_y, product = (
            d.signed(float(v[place[0]]), 2) for v in (products.z_x, products.z_y, products.product)
        )
        return f"{words}; z {z_x} · {z_y} = {product}"

    def name_axes(self) -> None:
        """The columns' own names, and z above and right."""
        super().name_axes()
        self.z_axes["top"].name("z, in sd from the mean", self.tokens)


class RanksPicture(ScatterPicture):
    """The pairs by their ranks; on the broken line order is kept throughout."""

    of_tether = False

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.kept = pg.PlotCurveItem()
        self.kept.setZValue(-20)
        self.main.addItem(self.kept)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.kept.setPen(pg.mkPen(tokens.muted, width=1.5, style=Qt.PenStyle.DashLine))
        super().restyle(tokens)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """By mid-ranks; rows out of play have none."""
        if points is None or self.findings.refusal is not None:
            return None
        n, rho = self.findings.pairs.n, self.findings.spearman.rho or 0
        self.kept.setData([1, n], [1, n] if rho >= 0 else [n, 1])
        return self.findings.rank_points

    def axis_name(self, axis: str) -> str:
        """Ranks from the lowest."""
        if not self.findings.tied:
            return super().axis_name(axis)
        return f"rank of {getattr(self.findings, f'{axis}_column').short}"


class ComparisonsPicture(ScatterPicture):
    """One row against all others: in the tinted quarters order is kept, in the others broken."""

    of_tether = False

    told = pyqtSignal(str)
    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.cross = Cross(self.main)
        self.halos = Halos(self.main, (16,), (0, 2, 4))
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.cross.restyle(tokens)
        self.halos.restyle(tokens)
        super().restyle(tokens)

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether with one row at the cross."""
        super().draw(findings, marked)
        self._compare()

    def show_mark(self, marked: Set[int]) -> None:
        """The first marked row goes to the cross."""
        super().show_mark(marked)
        if self.has_tether:
            self._compare()

    def chosen(self) -> int | None:
        """The place among the pairs that is compared: the marked one, else the most broken."""
        marked = places_of(self.findings, self.marked)
        if marked.size:
            return int(marked[0])
        try:
            comparisons = self.findings.comparisons
        except Refusal:
            return 0
        return int(comparisons.order[int(np.argmax(comparisons.broken))])

    def _compare(self) -> None:
        self.halos.clear()
        there = self.has_tether and self.findings.refusal is None
        self.cross.show(there)
        if not there:
            self.told.emit("")
            return
        pairs, at = self.findings.pairs, self.chosen()
        x, y = pairs.x - pairs.x[at], pairs.y - pairs.y[at]
        agree = np.sign(x) * np.sign(y)
        self.cross.put(float(pairs.x[at]), float(pairs.y[at]))
        others = np.arange(pairs.n) != at
        counts = []
        for hue, wanted in ((0, agree > 0), (2, agree < 0), (4, (agree == 0) & others)):
            counts.append(int(np.count_nonzero(wanted)))
            if pairs.n <= _MOST_HALOS:
                self.halos.put(16, hue, pairs.x[wanted], pairs.y[wanted])
        kept, broken, tied = (d.grouped(count) for count in counts)
        label = self.findings.table.label_column
        place = int(pairs.at[at])
        name = f" ({label.cells[place]})" if label else ""
        self.told.emit(
            f"Row {place + 1}{name} against the others: order kept with {kept}, broken with {broken}, "
            f"tied with {tied}. Click another point to compare it."
        )


class DifferencesPicture(ScatterPicture):
    """y − x against the mean of the two, with the mean difference and the limits of agreement."""

    of_tether = False

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.zero = pg.InfiniteLine(0, angle=0)
        self.levels = [pg.InfiniteLine(0, angle=0) for _ in range(3)]
        self.bands = [pg.LinearRegionItem(orientation="horizontal", movable=False) for _ in range(3)]
        self.along = pg.PlotCurveItem()
        for part in (self.zero, *self.levels, *self.bands, self.along):
            part.setZValue(-30)
            self.main.addItem(part, ignoreBounds=True)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.zero.setPen(pg.mkPen(tokens.faint))
        for at, (level, band) in enumerate(zip(self.levels, self.bands, strict=True)):
            hue = tokens.hues[1] if at == 0 else tokens.muted
            style = Qt.PenStyle.SolidLine if at == 0 else Qt.PenStyle.DashLine
            level.setPen(pg.mkPen(hue, width=2, style=style))
            band.setBrush(pg.mkBrush(_soft(hue, 30)))
            for edge in band.lines:
                edge.setPen(pg.mkPen(None))
        self.along.setPen(pg.mkPen(tokens.tether, width=2, style=Qt.PenStyle.DotLine))
        super().restyle(tokens)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """By mean and difference."""
        lined = points is not None and self.findings.refusal is None
        agreement = self.findings.agreement if lined else None
        limits = None if agreement is None else agreement.limits
        for part in (*self.levels, *self.bands):
            part.setVisible(limits is not None)
        sloped = agreement is not None and agreement.means is not None and agreement.at_means is not None
        self.along.setVisible(sloped)
        if points is None or agreement is None:
            return None
        if sloped:
            self.along.setData(*np.array((sure(agreement.means), sure(agreement.at_means))))
        if limits is not None:
            values = (agreement.mean_difference, *limits)
            ends_of = (agreement.ci, *sure(agreement.limits_ci))
            for level, band, value, ends in zip(self.levels, self.bands, values, ends_of, strict=True):
                level.setValue(value)
                band.setRegion(ends)
        return self.findings.mean_points

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Points, limits and zero."""
        across, (low, high) = super().extent()
        agreement = self.findings.agreement
        if agreement.limits_ci is not None:
            low, high = min(low, agreement.limits_ci[0][0]), max(high, agreement.limits_ci[1][1])
        return across, (min(low, 0.0), max(high, 0.0))

    def axis_name(self, axis: str) -> str:
        """Mean and difference by the columns' names."""
        if not self.findings.tied:
            return super().axis_name(axis)
        x, y = self.findings.x_column, self.findings.y_column
        unit = f" ({x.unit})" if x.unit and x.unit == y.unit else ""
        return f"mean of both{unit}" if axis == "x" else f"{y.short} − {x.short}{unit}"
