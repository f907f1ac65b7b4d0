"""A tether at the size of a stamp."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from bright_tether.live.findings import Findings
from bright_tether.theme.tokens import Tokens


class Thumbnail(QWidget):
    """Points and line, without axes."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.setFixedSize(54, 42)
        self._tokens = tokens
        self._points = np.zeros((0, 2))
        self._line: np.ndarray | None = None

    def draw(self, findings: Findings) -> None:
        """Show a tether, thinned to what a stamp can hold."""
        points = findings.cloud
        kept = np.zeros((0, 2))
        if points is not None:
            kept = np.stack((points.few.x, points.few.y), axis=1)
        self._line = None
        if findings.refusal is None:
            band = findings.band
            self._line = np.stack((band.x[[0, -1]], band.fitted[[0, -1]]), axis=1)
        self._points = kept
        self.update()

    def clear(self) -> None:
        """Show nothing."""
        self._points, self._line = np.zeros((0, 2)), None
        self.update()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.update()

    def paintEvent(self, event: Any) -> None:
        """Paint points, then the line."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self._tokens.paper))
        if not len(self._points):
            return
        both = self._points if self._line is None else np.vstack((self._points, self._line))
        low, span = both.min(axis=0), np.ptp(both, axis=0)
        span[span == 0] = 1
        area = QRectF(self.rect()).adjusted(5, 5, -5, -5)

        def spots(pairs: np.ndarray) -> list[QPointF]:
            places = (pairs - low) / span * (area.width(), -area.height()) + (area.left(), area.bottom())
            return [QPointF(*place) for place in places.tolist()]

        pen = QPen(QColor(self._tokens.hues[0]), 2.6)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.drawPoints(QPolygonF(spots(self._points)))
        if self._line is not None:
            painter.setPen(QPen(QColor(self._tokens.tether), 2))
            painter.drawLine(*spots(self._line))
