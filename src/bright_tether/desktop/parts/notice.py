"""One sentence in place, when something could not be done."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout

from bright_tether.desktop.parts.pieces import button, label


class Notice(QFrame):
    """Stands above the stage until it is closed or something else is said."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self.setAccessibleName("Notice")
        self.words = label(wrap=True, name="notice text")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 8, 8)
        row.addWidget(self.words, 1)
        row.addWidget(button("Close", self.hide, "link", "Close the notice"))
        self.hide()

    def say(self, sentence: str) -> None:
        """Show one sentence."""
        self.words.setText(sentence)
        self.setAccessibleDescription(sentence)
        self.show()
