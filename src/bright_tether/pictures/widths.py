"""The points with the interval for one case by each way of finding it."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont

from bright_tether.core.widths import KINDS, WidthKind, Widths
from bright_tether.live.findings import Findings
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens
from bright_tether.words.choices import WIDTHS

_STYLES: dict[WidthKind, Qt.PenStyle] = {
    "even": Qt.PenStyle.DashLine, "power-x": Qt.PenStyle.DashDotLine, "power-fitted": Qt.PenStyle.DotLine,
    "ranks": Qt.PenStyle.SolidLine,
}  # fmt: skip


class WidthsPicture(ScatterPicture):
    """Two edges a way, each way with its stroke; that in force is broad."""

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        self.found: Widths | None = None
        super().__init__(tokens, font, name)
        self.bright = pg.PlotCurveItem()
        self.edges = {kind: (pg.PlotCurveItem(), pg.PlotCurveItem()) for kind in KINDS}
        for item in (self.bright, *(edge for pair in self.edges.values() for edge in pair)):
            item.setZValue(-10)
            self.main.addItem(item, ignoreBounds=True)
        self.legend = pg.LegendItem(offset=(10, 6), verSpacing=-2)
        self.legend.setParentItem(self.main.getViewBox())
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        self._style()

    def show_widths(self, findings: Findings, marked: Set[int], found: Widths | None) -> None:
        """Show a tether with every way that there is."""
        self.found = found if findings.refusal is None else None
        self.draw(findings, marked)
        there = self.found
        self.bright.setData([], [])
        if findings.refusal is None:
            self.bright.setData(findings.band.x, findings.band.fitted)
        for kind, edges in self.edges.items():
            way = None if there is None else there.way(kind)
            for side, edge in enumerate(edges):
                edge.setData([], [])
                if way is not None and there is not None:
                    edge.setData(there.across, way.across[:, side])
        self._style()

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Points and every interval."""
        across, (low, high) = super().extent()
        ends = [way.across for way in self.found.ways] if self.found is not None else []
        every = np.concatenate(ends) if ends else np.zeros((0, 2))
        every = every[np.isfinite(every)]
        return across, (min([low, *every.tolist()]), max([high, *every.tolist()])) if every.size else (
            low,
            high,
        )

    def _style(self) -> None:
        """Strokes, and what each stands for."""
        if not hasattr(self, "legend"):
            return
        t = self.tokens
        colours = {"even": t.muted, "power-x": t.hues[0], "power-fitted": t.hues[1], "ranks": t.ink}
        in_force = self.findings.width_in_force if self.found is not None else None
        self.legend.clear()
        self.legend.setLabelTextColor(t.ink)
        for kind, edges in self.edges.items():
            pen = pg.mkPen(colours[kind], width=3 if kind == in_force else 1.6, style=_STYLES[kind])
            for edge in edges:
                edge.setPen(pen)
            if self.found is not None and self.found.way(kind) is not None:
                self.legend.addItem(edges[0], WIDTHS[kind] + (" (in force)" if kind == in_force else ""))
