"""What a part of the window asks about what it shows: at once of a short table, beside the interface of a long one."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject

from bright_tether.desktop.background import Work
from bright_tether.words.causes import said_of


class Asked:
    """One question at a time, the newest; asked again, it is answered from what was found.

    there : told when an answer has come, or that none will. trouble : why there is none, in words; "" else.
    """

    def __init__(self, parent: QObject, there: Callable[[], object]) -> None:
        self._work = Work(parent)
        self._there, self.trouble = there, ""
        self._of: object = None
        self._found: Any = None
        self._work.done.connect(self._take)
        self._work.failed.connect(self._fail)

    def answer(self, of: object, make: Callable[[], Any], *, at_once: bool) -> Any:
        """What was found; None while it is worked out. of : what it rests on. make : it, never None."""
        if of != self._of:
            self.drop()
            self._of = of
            if at_once:
                self._found = make()
            else:
                self._work.start(lambda progress: make(), of)
        return self._found

    def drop(self) -> None:
        """Ask nothing any more."""
        self._work.drop()
        self._of = self._found = None
        self.trouble = ""

    def _take(self, found: Any, of: object) -> None:
        self._found = found
        self._there()

    def _fail(self, error: Exception) -> None:
        self.trouble = f"This could not be worked out: {said_of(error)}"
        self._there()
