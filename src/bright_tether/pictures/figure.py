"""A figure for a paper: a picture laid out at its exact size, with text as large as it will be printed."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import QFont, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter

from bright_tether.live.findings import Findings
from bright_tether.pictures.dressing import PARTS
from bright_tether.pictures.output import sized_svg
from bright_tether.pictures.page import image_on, paint_picture, pdf_bytes
from bright_tether.pictures.pixels import MM_PER_INCH
from bright_tether.pictures.press import Sheet, drawing_on
from bright_tether.study.pins import Drawing
from bright_tether.tables.writing import put_whole
from bright_tether.theme.tokens import PRINT, PRINT_GREY, PRINT_SAFE, Tokens

Colours = Literal["own", "safe", "grey"]
#: What may stand in a figure, and what stands in one at first.
CHOICES = (*PARTS, "residuals", "grid", "equation", "legend")
USUAL = ("points", "line", "band", "legend")
KINDS = (".svg", ".pdf", ".png", ".tiff")
#: Pixels of the smallest text that every picture has, the numbers of its axes; and what a point is in millimetres.
_TEXT, _POINT = 11, MM_PER_INCH / 72
_TOKENS: dict[Colours, Tokens] = {"own": PRINT, "safe": PRINT_SAFE, "grey": PRINT_GREY}


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """Width and height in millimetres; points : of the numbers at the axes, as printed; dpi : of pixels.

    drawn : what stands in it, of CHOICES.
    """

    wide: float = 85.0
    tall: float = 60.0
    points: float = 8.0
    dpi: int = 600
    colours: Colours = "own"
    drawn: tuple[str, ...] = USUAL

    @property
    def pixel(self) -> float:
        """Millimetres of one pixel of the layout: what makes the text as large as it is wanted."""
        return self.points * _POINT / _TEXT


def figure_of(findings: Findings, step: str, view: str, figure: Figure, font: QFont) -> Drawing | None:
    """A step's picture laid out for a figure, None where there is none."""
    sheet = Sheet(
        round(figure.wide / figure.pixel), round(figure.tall / figure.pixel), frozenset(figure.drawn)
    )
    return drawing_on(findings, step, view, sheet, _TOKENS[figure.colours], font)


def write_figure(drawing: Drawing, figure: Figure, path: Path) -> None:
    """Write it at exactly its size, in the kind its name asks for. Raises ValueError for another kind, OSError."""
    kind = path.suffix.lower().replace(".tif", ".tiff").replace(".tifff", ".tiff")
    if kind not in KINDS:
        raise ValueError(
            f"A figure can be written as {', '.join(KINDS)}: give the file one of these endings."
        )
    if kind == ".svg":
        put_whole(path, sized_svg(drawing, figure.wide, figure.tall).encode())
    elif kind == ".pdf":
        put_whole(path, _pdf(drawing, figure))
    else:
        put_whole(path, _pixels(drawing, figure, kind[1:].upper()))


def seen(drawing: Drawing, figure: Figure, dpi: float) -> QImage:
    """How it looks at its true size on a screen of so many dots per inch."""
    wide, tall = (round(one / MM_PER_INCH * dpi) for one in (figure.wide, figure.tall))
    return image_on(drawing, wide, tall)


def _pixels(drawing: Drawing, figure: Figure, kind: str) -> bytes:
    image = seen(drawing, figure, figure.dpi)
    if kind == "TIFF":  # journals take no transparency
        image = image.convertToFormat(QImage.Format.Format_RGB32)
    per_metre = round(figure.dpi / MM_PER_INCH * 1000)
    image.setDotsPerMeterX(per_metre)
    image.setDotsPerMeterY(per_metre)
    image.setText("Description", drawing.words)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    if not image.save(buffer, kind):
        raise OSError(0, f"this system writes no {kind}")
    return bytes(buffer.data().data())


def _pdf(drawing: Drawing, figure: Figure) -> bytes:
    def set_on(writer: QPdfWriter) -> None:
        writer.setTitle(drawing.title)
        writer.setPageLayout(QPageLayout(
            QPageSize(QSizeF(figure.wide, figure.tall), QPageSize.Unit.Millimeter, "figure",
                      QPageSize.SizeMatchPolicy.ExactMatch),
            QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0),
        ))  # fmt: skip
        painter = QPainter(writer)
        paint_picture(painter, QRectF(painter.viewport()), drawing)
        painter.end()

    return pdf_bytes(set_on)
