"""The shipped font."""

from __future__ import annotations

from functools import cache
from importlib.resources import as_file, files

from PyQt6.QtGui import QFont, QFontDatabase

#: The family of the window and its pictures.
OWN_FAMILY = "Inter"
#: The family of page fonts.
PAGE_FAMILY = "Inter Page"


@cache
def _family() -> str:
    families: set[str] = set()
    for font in files("bright_tether.theme").joinpath("fonts").iterdir():
        if font.name.endswith(".otf"):
            with as_file(font) as path:
                number = QFontDatabase.addApplicationFont(str(path))
            families.update(QFontDatabase.applicationFontFamilies(number))
    return OWN_FAMILY if OWN_FAMILY in families else min(families, default="")


def page_font() -> QFont:
    """The font of pages: the same letters, with figures of one width and nothing exchanged in setting them.

    What is set with exchanged shapes cannot be copied from a PDF as text.
    """
    _family()
    font = QFont(PAGE_FAMILY)
    font.setPixelSize(13)
    return font


def shipped_font(family: str = "") -> QFont:
    """The font of window, pictures and pages, with figures of one width. family : another one of the system."""
    font = QFont(family or _family())
    font.setPixelSize(13)
    font.setFeature(QFont.Tag("tnum"), 1)
    return font
