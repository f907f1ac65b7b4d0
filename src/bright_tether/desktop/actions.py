"""Everything that can be done, in one list: each with its words, its shortcut and when it applies."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import msgspec
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from bright_tether.words.synonyms import SYNONYMS


class Deed(msgspec.Struct, frozen=True):
    """One thing that can be done. possible : whether it applies now. step : where it is done, "" anywhere.

    study : whether it is about the study as a whole.
    """

    words: str
    shortcut: str
    run: Callable[[], object]
    possible: Callable[[], bool] = lambda: True
    step: str = ""
    study: bool = False


class Actions:
    """The deeds of a window, bound to their shortcuts."""

    def __init__(self, window: QWidget, refuse: Callable[[str], object]) -> None:
        """refuse : says that a deed, by its words, cannot be done now."""
        self._window, self._refuse = window, refuse
        self._deeds: list[Deed] = []

    def add(
        self,
        words: str,
        shortcut: str,
        run: Callable[[], object],
        possible: Callable[[], bool] = lambda: True,
        *,
        step: str = "",
        study: bool = False,
    ) -> None:
        """Add a deed; an impossible one is refused in words when its keys are pressed."""
        deed = Deed(words, shortcut, run, possible, step, study)
        self._deeds.append(deed)
        if shortcut:
            action = QAction(words, self._window)
            action.setShortcut(QKeySequence(shortcut))
            action.triggered.connect(lambda: deed.run() if deed.possible() else self._refuse(deed.words))
            self._window.addAction(action)

    def of_study(self) -> tuple[Deed, ...]:
        """What is about the study as a whole, in its order."""
        return tuple(deed for deed in self._deeds if deed.study)

    def found(self, typed: str) -> Iterator[Deed]:
        """Deeds that can be reached and hold every typed word, or one that means the same, in any order."""
        wanted = [(word, *SYNONYMS.get(word, ())) for word in typed.lower().split()]
        for deed in self._deeds:
            words = deed.words.lower()
            if all(any(one in words for one in alike) for alike in wanted) and (deed.step or deed.possible()):
                yield deed
