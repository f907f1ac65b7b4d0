"""The axes of a figure as they were asked for: names, limits, numbers by step or by hand, small ticks between them."""

from __future__ import annotations

import html
import math
from itertools import pairwise
from typing import Any

from PyQt6.QtGui import QFont, QFontMetricsF

from bright_tether.pictures.board import Board
from bright_tether.pictures.calendar import calendar_steps, fineness, place_text
from bright_tether.pictures.frame import Axis, LogAxis
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.study.figures import FigureAxes, FigureAxis
from bright_tether.tables.clock import moment_of, shown_at

#: Pictures that can be given axes: points in a frame, or several plots on a board.
Dressed = ScatterPicture | Board

#: Pixels of the name of an axis, at most and at least, and by how much it may be longer than its axis.
_NAME, _LEAST_NAME, _OVER = 12, 8, 10
#: By how many pixels words at a place may reach beyond the end of their axis; how large they are.
_BEYOND, _NUMBERS = 60, 11
#: More numbers than these can stand at no axis; a step that asks for more is as if it had not been asked.
_MOST = 200


def set_axes(picture: Dressed, axes: FigureAxes, minor: int) -> None:
    """Give both axes of a picture what was asked for. minor : small ticks between two numbers."""
    for side, wish in (("bottom", axes.x), ("left", axes.y)):
        set_limits(picture, side, wish)
    for item in plots_of(picture):
        for side, wish in (("bottom", axes.x), ("left", axes.y)):
            asked = item is picture.main or (side == "bottom" and isinstance(picture, ScatterPicture))
            ends = item.getViewBox().viewRange()[side == "left"]
            _set_ticks(item.getAxis(side), ends, wish if asked else FigureAxis(), minor)
    for side, wish in (("bottom", axes.x), ("left", axes.y)):
        if wish.name:
            _rename(picture, side, wish.name)
    _room_at_the_end(picture)


def _room_at_the_end(picture: Dressed) -> None:
    """Keep as much room right of the plot as half of the words at its right end need."""
    axis = picture.main.getAxis("bottom")
    placed = (axis._tickLevels or [[]])[0]
    if not placed:
        return
    font = QFont(picture.own_font)
    font.setPixelSize(_NUMBERS)
    place, words = placed[-1]
    (low, high), wide = picture.main.getViewBox().viewRange()[0], max(_size(axis), 1.0)
    over = QFontMetricsF(font).horizontalAdvance(words) / 2 - (high - place) / (high - low) * wide
    left, top, right, below = picture.ci.layout.getContentsMargins()
    picture.ci.layout.setContentsMargins(left, top, max(right, over + 3), below)


def plots_of(picture: Dressed) -> list[Any]:
    """The plot, and the residuals below it where they are drawn; of a board all its plots."""
    if isinstance(picture, Board):
        return list(picture.plots)
    below = getattr(picture, "strip", None)
    return [picture.main, *([below] if below is not None and below.scene() is not None else [])]


def fit_names(picture: Dressed) -> None:
    """Make the names of short axes small enough to stand beside them whole."""
    picture.ci.layout.activate()
    for item in plots_of(picture):
        for side in ("left", "bottom"):
            axis = item.getAxis(side)
            if not (axis.label.isVisible() and axis.labelText):
                continue
            font = QFont(picture.own_font)
            font.setPixelSize(_NAME)
            wide, room = (
                QFontMetricsF(font).horizontalAdvance(html.unescape(axis.labelText)),
                _size(axis) + _OVER,
            )
            if wide > room:
                size = max(int(_NAME * room / wide), _LEAST_NAME)
                axis.setLabel(axis.labelText, **(axis.labelStyle | {"font-size": f"{size}px"}))


def set_limits(picture: Dressed, side: str, wish: FigureAxis) -> None:
    """From where to where an axis goes; an end that is not asked for, or that no axis has, stays."""
    axis = picture.main.getAxis(side)
    ends = list(picture.main.getViewBox().viewRange()[side == "left"])
    for at, end in enumerate((wish.low, wish.high)):
        place = None if end is None else _place(axis, end)
        if place is not None:
            ends[at] = place
    if ends[0] < ends[1]:
        (picture.main.setXRange if side == "bottom" else picture.main.setYRange)(*ends, padding=0)


