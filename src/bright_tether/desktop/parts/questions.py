"""Questions that have to be answered before something is done: one line each, with what answers it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from bright_tether.desktop.parts.widgets import emptied, label

#: Pixels of a line, and of all of them together.
_LINE, _MOST = 46, 242


class Questions(QScrollArea):
    """Hidden while there are none; as tall as they are, up to a limit."""

    def __init__(self) -> None:
        super().__init__()
        held = QWidget()
        held.setObjectName("readingInner")
        self._lines = QVBoxLayout(held)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setWidgetResizable(True)
        self.setWidget(held)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def clear(self) -> None:
        """Take all away."""
        emptied(self._lines)

    def ask(self, words: str, name: str, *answers: QWidget) -> None:
        """Put one question with what answers it. name : of the words."""
        line = QHBoxLayout()
        line.addWidget(label(words, wrap=True, name=name), 1)
        for one in answers:
            line.addWidget(one)
        self._lines.addLayout(line)

    def fit(self) -> None:
        """Take the room that the questions need."""
        self.setVisible(self._lines.count() > 0)
        self.setFixedHeight(min(_LINE * self._lines.count() + 12, _MOST))
