"""A panel that comes up where it is asked for and goes when something else is clicked."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtWidgets import QFrame, QVBoxLayout, QWidget

from bright_tether.desktop.parts.hints import answered
from bright_tether.desktop.parts.widgets import label
from bright_tether.pictures.sure import sure


class Popup(QFrame):
    """A titled panel over the window."""

    def __init__(self, title: str, parent: QWidget, width: int = 380) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("popup")
        self.setAccessibleName(title)
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(14, 12, 14, 12)
        self.box.addWidget(label(title, "strong"))
        self.setMinimumWidth(width)

    def event(self, event: QEvent | None) -> bool:
        """Say what a term means where the pointer rests."""
        return answered(self, event) or super().event(event)

    def show_by(self, widget: QWidget) -> None:
        """Come up beside a widget, inside its window."""
        self.adjustSize()
        frame = sure(widget.window()).frameGeometry()
        corner = widget.mapToGlobal(QPoint(0, widget.height() + 4))
        corner.setX(min(max(corner.x(), frame.left() + 8), frame.right() - self.width() - 8))
        corner.setY(min(corner.y(), frame.bottom() - self.height() - 8))
        self.move(corner)
        self.show()
        self.setFocus()