def _place(axis: Axis, value: float) -> float | None:
    """Where a value of the column stands along its axis; None where it has no place."""
    if isinstance(axis, LogAxis) and axis.powers:
        return math.log10(value) if value > 0 else None
    return value if axis.clock is None else shown_at(value, axis.clock)


def _set_ticks(axis: Any, ends: Any, wish: FigureAxis, minor: int) -> None:
    if not (wish.at or wish.step or minor) or axis._tickLevels is not None:
        return  # what has names in place of numbers keeps them
    low, high = ends
    values = list(wish.at) or _steps(axis, low, high, wish)
    if not (values or minor):
        return
    if values:
        placed = [(one, _place(axis, one)) for one in sorted(set(values))]
        numbers = [(place, one) for one, place in placed if place is not None and low <= place <= high]
        gap = min((b - a for a, b in pairwise(values) if b > a), default=1.0)
        words = _words(axis, [one for _, one in numbers], wish.step or gap)
        major = [(place, text) for (place, _), text in zip(numbers, words, strict=True)]
    else:
        spacing, places = axis.tickValues(low, high, _size(axis))[0]
        major = list(zip(places, axis.tickStrings(list(places), axis.scale, spacing), strict=True))
    between = _between(axis, [place for place, _ in major], low, high, minor)
    axis.setStyle(hideOverlappingLabels=_BEYOND)  # the numbers at both ends too
    axis.setTicks([major, [(place, "") for place in between]])


def _steps(axis: Any, low: float, high: float, wish: FigureAxis) -> list[float]:
    """The multiples of a step in view, in units of the column."""
    step = wish.step
    if axis.clock is not None:
        first, last = (moment_of(one, axis.clock) for one in (low, high))
        return calendar_steps(first, last, step, wish.unit, _MOST) if step and wish.unit else []
    if step is None or step <= 0 or not math.isfinite(step):
        return []
    if isinstance(axis, LogAxis) and axis.powers:
        low, high = 10**low, 10**high
    first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
    return [] if last - first > _MOST else [at * step for at in range(first, last + 1)]


def _words(axis: Any, values: list[float], spacing: float) -> list[str]:
    """The numbers as they stand there, all with the decimals that the finest of them needs."""
    if isinstance(axis, LogAxis) and axis.powers:
        return list(axis.tickStrings([math.log10(one) for one in values], 1.0, 1.0))
    if axis.clock is not None:
        fine = fineness(values)
        return [place_text(shown_at(one, axis.clock), fine, axis.clock, whole=True) for one in values]
    finest = spacing
    for one in values:
        while finest > 1e-12 * max(abs(one), 1e-300) and abs(one / finest - round(one / finest)) > 1e-6:
            finest /= 10
    return list(axis.tickStrings(values, 1.0, finest))


def _between(axis: Any, places: list[float], low: float, high: float, minor: int) -> list[float]:
    """Small ticks: so many between every two numbers, and as far as the axis goes beyond the outermost."""
    if not minor or len(places) < 2:
        return []
    ends = [2 * places[0] - places[1], *places, 2 * places[-1] - places[-2]]
    powers = isinstance(axis, LogAxis) and axis.powers
    if powers:  # evenly in the values themselves
        ends = [10**one for one in ends]
    found = [
        before + (after - before) * part / (minor + 1)
        for before, after in pairwise(ends)
        for part in range(1, minor + 1)
    ]
    found = [math.log10(one) for one in found] if powers else found
    return [one for one in found if low <= one <= high]


def _size(axis: Any) -> float:
    box = axis.linkedView().boundingRect()
    return float(box.height() if axis.orientation in ("left", "right") else box.width())


def _rename(picture: Dressed, side: str, name: str) -> None:
    """Another name for an axis, wherever its own one stands."""
    both = side == "bottom" and isinstance(picture, ScatterPicture)
    for item in plots_of(picture) if both else [picture.main]:
        axis = item.getAxis(side)
        if axis.label.isVisible() and axis.labelText:
            axis.name(name, picture.tokens)
