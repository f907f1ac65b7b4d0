"""A picture as it stands on the screen, out to a file or to another program."""

from __future__ import annotations

from pathlib import Path
from xml.etree import ElementTree

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QRect, QRectF, QSize, QSizeF
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter
from PyQt6.QtWidgets import QWidget

from bright_tether.account.svg import clean_svg
from bright_tether.pictures.page import paint_picture, pdf_bytes
from bright_tether.pictures.press import as_svg
from bright_tether.study.pins import Drawing
from bright_tether.tables.writing import put_whole

KINDS = (".svg", ".pdf", ".png")
_CM_PER_INCH = 2.54


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
    tall = round(wide * drawing.height / drawing.width)
    image = QImage(wide, tall, QImage.Format.Format_ARGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_picture(painter, QRectF(image.rect()), drawing)
    painter.end()
    return image


def png_of(drawing: Drawing, wide: int, dpi: int | None = None) -> bytes:
    """A picture as PNG with its description. wide : in pixels. dpi : written into it."""
    image = image_of(drawing, wide)
    if dpi is not None:
        image.setDotsPerMeterX(round(dpi / _CM_PER_INCH * 100))
        image.setDotsPerMeterY(round(dpi / _CM_PER_INCH * 100))
    image.setText("Description", drawing.words)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())


def write_picture(drawing: Drawing, path: Path, *, wide_cm: float, dpi: int) -> None:
    """Write a picture in the kind its name asks for. Raises ValueError for another kind, OSError."""
    kind = path.suffix.lower()
    if kind == ".svg":
        put_whole(path, sized_svg(drawing, wide_cm).encode())
    elif kind == ".png":
        put_whole(path, png_of(drawing, round(wide_cm / _CM_PER_INCH * dpi), dpi))
    elif kind == ".pdf":
        _write_pdf(drawing, path, wide_cm)
    else:
        raise ValueError(
            f"A picture can be written as {', '.join(KINDS)}: give the file one of these endings."
        )


def sized_svg(drawing: Drawing, wide_cm: float) -> str:
    """The SVG with its width on paper."""
    tall = wide_cm * drawing.height / drawing.width
    svg = clean_svg(drawing.svg, words=drawing.words)
    root = ElementTree.fromstring(svg)
    root.set("width", f"{wide_cm:g}cm")
    root.set("height", f"{tall:.4g}cm")
    return ElementTree.tostring(root, encoding="unicode")


def _write_pdf(drawing: Drawing, path: Path, wide_cm: float) -> None:
    tall_cm = wide_cm * drawing.height / drawing.width

    def set_on(writer: QPdfWriter) -> None:
        writer.setTitle(drawing.title)
        writer.setPageLayout(QPageLayout(
            QPageSize(QSizeF(wide_cm * 10, tall_cm * 10), QPageSize.Unit.Millimeter, "picture",
                      QPageSize.SizeMatchPolicy.ExactMatch),
            QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0),
        ))  # fmt: skip
        painter = QPainter(writer)
        paint_picture(painter, QRectF(painter.viewport()), drawing)
        painter.end()

    put_whole(path, pdf_bytes(set_on))
