"""One sentence in place: what could not be done, or what was."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QFrame, QHBoxLayout

from bright_tether.desktop.parts.widgets import button, emptied, label, restyled

#: Milliseconds that something done stays told.
_LONG_ENOUGH = 5000


class Notice(QFrame):
    """Stands above the stage until it is closed or something else is said."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self.setAccessibleName("Notice")
        self.words = label(wrap=True, name="notice text")
        self._deeds = QHBoxLayout()
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 8, 8)
        row.addWidget(self.words, 1)
        row.addLayout(self._deeds)
        row.addWidget(button("Close", self.hide, "link", "Close the notice"))
        self._gone = QTimer(self)
        self._gone.setSingleShot(True)
        self._gone.timeout.connect(self.hide)
        self.hide()

    def say(self, sentence: str, deeds: dict[str, Callable[[], object]] | None = None) -> None:
        """Show one sentence, with what can be done about it."""
        self._put(sentence, good=False)
        emptied(self._deeds)
        for words, run in (deeds or {}).items():
            self._deeds.addWidget(button(words, self._doer(run)))
        self.show()

    def tell(self, sentence: str) -> None:
        """Show what was done, for as long as it takes to read."""
        emptied(self._deeds)
        self._put(sentence, good=True)
        self.show()
        self._gone.start(_LONG_ENOUGH)

    def _put(self, sentence: str, *, good: bool) -> None:
        self._gone.stop()
        restyled(self, "good", good)
        self.words.setText(sentence)
        self.setAccessibleDescription(sentence)

    def _doer(self, run: Callable[[], object]) -> Callable[[], None]:
        def do() -> None:
            self.hide()
            run()

        return do
