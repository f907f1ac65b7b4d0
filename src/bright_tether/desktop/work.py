"""One long piece of work off the interface thread, with progress, that can be stopped."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal


class Work(QObject):
    """Runs a function in a thread. It is handed ``progress(done)``, which says whether to go on."""

    progressed = pyqtSignal(int)
    done = pyqtSignal(object)
    failed = pyqtSignal(object)
    _ended = pyqtSignal(int, object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._number = 0
        self._thread: threading.Thread | None = None
        self._going = False
        self._ended.connect(self._end)

    @property
    def busy(self) -> bool:
        """Whether work is going on."""
        return self._thread is not None

    def start(self, make: Callable[[Callable[[int], bool]], object]) -> None:
        """Start; what still runs is let go, and its answer with it."""
        self.drop()
        self._going = True
        number = self._number

        def progress(done: int) -> bool:
            self.progressed.emit(done)
            return self._going and number == self._number

        def run() -> None:
            try:
                self._ended.emit(number, make(progress), None)
            except Exception as error:
                self._ended.emit(number, None, error)

        self._thread = threading.Thread(target=run, daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Ask it to end early; what it has by then still arrives."""
        self._going = False

    def drop(self) -> None:
        """Let it go: its answer no longer matters."""
        self._number += 1
        self._going = False
        if self._thread is not None:
            self._thread.join()
            self._thread = None

    def _end(self, number: int, result: object, error: object) -> None:
        if number != self._number:
            return
        if self._thread is not None:
            self._thread.join()
        self._thread = None
        if error is None:
            self.done.emit(result)
        else:
            self.failed.emit(error)
