"""What stands in a figure beside the points: its legend, its words, its grid; and what is left out of it."""

from __future__ import annotations

import html
from typing import Any

import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QTransform
from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols

from bright_tether.live.findings import Findings
from bright_tether.pictures.board import Board
from bright_tether.pictures.fonts import OWN_FAMILY
from bright_tether.pictures.frame import EVERYWHERE
from bright_tether.pictures.points import Looks, Points
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.strip import StripPicture
from bright_tether.pictures.ticks import Dressed, fit_names, plots_of, set_axes
from bright_tether.study.figures import Figure, FigureAxes
from bright_tether.theme.tokens import SHAPES
from bright_tether.words import digits as d
from bright_tether.words.readings.line import equation

#: Pixels of a layout: text at its largest and smallest, a line of a legend, and what stands left of the points.
_LARGE, _SMALL, _LINE, _BESIDE = 12, 9, 15, 84
#: Size of the points of the residuals to that of the points above them.
_BELOW = 0.75
#: Pixels right of the plot, where half of the last number may stand.
_END = 14
#: Dashes of lines by group, in widths of the line: whole, then ever more broken.
_DASHES = ([10_000.0, 1.0], [5.0, 2.5], [1.0, 2.0], [6.0, 2.0, 1.0, 2.0], [2.5, 1.5])
#: Parts of a picture by what they are called: the attributes that hold them in one picture or another.
PARTS = {
    "points": ("points", "density", "dots", "step_dots", "shares", "tried"),
    "line": (
        "bright",
        "lines",
        "straight",
        "curves",
        "levels",
        "thin",
        "truth",
        "stepped",
        "theory",
        "curve",
    ),
    "band": ("band", "bands", "errors", "bar"),
    "residual threads": ("threads", "thread"),
}


def dress(picture: Dressed, findings: Findings, figure: Figure, axes: FigureAxes) -> None:
    """Leave out what is not drawn, put in what is asked for, and draw it as wide and large as it is wanted."""
    wanted = set(figure.drawn)
    for name in PARTS:
        if name not in wanted:
            for part in _of(picture, name):
                _hide(part)
    if "residuals" not in wanted and isinstance(picture, StripPicture):
        picture.without_strip()
    for item in plots_of(picture):
        if "grid" not in wanted:
            item.showGrid(x=False, y=False)
        if figure.frame:
            Frame(item, picture.tokens.faint)
    _set_sizes(picture, figure)
    if figure.colours == "grey":
        _dash(picture)
    right = picture.ci.layout.getContentsMargins()[2]
    picture.ci.layout.setContentsMargins(0, 0, max(right, _END), 0)
    _put_words(picture, findings, figure, axes)
    if "legend" in wanted and isinstance(picture, ScatterPicture):
        _legend(picture, outside=figure.legend == "outside")
    set_axes(picture, axes, figure.minor)
    fit_names(picture)


def _of(picture: Dressed, part: str) -> list[Any]:
    """What a picture draws of a part, in the order of its groups; what is a plot of its own is none."""
    found: list[Any] = []
    for name in PARTS[part]:
        held = getattr(picture, name, None)
        found += _each(held) if held is not None and not isinstance(held, pg.PlotItem) else []
    return found


def _lines_of(picture: Dressed) -> list[Any]:
    return [one for one in _of(picture, "line") if hasattr(one, "setPen")]


def _pen_of(line: Any) -> QPen:
    return QPen(pg.mkPen(line.opts["pen"] if hasattr(line, "opts") else line.pen))


def _set_sizes(picture: Dressed, figure: Figure) -> None:
    """Lines as wide and points as large as they are wanted; the residuals below keep their share."""
    if figure.line:
        for line in _lines_of(picture):
            pen = _pen_of(line)
            pen.setWidthF(figure.pixels(figure.line))
            line.setPen(pen)
        level = getattr(picture, "level", None)
        if level is not None:
            level.setPen(pg.mkPen(level.pen.color(), width=_BELOW * figure.pixels(figure.line)))
    if figure.dot:
        for part in _of(picture, "points"):
            if isinstance(part, Looks):
                part.resize(figure.pixels(figure.dot))
            elif isinstance(part, Points):
                part.resize(figure.pixels(figure.dot), picture.tokens)
        below = getattr(picture, "below", None)
        if below is not None:
            below.resize(_BELOW * figure.pixels(figure.dot), picture.tokens)


def _lines_of_groups(picture: Dressed) -> list[Any]:
    return list(getattr(picture, "lines", None) or ()) if isinstance(picture, ScatterPicture) else []


def _dash(picture: Dressed) -> None:
    """Lines of groups told apart by their dashes, where no hue does it."""
    for line, dashes in zip(_lines_of_groups(picture), _DASHES, strict=False):
        pen = _pen_of(line)
        pen.setDashPattern(dashes)
        line.setPen(pen)


