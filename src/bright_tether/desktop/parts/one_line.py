"""One line above a picture: what is asked most, the views, and more that opens on demand."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLayout, QVBoxLayout, QWidget

from bright_tether.desktop.parts.widgets import button
from bright_tether.pictures.sure import sure

#: Pixels between two parts of a line.
_GAP = 6


class ViewChooser(QWidget):
    """The views as buttons, or as a list to pull down where there is no room for them."""

    def __init__(
        self, name: str, views: Mapping[str, str], buttons: QLayout, show: Callable[[str], object]
    ) -> None:
        """views : titles by id. buttons : one a view, in their order."""
        super().__init__()
        self._buttons, self._list = QWidget(), QComboBox()
        row = QHBoxLayout(self._buttons)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self._ids = list(views)
        while (item := buttons.takeAt(0)) is not None:
            row.addWidget(sure(item.widget()))
        self._list.setAccessibleName(name)
        for view, title in views.items():
            self._list.addItem(title, view)
        self._list.activated.connect(lambda at: show(self._ids[at]))
        both = QHBoxLayout(self)
        both.setContentsMargins(0, 0, 0, 0)
        both.addWidget(self._buttons)
        both.addWidget(self._list)
        self._list.hide()

    @property
    def whole(self) -> int:
        """Pixels that the buttons take."""
        return self._buttons.sizeHint().width()

    def fold(self, folded: bool) -> None:
        """Show the list, or the buttons."""
        self._buttons.setVisible(not folded)
        self._list.setVisible(folded)

    def offer(self, view: str, offered: bool) -> None:
        """Whether a view can be chosen: one that has nothing to show takes no room."""
        at = self._ids.index(view)
        sure(sure(self._buttons.layout()).itemAt(at)).widget().setHidden(not offered)  # type: ignore[union-attr]
        sure(self._list.view()).setRowHidden(at, not offered)  # type: ignore[attr-defined]

    def show_view(self, view: str) -> None:
        """Show in the list which view is on the stage."""
        self._list.setCurrentIndex(self._ids.index(view))


class OneLine(QWidget):
    """Parts side by side, and below them what is rarely changed, once it is asked for."""

    def __init__(self, *parts: QWidget, more: QWidget, chooser: ViewChooser | None = None) -> None:
        super().__init__()
        self._chooser, self.more = chooser, more
        self._toggle = button("More…", self.toggle, "small", "More entries")
        self._toggle.setCheckable(True)
        self._line = QWidget()
        row = QHBoxLayout(self._line)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(_GAP)
        self._parts = (*parts, self._toggle)
        for part in parts:
            row.addWidget(part)
        row.addStretch()
        row.addWidget(self._toggle)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        box.addWidget(self._line)
        box.addWidget(more)
        more.hide()

    def toggle(self) -> None:
        """Open what is rarely changed, or close it."""
        self.open(self.more.isHidden())

    def open(self, opened: bool = True) -> None:
        """Open or close it; it stays so."""
        self.more.setHidden(not opened)
        self._toggle.setChecked(opened)
        self._toggle.setText("Less" if opened else "More…")

    def resizeEvent(self, event: Any) -> None:
        """Fold the views where the line is too narrow for them."""
        super().resizeEvent(event)
        self.fit()

    def fit(self) -> None:
        """Take the form that the width allows."""
        if self._chooser is not None:
            shown = [one for one in self._parts if not one.isHidden()]
            widths = [
                self._chooser.whole if one is self._chooser else one.sizeHint().width() for one in shown
            ]
            gaps = _GAP * (len(widths) + 1)  # the stretch before the last has one too
            self._chooser.fold(sum(widths) + gaps > self.width())
