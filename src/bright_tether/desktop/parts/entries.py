"""Fields that say their name: choices, numbers, counts."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QSpinBox, QWidget

from bright_tether.desktop.parts.widgets import label
from bright_tether.pictures.sure import sure


def choice(name: str, items: Mapping[Any, str], run: Callable[[Any], object]) -> QComboBox:
    """One of several, by their words; run with the key chosen."""
    box = QComboBox()
    box.setAccessibleName(name)
    for key, words in items.items():
        box.addItem(words, key)
    box.setMaximumWidth(210)
    box.activated.connect(lambda _: run(box.currentData()))
    return box


def number(name: str, run: Callable[[str], object], width: int = 86, hint: str = "") -> QLineEdit:
    """A field for a number; run with its text when it is left."""
    entry = QLineEdit()
    entry.setAccessibleName(name)
    entry.setPlaceholderText(hint)
    entry.setFixedWidth(width)
    entry.editingFinished.connect(lambda: run(entry.text().strip()))
    return entry


def count(name: str, low: int, high: int, run: Callable[[int], object]) -> QSpinBox:
    """A whole number; run with it when the field is left."""
    box = QSpinBox()
    box.setRange(low, high)
    box.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    box.setAccessibleName(name)
    sure(box.lineEdit()).setAccessibleName(name)
    box.editingFinished.connect(lambda: run(box.value()))
    return box


def named(words: str, field: QWidget) -> QWidget:
    """A field with its words before it."""
    held = QWidget()
    row = QHBoxLayout(held)
    row.setContentsMargins(0, 0, 0, 0)
    row.addWidget(label(words, "quiet"))
    row.addWidget(field)
    return held
