"""One long piece of work off the interface thread, with progress, that can be stopped."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal


class Work(QObject):
    """Runs a function in a thread. It is handed ``progress(done)``, which says whether to go on.

    An answer comes with what it was asked for (``basis``), so that it can be filed nowhere else.
    """

    progressed = pyqtSignal(int)
    done = pyqtSignal(object, object)
    failed = pyqtSignal(object)
    _ended = pyqtSignal(int, object, object)
    _at = pyqtSignal(int, int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._number = 0
        self._threads: list[threading.Thread] = []
        self._going = self.busy = False
        self._basis: object = None
        self._ended.connect(self._end)
        self._at.connect(lambda number, done: number == self._number and self.progressed.emit(done))

    def start(self, make: Callable[[Callable[[int], bool]], object], basis: object = None) -> None:
        """Start; what still runs is let go, and its answer with it."""
        self.drop()
        self._going = self.busy = True
        self._basis = basis
        number = self._number

        def progress(done: int) -> bool:
            if number != self._number:
                return False
            self._at.emit(number, done)
            return self._going

        def run() -> None:
            try:
                value, error = make(progress), None
            except Exception as found:
                value, error = None, found
            self._ended.emit(number, value, error)

        thread = threading.Thread(target=run, daemon=True)
        self._threads.append(thread)
        thread.start()

    def stop(self) -> None:
        """Ask it to end early; what it has by then still arrives."""
        self._going = False

    def drop(self) -> None:
        """Let it go: its answer no longer matters. It ends by itself, and nobody waits for it."""
        self._number += 1
        self._going = self.busy = False
        self._threads = [thread for thread in self._threads if thread.is_alive()]

    def close(self) -> None:
        """Let it go and wait for its end, so that no thread outlives the window."""
        self.drop()
        for thread in self._threads:
            thread.join()
        self._threads = []

    def _end(self, number: int, result: object, error: object) -> None:
        if number != self._number:
            return
        self.busy = False
        if error is None:
            self.done.emit(result, self._basis)
        else:
            self.failed.emit(error)
