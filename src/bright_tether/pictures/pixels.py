"""Pictures as pixels, of any size."""

from __future__ import annotations

from PyQt6.QtCore import QBuffer, QIODevice
from PyQt6.QtGui import QImage

from bright_tether.pictures.page import image_on
from bright_tether.study.pins import Drawing


def image_of(drawing: Drawing, wide: int) -> QImage:
    """A picture as pixels on white. wide : in pixels."""
    return image_on(drawing, wide, round(wide * drawing.height / drawing.width))


def png_of(drawing: Drawing, wide: int) -> bytes:
    """A picture as PNG with its description. wide : in pixels."""
    image = image_of(drawing, wide)
    image.setText("Description", drawing.words)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())
