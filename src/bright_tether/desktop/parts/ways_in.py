"""What can be done first, where there is nothing yet."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QVBoxLayout

from bright_tether.desktop.parts.widgets import button, emptied, label
from bright_tether.desktop.session import Session


class WaysIn(QFrame):
    """The ways into an empty study: type, paste, open, drop, a recent study, the demo, a stated truth."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setAccessibleName("Ways in")
        self._session = session
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(8, 0, 8, 0)
        self._box.setSpacing(6)

    def show_ways(self) -> None:
        """Put up what can be done now."""
        emptied(self._box)
        self._box.addWidget(label("Begin here", "heading"))
        self._box.addWidget(
            label("Type: the first cell below is ready. Paste a block, with or without names. Or drop files anywhere.",
                  wrap=True)
        )  # fmt: skip
        for words, run in self._session.ways_in().items():
            self._box.addWidget(button(words, run, "row"))
        self._box.addStretch()
