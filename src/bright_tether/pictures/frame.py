"""The frame that every plot stands in: axes, their numbers, and the mouse as an instrument."""

from __future__ import annotations

import html
import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen

from bright_tether.pictures.calendar import calendar_places, place_text
from bright_tether.pictures.fonts import OWN_FAMILY
from bright_tether.tables.clock import Clock
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

pg.setConfigOptions(antialias=True)


#: How wide an axis on the left is, and how much of that its numbers have beside its name.
_LEFT, _ROOM = 62, 40
#: Pixels between two numbers along an axis at least; the multiples of their step that are tried for that.
_APART, _COARSER = 6, (1, 2, 5, 10)
#: Bars between which there is a gap, at most.
_MOST_APART = 100
#: More than any picture.
EVERYWHERE = QRectF(-20_000, -20_000, 40_000, 40_000)


class Axis(pg.AxisItem):
    """An axis with true minus signs and grouped thousands."""

    range: Any = None
    #: How the places of an axis of dates are measured.
    clock: Clock | None = None

    def __init__(self, side: str) -> None:
        super().__init__(side, maxTickLength=-5)
        self._named: tuple[str, str, bool] | None = None
        self._family = ""
        self.on_paper(False)
        self.enableAutoSIPrefix(False)
        width = {"left": _LEFT, "right": 30}.get(side)
        if width is not None:  # else as wide as the widest number it ever read
            self.setWidth(width)

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        """The numbers beside the ticks, with the decimals their spacing needs; along a calendar its days."""
        if self.clock is not None:
            return [place_text(value, spacing, self.clock) for value in values]
        decimals = max(0, -_power_of(spacing * scale))
        return [d.fixed(value * scale, decimals) for value in values]

    def tickSpacing(self, low: float, high: float, size: float) -> Any:
        """How far apart ticks stand: numbers along an axis so that they do not run into each other."""
        found = super().tickSpacing(low, high, size)
        if self.orientation not in ("top", "bottom") or not high > low:
            return found
        step = found[0][0]
        ends = [round(end / step) * step for end in (low, high)]
        metrics = QFontMetricsF(self.style["tickFont"] or QFont())
        wide = max(map(metrics.horizontalAdvance, self.tickStrings(ends, 1.0, step))) + _APART
        times = next((one for one in _COARSER if wide <= one * step / (high - low) * size), _COARSER[-1])
        return found if times == 1 else [(times * step, 0), *found]

    def _updateMaxTextSize(self, size: float) -> None:
        """Keep numbers off the name beside them; each axis on that side of a picture is as wide: x stays one."""
        super()._updateMaxTextSize(size)
        wanted = math.ceil(size) + _LEFT - _ROOM
        if self.orientation == "left" and wanted > self.fixedWidth and self.scene() is not None:
            for one in self.scene().items():
                if isinstance(one, Axis) and one.orientation == "left":
                    one.setWidth(wanted)

    def on_paper(self, paper: bool) -> None:
        """On a screen what was painted is kept until it changes: its words take longer than all points."""
        self.setCacheMode(self.CacheMode.NoCache if paper else self.CacheMode.DeviceCoordinateCache)

    def resizeEvent(self, event: Any = None) -> None:
        """Take another size: as much more above as less below would leave what is kept, in the wrong place."""
        super().resizeEvent(event)
        self.update()

    def paint(self, painter: QPainter, *more: Any) -> None:
        """Paint where the axis stands: an SVG goes on clipping to what was painted last, and would cut its line off."""
        painter.save()
        painter.setClipRect(EVERYWHERE)
        super().paint(painter, *more)
        painter.restore()

    def restyle(self, tokens: Tokens, font: QFont) -> None:
        """Take the colours and font of a theme."""
        small = QFont(font)
        small.setPixelSize(11)
        self.setTickFont(small)
        self._family = "" if font.family() == OWN_FAMILY else font.family()
        self.setPen(pg.mkPen(tokens.faint))
        self.setTextPen(pg.mkPen(tokens.muted))

    def name(self, text: str, tokens: Tokens, *, shown: bool = True) -> None:
        """Say what the axis measures. What it says already is not laid out anew."""
        if self._named != (text, tokens.ink, shown):
            self._named = text, tokens.ink, shown
            style = {"font-size": "12px", **({"font-family": self._family} if self._family else {})}
            self.setLabel(html.escape(text, quote=False), color=tokens.ink, **style)
            self.showLabel(shown)

    def setRange(self, low: float, high: float) -> None:
        """Take a range; its ticks are laid out anew only where it is another."""
        if self.range != [low, high]:
            super().setRange(low, high)


