"""One column by itself: histogram with bins by hand, dot row, box with fences."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.results import Floats
from bright_tether.core.shape.fences import Fences
from bright_tether.core.shape.histogram import MOST_BINS, Bins, Histogram, histogram, readable_bins
from bright_tether.live.cloud import Cloud
from bright_tether.live.findings import Findings
from bright_tether.live.one_column import OneColumn
from bright_tether.pictures.frame import between_bars, keep_time, plot, restyle_plot, with_room
from bright_tether.pictures.margin import Pile
from bright_tether.pictures.scatter import ScatterPicture, value_in_words
from bright_tether.pictures.sure import sure
from bright_tether.tables.column import Column
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.readings.gather import place_in_words

#: More edges than this are drawn but not pulled one by one.
_MOST_EDGES = 60


class ColumnPicture(ScatterPicture):
    """Histogram above; below on the same axis the dots and the box. Edges of bins can be pulled.

    bins_changed : the bins are being pulled to other places. bins_set : they were let go there.
    """

    of_tether = False

    bins_changed = pyqtSignal()
    bins_set = pyqtSignal(object)
    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.column: Column | None = None
        #: Bins by hand: of the study, or under the hand; None for those by the rule.
        self.by_hand: Bins | None = None
        self.shown: OneColumn | None = None
        self.counted: Histogram | None = None
        self.ci.removeItem(self.main)
        self.top = plot(tokens, font)
        self.top.setXLink(self.main)
        self.addItem(self.top, row=0, col=0)
        self.addItem(self.main, row=1, col=0)
        self.ci.layout.setRowStretchFactor(0, 3)
        self.ci.layout.setRowStretchFactor(1, 2)
        self.bars = pg.BarGraphItem(x0=[], x1=[], y0=0, y1=[])
        self.marked_bars = pg.BarGraphItem(x0=[], x1=[], y0=0, y1=[])
        self.top.addItem(self.bars)
        self.top.addItem(self.marked_bars)
        self.box = Pile()
        self.main.addItem(self.box, ignoreBounds=True)
        self._edges: list[pg.InfiniteLine] = []
        self.main.getAxis("left").setStyle(showValues=False)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        restyle_plot(self.top, tokens, self.own_font)
        soft = QColor(tokens.hues[0])
        soft.setAlpha(130)
        for bars, fill in ((self.bars, soft), (self.marked_bars, tokens.ink)):
            bars.setOpts(brush=pg.mkBrush(fill), pen=between_bars(len(bars.opts["x0"]), tokens))
        self.box.restyle(tokens)
        super().restyle(tokens)

    def show_column(self, findings: Findings, column: Column, marked: Set[int]) -> None:
        """Show a column of the tether's table, its rows in play."""
        self.column = column
        self.shown = findings.by_itself(column.id)
        held = findings.tether.view.bins.get(column.id)
        self.by_hand = None if held is None else Bins(*held)
        self.draw(findings, marked)
        self._count()

    @property
    def looked_at(self) -> Column:
        """The column on show."""
        return sure(self.column)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """Dots, stacked where they would lie on each other."""
        return None if self.shown is None else self.shown.dots

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """The values, the bins, and room for the box."""
        (low, high), _ = super().extent()
        if self.counted is not None:
            low, high = min(low, float(self.counted.edges[0])), max(high, float(self.counted.edges[-1]))
        return (low, high), (-0.4, 1.05)

    def _fits(self) -> bool:
        (left, right), _ = self.main.viewRange()
        low, high = (float(self.values[0]), float(self.values[-1])) if self.values.size else (0, 0)
        return bool(left <= low and high <= right)

    def name_axes(self) -> None:
        """The column below, counts above left."""
        self.main.getAxis("bottom").name(self.looked_at.name, self.tokens)
        keep_time(self.main, self.looked_at.clock)
        keep_time(self.top, self.looked_at.clock)
        self.main.getAxis("left").name("dots and box", self.tokens)
        self.top.getAxis("left").name("rows", self.tokens)

    def show_mark(self, marked: Set[int]) -> None:
        """Ring the dots and fill the bars of these rows."""
        super().show_mark(marked)
        self._count_marked()

    def row_in_words(self, at: int) -> str:
        """A dot's row with its value."""
        place = int(self.seen.at[at])
        label = self.findings.table.label_column
        name = f" {label.cells[place]}" if label else ""
        return f"row {place + 1}{name}: {value_in_words(self.looked_at, float(self.looked_at.cells[place]))}"

    @property
    def values(self) -> Floats:
        """The values on show, rising."""
        return np.zeros(0) if self.shown is None else self.shown.rising

    @property
    def bins(self) -> Bins | None:
        """The bins on show."""
        return None if self.shown is None or not self.values.size else self.by_hand or self.shown.usual

    def _count(self, *, fit: bool = True) -> None:
        bins = self.bins
        self.counted = None
        if bins is not None:
            self.counted = _counted(self.values, bins)
        self._put(self.bars, self.counted)
        if self.shown is not None:
            self.box.put(None, self.shown.fenced, self.shown.beyond)
        self._put_edges()
        self._count_marked()
        if not fit:  # what is pulled at must not slip away under the hand
            return
        tall = float(self.counted.counts.max()) if self.counted is not None else 1.0
        self.top.setYRange(0, tall * 1.06 or 1.0, padding=0)
        if self.cloud is not None:
            (low, high), (down, up) = self.extent()
            self.main.setXRange(*with_room(low, high), padding=0)
            self.main.setYRange(down, up, padding=0)

    def _count_marked(self) -> None:
        counted, bins = None, self.bins
        if bins is not None and self.cloud is not None and self.marked:
            counted = _counted(self.values[self.mask()[self.cloud.rising]], bins)
        self._put(self.marked_bars, counted)

    def _put(self, bars: pg.BarGraphItem, counted: Histogram | None) -> None:
        if counted is None:
            bars.setOpts(x0=[], x1=[], y0=0, y1=[])
        else:
            bars.setOpts(x0=counted.edges[:-1], x1=counted.edges[1:], y0=0, y1=counted.counts,
                         pen=between_bars(counted.counts.size, self.tokens))  # fmt: skip

    def _put_edges(self) -> None:
        edges: list[float] = self.counted.edges.tolist() if self.counted is not None else []
        edges = edges if len(edges) <= _MOST_EDGES else []
        while len(self._edges) > len(edges):
            self.top.removeItem(self._edges.pop())
        while len(self._edges) < len(edges):
            line = pg.InfiniteLine(0, angle=90, movable=True)
            line.setPen(pg.mkPen(None))
            line.setHoverPen(pg.mkPen(self.tokens.ink, width=2))
            line.sigDragged.connect(self._pull)
            line.sigPositionChangeFinished.connect(self._let_go)
            self.top.addItem(line, ignoreBounds=True)
            self._edges.append(line)
        for line, value in zip(self._edges, edges, strict=True):
            if abs(line.value() - value) > 0:
                line.setValue(value)

    def _pull(self, line: pg.InfiniteLine) -> None:
        """The first edge moves the start; any other changes the width."""
        if line not in self._edges or self.bins is None:
            return  # it went while the hand still held it
        bins, at = self.bins, self._edges.index(line)
        high = float(self.values[-1])
        if at == 0:
            start = min(line.value(), float(self.values[0]))
            width = bins.width
        else:
            start = bins.start
            width = max((line.value() - start) / at, (high - start) / MOST_BINS)
        if width <= 0:
            return
        self.by_hand = readable_bins(start, width, high)
        self._count(fit=False)
        self.bins_changed.emit()

    def _let_go(self, line: pg.InfiniteLine) -> None:
        if line in self._edges and self.by_hand is not None:
            self.bins_set.emit(self.by_hand)


def _counted(rising: Floats, bins: Bins) -> Histogram:
    return histogram(rising, start=bins.start, width=bins.width, number=bins.number, rising=True)


def fences_in_words(fenced: Fences, column: Column, digits: int) -> str:
    """The box and its fences in one line."""
    low, high = (place_in_words(column, end, digits) for end in (fenced.lower, fenced.upper))
    return f"fences {low} … {high}: {d.count(fenced.beyond.size, 'row')} beyond"
