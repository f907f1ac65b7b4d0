"""The dark head: the study's name, the tether path, the ground rules."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QSize, QTimer
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from bright_tether.desktop.parts.path import Path
from bright_tether.desktop.parts.rules import RulesButton
from bright_tether.desktop.parts.widgets import Pressable, label
from bright_tether.desktop.session import Session
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d


class Emblem(QWidget):
    """Two points tied by a bright line."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.setFixedSize(QSize(34, 34))

    def paintEvent(self, event: Any) -> None:
        """A hollow point, a bright line, a full point."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        low, high = QPointF(7, 27), QPointF(27, 7)
        painter.setPen(QPen(QColor(self.tokens.tether), 3))
        painter.drawLine(low, high)
        painter.setBrush(QColor(self.tokens.tether))
        painter.drawEllipse(high, 4, 4)
        painter.setBrush(QColor(self.tokens.night))
        painter.drawEllipse(low, 4, 4)


#: Milliseconds that a change taken back stays said.
_LONG_ENOUGH = 6000
#: Letters that the line below the name takes.
_MOST_LETTERS = 34


class StudyName(Pressable):
    """The study's name with what stands below it; a click, Enter or Space opens its sheet."""

    def __init__(self) -> None:
        super().__init__("studyName", "Study")
        self.title, self.subtitle = label(name="title"), label(name="subtitle")
        box = QVBoxLayout(self)
        box.setContentsMargins(6, 3, 6, 3)
        box.setSpacing(1)
        box.addWidget(self.title)
        box.addWidget(self.subtitle)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)


class Head(QFrame):
    """Name, path, rules."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("head")
        self.setFixedHeight(76)
        self._session = session
        self.saved = ""
        self._emblem, self.path = Emblem(tokens), Path(session, tokens)
        self.rules = RulesButton(session)
        self.name = StudyName()
        self._turned, self._gone = "", QTimer(self)
        self._gone.setSingleShot(True)
        self._gone.timeout.connect(lambda: self._say_turned(""))
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 4, 14, 4)
        row.setSpacing(10)
        row.addWidget(self._emblem)
        row.addWidget(self.name)
        row.addSpacing(16)
        row.addStretch(1)
        row.addWidget(self.path, 8)
        row.addStretch(1)
        row.addWidget(self.rules)
        session.study_changed.connect(self.show_study)
        session.findings_changed.connect(self.show_study)
        session.busy_changed.connect(self.show_study)
        session.turned_back.connect(self._say_turned)
        self.show_study()

    def show_study(self) -> None:
        """Name the study and say what it holds."""
        study = self._session.study
        self.name.title.setText(study.title)
        self.name.setAccessibleDescription(study.title)
        tethers = d.count(len(study.tethers), "tether")
        busy = " · working…" if self._session.busy else ""
        parts = [self._turned] if self._turned else [*([self.saved] if self.saved else []), tethers]
        text = f"{' · '.join(parts)}{busy}"
        self.name.subtitle.setText(text if len(text) <= _MOST_LETTERS else f"{text[: _MOST_LETTERS - 1]}…")
        self.name.subtitle.setToolTip(text)

    def _say_turned(self, words: str) -> None:
        """Say which change was taken back or made again, for as long as it takes to read."""
        self._turned = words
        if words:
            self._gone.start(_LONG_ENOUGH)
        self.show_study()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._emblem.tokens = tokens
        self._emblem.update()
        self.path.restyle(tokens)
