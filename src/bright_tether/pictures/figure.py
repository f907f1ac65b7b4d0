"""A figure for a paper: pictures laid out at their exact size, with text as large as it will be printed."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from xml.etree import ElementTree

import msgspec
from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QPointF, QRectF, QSizeF
from PyQt6.QtGui import QColor, QFont, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter

from bright_tether.account.svg import clean_svg
from bright_tether.live.findings import Findings
from bright_tether.pictures.fonts import OWN_FAMILY, PAGE_FAMILY, shipped_font
from bright_tether.pictures.output import sized_svg
from bright_tether.pictures.page import paint_picture, pdf_bytes
from bright_tether.pictures.press import Sheet, drawing_on
from bright_tether.study.figures import MM_PER_INCH, Colours, Figure, FigureAxes
from bright_tether.study.pins import Drawing
from bright_tether.tables.writing import put_whole
from bright_tether.theme.tokens import PRINT, PRINT_GREY, PRINT_SAFE, Tokens

KINDS = (".svg", ".pdf", ".png", ".tiff")
#: Letters of panels; height of a letter's line, and the room between panels, in pixels of the layout.
LETTERS, _HEAD, _ROOM = "abcdefghijkl", 18, 10
_TOKENS: dict[Colours, Tokens] = {"own": PRINT, "safe": PRINT_SAFE, "grey": PRINT_GREY}
_SVG = "http://www.w3.org/2000/svg"

#: What a panel shows: the findings, the step and its view, and the axes that belong to it.
Shown = tuple[Findings, str, str, FigureAxes]


class Panel(msgspec.Struct, frozen=True):
    """One picture in its place. area : in pixels of the layout; letter : "" where it stands alone."""

    drawing: Drawing
    area: QRectF
    letter: str = ""


class Plate(msgspec.Struct, frozen=True):
    """A whole figure. wide, tall : of the layout, in pixels."""

    panels: tuple[Panel, ...]
    wide: int
    tall: int
    family: str

    @property
    def words(self) -> str:
        """What it shows, for those who cannot see it."""
        return " ".join(
            f"({one.letter}) {one.drawing.words}" if one.letter else one.drawing.words for one in self.panels
        )

    @property
    def title(self) -> str:
        """What it is called in a file."""
        return "; ".join(one.drawing.title for one in self.panels)


def plate_of(shown: Sequence[Shown], figure: Figure, across: int = 1) -> Plate | None:
    """Pictures laid out for a figure, None where there is none. across : panels side by side."""
    wide, tall = round(figure.wide / figure.pixel), round(figure.tall / figure.pixel)
    font, tokens = shipped_font(figure.font), _TOKENS[figure.colours]
    alone = len(shown) == 1
    across = max(1, min(across, len(shown)))
    down = -(-len(shown) // across)
    cell = QSizeF((wide - _ROOM * (across - 1)) / across, (tall - _ROOM * (down - 1)) / down)
    panels: list[Panel] = []
    for at, (findings, step, view, axes) in enumerate(shown):
        left, top = at % across * (cell.width() + _ROOM), at // across * (cell.height() + _ROOM)
        area = QRectF(left, top, cell.width(), cell.height())
        if not alone:
            area.setTop(top + _HEAD)
        sheet = Sheet(max(round(area.width()), 1), max(round(area.height()), 1), figure, axes)
        drawing = drawing_on(findings, step, view, sheet, tokens, font)
        if drawing is not None:
            panels.append(Panel(drawing, area, "" if alone else LETTERS[len(panels) % len(LETTERS)]))
    return Plate(tuple(panels), wide, tall, font.family()) if panels else None


def write_figure(plate: Plate, figure: Figure, path: Path) -> None:
    """Write it at exactly its size, in the kind its name asks for. Raises ValueError for another kind, OSError."""
    kind = path.suffix.lower().replace(".tif", ".tiff").replace(".tifff", ".tiff")
    if kind not in KINDS:
        raise ValueError(
            f"A figure can be written as {', '.join(KINDS)}: give the file one of these endings."
        )
    if kind == ".svg":
        put_whole(path, _svg(plate, figure).encode())
    elif kind == ".pdf":
        put_whole(path, _pdf(plate, figure))
    else:
        put_whole(path, _pixels(plate, figure, kind[1:].upper()))


def seen(plate: Plate, figure: Figure, dpi: float) -> QImage:
    """How it looks at its true size on a screen of so many dots per inch."""
    wide, tall = (round(one / MM_PER_INCH * dpi) for one in (figure.wide, figure.tall))
    image = QImage(wide, tall, QImage.Format.Format_ARGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _paint(painter, plate, QRectF(image.rect()))
    painter.end()
    return image


def _paint(painter: QPainter, plate: Plate, whole: QRectF) -> None:
    """Every panel in its place, its letter above its upper left corner."""
    painter.save()
    painter.translate(whole.topLeft())
    painter.scale(whole.width() / plate.wide, whole.height() / plate.tall)
    for panel in plate.panels:
        paint_picture(painter, panel.area, panel.drawing)
        if panel.letter:
            painter.setFont(_letter_font(plate))
            painter.setPen(QColor(PRINT.ink))
            painter.drawText(_letter_spot(panel), panel.letter)
    painter.restore()


def _letter_font(plate: Plate) -> QFont:
    font = QFont(PAGE_FAMILY if plate.family == OWN_FAMILY else plate.family)
    font.setPixelSize(_HEAD - 4)
    font.setBold(True)
    return font


def _letter_spot(panel: Panel) -> QPointF:
    return QPointF(panel.area.left() + 2, panel.area.top() - 5)


def _svg(plate: Plate, figure: Figure) -> str:
    """One SVG; of several panels each in a group of its own, with names that do not meet."""
    if len(plate.panels) == 1 and not plate.panels[0].letter:
        return sized_svg(plate.panels[0].drawing, figure.wide, figure.tall)
    root = ElementTree.Element(f"{{{_SVG}}}svg", {
        "width": f"{figure.wide:g}mm", "height": f"{figure.tall:g}mm", "viewBox": f"0 0 {plate.wide} {plate.tall}",
        "role": "img", "aria-label": plate.words, "preserveAspectRatio": "none",
    })  # fmt: skip
    ElementTree.SubElement(root, f"{{{_SVG}}}title").text = plate.words
    for panel in plate.panels:
        inner = ElementTree.fromstring(clean_svg(panel.drawing.svg, prefix=f"{panel.letter}-"))
        across, up = panel.area.width() / panel.drawing.width, panel.area.height() / panel.drawing.height
        moved = f"translate({panel.area.left():g} {panel.area.top():g}) scale({across:.8g} {up:.8g})"
        ElementTree.SubElement(root, f"{{{_SVG}}}g", {"transform": moved}).extend(inner)
        spot, font = _letter_spot(panel), _letter_font(plate)
        letter = ElementTree.SubElement(root, f"{{{_SVG}}}text", {
            "x": f"{spot.x():g}", "y": f"{spot.y():g}", "font-family": plate.family, "font-weight": "bold",
            "font-size": str(font.pixelSize()), "fill": PRINT.ink,
        })  # fmt: skip
        letter.text = panel.letter
    return ElementTree.tostring(root, encoding="unicode")


def _pixels(plate: Plate, figure: Figure, kind: str) -> bytes:
    image = seen(plate, figure, figure.dpi)
    if kind == "TIFF":  # journals take no transparency
        image = image.convertToFormat(QImage.Format.Format_RGB32)
    per_metre = round(figure.dpi / MM_PER_INCH * 1000)
    image.setDotsPerMeterX(per_metre)
    image.setDotsPerMeterY(per_metre)
    image.setText("Description", plate.words)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    if not image.save(buffer, kind):
        raise OSError(0, f"this system writes no {kind}")
    return bytes(buffer.data().data())


def _pdf(plate: Plate, figure: Figure) -> bytes:
    def set_on(writer: QPdfWriter) -> None:
        writer.setTitle(plate.title)
        writer.setPageLayout(QPageLayout(
            QPageSize(QSizeF(figure.wide, figure.tall), QPageSize.Unit.Millimeter, "figure",
                      QPageSize.SizeMatchPolicy.ExactMatch),
            QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0),
        ))  # fmt: skip
        painter = QPainter(writer)
        _paint(painter, plate, QRectF(painter.viewport()))
        painter.end()

    return pdf_bytes(set_on)
