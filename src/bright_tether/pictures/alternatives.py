"""Several lines over the same points, and fitted values against observed ones."""

from __future__ import annotations

from collections.abc import Set

import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont

from bright_tether.live.cloud import Cloud
from bright_tether.live.findings import Findings
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens

_STYLES = (Qt.PenStyle.DashLine, Qt.PenStyle.DotLine, Qt.PenStyle.DashDotLine)


class AlternativesPicture(ScatterPicture):
    """The bright line in force and others beside it, each in its own hue and stroke."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.bright = pg.PlotCurveItem()
        self.bright.setZValue(-10)
        self.main.addItem(self.bright, ignoreBounds=True)
        self.others: list[pg.PlotCurveItem] = []
        self.chosen: tuple[str, ...] = ()
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        super().restyle(tokens)

    def choose(self, names: tuple[str, ...]) -> None:
        """Show these beside the bright line."""
        self.chosen = names
        if self.has_tether:
            self._draw_lines()

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether with its lines."""
        super().draw(findings, marked)
        self._draw_lines()

    def _draw_lines(self) -> None:
        for item in self.others:
            self.main.removeItem(item)
        self.others = []
        if self.findings.refusal is not None:
            self.bright.setData([], [])
            return
        band = self.findings.band
        self.bright.setData(band.x, band.fitted)
        for at, one in enumerate(self.findings.alternatives):
            if one.kind not in self.chosen:
                continue
            hue = self.tokens.hues[at % len(self.tokens.hues)]
            style = _STYLES[at % len(_STYLES)]
            item = pg.PlotCurveItem(one.x, one.y, pen=pg.mkPen(hue, width=2, style=style))
            item.setZValue(-11)
            self.main.addItem(item, ignoreBounds=True)
            self.others.append(item)


class FittedPicture(ScatterPicture):
    """Observed values against fitted ones; on the bright line they agree."""

    of_tether = False

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.even = pg.PlotCurveItem()
        self.even.setZValue(-10)
        self.main.addItem(self.even, ignoreBounds=True)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.even.setPen(pg.mkPen(tokens.tether, width=3))
        super().restyle(tokens)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """By fitted and observed value; rows out of play have no fitted one."""
        if points is None or self.findings.refusal is not None:
            self.even.setData([], [])
            return None
        found = self.findings.fitted_points
        ends = [float(found.x.min()), float(found.x.max())]
        self.even.setData(ends, ends)
        return found

    def axis_name(self, axis: str) -> str:
        """Fitted below, observed left."""
        if not self.findings.tied:
            return super().axis_name(axis)
        name = self.findings.y_column.name
        return f"fitted {name}" if axis == "x" else f"observed {name}"
