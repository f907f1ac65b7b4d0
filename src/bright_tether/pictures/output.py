"""A picture on the screen as vectors, and vectors at their size on paper."""

from __future__ import annotations

from xml.etree import ElementTree

from PyQt6.QtCore import QRect, QSize
from PyQt6.QtWidgets import QWidget

from bright_tether.account.svg import clean_svg
from bright_tether.pictures.press import as_svg
from bright_tether.study.pins import Drawing


def drawing_of(widget: QWidget) -> Drawing:
    """A picture on the screen as vectors, drawn by its own code."""
    size = QSize(max(widget.width(), 1), max(widget.height(), 1))
    words = f"{widget.accessibleName()}: {widget.accessibleDescription()}".strip(": ")
    svg = clean_svg(as_svg([(widget, QRect(0, 0, size.width(), size.height()))], size))
    return Drawing(
        title=widget.accessibleName(), words=words, svg=svg, width=size.width(), height=size.height()
    )


def sized_svg(drawing: Drawing, wide: float, tall: float) -> str:
    """The SVG with its size on paper, in millimetres."""
    svg = clean_svg(drawing.svg, words=drawing.words)
    root = ElementTree.fromstring(svg)
    root.set("width", f"{wide:g}mm")
    root.set("height", f"{tall:g}mm")
    root.set("preserveAspectRatio", "none")  # the layout is whole pixels, a fraction of one off
    return ElementTree.tostring(root, encoding="unicode")
