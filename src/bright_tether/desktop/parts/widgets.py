"""Small widgets used all over the window."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QFrame, QLabel, QLayout, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from bright_tether.pictures.sure import sure


def label(text: str = "", kind: str = "", *, wrap: bool = False, name: str = "") -> QLabel:
    """A label of a kind that the style sheet knows; its text is never read as markup. name : of the object."""
    widget = QLabel(text)
    widget.setTextFormat(Qt.TextFormat.PlainText)
    widget.setProperty("kind", kind)
    widget.setWordWrap(wrap)
    if wrap:
        widget.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Minimum)
    if name:
        widget.setObjectName(name)  # no accessible name: that is the text itself
    return widget


class Sentence(QLabel):
    """Words on one line where there is room for them, else on several. name : of the object."""

    def __init__(self, text: str, name: str) -> None:
        super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setObjectName(name)

    def sizeHint(self) -> QSize:
        """As wide as the words."""
        return QSize(self.fontMetrics().horizontalAdvance(self.text()) + 4, super().heightForWidth(10_000))


class Pressable(QPushButton):
    """Widgets laid out on a button: to the hand, the keyboard and a screen reader it is one."""

    def __init__(self, object_name: str, name: str) -> None:
        super().__init__()
        self.setObjectName(object_name)
        self.setAccessibleName(name)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.setAutoDefault(True)  # Enter presses it, as Space does
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        """As large as what lies on it."""
        return sure(self.layout()).totalSizeHint()

    def minimumSizeHint(self) -> QSize:
        """As small as what lies on it can be."""
        return sure(self.layout()).totalMinimumSize()

    def hasHeightForWidth(self) -> bool:
        """As what lies on it has."""
        return sure(self.layout()).hasHeightForWidth()

    def heightForWidth(self, width: int) -> int:
        """As what lies on it has."""
        return sure(self.layout()).totalHeightForWidth(width)


def button(words: str, run: Callable[[], object], kind: str = "", name: str = "") -> QPushButton:
    """A push button, named by its words unless another name says more."""
    widget = QPushButton(words)
    widget.setProperty("kind", kind)
    widget.setAccessibleName(name or words)
    widget.clicked.connect(lambda: run())
    return widget


def card(layout: QLayout, name: str = "card") -> QFrame:
    """A framed card around a layout."""
    frame = QFrame()
    frame.setObjectName(name)
    frame.setLayout(layout)
    return frame


def stacked(*parts: QWidget, tall: int = -1) -> QWidget:
    """Widgets one under the other without margins. tall : the place of the one that takes the room."""
    held = QWidget()
    box = QVBoxLayout(held)
    box.setContentsMargins(0, 0, 0, 0)
    for part in parts:
        box.addWidget(part)
    box.setStretch(tall % len(parts), 1)
    return held


def restyled(widget: QWidget, name: str, value: object) -> None:
    """Set a property that the style sheet looks at, and look again."""
    if widget.property(name) != value:
        widget.setProperty(name, value)
        sure(widget.style()).unpolish(widget)
        sure(widget.style()).polish(widget)


def emptied(layout: QLayout) -> QLayout:
    """The layout with all its widgets gone."""
    while (item := layout.takeAt(0)) is not None:
        if widget := item.widget():
            widget.hide()
            widget.deleteLater()
        elif inner := item.layout():
            emptied(inner)
    return layout


def put_in(field: QLineEdit, text: str) -> None:
    """Fill a field, unless somebody is typing in it: an answer may come at any time."""
    if not (field.hasFocus() and field.isModified()):
        field.setText(text)
