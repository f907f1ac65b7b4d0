"""Figures, tables, pictures and texts on the clipboard."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QGuiApplication, QImage

from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study.pins import Figures, Grid
from bright_tether.words.causes import said_of


def copy_grids(grids: tuple[Grid | Figures, ...]) -> None:
    """Tables as cells and as HTML, in numbers or words as was chosen last."""
    from bright_tether.account.outward import outward
    from bright_tether.desktop.parts.table_out import copied_as, put_on_clipboard

    content = copied_as()
    put_on_clipboard([outward(grid, content) for grid in grids])


def copy_text(session: Session, make: Callable[[], str], *, told: str, small: bool) -> None:
    """What this makes, beside the window where it is not small. told : said when it is there."""

    def take(text: str | Exception) -> None:
        if isinstance(text, Exception):
            session.notice(f"This could not be copied: {said_of(text)}")
            return
        sure(QGuiApplication.clipboard()).setText(text)
        if not small:
            session.tell(told)

    session.off(make, take, small=small)


def copy_picture(image: QImage, svg: str) -> None:
    """A picture as pixels, and as SVG for what takes it."""
    data = QMimeData()
    data.setImageData(image)
    data.setData("image/svg+xml", svg.encode())
    sure(QGuiApplication.clipboard()).setMimeData(data)
