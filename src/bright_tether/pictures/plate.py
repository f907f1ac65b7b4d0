"""A loaded picture of a printed plot, with the points set on it and a magnifier."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QGraphicsPixmapItem, QGraphicsScene, QGraphicsView, QWidget

from bright_tether.core.trace import Spot
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import Tokens

_REACH = 8


class Plate(QGraphicsView):
    """Click to set a point, drag one to correct it, Delete takes the last touched away."""

    clicked = pyqtSignal(float, float)
    moved = pyqtSignal(str, int, float, float)
    removed = pyqtSignal(int)
    hovered = pyqtSignal(float, float)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.setAccessibleName("Picture to read")
        self.setScene(QGraphicsScene(self))
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.setMouseTracking(True)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setFrameShape(self.Shape.NoFrame)
        self.image = QImage()
        self._axes: list[Spot] = []
        self._points: list[Spot] = []
        self._held: tuple[str, int] | None = None
        self._touched: int | None = None

    def show_image(self, image: QImage) -> None:
        """Show another picture."""
        self.image = image
        sure(self.scene()).clear()
        sure(self.scene()).addItem(QGraphicsPixmapItem(QPixmap.fromImage(image)))
        sure(self.scene()).setSceneRect(QRectF(image.rect()))
        self._fit()

    def show_spots(self, axes: list[Spot], points: list[Spot]) -> None:
        """Show the axis points and the read points, in image pixels."""
        self._axes, self._points = axes, points
        sure(self.viewport()).update()

    def spot(self, x: float, y: float) -> QPointF:
        """Where an image pixel stands in the viewport."""
        return QPointF(self.mapFromScene(QPointF(x, y)))

    def drawForeground(self, painter: Any, rect: QRectF) -> None:
        """Crosses for the axis points, rings for the read ones."""
        scale = 1 / max(self.transform().m11(), 1e-9)
        for spots, hue, name in (
            (self._axes, self.tokens.attention, "axis"),
            (self._points, self.tokens.hues[0], "point"),
        ):
            pen = QPen(QColor(hue), 2 * scale)
            painter.setPen(pen)
            for x, y in spots:
                arm = 7 * scale
                if name == "axis":
                    painter.drawLine(QPointF(x - arm, y), QPointF(x + arm, y))
                    painter.drawLine(QPointF(x, y - arm), QPointF(x, y + arm))
                else:
                    painter.drawEllipse(QPointF(x, y), 5 * scale, 5 * scale)

    def resizeEvent(self, event: Any) -> None:
        """Keep the whole picture in view."""
        super().resizeEvent(event)
        self._fit()

    def mousePressEvent(self, event: Any) -> None:
        """Take hold of a point, or set one."""
        at = self.mapToScene(event.pos())
        self._held = self._near(at)
        if self._held is None:
            self.clicked.emit(at.x(), at.y())
        elif self._held[0] == "point":
            self._touched = self._held[1]

    def mouseMoveEvent(self, event: Any) -> None:
        """Move the held point; tell where the hand is."""
        at = self.mapToScene(event.pos())
        if self._held is not None and event.buttons():
            self.moved.emit(*self._held, at.x(), at.y())
        self.hovered.emit(at.x(), at.y())

    def mouseReleaseEvent(self, event: Any) -> None:
        """Let the point go."""
        self._held = None

    def keyPressEvent(self, event: Any) -> None:
        """Delete takes the point last touched away, or the last set."""
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self._points:
            at = self._touched if self._touched is not None else len(self._points) - 1
            self._touched = None
            self.removed.emit(min(at, len(self._points) - 1))
        else:
            super().keyPressEvent(event)

    def _near(self, at: QPointF) -> tuple[str, int] | None:
        reach = _REACH / max(self.transform().m11(), 1e-9)
        for name, spots in (("axis", self._axes), ("point", self._points)):
            for place, (x, y) in enumerate(spots):
                if abs(x - at.x()) <= reach and abs(y - at.y()) <= reach:
                    return name, place
        return None

    def _fit(self) -> None:
        if not self.image.isNull():
            self.fitInView(self.sceneRect(), Qt.AspectRatioMode.KeepAspectRatio)


class Magnifier(QWidget):
    """The few pixels under the hand, eight times as large."""

    def __init__(self, plate: Plate) -> None:
        super().__init__()
        self._plate = plate
        self._at = QPointF(0, 0)
        self.setFixedSize(128, 128)
        self.setAccessibleName("Magnifier")
        plate.hovered.connect(self._look)

    def paintEvent(self, event: Any) -> None:
        """Pixels, then a cross."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._plate.tokens.paper))
        if not self._plate.image.isNull():
            painter.drawImage(
                QRectF(self.rect()), self._plate.image, QRectF(self._at.x() - 8, self._at.y() - 8, 16, 16)
            )
        painter.setPen(QPen(QColor(self._plate.tokens.attention), 1))
        painter.drawLine(64, 0, 64, 128)
        painter.drawLine(0, 64, 128, 64)

    def _look(self, x: float, y: float) -> None:
        self._at = QPointF(x, y)
        self.update()
