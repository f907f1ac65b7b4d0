"""The scatter to look at before anything is computed: margins, local trend, names, scales."""

from __future__ import annotations

import math
from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFont

from bright_tether.live.cloud import Cloud
from bright_tether.live.findings import Findings
from bright_tether.pictures.margin import Margin
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens
from bright_tether.words.reading import there

#: Names and counts beside points are written for as many as can be read.
_MOST_NAMES, _MOST_STACKS = 150, 80
_CURVE = np.linspace(0, 1, 200)


class LookPicture(ScatterPicture):
    """Scatter with a histogram and box beside each axis.

    limits_pulled : an axis was let go after pulling: which (x or y), its limits in data units.
    """

    limits_pulled = pyqtSignal(str, float, float)

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.ci.removeItem(self.main)
        self.margins = {"x": Margin(self.main, "top"), "y": Margin(self.main, "right")}
        self.addItem(self.margins["x"].item, row=0, col=0)
        self.addItem(self.main, row=1, col=0)
        self.addItem(self.margins["y"].item, row=1, col=1)
        self.ci.layout.setSpacing(2)
        self.trend, self.straight, self.back = (pg.PlotCurveItem() for _ in range(3))
        for depth, item in (
            (-9, self.trend),
            (-10, self.straight),
            (-11, self.back),
        ):  # dashes lie upon a line
            item.setZValue(depth)
            self.main.addItem(item, ignoreBounds=True)
        self._words: list[pg.TextItem] = []
        self.shown = {"trend": True, "straight": True, "margins": True}
        self.hidden = 0
        self.main.getViewBox().on_limits = self._pulled
        self._lay_margins()
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.trend.setPen(pg.mkPen(tokens.hues[1], width=2.5, style=Qt.PenStyle.DashLine))
        self.straight.setPen(pg.mkPen(tokens.tether, width=3))
        self.back.setPen(pg.mkPen(tokens.tether, width=2, style=Qt.PenStyle.DotLine))
        for margin in self.margins.values():
            margin.restyle(tokens)
        super().restyle(tokens)

    def show_part(self, part: str, shown: bool) -> None:
        """Show or hide trend, straight line or margins."""
        self.shown[part] = shown
        self._lay_margins()
        if self.has_tether:
            self._draw_curves()

    def placed(self, points: Cloud | None) -> Cloud | None:
        """By value, or by power of ten; values at or below 0 have none and are counted."""
        self.hidden = 0
        view = self.view
        for side, log in (("bottom", view.log_x), ("left", view.log_y)):
            self.main.getAxis(side).powers = log
        if points is None:
            return None
        self.hidden = self.findings.look_points.hidden
        return self.findings.look_points.points

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether as its view says."""
        super().draw(findings, marked)
        looked = None if self.cloud is None else findings.look_points
        self.margins["x"].draw(None if looked is None else looked.across)
        self.margins["y"].draw(None if looked is None else looked.up)
        self._draw_curves()
        self._write_words()

    def axis_name(self, axis: str) -> str:
        """The label chosen for an axis, or the column's own header."""
        log = " (log scale)" if getattr(self.view, f"log_{axis}") else ""
        return super().axis_name(axis) + log

    def limits(self, axis: str) -> tuple[float | None, float | None]:
        """The tether's limits, in powers of ten on a log scale, where 0 and below have no place."""
        ends = super().limits(axis)
        if not getattr(self.view, f"log_{axis}"):
            return ends
        low, high = (math.log10(end) if end is not None and end > 0 else None for end in ends)
        return low, high

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """The points, and 0 where it was asked for."""
        ends = []
        for (low, high), log in zip(super().extent(), (self.view.log_x, self.view.log_y), strict=True):
            zero = self.view.zero and not log
            ends.append((min(low, 0.0), max(high, 0.0)) if zero else (low, high))
        return ends[0], ends[1]

    def _pulled(self, axis: int, last: bool) -> None:
        if last:
            low, high = self.main.viewRange()[axis]
            if (self.view.log_x, self.view.log_y)[axis]:
                low, high = 10**low, 10**high
            self.limits_pulled.emit("xy"[axis], low, high)

    def _lay_margins(self) -> None:
        there = self.shown["margins"]
        for margin in self.margins.values():
            margin.item.setVisible(there)
        self.ci.layout.setRowFixedHeight(0, 74 if there else 0)
        self.ci.layout.setColumnFixedWidth(1, 74 if there else 0)

    def _draw_curves(self) -> None:
        findings, points, view = self.findings, self.cloud, self.view
        for curve in (self.trend, self.straight, self.back):
            curve.setData([], [])
        if points is None or findings.refusal is not None:
            return
        if self.shown["trend"]:
            trend = findings.look_points.trend if view.log_x or view.log_y else findings.smooth
            if trend is not None:
                self.trend.setData(trend.x, trend.y, connect="finite")
        low, high = findings.pairs.ends_x
        if self.shown["straight"]:
            line = findings.line
            self.straight.setData(
                *self._mapped(low + _CURVE * (high - low), there(line.slope), line.intercept or 0.0)
            )
        if findings.tether.mutual and findings.other_slope is not None:
            slope, height = findings.other_slope
            y = findings.pairs.y
            up = float(y.min()) + _CURVE * float(np.ptp(y))
            across = height + slope * up
            inside = (across >= low) & (across <= high)
            self.back.setData(*self._on_page(across[inside], up[inside]))

    def _mapped(self, x: np.ndarray, slope: float, height: float) -> tuple[np.ndarray, np.ndarray]:
        return self._on_page(x, height + slope * x)

    def _on_page(self, x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        there = np.ones(x.size, bool)
        if self.view.log_x:
            there &= x > 0
        if self.view.log_y:
            there &= y > 0
        x, y = x[there], y[there]
        return np.log10(x) if self.view.log_x else x, np.log10(y) if self.view.log_y else y

    def _write_words(self) -> None:
        """Names of points where asked for; how many share a spot where they do."""
        for item in self._words:
            self.main.removeItem(item)
        self._words = []
        points = self.cloud
        if points is None or points.x.size > 5000:
            return
        by_spot: dict[tuple[float, float], list[str]] = {}
        label = self.findings.table.label_column
        for at, x, y in zip(points.at.tolist(), points.x.tolist(), points.y.tolist(), strict=True):
            by_spot.setdefault((x, y), []).append(str(label.cells[at]) if label else str(at + 1))
        shared = [(spot, names) for spot, names in by_spot.items() if len(names) > 1]
        if self.view.names and len(by_spot) <= _MOST_NAMES:
            for spot, names in by_spot.items():
                self._write(", ".join(names[:3]) + ("…" if len(names) > 3 else ""), spot)
        elif len(shared) <= _MOST_STACKS:
            for spot, names in shared:
                self._write(f"×{len(names)}", spot)

    def _write(self, text: str, spot: tuple[float, float]) -> None:
        item = pg.TextItem(text, color=self.tokens.muted, anchor=(-0.15, 0.95))
        small = QFont(self.own_font)
        small.setPixelSize(10)
        item.setFont(small)
        item.setPos(*spot)
        self.main.addItem(item, ignoreBounds=True)
        self._words.append(item)
