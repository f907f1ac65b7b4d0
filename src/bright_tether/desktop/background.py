"""The one way off the interface thread: work in a pool, whose value or error is handed back to the interface."""

from __future__ import annotations

import concurrent.futures
import sys
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QCoreApplication, QEvent, QObject, pyqtSignal, pyqtSlot

#: Handed to long work: told how far it is, says whether to go on.
Progress = Callable[[Any], bool]
#: How long a thread keeps the interpreter when another asks for it: at Python's own 5 ms a picture that asks for it
#: ten times as it is painted waits for as many turns of the work beside it.
_TURN_S = 0.0005


class Pool(QObject):
    """Threads that begin with the first piece of work and end with ``close``.

    Whatever is raised comes back as a value, so that it can be said; what it was raised in goes on.
    """

    _came = pyqtSignal(object, object)

    def __init__(self, parent: QObject | None = None, *, threads: int = 1) -> None:
        super().__init__(parent)
        self._threads = threads
        self._pool: concurrent.futures.ThreadPoolExecutor | None = None
        self._futures: set[concurrent.futures.Future[None]] = set()
        self._pending = 0
        self._came.connect(self._hand_over)

    @property
    def idle(self) -> bool:
        """Whether nothing is under way, waiting, or still to be handed over."""
        return self._pending == 0

    def submit(self, work: Callable[[], Any], take: Callable[[Any], object]) -> None:
        """Do this in turn; its value, or the exception it ended in, goes to take in the interface thread."""
        if self._pool is None:
            sys.setswitchinterval(_TURN_S)
            self._pool = concurrent.futures.ThreadPoolExecutor(self._threads, thread_name_prefix="pool")
        self._pending += 1
        self._futures = {one for one in self._futures if not one.done()}
        self._futures.add(self._pool.submit(self._do, work, take))

    def do(self, work: Callable[[], Any], take: Callable[[Any], object], *, small: bool) -> None:
        """Do this in turn, or at once where it is small: sooner than a thread's round trip."""
        if not (small and self.idle):
            self.submit(work, take)
            return
        try:
            value = work()
        except Exception as error:
            value = error
        take(value)

    def wait(self) -> None:
        """Until all of it is done, and what came of it is handed over."""
        while not self.idle:
            concurrent.futures.wait(self._futures)
            QCoreApplication.sendPostedEvents(self, QEvent.Type.MetaCall.value)

    def close(self) -> None:
        """Do what is left, and end the threads."""
        if self._pool is not None:
            self._pool.shutdown(wait=True)
            self._pool = None
        QCoreApplication.sendPostedEvents(self, QEvent.Type.MetaCall.value)

    def _do(self, work: Callable[[], Any], take: Callable[[Any], object]) -> None:
        try:
            value = work()
        except BaseException as error:  # of whatever kind: a writer that ends loses everything after it
            value = error
        self._came.emit(take, value)

    @pyqtSlot(object, object)
    def _hand_over(self, take: Callable[[Any], object], value: Any) -> None:
        self._pending -= 1
        take(value)


class Work(QObject):
    """One long piece of work at a time: the newest. Older ones are told to stop, and their answers are dropped.

    An answer comes with what it was asked for (``basis``), so that it can be filed nowhere else.
    """

    #: How many are done; or what there is so far, from work that tells that.
    progressed = pyqtSignal(object)
    done = pyqtSignal(object, object)
    failed = pyqtSignal(object)
    _at = pyqtSignal(int, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        # an older one may need a while to notice that it is no longer wanted
        self._pool = Pool(self, threads=4)
        self._number = 0
        self._going = self.busy = False
        self._at.connect(self._tell)

    def start(self, make: Callable[[Progress], Any], basis: Any = None) -> None:
        """Start; what still runs is let go, and its answer with it."""
        self.drop()
        self._going = self.busy = True
        number = self._number

        def progress(done: Any) -> bool:
            if number != self._number:
                return False
            if done is not None:
                self._at.emit(number, done)
            return self._going

        def take(value: Any) -> None:
            if number != self._number:
                return
            self.busy = False
            if isinstance(value, BaseException):
                self.failed.emit(value)
            else:
                self.done.emit(value, basis)

        self._pool.submit(lambda: make(progress), take)

    def stop(self) -> None:
        """Ask it to end early; what it has by then still arrives."""
        self._going = False

    def drop(self) -> None:
        """Let it go: its answer no longer matters. It ends by itself, and nobody waits for it."""
        self._number += 1
        self._going = self.busy = False

    def close(self) -> None:
        """Let it go and wait for its end, so that no thread outlives the window."""
        self.drop()
        self._pool.close()

    @pyqtSlot(int, object)
    def _tell(self, number: int, done: Any) -> None:
        if number == self._number:
            self.progressed.emit(done)
