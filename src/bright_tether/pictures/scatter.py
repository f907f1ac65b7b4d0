"""The scatter of a tether, with the mouse and the keyboard as its instruments."""

from __future__ import annotations

import math
from collections.abc import Callable, Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QKeyEvent
from PyQt6.QtWidgets import QToolTip

from bright_tether.core.results import Floats
from bright_tether.live.cloud import DENSE_ABOVE, Cloud, drawable
from bright_tether.live.findings import Findings
from bright_tether.pictures.density import Density, ring
from bright_tether.pictures.frame import Hand, keep_time, number_axes, plot, restyle_plot, with_room
from bright_tether.pictures.points import Points
from bright_tether.study.tether import View
from bright_tether.tables.clock import Clock, as_written, moment_of
from bright_tether.tables.column import Column
from bright_tether.tables.row_ids import NO_ROWS, RowIds
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

_REACH = 9  # pixels from the hand at which a point is taken


class ScatterPicture(pg.GraphicsLayoutWidget):
    """Points of one tether. Hover names a row, dragging marks rows, a marked point can be moved."""

    mark_changed = pyqtSignal(object)
    point_moving = pyqtSignal(int, float, float)
    point_moved = pyqtSignal(int, float, float)
    move_given_up = pyqtSignal()
    movable = True
    #: Whether both axes show the values of the tied columns, so that the tether's limits and names hold here.
    of_tether = True

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.viewport().setFocusPolicy(
            Qt.FocusPolicy.NoFocus
        )  # before: it tells the picture, which takes the keys
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(self.Shape.NoFrame)
        self.ci.layout.setContentsMargins(0, 0, 6, 0)
        self.tokens, self.own_font = tokens, font
        self._findings: Findings | None = None
        self.cloud: Cloud | None = None
        self.marked: Set[int] = frozenset()
        self.free_to_move = False
        self._moving = False
        self._given_up = False
        self._cursor: int | None = None
        self._ties: tuple[object, ...] | None = None
        self._view = View()
        self.main = plot(tokens, font)
        self.addItem(self.main, row=0, col=0)
        number_axes(self, False)
        self.points, self.density = Points(self.main), Density(self.main)
        self.marked_density = Density(self.main, "marked")
        self.aside_density = Density(self.main, "set aside")
        self._lend_hand(self.main, lambda: None if self.cloud is None else self.cloud.y, movable=self.movable)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.tokens = tokens
        self.setBackground(tokens.card)
        restyle_plot(self.main, tokens, self.own_font)
        self.points.restyle(tokens)
        for one in self.densities():
            one.restyle(tokens)
        if self.has_tether:
            self.draw(self.findings, self.marked)

    def let_go(self) -> None:
        """Show nothing, and hold nothing of the tether that was shown."""
        self._findings = self.cloud = self._ties = None
        for one in self.densities():
            one.put(None)
        self.points.draw(None, None, np.zeros(0, bool))

    @property
    def has_tether(self) -> bool:
        """Whether a tether is shown yet."""
        return self._findings is not None

    @property
    def findings(self) -> Findings:
        """What is known of the tether that is shown."""
        assert self._findings is not None
        return self._findings

    @property
    def seen(self) -> Cloud:
        """The points that are shown, where there are some."""
        assert self.cloud is not None
        return self.cloud

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether; the range is kept while its columns stay and its points fit, or the hand chose it."""
        self._findings, self.marked = findings, marked
        self.cloud = self.placed(findings.cloud)
        moved = self.cloud is not None and self.cloud is not findings.cloud
        if self.cloud is not None and moved and not drawable(self.cloud.x, self.cloud.y):
            self.cloud = None  # where this picture puts them, its arithmetic leaves float64
        number_axes(self, self.cloud is not None and bool(self.cloud.x.size))
        self._draw_points()
        self.name_axes()
        shown = d.count(self.cloud.x.size, "point") if self.cloud is not None else "no points"
        axes = [self.main.getAxis(side).labelText for side in ("left", "bottom")]
        self.setAccessibleDescription(f"{shown}: {axes[0]} against {axes[1]}")
        ties, by_hand = self.placed_by(), self.main.getViewBox().by_hand
        if not self._moving and (
            ties != self._ties or self._view != self.view or not (by_hand or self._fits())
        ):
            self._forget_others(ties)
            self._ties, self._view = ties, self.view
            self.home()

    def densities(self) -> tuple[Density, ...]:
        """What shows very many points."""
        return self.density, self.marked_density, self.aside_density

    def _forget_others(self, ties: tuple[object, ...]) -> None:
        """Let go of how other points looked, which would stand there until these are counted."""
        if ties != self._ties:
            for one in self.densities():
                one.forget()

    def placed_by(self) -> tuple[object, ...]:
        """What says where the points stand, but for their values: where it changes, everything is shown anew."""
        tether = self.findings.tether
        return tether.id, tether.x, tether.y

    def _draw_points(self) -> None:
        points = self.cloud
        dense = points is not None and points.x.size > DENSE_ABOVE
        self.density.put(points.in_play if points is not None and dense else None)
        self.aside_density.put(points.out if points is not None and dense and points.hollow is None else None)
        if points is None or not dense:
            self.points.draw(points, None, self.mask())
        else:
            hollow = points.hollow
            self.points.draw(hollow, None, np.zeros(0 if hollow is None else hollow.x.size, bool))
        self._ring()

    def _ring(self) -> None:
        """Ring the marked points; where they are many, as a density of their own."""
        if self.cloud is not None:
            ring(self.points, self.marked_density, self.cloud, self.cloud.y, self.mask())

    def placed(self, points: Cloud | None) -> Cloud | None:
        """The points where this picture puts them: by the values themselves, unless it says otherwise."""
        return points

    def name_axes(self) -> None:
        """Name the axes by the tied columns."""
        for side, axis in (("bottom", "x"), ("left", "y")):
            self.main.getAxis(side).name(self.axis_name(axis), self.tokens)
        keep_time(self.main, self.clock("x"))
        keep_time(self.main, self.clock("y"), "left")

    def clock(self, axis: str) -> Clock | None:
        """How an axis of dates is measured, where the points stand at their own values."""
        if not self.findings.numbers_tied or not self.of_tether:
            return None
        found: Clock | None = getattr(self.findings, f"{axis}_column").clock
        return found

    @property
    def view(self) -> View:
        """How the tether wants its axes: names, limits, scales."""
        return self.findings.tether.view if self.has_tether else View()

    def axis_name(self, axis: str) -> str:
        """What an axis shows: the name that was chosen for it, or the column's own header."""
        table, column = self.findings.table, getattr(self.findings.tether, axis)
        chosen: str = getattr(self.view, f"{axis}_label") if self.of_tether else ""
        return chosen or (table.column(column).name if table.has(column) else f"no {axis} yet")

    def show_mark(self, marked: Set[int]) -> None:
        """Ring these rows."""
        self.marked = marked
        self._ring()

    def mask(self) -> np.ndarray:
        """Which points are marked, (m,)."""
        return np.zeros(0, bool) if self.cloud is None else self.cloud.mask(self.marked)

    def home(self) -> None:
        """Show everything, with room, or what the limits of the tether say."""
        self.main.getViewBox().by_hand = False
        if self.cloud is None or not self.cloud.x.size:
            return
        for axis, ends, put in zip(
            "xy", self.extent(), (self.main.setXRange, self.main.setYRange), strict=True
        ):
            low, high = with_room(*ends)
            first, last = self.limits(axis)
            wide = high - low
            low = first if first is not None else low if last is None or low < last else last - wide
            high = last if last is not None else high if low < high else low + wide
            put(low, high, padding=0)

    def limits(self, axis: str) -> tuple[float | None, float | None]:
        """Both limits of an axis as it is drawn, each None where the picture chooses."""
        chosen = getattr(self.view, axis) if self.of_tether else None
        return chosen or (None, None)

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """What must be in view: x and y from lowest to highest."""
        return self.seen.ends

    def _fits(self) -> bool:
        if self.cloud is None or not self.cloud.x.size:
            return True
        (left, right), (low, high) = self.main.viewRange()
        (x0, x1), (y0, y1) = self.extent()
        across = self.limits("x") != (None, None) or (left <= x0 and x1 <= right)
        return bool(across and (self.limits("y") != (None, None) or (low <= y0 and y1 <= high)))

    def _lend_hand(self, item: pg.PlotItem, heights: Callable[[], Floats | None], *, movable: bool) -> None:
        box = item.getViewBox()
        box.on_home = self.home
        box.hand = Hand(
            nearest=lambda at: self._nearest(box, heights(), at),
            mark_rows=lambda area, keys: self._mark_area(heights(), area, keys),
            mark_one=self._mark_one,
            may_move=lambda at: movable and (self.free_to_move or int(self.seen.row_ids[at]) in self.marked),
            move=self._move,
            hover=lambda at: self._hover(item, heights(), at),
        )

    def _nearest(self, box: pg.ViewBox, heights: np.ndarray | None, at: QPointF) -> int | None:
        if self.cloud is None or heights is None or not self.cloud.x.size:
            return None
        wide, tall = box.viewPixelSize()
        here = box.mapSceneToView(at)
        near = self.cloud.between(here.x() - _REACH * wide, here.x() + _REACH * wide)
        away = np.hypot((self.cloud.x[near] - here.x()) / wide, (heights[near] - here.y()) / tall)
        if np.isnan(away).all():
            return None
        found = int(np.nanargmin(away))
        return int(near[found]) if away[found] <= _REACH else None

    def _mark_area(self, heights: np.ndarray | None, area: QRectF, keys: Qt.KeyboardModifier) -> None:
        if self.cloud is None or heights is None:
            return
        x = self.cloud.x
        inside = (
            (x >= area.left()) & (x <= area.right()) & (heights >= area.top()) & (heights <= area.bottom())
        )
        rows = RowIds(self.cloud.row_ids[inside])
        self.mark_changed.emit(self.marked | rows if keys & Qt.KeyboardModifier.ShiftModifier else rows)

    def _mark_one(self, at: int | None, keys: Qt.KeyboardModifier) -> None:
        adding = keys & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier)
        if at is None:
            if not adding:
                self.mark_changed.emit(NO_ROWS)
            return
        self._cursor = at
        row = RowIds([int(self.seen.row_ids[at])])
        self.mark_changed.emit(self.marked ^ row if adding else row)

    def _move(self, at: int, to: QPointF, last: bool) -> None:
        if self._given_up:
            self._given_up = not last
            return
        wide, tall = self.main.getViewBox().viewPixelSize()
        row, x, y = int(self.seen.row_ids[at]), _rounded(to.x(), wide), _rounded(to.y(), tall)
        self._moving = not last
        (self.point_moved if last else self.point_moving).emit(row, x, y)

    def _hover(self, item: pg.PlotItem, heights: np.ndarray | None, at: int | None) -> None:
        if at is None or heights is None:
            QToolTip.hideText()
            return
        spot = item.getViewBox().mapViewToScene(QPointF(self.seen.x[at], heights[at]))
        QToolTip.showText(
            self.mapToGlobal(self.mapFromScene(spot)) + QPoint(8, 4), self.row_in_words(at), self
        )

    def row_in_words(self, at: int) -> str:
        """A point's row with both numbers, and why it is out when it is."""
        findings, points = self.findings, self.seen
        x, y = findings.x_column, findings.y_column
        group = f", {points.groups[points.group[at]]}" if points.groups else ""
        place = points.at[at]
        at_x, at_y = (value_in_words(column, float(column.cells[place])) for column in (x, y))
        label = findings.table.label_column
        name = f" {label.cells[points.at[at]]}" if label else ""
        text = f"row {points.at[at] + 1}{name}{group}: {at_x}, {at_y}"
        if points.aside[at]:
            text += f" (set aside: {findings.tether.asides.reason_of(int(points.row_ids[at]))})"
        return text

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows go from point to point along x, Space marks, Escape gives a move up."""
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()))
        if event.key() == Qt.Key.Key_Escape and self._moving:
            self._moving, self._given_up = False, True
            self.move_given_up.emit()
        elif step and self.cloud is not None and self.cloud.x.size:
            order = np.lexsort((self.cloud.y, self.cloud.x))
            place = int(np.flatnonzero(order == self._cursor)[0]) + step if self._at_point() else 0
            self._cursor = int(order[place % order.size])
            self._hover(self.main, self.cloud.y, self._cursor)
            self.setAccessibleDescription(self.row_in_words(self._cursor))
        elif event.key() == Qt.Key.Key_Space and self._at_point():
            self._mark_one(self._cursor, event.modifiers() | Qt.KeyboardModifier.ControlModifier)
        else:
            event.ignore()

    def _at_point(self) -> bool:
        return self._cursor is not None and self.cloud is not None and self._cursor < self.cloud.x.size

    def axis_at(self, spot: QPoint) -> str | None:
        """Which axis lies under a global position: where a column head may be let go."""
        scene = self.mapToScene(self.mapFromGlobal(spot))
        for side, axis in (("bottom", "x"), ("left", "y")):
            if self.main.getAxis(side).sceneBoundingRect().contains(scene):
                return axis
        return None

    def scene_spot(self, x: float, y: float) -> QPoint:
        """Where a pair of data values stands, in pixels of the viewport."""
        return QPoint(self.mapFromScene(self.main.getViewBox().mapViewToScene(QPointF(x, y))))


def value_in_words(column: Column, value: float) -> str:
    """A value with its name; of a date as it stands in the table."""
    if column.clock is not None:
        return as_written(moment_of(value, column.clock), 60)
    return f"{column.short} {d.entered(value)}"


def _rounded(value: float, pixel: float) -> float:
    """A value to the last digit that one pixel can set."""
    return round(value, -math.floor(math.log10(pixel))) if pixel > 0 else value
