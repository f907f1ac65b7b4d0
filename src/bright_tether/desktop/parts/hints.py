"""What a term means, where the pointer rests on it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QToolTip, QWidget

from bright_tether.words.terms import terms_in

#: A text longer than this is read, not hovered over for one word.
_MOST_LETTERS = 90
#: Terms that one hint explains.
_MOST_TERMS = 3


def term_hint(text: str) -> str:
    """What the terms of a short text mean, as the markup of a hint; "" where it holds none."""
    found = terms_in([text])[:_MOST_TERMS] if 0 < len(text) <= _MOST_LETTERS else ()
    return "".join(f"<p style='margin:2px 0'><b>{one.name}</b> {one.sentence}</p>" for one in found)


def answered(window: QWidget, event: QEvent | None) -> bool:
    """Whether the event asked for a hint that no widget of the window had, and got one for its terms."""
    if event is None or event.type() != QEvent.Type.ToolTip or not isinstance(event, QHelpEvent):
        return False
    under = window.childAt(event.pos())
    text = ""
    if isinstance(under, QLabel | QAbstractButton):
        text = under.text()
    elif isinstance(under, QComboBox):
        text = under.currentText()
    hint = term_hint(text)
    if hint:
        QToolTip.showText(event.globalPos(), hint, under)
    return bool(hint)
