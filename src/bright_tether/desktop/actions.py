"""Everything that can be done, in one list: each with its words, its shortcut and when it applies."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget


@dataclass(frozen=True, slots=True)
class Deed:
    """One thing that can be done. possible : whether it applies now."""

    words: str
    shortcut: str
    run: Callable[[], object]
    possible: Callable[[], bool] = lambda: True


class Actions:
    """The deeds of a window, bound to their shortcuts."""

    def __init__(self, window: QWidget) -> None:
        self._window = window
        self._deeds: list[Deed] = []

    def add(
        self,
        words: str,
        shortcut: str,
        run: Callable[[], object],
        possible: Callable[[], bool] = lambda: True,
    ) -> None:
        """Add a deed; an impossible one does nothing when its keys are pressed."""
        deed = Deed(words, shortcut, run, possible)
        self._deeds.append(deed)
        if shortcut:
            action = QAction(words, self._window)
            action.setShortcut(QKeySequence(shortcut))
            action.triggered.connect(lambda: deed.run() if deed.possible() else None)
            self._window.addAction(action)

    def found(self, typed: str) -> Iterator[Deed]:
        """Deeds that apply now and hold every typed word, in any order."""
        wanted = typed.lower().split()
        for deed in self._deeds:
            if all(word in deed.words.lower() for word in wanted) and deed.possible():
                yield deed