def between_bars(many: int, tokens: Tokens) -> QPen:
    """What sets bars apart, while there are so few that it leaves something of them."""
    return QPen(QColor(tokens.card), 1) if many <= _MOST_APART else QPen(Qt.PenStyle.NoPen)


class LogAxis(Axis):
    """An axis whose places may be powers of ten: the numbers beside it stay the column's own."""

    powers = False

    def tickValues(self, low: float, high: float, size: float) -> Any:
        """Whole powers, with 2 and 5 between them where there is room; along a calendar its own places."""
        if self.clock is not None and not self.powers:
            places, step = calendar_places(low, high, int(size / 90), self.clock)
            return [(step, places)]
        if not self.powers:
            return super().tickValues(low, high, size)
        first, last = math.floor(low), math.ceil(high)
        if last - first > 8:
            step = math.ceil((last - first) / 8)
            return [(step, [float(p) for p in range(first, last + 1, step)])]
        parts = (1, 2, 5) if last - first <= 4 else (1,)
        places = [p + math.log10(part) for p in range(first, last + 1) for part in parts]
        inside = [place for place in places if low <= place <= high]
        if len(inside) < 3:  # less than a power in view: even steps of the value itself
            values = super().tickValues(10**low, 10**high, size)[0][1]
            inside = [math.log10(value) for value in values if value > 0]
        return [(1.0, inside)]

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        """The column's own numbers."""
        if not self.powers:
            return super().tickStrings(values, scale, spacing)
        return [d.entered(float(f"{10**value:.6g}")) for value in values]


class ShiftedAxis(Axis):
    """An axis that reads the view in other units: (value − origin) / unit."""

    def __init__(self, side: str) -> None:
        super().__init__(side)
        self.origin, self.unit = 0.0, 1.0

    def measure_from(self, origin: float, unit: float) -> None:
        """Take another origin and unit."""
        self.origin, self.unit = origin, unit
        view = self.linkedView()
        if view is not None:
            self.linkedViewChanged(view)

    def linkedViewChanged(self, view: Any, newRange: Any = None) -> None:
        """Follow the view."""
        low, high = view.viewRange()[0 if self.orientation in ("top", "bottom") else 1]
        self.setRange((low - self.origin) / self.unit, (high - self.origin) / self.unit)


@dataclass
class Hand:
    """What the mouse does in a plot; positions in data units."""

    nearest: Callable[[QPointF], int | None]
    mark_rows: Callable[[QRectF, Qt.KeyboardModifier], None]
    mark_one: Callable[[int | None, Qt.KeyboardModifier], None]
    may_move: Callable[[int], bool]
    move: Callable[[int, QPointF, bool], None]
    hover: Callable[[int | None], None]


