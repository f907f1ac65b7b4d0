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
from bright_tether.core.strength.screen import Looked
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
from bright_tether.words.grids.screen import screen_grid, screen_heads, screen_line, screen_words

_COEFFICIENTS = {"pearson": "r", "spearman": "ρ", "kendall": "τ-b"}
_SHOWN = {"all": "all of them", "holm": "p after Holm ≤ α", "false": "false finds ≤ 10 %"}
_TIE = "tie"
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

    def show_lines(self, screen: Screen | None, lines: list[Looked], digits: int) -> None:
        """Show these lines."""
        self.beginResetModel()
        self.screen, self.lines, self.digits = screen, lines, digits
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Lines."""
        return len(self.lines)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """A picture, the figures, and a place to tie."""
        return 0 if self.screen is None else len(screen_heads(self.screen)) + 2

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Texts; numbers stand to the right."""
        if self.screen is None or index.column() == 0:
            return None
        last = index.column() == self.columnCount() - 1
        names = 2 if self.screen.every else 1
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() > names and not last:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return None
        return (
            _TIE
            if last
            else screen_line(self.screen, self.lines[index.row()], self.digits)[index.column() - 1]
        )

    def headerData(self, section: int, side: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """What a column holds."""
        if side != Qt.Orientation.Horizontal or role != Qt.ItemDataRole.DisplayRole or self.screen is None:
            return None
        return ("", *screen_heads(self.screen), "")[section]


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
        x, y = (_cells(screen.columns[at]) for at in (one.first, one.second))
        places = np.flatnonzero(np.isfinite(x) & np.isfinite(y) & screen.kept)
        places = places[:: max(places.size // _POINTS, 1)]
        if places.size < 2:
            return
        area = QRectF(option.rect).adjusted(6, 4, -6, -4)
        across, up = _placed(x[places], area.width()), _placed(y[places], area.height())
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
        self.coefficient = choice("Coefficient", _COEFFICIENTS, lambda _: self.start())
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
        held = [t for t in session.study.tethers if t.table == session.table.id and (t.x, t.y) == (x, y)]
        if held:
            session.show_tether(held[0].id)
        else:
            among = sum(line.p is not None for line in screen.looked)
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
        findings = self._session.findings
        y = (
            findings.table.column(findings.tether.y or "").short
            if findings.table.has(findings.tether.y)
            else "y"
        )
        self._said.setText(screen_words(screen, y, findings.rules.alpha))
        self._fill()

    def _fill(self) -> None:
        screen = self._screen
        if screen is None:
            return
        alpha, wanted = self._session.findings.rules.alpha, self.name.text().strip().lower()
        chosen = self.shown.currentData()
        lines = [
            one for one in screen.looked
            if wanted in " ".join(screen.columns[at].name.lower() for at in (one.first, one.second)[: 1 + screen.every])
            and (chosen != "holm" or (one.p_holm is not None and one.p_holm <= alpha))
            and (chosen != "false" or (one.false_share is not None and one.false_share <= _FALSE))
        ]  # fmt: skip
        lines.sort(key=lambda one: _rank(one, screen, self._by), reverse=self._falling)
        self.model.show_lines(screen, lines, self._session.findings.rules.digits)
        self.table.resizeColumnsToContents()
        self.table.setColumnWidth(0, 74)

    def _sort_by(self, section: int) -> None:
        if 0 < section < self.model.columnCount() - 1:
            self._falling = not self._falling if self._by == section else section > 3
            self._by = section
            self._fill()

    def _clicked(self, index: QModelIndex) -> None:
        if index.column() == self.model.columnCount() - 1:
            self.tie(index.row())


def _rank(one: Looked, screen: Screen, by: int) -> Any:
    """What lines are sorted by; at first the size of the coefficient. What has no value comes last."""
    heads = screen_heads(screen)
    head = heads[by - 1] if by > 0 else "size"
    names = {"column": one.first, "x": one.first, "y": one.second}
    if head in names:
        return screen.columns[names[head]].short.lower()
    values = {
        "n": one.n,
        "p": one.p,
        "p, Holm": one.p_holm,
        "false finds": one.false_share,
        "interval": one.ci[0] if one.ci else None,
        "size": None if one.value is None else abs(one.value),
    }
    value = values.get(head, one.value)
    return -np.inf if value is None else value


def _cells(column: Any) -> Floats:
    cells: Floats = column.along
    return cells


def _placed(values: Floats, wide: float) -> Floats:
    low, high = float(values.min()), float(values.max())
    return np.full(values.size, wide / 2) if high == low else (values - low) / (high - low) * wide
