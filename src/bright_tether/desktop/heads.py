"""Column heads that can be dragged onto an axis and renamed by a double click."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QItemSelectionModel, QPoint, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontInfo, QFontMetrics, QPainter
from PyQt6.QtWidgets import QHeaderView, QLabel, QWidget

from bright_tether.desktop.grid_model import NOTE_ROLE
from bright_tether.pictures.sure import sure


def blind_to_choice(heads: QHeaderView) -> None:
    """Let column heads not look whether their column is chosen: Qt asks each of its rows, a minute for a million."""
    heads.setSelectionModel(QItemSelectionModel(heads.model(), heads))


class ColumnHeads(QHeaderView):
    """Column heads that can be dragged onto an axis and renamed by a double click."""

    let_go = pyqtSignal(int, QPoint)
    carried = pyqtSignal(QPoint)
    rename_wanted = pyqtSignal(int)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self.setSectionsClickable(True)
        self.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
        self.setAccessibleName("Column heads")
        #: Of what stands below the names.
        self.ink = QColor()
        self._pressed: tuple[int, QPoint] | None = None
        self._flag: QLabel | None = None

    def sizeHint(self) -> QSize:
        """Room for the name, and for the kind below it."""
        return QSize(super().sizeHint().width(), 2 * self.fontMetrics().height() + 10)

    def paintSection(self, painter: QPainter | None, rect: QRect, section: int) -> None:
        """The head, and in its lower half what it says of the column."""
        painter = sure(painter)
        painter.save()
        super().paintSection(painter, rect, section)
        painter.restore()
        note = sure(self.model()).headerData(section, Qt.Orientation.Horizontal, NOTE_ROLE)
        if note:
            font = QFont(self.font())
            font.setPixelSize(max(QFontInfo(font).pixelSize() - 2, 8))
            painter.setFont(font)
            painter.setPen(self.ink)
            room = rect.adjusted(8, 0, -6, -4)
            words = QFontMetrics(font).elidedText(str(note), Qt.TextElideMode.ElideRight, room.width())
            painter.drawText(room, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, words)

    def mousePressEvent(self, event: Any) -> None:
        """Take hold of a head, unless an edge is about to be moved."""
        section = self.logicalIndexAt(event.pos())
        on_edge = self.cursor().shape() == Qt.CursorShape.SplitHCursor
        if event.button() == Qt.MouseButton.LeftButton and section >= 0 and not on_edge:
            self._pressed = (section, event.pos())
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: Any) -> None:
        """Carry the head."""
        far = 8
        if self._pressed and (event.pos() - self._pressed[1]).manhattanLength() > far:
            if self._flag is None:
                name = sure(self.model()).headerData(self._pressed[0], Qt.Orientation.Horizontal)
                self._flag = QLabel(str(name), self.window())
                self._flag.setObjectName("notice")
                self._flag.setMargin(6)
                self._flag.adjustSize()
                self._flag.show()
            spot = self.mapToGlobal(event.pos())
            self._flag.move(sure(self.window()).mapFromGlobal(spot) + QPoint(10, 6))
            self.carried.emit(spot)
            return
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: Any) -> None:
        """Let the head go where it is."""
        pressed, self._pressed = self._pressed, None
        if self._flag is not None and pressed:
            self._flag.deleteLater()
            self._flag = None
            self.let_go.emit(pressed[0], self.mapToGlobal(event.pos()))
            return
        super().mouseReleaseEvent(event)

    def mouseDoubleClickEvent(self, event: Any) -> None:
        """Rename in place."""
        self._pressed = None
        self.rename_wanted.emit(self.logicalIndexAt(event.pos()))