class InstrumentBox(pg.ViewBox):
    """A view in which dragging marks or moves points, the wheel zooms, and other buttons pan."""

    def __init__(self) -> None:
        super().__init__(enableMenu=False)
        # Whoever draws sets the range: one that follows its items finds items whose room follows the range.
        self.disableAutoRange()
        self.hand: Hand | None = None
        self._moved: int | None = None
        self._pulled = 0.5
        #: Whether wheel or pan chose what is in view; until it is shown whole again, nothing else does.
        self.by_hand = False
        self.on_home: Callable[[], None] | None = None
        self.on_limits: Callable[[int, bool], None] | None = None

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme for the marking rectangle."""
        fill = QColor(tokens.ink)
        fill.setAlpha(24)
        self.rbScaleBox.setPen(pg.mkPen(tokens.muted))
        self.rbScaleBox.setBrush(pg.mkBrush(fill))

    def mouseDragEvent(self, event: Any, axis: int | None = None) -> None:
        """Left marks or moves; the others pan."""
        event.accept()
        if axis is not None:
            self._pull_axis(event, axis)
        elif event.button() != Qt.MouseButton.LeftButton or self.hand is None:
            self._pan(event)
        elif event.isStart():
            found = self.hand.nearest(event.buttonDownScenePos())
            self._moved = found if found is not None and self.hand.may_move(found) else None
            self._drag(event)
        else:
            self._drag(event)

    def mouseClickEvent(self, event: Any) -> None:
        """A click marks the point under it, or clears the mark."""
        if event.button() == Qt.MouseButton.LeftButton and self.hand:
            event.accept()
            if event.double() and self.on_home:
                self.on_home()
            else:
                self.hand.mark_one(self.hand.nearest(event.scenePos()), event.modifiers())

    def hoverEvent(self, event: Any) -> None:
        """Tell which row lies under the hand."""
        if self.hand:
            self.hand.hover(None if event.isExit() else self.hand.nearest(event.scenePos()))

    def _drag(self, event: Any) -> None:
        assert self.hand is not None
        here = self.mapSceneToView(event.scenePos())
        if self._moved is not None:
            self.hand.move(self._moved, here, event.isFinish())
            return
        start = self.mapSceneToView(event.buttonDownScenePos())
        if event.isFinish():
            self.rbScaleBox.hide()
            self.hand.mark_rows(QRectF(start, here).normalized(), event.modifiers())
        else:
            self.updateScaleBox(event.buttonDownPos(), event.pos())

    def _pull_axis(self, event: Any, axis: int) -> None:
        """Pull at an axis: near an end that limit moves, in the middle the whole range does."""
        limits = self.viewRange()[axis]
        start = self.mapSceneToView(event.buttonDownScenePos())
        now, before = self.mapSceneToView(event.scenePos()), self.mapSceneToView(event.lastScenePos())
        begin, moved = (start.x(), now.x() - before.x()) if axis == 0 else (start.y(), now.y() - before.y())
        if event.isStart():
            self._pulled = (begin - limits[0]) / (limits[1] - limits[0])
        low, high = limits
        if self._pulled > 1 / 3:
            high -= moved
        if self._pulled < 2 / 3:
            low -= moved
        if high > low:
            (self.setXRange if axis == 0 else self.setYRange)(low, high, padding=0)
        if self.on_limits:
            self.on_limits(axis, event.isFinish())

    def wheelEvent(self, ev: Any, axis: int | None = None) -> None:
        """Zoom about the hand."""
        super().wheelEvent(ev, axis)
        self.by_hand = True

    def _pan(self, event: Any) -> None:
        self.by_hand = True
        moved = self.mapSceneToView(event.lastScenePos()) - self.mapSceneToView(event.scenePos())
        self.disableAutoRange()
        self.translateBy(x=moved.x(), y=moved.y())


def plot(tokens: Tokens, font: QFont) -> pg.PlotItem:
    """An empty plot in the frame."""
    box = InstrumentBox()
    item = pg.PlotItem(viewBox=box, axisItems={side: LogAxis(side) for side in ("left", "bottom")})
    item.hideButtons()
    item.showGrid(x=True, y=True, alpha=0.07)
    item.setMenuEnabled(False)
    restyle_plot(item, tokens, font)
    return item


def restyle_plot(item: pg.PlotItem, tokens: Tokens, font: QFont) -> None:
    """Give a plot the colours of a theme."""
    item.getViewBox().restyle(tokens)
    for side in ("left", "bottom"):
        item.getAxis(side).restyle(tokens, font)


def keep_time(item: pg.PlotItem, clock: Clock | None, side: str = "bottom") -> None:
    """Let an axis show dates by a clock, or numbers again."""
    axis = item.getAxis(side)
    if axis.clock != clock:
        axis.clock, axis.picture = clock, None
        axis.update()


def number_axes(picture: pg.GraphicsLayoutWidget, there: bool) -> None:
    """Let the axes of a picture have numbers only while there is something that they measure."""
    for item in picture.ci.items:
        if isinstance(item, pg.PlotItem):
            for held in item.axes.values():
                if held["item"].style["showValues"] != there:
                    held["item"].setStyle(showValues=there)


def with_room(low: float, high: float, share: float = 0.05) -> tuple[float, float]:
    """A range with room at both ends; a single value gets room by its size."""
    width = high - low
    room = width * share if width > 0 else max(abs(high), 1.0) * 0.1
    return low - room, high + room


def _power_of(spacing: float) -> int:
    return int(f"{spacing:.0e}".split("e")[1]) if spacing else 0
