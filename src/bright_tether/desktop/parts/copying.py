"""Figures, tables and pictures on the clipboard."""

from __future__ import annotations

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QGuiApplication, QImage

from bright_tether.account.html import grid_html
from bright_tether.pictures.sure import sure
from bright_tether.study.pins import Figures, Grid


def copy_grids(grids: tuple[Grid | Figures, ...]) -> None:
    """Tables as text with tabs, and as HTML for what takes it."""
    data = QMimeData()
    data.setText("\n\n".join(map(grid_text, grids)) + "\n")
    data.setHtml("".join(map(grid_html, grids)))
    sure(QGuiApplication.clipboard()).setMimeData(data)


def grid_text(grid: Grid | Figures) -> str:
    """A table as lines of cells with tabs between them."""
    heads = (grid.heads,) if isinstance(grid, Grid) else ()
    return "\n".join("\t".join(row) for row in (*heads, *grid.rows))


def copy_picture(image: QImage, svg: str) -> None:
    """A picture as pixels, and as SVG for what takes it."""
    data = QMimeData()
    data.setImageData(image)
    data.setData("image/svg+xml", svg.encode())
    sure(QGuiApplication.clipboard()).setMimeData(data)
