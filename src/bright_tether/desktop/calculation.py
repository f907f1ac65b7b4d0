"""Long work off the interface thread: one request runs, only the newest waits."""

from __future__ import annotations

import threading

from PyQt6.QtCore import QObject, pyqtSignal

from bright_tether.live.findings import Findings


class Calculation(QObject):
    """Prepares findings in a worker thread. Late answers are dropped; errors come back as values."""

    ready = pyqtSignal(object)
    failed = pyqtSignal(object)
    _done = pyqtSignal(int, object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._newest = 0
        self._waiting: tuple[int, Findings] | None = None
        self._worker: threading.Thread | None = None
        self._done.connect(self._answer)

    @property
    def busy(self) -> bool:
        """Whether something is being worked out."""
        return self._worker is not None

    def request(self, findings: Findings) -> None:
        """Ask for everything a step shows; a request still waiting is dropped."""
        self._newest += 1
        self._waiting = (self._newest, findings)
        if self._worker is None:
            self._next()

    def drop(self) -> None:
        """Let the running work and its answer go."""
        self._newest += 1
        self._waiting = None

    def close(self) -> None:
        """Wait for the worker, so that no thread outlives the window."""
        self.drop()
        if self._worker is not None:
            self._worker.join()

    def _next(self) -> None:
        if self._waiting is None:
            return
        (number, findings), self._waiting = self._waiting, None
        self._worker = threading.Thread(target=self._work, args=(number, findings), daemon=True)
        self._worker.start()

    def _work(self, number: int, findings: Findings) -> None:
        error: Exception | None = None
        try:
            findings.prepare(cancelled=lambda: number != self._newest)
        except Exception as found:
            error = found
        self._done.emit(number, findings, error)

    def _answer(self, number: int, findings: Findings, error: Exception | None) -> None:
        if self._worker is not None:
            self._worker.join()
        self._worker = None
        if number == self._newest:
            if error is None:
                self.ready.emit(findings)
            else:
                self.failed.emit(error)
        self._next()
