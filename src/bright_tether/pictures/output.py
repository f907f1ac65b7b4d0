"""A picture as vectors and as pixels, out to a file or to another program."""

from __future__ import annotations

from xml.etree import ElementTree

from PyQt6.QtCore import QBuffer, QIODevice, QRect, QRectF, QSize
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QWidget

from bright_tether.account.svg import clean_svg
from bright_tether.pictures.page import paint_picture
from bright_tether.pictures.press import as_svg
from bright_tether.study.pins import Drawing

MM_PER_INCH = 25.4


def drawing_of(widget: QWidget) -> Drawing:
    """A picture on the screen as vectors, drawn by its own code."""
    size = QSize(max(widget.width(), 1), max(widget.height(), 1))
    words = f"{widget.accessibleName()}: {widget.accessibleDescription()}".strip(": ")
    svg = clean_svg(as_svg([(widget, QRect(0, 0, size.width(), size.height()))], size))
    return Drawing(
        title=widget.accessibleName(), words=words, svg=svg, width=size.width(), height=size.height()
    )


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


def sized_svg(drawing: Drawing, wide: float, tall: float) -> str:
    """The SVG with its size on paper, in millimetres."""
    svg = clean_svg(drawing.svg, words=drawing.words)
    root = ElementTree.fromstring(svg)
    root.set("width", f"{wide:g}mm")
    root.set("height", f"{tall:g}mm")
    root.set("preserveAspectRatio", "none")  # the layout is whole pixels, a fraction of one off
    return ElementTree.tostring(root, encoding="unicode")
