"""Fonts, palette and style sheet, derived from the tokens of the theme in force."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path
from string import Template

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPalette
from PyQt6.QtWidgets import QApplication

from bright_tether.pictures.fonts import shipped_font
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import DARK, LIGHT, Tokens


class Theme(QObject):
    """The tokens in force; follows the desktop's choice of light or dark."""

    changed = pyqtSignal(object)

    def __init__(self, app: QApplication) -> None:
        super().__init__(app)
        self._app = app
        self.font = shipped_font()
        if not app.styleSheet():  # else it stands already, and every widget would be polished anew
            app.setStyle("Fusion")
            app.setFont(self.font)
        self.tokens = LIGHT
        hints = sure(app.styleHints())
        hints.colorSchemeChanged.connect(self._follow)
        self._follow(hints.colorScheme())

    def _follow(self, scheme: Qt.ColorScheme) -> None:
        self.take(DARK if scheme == Qt.ColorScheme.Dark else LIGHT)

    def take(self, tokens: Tokens) -> None:
        """Put a theme in force everywhere."""
        self.tokens = tokens
        sheet = style_sheet(tokens)
        if sheet != self._app.styleSheet():
            self._app.setPalette(palette(tokens))
            self._app.setStyleSheet(sheet)
        self.changed.emit(tokens)


def palette(tokens: Tokens) -> QPalette:
    """The palette for what the style sheet does not reach."""
    role = QPalette.ColorRole
    colours = {
        role.Window: tokens.paper, role.WindowText: tokens.ink, role.Base: tokens.card,
        role.AlternateBase: tokens.paper, role.Text: tokens.ink, role.Button: tokens.card,
        role.ButtonText: tokens.ink, role.Highlight: tokens.tether_soft,
        role.HighlightedText: tokens.on_soft, role.ToolTipBase: tokens.night,
        role.ToolTipText: tokens.on_night, role.PlaceholderText: tokens.muted,
        role.Link: tokens.tether_ink, role.Mid: tokens.hairline, role.Dark: tokens.faint, role.Light: tokens.card,
    }  # fmt: skip
    shades = QPalette()
    for which, colour in colours.items():
        shades.setColor(which, QColor(colour))
    shades.setColor(QPalette.ColorGroup.Disabled, role.ButtonText, QColor(tokens.muted))
    shades.setColor(QPalette.ColorGroup.Disabled, role.Text, QColor(tokens.muted))
    return shades


def style_sheet(tokens: Tokens) -> str:
    """One style sheet for the whole window; widgets are told apart by object name or ``kind``."""
    sheet = files("bright_tether.theme").joinpath("window.qss").read_text(encoding="utf-8")
    named = {name: getattr(tokens, name) for name in Tokens.__struct_fields__}
    arrow = files("bright_tether.theme").joinpath(f"down-{tokens.name}.svg")
    return Template(sheet).substitute(named, down_arrow=Path(str(arrow)).as_posix())
