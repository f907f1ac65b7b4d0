"""The dark head: the study's name, the tether path, the ground rules."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QSize
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from bright_tether.desktop.parts.path import Path
from bright_tether.desktop.parts.rules import RulesButton
from bright_tether.desktop.parts.widgets import label
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
        self._title, self._subtitle = label(name="title"), label(name="subtitle")
        names = QVBoxLayout()
        names.setSpacing(1)
        names.addStretch()
        names.addWidget(self._title)
        names.addWidget(self._subtitle)
        names.addStretch()
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 4, 14, 4)
        row.setSpacing(10)
        row.addWidget(self._emblem)
        row.addLayout(names)
        row.addSpacing(16)
        row.addStretch(1)
        row.addWidget(self.path, 8)
        row.addStretch(1)
        row.addWidget(self.rules)
        session.study_changed.connect(self.show_study)
        session.findings_changed.connect(self.show_study)
        session.busy_changed.connect(self.show_study)
        self.show_study()

    def show_study(self) -> None:
        """Name the study and say what it holds."""
        study = self._session.study
        self._title.setText(study.title)
        tethers = d.count(len(study.tethers), "tether")
        busy = " · working…" if self._session.busy else ""
        self._subtitle.setText(f"{self.saved} · {tethers}{busy}" if self.saved else f"{tethers}{busy}")

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._emblem.tokens = tokens
        self._emblem.update()
        self.path.restyle(tokens)
