"""Counting many points beside the interface thread: of each picture the newest wish, one after the other."""

from __future__ import annotations

import concurrent.futures
from collections.abc import Callable
from typing import Any, Protocol

from PyQt6 import sip
from PyQt6.QtCore import QObject, pyqtSignal, pyqtSlot


class Wisher(Protocol):
    """What has something counted: a graphics object, which may be gone when it is."""

    def take(self, wish: Any, counts: Any) -> None:
        """What came of a wish."""


class Counter(QObject):
    """One thread for all pictures, while there are wishes; what comes of one is handed over in the interface thread."""

    _came = pyqtSignal(object, object, object)

    def __init__(self) -> None:
        super().__init__()
        self._pool: concurrent.futures.ThreadPoolExecutor | None = None
        self._wishes: dict[Wisher, tuple[Any, Callable[[], Any]]] = {}
        self._going = False
        self._came.connect(self._hand_over)

    @property
    def busy(self) -> bool:
        """Whether a picture still waits for what it wished."""
        return self._going or bool(self._wishes)

    def ask(self, whose: Wisher, wish: Any, count: Callable[[], Any]) -> None:
        """Have this counted; an older wish of the same picture that waits is dropped."""
        self._wishes[whose] = wish, count
        self._go_on()

    def stop(self) -> None:
        """Leave no thread behind; what was wished for is dropped."""
        self._wishes.clear()
        if self._pool is not None:
            self._pool.shutdown()
            self._pool = None

    def _go_on(self) -> None:
        if self._going:
            return
        if not self._wishes:
            self.stop()
            return
        if self._pool is None:
            self._pool = concurrent.futures.ThreadPoolExecutor(1, thread_name_prefix="counting")
        whose = next(iter(self._wishes))
        wish, count = self._wishes.pop(whose)
        self._going = True
        self._pool.submit(self._count, whose, wish, count)

    def _count(self, whose: Wisher, wish: Any, count: Callable[[], Any]) -> None:
        try:
            counts = count()
        except Exception:  # of whatever kind: a thread that ends here leaves every picture waiting
            counts = None
        self._came.emit(whose, wish, counts)

    @pyqtSlot(object, object, object)
    def _hand_over(self, whose: Wisher, wish: Any, counts: Any) -> None:
        self._going = False
        if counts is not None and not sip.isdeleted(whose):  # type: ignore[arg-type]
            whose.take(wish, counts)
        self._go_on()


_counter: list[Counter] = []


def counter() -> Counter:
    """The one there is; made when something is first counted."""
    if not _counter:
        _counter.append(Counter())
    return _counter[0]


def stop_counting() -> None:
    """No picture waits any longer."""
    if _counter:
        _counter[0].stop()


def counting() -> bool:
    """Whether any picture waits for what it wished."""
    return bool(_counter) and _counter[0].busy
