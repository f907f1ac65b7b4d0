"""What goes with y: every column looked at, each with its picture, sorted and filtered; a click ties."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QHBoxLayout,
    QLineEdit,
    QStyledItemDelegate,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from bright_tether.core.results import Floats
from bright_tether.core.strength.screen import Looked, looked_at
from bright_tether.desktop.background import Work
from bright_tether.desktop.parts.copying import copy_grids
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.widgets import button, card, label
from bright_tether.desktop.session import Session
from bright_tether.live.findings import Findings
from bright_tether.live.screen import Screen, look_at_columns
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.theme.tokens import Tokens
from bright_tether.words.grids.screen import LETTERS, screen_grid, screen_heads, screen_line, screen_words

_SHOWN = {"all": "all of them", "holm": "p after Holm ≤ α", "false": "false finds ≤ 10 %"}
_TIE = "tie"
#: Two columns in one cell.
_BOTH = "x and y"
#: What is of most interest where it is least, or first in the alphabet.
_RISING = ("column", _BOTH, "p", "p, Holm", "false finds")
#: Points of one thumbnail.
_POINTS = 250
_FALSE = 0.1


class ScreenModel(QAbstractTableModel):
    """The lines that are shown, in their order: a picture, the figures, and where a click ties."""

    def __init__(self) -> None:
        super().__init__()
        self.screen: Screen | None = None
        self.lines: list[Looked] = []
        self.digits = 3
        self._points: dict[tuple[int, int], tuple[Floats, Floats]] = {}

    def show_lines(self, screen: Screen | None, lines: list[Looked], digits: int) -> None:
        """Show these lines."""
        self.beginResetModel()
        if screen is not self.screen:
            self._points.clear()
        self.screen, self.lines, self.digits = screen, lines, digits
        self.endResetModel()

    def points_of(self, first: int, second: int) -> tuple[Floats, Floats]:
        """Some of the points of two columns, found in their rows once however often they are painted."""
        if self.screen is not None and (first, second) not in self._points:
            x, y = (self.screen.columns[at].along for at in (first, second))
            places = np.flatnonzero(np.isfinite(x) & np.isfinite(y) & self.screen.kept)
            places = places[:: max(places.size // _POINTS, 1)]
            self._points[first, second] = x[places], y[places]
        return self._points[first, second]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Lines."""
        return len(self.lines)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """A picture, the figures, and a place to tie."""
        return 0 if self.screen is None else len(_heads(self.screen)) + 2

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Texts; numbers stand to the right."""
        if self.screen is None or index.column() == 0:
            return None
        last = index.column() == self.columnCount() - 1
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() > 1 and not last:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return None
        return _TIE if last else _line(self.screen, self.lines[index.row()], self.digits)[index.column() - 1]

    def headerData(self, section: int, side: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """What a column holds."""
        if side != Qt.Orientation.Horizontal or role != Qt.ItemDataRole.DisplayRole or self.screen is None:
            return None
        return ("", *_heads(self.screen), "")[section].replace("false finds", "false\nfinds")


class Thumbnail(QStyledItemDelegate):
    """The points of two columns, as small as a word; worked out when it is painted."""

    def __init__(self, model: ScreenModel, tokens: Tokens) -> None:
        super().__init__()
        self.model, self.tokens = model, tokens

    def paint(self, painter: QPainter | None, option: Any, index: QModelIndex) -> None:
        """Paint the points of one line."""
        screen = self.model.screen
        if screen is None or painter is None:
            return
        one = self.model.lines[index.row()]
        x, y = self.model.points_of(one.first, one.second)
        if x.size < 2:
            return
        area = QRectF(option.rect).adjusted(6, 4, -6, -4)
        across, up = _placed(x, area.width()), _placed(y, area.height())
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self.tokens.hues[0]))
        for left, high in zip(across.tolist(), up.tolist(), strict=True):
            painter.drawEllipse(QPointF(area.left() + left, area.bottom() - high), 1.4, 1.4)
        painter.restore()


class ScreenPage(QWidget):
    """Choices above, one line a column below."""

    done = pyqtSignal(bool)

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self.setAccessibleName("What goes with y")
        self._session = session
        self._screen: Screen | None = None
        self._by, self._falling = -1, True
        self._title = label(kind="heading", wrap=True, name="screen title")
        self._said = label(kind="quiet", wrap=True, name="screen says")
        self.coefficient = choice("Coefficient", LETTERS, lambda _: self.start())
        self.every = QCheckBox("every two columns")
        self.every.setAccessibleName("Every two columns")
        self.every.toggled.connect(lambda _: self.start())
        self.shown = choice("Which to show", _SHOWN, lambda _: self._fill())
        self.name = QLineEdit()
        self.name.setAccessibleName("Part of a name")
        self.name.setPlaceholderText("part of a name")
        self.name.setMaximumWidth(170)
        self.name.textEdited.connect(lambda _: self._fill())
        self.model = ScreenModel()
        self.thumbnail = Thumbnail(self.model, tokens)
        self.table = QTableView()
        self.table.setAccessibleName("Columns looked at")
        self.table.setModel(self.model)
        self.table.setItemDelegateForColumn(0, self.thumbnail)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setTabKeyNavigation(False)
        sure(self.table.verticalHeader()).hide()
        sure(self.table.verticalHeader()).setDefaultSectionSize(34)
        sure(self.table.horizontalHeader()).sectionClicked.connect(self._sort_by)
        self.table.clicked.connect(self._clicked)
        self.table.activated.connect(lambda index: self.tie(index.row()))
        self._work = Work(self)
        self._work.done.connect(lambda screen, basis: self._take(screen))
        self._work.failed.connect(
            lambda error: session.notice(f"The columns could not be looked at: {error}.")
        )
        row = QHBoxLayout()
        for words, field in (
            ("by", self.coefficient),
            ("", self.every),
            ("show", self.shown),
            ("", self.name),
        ):
            if words:
                row.addWidget(label(words, "quiet"))
            row.addWidget(field)
        row.addStretch()
        deeds = QHBoxLayout()
        deeds.addWidget(label("a click on “tie” puts the two columns on the stage", "quiet"))
        deeds.addStretch()
        self.stop = button("Stop", self._work.stop, name="Stop looking at columns")
        deeds.addWidget(self.stop)
        deeds.addWidget(button("Copy the table", self.copy))
        deeds.addWidget(button("Back", lambda: self.done.emit(False), name="Back to the step"))
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 14, 12)
        for part in (self._title, row, self._said, self.table, deeds):
            (box.addWidget if isinstance(part, QWidget) else box.addLayout)(part)  # type: ignore[arg-type]
        box.setStretchFactor(self.table, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(box))

    def start(self) -> None:
        """Look at the columns of the table at hand, off the interface thread."""
        session = self._session
        study, tether = session.history.study, session.history.study.tether(session.tether_id)
        findings, coefficient = Findings(study, tether), self.coefficient.currentData()
        every = self.every.isChecked()
        y = findings.table.column(tether.y or "").short if findings.table.has(tether.y) else "y"
        self._title.setText("What goes with what?" if every else f"What goes with {y}?")
        self.stop.show()

        def look(progress: Callable[[Any], bool]) -> Screen:
            return look_at_columns(findings, coefficient, every, lambda done: progress(None))

        self._work.start(look)

    def tie(self, row: int) -> None:
        """Tie the two columns of a line, and look at them."""
        screen, session = self._screen, self._session
        if screen is None:
            return
        one = self.model.lines[row]
        x, y = screen.columns[one.first].id, screen.columns[one.second].id
        if not (session.table.has(x) and session.table.has(y)):  # taken out since they were looked at
            self.start()
            return
        held = [t for t in session.study.tethers if t.table == session.table.id and (t.x, t.y) == (x, y)]
        if held:
            session.show_tether(held[0].id)
        else:
            among = looked_at(screen.looked)
            session.do_and_show(*changes.tie(session.history.study, session.tether, x=x, y=y, among=among))
        session.show_step("look")

    def copy(self) -> None:
        """Put the lines on the clipboard."""
        if self._screen is not None:
            copy_grids((screen_grid(self._screen, self.model.lines, self.model.digits),))

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.thumbnail.tokens = tokens

    def _take(self, screen: Screen) -> None:
        self._screen = screen
        self.stop.hide()
        self._said.setText(screen_words(screen))
        self._fill()

    def _fill(self) -> None:
        screen = self._screen
        if screen is None:
            return
        alpha, wanted = screen.alpha, self.name.text().strip().lower()
        chosen = self.shown.currentData()
        lines = [
            one for one in screen.looked
            if wanted in " ".join(screen.columns[at].name.lower() for at in (one.first, one.second)[: 1 + screen.every])
            and (chosen != "holm" or (one.p_holm is not None and one.p_holm <= alpha))
            and (chosen != "false" or (one.false_share is not None and one.false_share <= _FALSE))
        ]  # fmt: skip
        ranks = {(one.first, one.second): _rank(one, screen, self._by) for one in lines}
        there = [one for one in lines if ranks[one.first, one.second] is not None]
        there.sort(key=lambda one: ranks[one.first, one.second], reverse=self._falling)
        lines = there + [one for one in lines if ranks[one.first, one.second] is None]
        self.model.show_lines(screen, lines, self._session.findings.rules.digits)
        self.table.resizeColumnsToContents()
        self.table.setColumnWidth(0, 60 if screen.every else 74)
        sure(self.table.verticalHeader()).setDefaultSectionSize(42 if screen.every else 34)

    def _sort_by(self, section: int) -> None:
        if 0 < section < self.model.columnCount() - 1:
            head = _heads(self._screen)[section - 1] if self._screen else ""
            self._falling = not self._falling if self._by == section else head not in _RISING
            self._by = section
            self._fill()

    def _clicked(self, index: QModelIndex) -> None:
        if index.column() == self.model.columnCount() - 1:
            self.tie(index.row())


def _rank(one: Looked, screen: Screen, by: int) -> Any:
    """What lines are sorted by; at first the size of the coefficient. None where there is no value."""
    heads = _heads(screen)
    head = heads[by - 1] if by > 0 else "size"
    if by == 1:
        return tuple(screen.columns[at].short.lower() for at in (one.first, one.second))
    values = {
        "n": one.n,
        "p": one.p,
        "p, Holm": one.p_holm,
        "false finds": one.false_share,
        "interval": one.ci[0] if one.ci else None,
        "size": None if one.value is None else abs(one.value),
    }
    return values.get(head, one.value)


def _heads(screen: Screen) -> tuple[str, ...]:
    """The heads of the table; two names stand in one cell, one above the other."""
    heads = screen_heads(screen)
    return (_BOTH, *heads[2:]) if screen.every else heads


def _line(screen: Screen, one: Looked, digits: int) -> tuple[str, ...]:
    line = screen_line(screen, one, digits)
    return (f"{line[0]}\n{line[1]}", *line[2:]) if screen.every else line


def _placed(values: Floats, wide: float) -> Floats:
    low, high = float(values.min()), float(values.max())
    return np.full(values.size, wide / 2) if high == low else (values - low) / (high - low) * wide
