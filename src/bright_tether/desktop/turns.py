"""Changes of a study that take as long as its table is long: one after the other, beside the interface."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable

import msgspec
from PyQt6.QtCore import QObject

from bright_tether.desktop.background import Pool
from bright_tether.study.edits import Edit
from bright_tether.study.history import History

#: What was done, None for nothing, and the history after it.
Done = tuple[Edit | None, History]


class Turn(msgspec.Struct, frozen=True):
    """One change.

    make : it, of the history as it is. take : told what came of it, once it stands. fail : told what it raised.
    outrun : told that something else was changed meanwhile, so that nothing was done; without it, it is made again.
    """

    make: Callable[[History], Done]
    take: Callable[[Done], object]
    fail: Callable[[Exception], object]
    outrun: Callable[[], object] | None = None


class Turns:
    """Whose turn it is. history : the study's as it is now; what was made of another one never stands."""

    def __init__(self, parent: QObject, history: Callable[[], History], told: Callable[[], object]) -> None:
        self._history, self._told = history, told
        self._pool = Pool(parent)
        self._waiting: deque[Turn] = deque()

    @property
    def idle(self) -> bool:
        """Whether nothing is under way or waiting."""
        return not self._waiting

    def take(self, turn: Turn, *, small: bool) -> None:
        """Make this change when those before it are made; at once where it is small and none is."""
        self._waiting.append(turn)
        if len(self._waiting) == 1:
            self._begin(small=small)
        self._told()

    def drop(self) -> None:
        """Let all of it go: another study is open."""
        self._waiting.clear()

    def finish(self) -> None:
        """Make what is waiting."""
        while self._waiting:
            self._pool.wait()

    def close(self) -> None:
        """Make what is waiting, and leave no thread behind."""
        self.finish()
        self._pool.close()

    def _begin(self, *, small: bool = False) -> None:
        turn, before = self._waiting[0], self._history()

        def take(found: Done | Exception) -> None:
            if not (self._waiting and self._waiting[0] is turn):
                return  # of a study that is no longer open
            again = self._history() is not before and turn.outrun is None
            if not again:
                self._waiting.popleft()
                self._end(turn, found, outrun=self._history() is not before)
            if self._waiting:
                self._begin()
            self._told()

        self._pool.do(lambda: turn.make(before), take, small=small)

    @staticmethod
    def _end(turn: Turn, found: Done | Exception, *, outrun: bool) -> None:
        if outrun and turn.outrun is not None:
            turn.outrun()
        elif isinstance(found, Exception):
            turn.fail(found)
        else:
            turn.take(found)
