"""Fields that say their name: choices, numbers, counts."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QSpinBox, QWidget

from bright_tether.desktop.parts.widgets import label
from bright_tether.pictures.sure import sure


def choice(name: str, items: Mapping[Any, str], run: Callable[[Any], object]) -> QComboBox:
    """One of several, by their words; run with the key chosen."""
    made = QComboBox()
    made.setAccessibleName(name)
    for key, words in items.items():
        made.addItem(words, key)
    made.setMaximumWidth(190)
    made.activated.connect(lambda _: run(made.currentData()))
    return made


def number(name: str, run: Callable[[str], object], width: int = 86, hint: str = "") -> QLineEdit:
    """A field for a number; run with its text when it is left."""
    made = QLineEdit()
    made.setAccessibleName(name)
    made.setPlaceholderText(hint)
    made.setFixedWidth(width)
    made.editingFinished.connect(lambda: run(made.text().strip()))
    return made


def count(name: str, low: int, high: int, run: Callable[[int], object]) -> QSpinBox:
    """A whole number; run with it when the field is left."""
    made = QSpinBox()
    made.setRange(low, high)
    made.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    made.setAccessibleName(name)
    sure(made.lineEdit()).setAccessibleName(name)
    made.editingFinished.connect(lambda: run(made.value()))
    return made


def named(words: str, field: QWidget) -> QWidget:
    """A field with its words before it."""
    held = QWidget()
    row = QHBoxLayout(held)
    row.setContentsMargins(0, 0, 0, 0)
    row.addWidget(label(words, "quiet"))
    row.addWidget(field)
    return held
