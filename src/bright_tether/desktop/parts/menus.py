"""Menus on the thing they act on, made of deeds."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QWidget

from bright_tether.desktop.actions import Deed
from bright_tether.pictures.sure import sure


def open_menu(name: str, groups: Iterable[Iterable[Deed]], spot: QPoint, parent: QWidget) -> QMenu:
    """Show what is possible, group by group, with its keys. spot : on the screen."""
    menu = QMenu(parent)
    menu.setAccessibleName(name)
    menu.aboutToHide.connect(menu.deleteLater)
    for group in groups:
        shown = [deed for deed in group if deed.possible()]
        if shown and menu.actions():
            menu.addSeparator()
        for deed in shown:
            action = sure(menu.addAction(f"{deed.words}\t{deed.shortcut}" if deed.shortcut else deed.words))
            action.triggered.connect(lambda _, run=deed.run: run())
    menu.popup(spot)
    return menu
