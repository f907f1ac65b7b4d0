"""What stands in a figure beside the points: its legend, its words, its grid; and what is left out of it."""

from __future__ import annotations

import html
from collections.abc import Iterable
from typing import Any

import pyqtgraph as pg
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QTransform
from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols

from bright_tether.live.findings import Findings
from bright_tether.pictures.frame import EVERYWHERE
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.strip import StripPicture
from bright_tether.theme.tokens import SHAPES
from bright_tether.words import digits as d
from bright_tether.words.readings.line import equation

#: Pixels of a layout: text at its largest and smallest, a line of a legend, and what stands left of the points.
_LARGE, _SMALL, _LINE, _BESIDE = 12, 9, 15, 84
#: Parts of a picture by what they are called: the attributes that hold them in one picture or another.
PARTS = {"points": ("points", "density"), "line": ("bright", "lines", "straight"), "band": ("band", "bands"),
         "residual threads": ("threads",)}  # fmt: skip


def dress(picture: ScatterPicture, findings: Findings, drawn: Iterable[str]) -> None:
    """Leave out what is not drawn, and put in what is asked for. drawn : names of PARTS, and of what stands beside."""
    wanted = set(drawn)
    for name, attributes in PARTS.items():
        if name not in wanted:
            for attribute in attributes:
                _hide(getattr(picture, attribute, None))
    if "residuals" not in wanted and isinstance(picture, StripPicture):
        picture.without_strip()
    if "grid" not in wanted:
        for item in (picture.main, getattr(picture, "strip", None)):
            if item is not None:
                item.showGrid(x=False, y=False)
    if "equation" in wanted and findings.refusal is None:
        _put_words(picture, findings)
    if "legend" in wanted:
        _legend(picture)


def _hide(part: Any) -> None:
    if part is None:
        return
    several = part.values() if isinstance(part, dict) else part if isinstance(part, list | tuple) else (part,)
    for one in several:
        if hasattr(one, "hide"):
            one.hide()


def _put_words(picture: ScatterPicture, findings: Findings) -> None:
    """The equation with r and n above the points: on one line where there is room, as large as that allows."""
    r = d.relation("r", findings.pearson.r, findings.rules.digits)
    parts = [equation(findings), f"{r}, n = {d.grouped(findings.pairs.n)}"]
    font, room = QFont(picture.own_font), picture.width() - _BESIDE
    font.setPixelSize(_LARGE)
    wide = QFontMetricsF(font).horizontalAdvance
    lines = ["; ".join(parts)] if wide("; ".join(parts)) <= room else parts
    size = min(_LARGE, max(int(_LARGE * room / max(map(wide, lines))), _SMALL))
    words = "<br>".join(html.escape(one, quote=False) for one in lines)
    picture.main.setTitle(words, size=f"{size}px", color=picture.tokens.ink)
    picture.main.titleLabel.setMinimumWidth(0)
    picture.main.titleLabel.setMaximumHeight(len(lines) * (size + 6))
    picture.main.layout.setRowFixedHeight(0, len(lines) * (size + 6))


class Legend(pg.GraphicsObject):
    """Groups by their shapes and hues, at a place in pixels of the frame they stand in."""

    def __init__(self, picture: ScatterPicture, left: float) -> None:
        super().__init__()
        self._font, self._ink = QFont(picture.own_font), QColor(picture.tokens.ink)
        self._font.setPixelSize(_SMALL + 2)
        cloud = picture.cloud
        names = () if cloud is None else cloud.groups
        self._named = tuple(zip(names, SHAPES, picture.tokens.hues, strict=False))
        self.wide = 20 + max(
            (QFontMetricsF(self._font).horizontalAdvance(name) for name in names), default=0.0
        )
        self.setParentItem(picture.main.getViewBox())
        self.setPos(left if left >= 0 else picture.main.getViewBox().width() + left - self.wide, 6)

    def boundingRect(self) -> QRectF:
        """A line a group."""
        return QRectF(0, 0, self.wide, _LINE * len(self._named))

    def paint(self, painter: QPainter, *_: Any) -> None:
        """A shape and a name a line; unclipped, since an SVG goes on clipping to what was painted last."""
        painter.save()
        painter.setClipRect(EVERYWHERE)
        painter.setFont(self._font)
        for at, (name, shape, hue) in enumerate(self._named):
            middle = _LINE * at + _LINE / 2
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(hue))
            painter.drawPath(QTransform().translate(7, middle).scale(8, 8).map(Symbols[shape]))
            painter.setPen(self._ink)
            painter.drawText(
                QRectF(18, middle - _LINE / 2, self.wide, _LINE), Qt.AlignmentFlag.AlignVCenter, name
            )
        painter.restore()


def _legend(picture: ScatterPicture) -> None:
    """The groups by their shapes and hues, inside the frame where it is emptiest at the top."""
    cloud = picture.cloud
    if cloud is None or not cloud.groups:
        return
    low, high = (part.mean() if part.size else 0.0 for part in _halves(cloud.x, cloud.y))
    Legend(picture, 8 if low <= high else -8)


def _halves(x: Any, y: Any) -> tuple[Any, Any]:
    """The heights of the points in the left and in the right half: the legend stands over the lower."""
    if not x.size:
        return y, y
    left = x <= (x.min() + x.max()) / 2
    return y[left], y[~left]