class Frame(pg.GraphicsObject):
    """A line all round a plot."""

    def __init__(self, item: pg.PlotItem, colour: str) -> None:
        super().__init__()
        self._pen = pg.mkPen(colour)
        self.setParentItem(item.getViewBox())

    def boundingRect(self) -> QRectF:
        """As large as the plot is now."""
        return QRectF(self.parentItem().rect())

    def paint(self, painter: QPainter, *_: Any) -> None:
        """Unclipped, since an SVG goes on clipping to what was painted last."""
        painter.save()
        painter.setClipRect(EVERYWHERE)
        painter.setPen(self._pen)
        painter.drawRect(self.boundingRect())
        painter.restore()


def _each(part: Any) -> list[Any]:
    return (
        list(part.values())
        if isinstance(part, dict)
        else list(part)
        if isinstance(part, list | tuple)
        else [part]
    )


def _hide(part: Any) -> None:
    if hasattr(part, "hide"):
        part.hide()


def _put_words(picture: Dressed, findings: Findings, figure: Figure, axes: FigureAxes) -> None:
    """The title, and the equation with r and n, above the points: on one line where there is room."""
    lines: list[str] = [axes.title] if axes.title else []
    font, room = QFont(picture.own_font), picture.width() - _BESIDE
    font.setPixelSize(_LARGE)
    wide = QFontMetricsF(font).horizontalAdvance
    if "equation" in figure.drawn and findings.refusal is None:
        r = d.relation("r", findings.pearson.r, findings.rules.digits)
        parts = [equation(findings), f"{r}, n = {d.grouped(findings.pairs.n)}"]
        lines += ["; ".join(parts)] if wide("; ".join(parts)) <= room else parts
    if not lines:
        return
    size = min(_LARGE, max(int(_LARGE * room / max(map(wide, lines))), _SMALL))
    family = f"font-family: '{font.family()}'; " if font.family() != OWN_FAMILY else ""
    words = "<br>".join(html.escape(one, quote=False) for one in lines)
    words, tall = f'<span style="{family}">{words}</span>', len(lines) * (size + 6)
    if isinstance(picture, Board):  # over all of its plots
        over = pg.LabelItem(words, size=f"{size}px", color=picture.tokens.ink)
        over.setParentItem(picture.ci)
        over.setGeometry(QRectF(0, 0, picture.width(), tall))
        left, _, right, below = picture.ci.layout.getContentsMargins()
        picture.ci.layout.setContentsMargins(left, tall, right, below)
        return
    picture.main.setTitle(words, size=f"{size}px", color=picture.tokens.ink)
    picture.main.titleLabel.setMinimumWidth(0)
    picture.main.titleLabel.setMaximumHeight(tall)
    picture.main.layout.setRowFixedHeight(0, tall)


class Legend(pg.GraphicsObject):
    """Groups by their shapes, hues and dashes, at a place in pixels of what they stand in."""

    def __init__(self, picture: ScatterPicture) -> None:
        super().__init__()
        self._font, self._ink = QFont(picture.own_font), QColor(picture.tokens.ink)
        self._font.setPixelSize(_SMALL + 2)
        cloud = picture.cloud
        names = () if cloud is None else cloud.groups
        self._named = tuple(zip(names, SHAPES, picture.tokens.hues, strict=False))
        lines = [one for one in _lines_of_groups(picture) if one.isVisible()]
        self._pens = [_pen_of(one) for one in lines][: len(names)]
        self._left = 34 if self._pens else 18
        self.wide = self._left + 2 + max(map(QFontMetricsF(self._font).horizontalAdvance, names), default=0.0)

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
            if at < len(self._pens):
                painter.setPen(self._pens[at])
                painter.drawLine(QPointF(1, middle), QPointF(self._left - 5, middle))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(hue))
            painter.drawPath(
                QTransform().translate((self._left - 4) / 2, middle).scale(8, 8).map(Symbols[shape])
            )
            painter.setPen(self._ink)
            painter.drawText(
                QRectF(self._left, middle - _LINE / 2, self.wide, _LINE), Qt.AlignmentFlag.AlignVCenter, name
            )
        painter.restore()


def _legend(picture: ScatterPicture, *, outside: bool) -> None:
    """The groups, beside the plot or inside its frame where it is emptiest at the top."""
    cloud = picture.cloud
    if cloud is None or not cloud.groups:
        return
    legend, box = Legend(picture), picture.main.getViewBox()
    if outside:
        picture.ci.layout.setContentsMargins(0, 0, legend.wide + 10, 0)
        picture.ci.layout.activate()
        legend.setParentItem(picture.ci)
        legend.setPos(picture.width() - legend.wide - 2, box.mapRectToItem(picture.ci, box.rect()).top() + 2)
        return
    legend.setParentItem(box)
    low, high = (part.mean() if part.size else 0.0 for part in _halves(cloud.x, cloud.y))
    legend.setPos(8 if low <= high else box.width() - 8 - legend.wide, 6)


def _halves(x: Any, y: Any) -> tuple[Any, Any]:
    """The heights of the points in the left and in the right half: the legend stands over the lower."""
    if not x.size:
        return y, y
    left = x <= (x.min() + x.max()) / 2
    return y[left], y[~left]
