"""A row that goes on in the next line where the window is narrow."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QButtonGroup, QLayout, QLayoutItem, QWidget

from bright_tether.desktop.parts.widgets import button


class Flow(QLayout):
    """Lays its widgets out like words."""

    def __init__(self, *widgets: QWidget, spacing: int = 6) -> None:
        super().__init__()
        self._items: list[QLayoutItem] = []
        self._gap = spacing
        #: Heights by width, as long as nothing in it changes: the layout around asks dozens of times.
        self._heights: dict[int, int] = {}
        self.setContentsMargins(0, 0, 0, 0)
        for widget in widgets:
            self.addWidget(widget)

    def addItem(self, item: Any) -> None:
        """Take one more."""
        self._heights.clear()
        self._items.append(item)

    def count(self) -> int:
        """How many there are."""
        return len(self._items)

    def itemAt(self, at: int) -> QLayoutItem | None:
        """One of them."""
        return self._items[at] if 0 <= at < len(self._items) else None

    def takeAt(self, at: int) -> QLayoutItem | None:
        """Take one out."""
        self._heights.clear()
        return self._items.pop(at) if 0 <= at < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        """None."""
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        """Narrower is taller."""
        return True

    def heightForWidth(self, width: int) -> int:
        """The height of all lines at this width."""
        if width not in self._heights:
            self._heights[width] = self._place(QRect(0, 0, width, 0), move=False)
        return self._heights[width]

    def invalidate(self) -> None:
        """Something in it has changed."""
        self._heights.clear()
        super().invalidate()

    def setGeometry(self, area: QRect) -> None:
        """Lay out."""
        super().setGeometry(area)
        self._place(area, move=True)

    def sizeHint(self) -> QSize:
        """As narrow as the widest."""
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        """As narrow as the widest."""
        size = QSize()
        for item in self._items:
            if not item.isEmpty():
                size = size.expandedTo(item.minimumSize())
        return size

    def _place(self, area: QRect, *, move: bool) -> int:
        x, y, tall = area.x(), area.y(), 0
        line: list[tuple[QLayoutItem, QRect]] = []

        def end_line() -> None:
            """A line's widgets stand on one middle, whatever their heights."""
            for item, place in line if move else ():
                item.setGeometry(place.translated(0, (tall - place.height()) // 2))
            line.clear()

        for item in self._items:
            if item.isEmpty():
                continue
            size = item.sizeHint()
            if size.width() > area.width() and item.hasHeightForWidth():  # words go on below each other
                size = QSize(area.width(), item.heightForWidth(area.width()))
            if line and x + size.width() > area.right() + 1:
                end_line()
                x, y, tall = area.x(), y + tall + self._gap, 0
            line.append((item, QRect(QPoint(x, y), size)))
            x, tall = x + size.width() + self._gap, max(tall, size.height())
        end_line()
        return y + tall - area.y()


def choice_of(
    names: Sequence[str], group: QButtonGroup, run: Callable[[str], object], deed: str = "Show"
) -> Flow:
    """Buttons of which one is down, the first to begin with; each runs with its own name."""
    row = Flow()
    for at, name in enumerate(names):
        chooser = button(name, partial(run, name), "small", f"{deed} {name.lower()}")
        chooser.setCheckable(True)
        chooser.setChecked(at == 0)
        group.addButton(chooser, at)
        row.addWidget(chooser)
    return row
