"""A verdict in shape, colour and word."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen, QTransform
from PyQt6.QtWidgets import QWidget
from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols

from bright_tether.core.doubts.verdicts import Verdict
from bright_tether.theme.tokens import Tokens

#: Shape, place of the hue among the group hues, and whether it is filled.
_LOOKS = {
    Verdict.NO: ("o", 3, False),
    Verdict.SOME: ("d", 4, False),
    Verdict.CLEAR: ("t1", 2, True),
    Verdict.FEW: ("s", 1, False),
    Verdict.NONE: ("x", 1, False),
}


class VerdictBadge(QWidget):
    """Shape and word on a soft ground of the same hue."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.verdict = Verdict.NO
        self.setFixedHeight(22)
        self.setMinimumWidth(118)

    def sizeHint(self) -> QSize:
        """Room for the longest word."""
        return QSize(118, 22)

    def show_verdict(self, verdict: Verdict) -> None:
        """Show another verdict."""
        self.verdict = verdict
        self.setAccessibleName(verdict.value)
        self.update()

    def paintEvent(self, event: Any) -> None:
        """Ground, shape, word."""
        shape, hue, full = _LOOKS[self.verdict]
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colour = QColor(self.tokens.hues[hue])
        soft = QColor(colour)
        soft.setAlpha(34)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(soft)
        painter.drawRoundedRect(QRectF(0, 0, min(self.width(), 116), 22), 11, 11)
        painter.setPen(QPen(colour, 2))
        painter.setBrush(colour if full else Qt.BrushStyle.NoBrush)
        painter.drawPath(QTransform.fromScale(10, 10).map(Symbols[shape]).translated(13, 11))
        font = QFont(self.font())
        font.setPixelSize(12)
        font.setWeight(QFont.Weight.DemiBold)
        painter.setFont(font)
        painter.setPen(QColor(self.tokens.ink))
        painter.drawText(QRectF(24, 0, 96, 22), Qt.AlignmentFlag.AlignVCenter, self.verdict.value)
