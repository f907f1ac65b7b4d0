"""The write-up as a page: the same document on the screen, on paper and as PDF."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any
from xml.etree import ElementTree

from PyQt6.QtCore import (
    QBuffer,
    QByteArray,
    QEventLoop,
    QIODevice,
    QMarginsF,
    QObject,
    QPointF,
    QRectF,
    QSizeF,
    Qt,
    QUrl,
)
from PyQt6.QtGui import (
    QColor,
    QImage,
    QPageLayout,
    QPageSize,
    QPainter,
    QPainterPath,
    QPdfWriter,
    QPolygonF,
    QTextDocument,
)
from PyQt6.QtSvg import QSvgRenderer

from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.pictures.fonts import OWN_FAMILY, PAGE_FAMILY, page_font
from bright_tether.pictures.sure import sure
from bright_tether.study.pins import Drawing, PageStyle
from bright_tether.theme.tokens import LIGHT, Tokens

_SVG = "{http://www.w3.org/2000/svg}"
#: Pixels of a picture on the screen for one of the page.
_FINE = 2
#: The pictures whose pixels are kept, the last ones of them.
_MOST_KEPT = 40
_KEPT: dict[tuple[Drawing, int, int, str], QImage] = {}
_PLACE = re.compile(r"picture:(\d+)")
_POINT = re.compile(r"[ML]\s*(-?[\d.eE+-]+)[ ,](-?[\d.eE+-]+)")
#: Dots per inch that the page's lengths are counted in.
PAGE_DPI = 96


def paint_picture(painter: QPainter, area: QRectF, drawing: Drawing) -> None:
    """Paint an SVG into an area, piece by piece: Qt draws no clip paths of its own."""
    try:
        root = ElementTree.fromstring(clean_svg(drawing.svg))
    except UnsafePicture:
        return
    painter.save()
    painter.translate(area.topLeft())
    painter.scale(area.width() / max(drawing.width, 1), area.height() / max(drawing.height, 1))
    whole = QRectF(0, 0, drawing.width, drawing.height)
    for path, part in _pieces(root):
        painter.save()
        if path is not None:
            painter.setClipPath(path)
        QSvgRenderer(QByteArray(ElementTree.tostring(part))).render(painter, whole)
        painter.restore()
    painter.restore()


def _pieces(root: ElementTree.Element) -> Iterator[tuple[QPainterPath | None, ElementTree.Element]]:
    """An SVG as small ones, each with the path it is clipped to."""
    paths = {clip.get("id"): _path(clip) for clip in root.iter(f"{_SVG}clipPath")}
    outer = [one for one in root if one.tag == f"{_SVG}g"]
    frame = outer[0].attrib if len(outer) == 1 else {}
    inner = list(outer[0]) if len(outer) == 1 else outer
    runs: list[tuple[str | None, list[ElementTree.Element]]] = []
    for child in inner:
        clip = child.attrib.pop("clip-path", None)
        name = None if clip is None else clip.removeprefix("url(#").removesuffix(")")
        if not runs or name != runs[-1][0]:
            runs.append((name, []))
        runs[-1][1].append(child)
    for name, children in runs:
        part = ElementTree.Element(f"{_SVG}svg", {k: v for k, v in root.attrib.items() if k == "viewBox"})
        group = ElementTree.SubElement(part, f"{_SVG}g", frame)
        group.extend(children)
        for one in group.iter():
            if one.get("font-family") == OWN_FAMILY:
                one.set("font-family", PAGE_FAMILY)
        yield (paths.get(name) if name else None), part


def _path(clip: ElementTree.Element) -> QPainterPath:
    outline = QPainterPath()
    for one in clip.iter(f"{_SVG}path"):
        spots = [QPointF(float(x), float(y)) for x, y in _POINT.findall(one.get("d", ""))]
        outline.addPolygon(QPolygonF(spots))
    return outline


def page_document(
    html: str, drawings: tuple[Drawing, ...], *, width: float, style: PageStyle = "plain",
    tokens: Tokens = LIGHT, on_screen: bool = False, parent: QObject | None = None,
) -> QTextDocument:  # fmt: skip
    """A page from its HTML body. width : of the text, in page pixels.

    on_screen : pictures stand in it as fine pixels; else their places are left free for vectors.
    """
    document = QTextDocument(parent)
    own = page_font()
    own.setPixelSize(12 if style == "compact" else 14)
    document.setDefaultFont(own)
    document.setDefaultStyleSheet(page_sheet(style, tokens))
    document.setDocumentMargin(0)
    for at, drawing in enumerate(drawings):
        wide, tall = _size(drawing, width, style)
        html = re.sub(rf'src="picture:{at}" width="\d+" height="\d+"',
                      f'src="picture:{at}" width="{wide}" height="{tall}"', html)  # fmt: skip
        image = QImage(1, 1, QImage.Format.Format_ARGB32)
        image.fill(0)
        if on_screen:
            image = _pixels(drawing, wide, tall, tokens.card)
        document.addResource(QTextDocument.ResourceType.ImageResource, QUrl(f"picture:{at}"), image)
    document.setHtml(html)
    document.setTextWidth(width)
    return document


def paint_ahead(
    drawings: tuple[Drawing, ...], *, width: float, style: PageStyle, tokens: Tokens = LIGHT
) -> bool:
    """Paint the first of these that a page on the screen has no pixels of yet; whether there was one."""
    for drawing in drawings if len(drawings) <= _MOST_KEPT else ():
        key = drawing, *_size(drawing, width, style), tokens.card
        if key not in _KEPT:
            _pixels(*key)
            return True
    return False


def _size(drawing: Drawing, width: float, style: PageStyle) -> tuple[int, int]:
    """Width and height of a picture on a page, in page pixels."""
    wide = round(width * (0.72 if style == "compact" else 1.0))
    return wide, round(wide * drawing.height / max(drawing.width, 1))


def _pixels(drawing: Drawing, wide: int, tall: int, ground: str) -> QImage:
    """A picture on the screen; kept, since the page is set anew at every change."""
    key = drawing, wide, tall, ground
    if key not in _KEPT:
        _KEPT[key] = image_on(drawing, wide * _FINE, tall * _FINE, QColor(ground))
        while len(_KEPT) > _MOST_KEPT:
            del _KEPT[next(iter(_KEPT))]
    return _KEPT[key]


def image_on(drawing: Drawing, wide: int, tall: int, ground: QColor | None = None) -> QImage:
    """A picture as so many pixels, on white or another ground."""
    image = QImage(wide, tall, QImage.Format.Format_ARGB32)
    image.fill(ground or QColor(Qt.GlobalColor.white))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_picture(painter, QRectF(image.rect()), drawing)
    painter.end()
    return image


def page_sheet(style: PageStyle, t: Tokens) -> str:
    """The style of the page, in what a text document understands."""
    small = style == "compact"
    h1, h2, h3 = (19, 15, 12.5) if small else (25, 18, 15)
    room = 3 if small else 6
    return f"""
    body {{ color: {t.ink}; }}
    h1 {{ font-size: {h1}px; margin-bottom: 0; }}
    h2 {{ font-size: {h2}px; margin-top: {4 * room}px; margin-bottom: {room}px; color: {t.tether_ink}; }}
    h3 {{ font-size: {h3}px; margin-top: {2 * room}px; margin-bottom: {room / 2}px; }}
    p {{ margin-top: {room / 2}px; margin-bottom: {room / 2}px; }}
    .quiet, .caption, .beside {{ color: {t.muted}; }}
    .caption {{ font-size: {11 if small else 12}px; }}
    .method {{ background-color: {t.paper}; }}
    .note {{ margin-left: 14px; }}
    .typed {{ white-space: pre-wrap; }}
    a {{ color: {t.ink}; text-decoration: none; }}
    .beware {{ background-color: {t.tether_soft}; color: {t.on_soft}; }}
    .frozen {{ background-color: {t.sunken}; }}
    table {{ margin-top: {room}px; margin-bottom: {room}px; border-collapse: collapse; }}
    td, th {{ font-size: {11 if small else 12}px; text-align: right; border-bottom: 1px solid {t.hairline};
              border-bottom-style: solid; border-color: {t.hairline}; vertical-align: top; }}
    .first, .beside {{ text-align: left; }}
    .figures th, .steps th {{ font-weight: normal; }}
    .steps td {{ text-align: left; }}
    .strong td {{ background-color: {t.tether_soft}; color: {t.on_soft}; }}
    """


def pdf_bytes(set_on: Callable[[QPdfWriter], object]) -> bytes:
    """A PDF made in memory: the writer itself does not say when a disk is full."""
    turns = QEventLoop()  # what is set in lines starts a timer, which a thread of its own has none for
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    set_on(writer)
    del writer, turns
    return buffer.data().data()


def a4() -> QPageLayout:
    """A4 upright with room around the text."""
    return QPageLayout(
        QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait, QMarginsF(18, 18, 18, 20),
        QPageLayout.Unit.Millimeter,
    )  # fmt: skip


def print_on(device: Any, html: str, drawings: tuple[Drawing, ...], style: PageStyle) -> None:
    """Set a page on a PDF writer or a printer, with page numbers."""
    layout = device.pageLayout()
    dots = device.resolution() / PAGE_DPI
    text = layout.paintRectPixels(device.resolution())
    width, height = text.width() / dots, text.height() / dots - 24
    document = page_document(html, drawings, width=width, style=style)
    document.setPageSize(QSizeF(width, height))
    places = _places(document)
    painter = QPainter(device)
    painter.scale(dots, dots)
    for page in range(document.pageCount()):
        if page:
            device.newPage()
        shown = QRectF(0, page * height, width, height)
        painter.save()
        painter.translate(0, -page * height)
        document.drawContents(painter, shown)
        for which, area in places:
            if shown.contains(area.center()):
                paint_picture(painter, area, drawings[which])
        painter.restore()
        painter.save()
        small = page_font()
        small.setPixelSize(10)
        painter.setFont(small)
        painter.drawText(QPointF(width / 2 - 12, height + 18), f"{page + 1} / {document.pageCount()}")
        painter.restore()
    painter.end()


def _places(document: QTextDocument) -> list[tuple[int, QRectF]]:
    """Which picture stands where on the page."""
    found, layout = [], sure(document.documentLayout())
    block = document.begin()
    while block.isValid():
        walk = block.begin()
        while not walk.atEnd():
            image = walk.fragment().charFormat().toImageFormat()
            place = _PLACE.fullmatch(image.name()) if image.isValid() else None
            if place:
                top = layout.blockBoundingRect(block).topLeft()
                line = sure(block.layout()).lineAt(0)
                spot = top + QPointF(line.x(), line.y() + line.ascent() - image.height())
                found.append((int(place[1]), QRectF(spot, QSizeF(image.width(), image.height()))))
            walk += 1
        block = block.next()
    return found
