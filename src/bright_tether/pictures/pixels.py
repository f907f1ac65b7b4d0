"""Pictures as pixels, of any size."""

from __future__ import annotations

from PyQt6.QtCore import QBuffer, QIODevice, QRectF
from PyQt6.QtGui import QImage, QPainter

from bright_tether.pictures.page import paint_picture
from bright_tether.study.pins import Drawing

MM_PER_INCH = 25.4


def image_of(drawing: Drawing, wide: int) -> QImage:
    """A picture as pixels on white. wide : in pixels."""
    return image_on(drawing, wide, round(wide * drawing.height / drawing.width))


def image_on(drawing: Drawing, wide: int, tall: int) -> QImage:
    """The same at a width and a height in pixels."""
    image = QImage(wide, tall, QImage.Format.Format_ARGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_picture(painter, QRectF(image.rect()), drawing)
    painter.end()
    return image


def png_of(drawing: Drawing, wide: int) -> bytes:
    """A picture as PNG with its description. wide : in pixels."""
    image = image_of(drawing, wide)
    image.setText("Description", drawing.words)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())
