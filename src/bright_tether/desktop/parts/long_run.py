"""A long run of a view: begun when it is asked for, with its progress, to be stopped, late answers dropped."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QProgressBar, QVBoxLayout, QWidget

from bright_tether.desktop.background import Work
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.study.declared import Task


class LongRun(QWidget):
    """A bar while it runs, a button that stops it, and a line that says what became of it.

    ended : the outcome of the run that is followed. what : what is worked out, for who cannot see the bar. still :
    whether nothing beside it may move when it begins and ends.
    """

    ended = pyqtSignal(object)

    def __init__(self, what: str, *, still: bool = False) -> None:
        super().__init__()
        self._still = still
        self._task: Task[Any] | None = None
        self.outcome: Any = None
        self.work = Work(self)
        self.work.done.connect(self._take)
        self.work.failed.connect(self._fail)
        self.work.progressed.connect(self._progressed)
        self.stop = button("Stop", self.work.stop, "small", f"Stop working out {what}")
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        room = self.bar.sizePolicy()
        room.setRetainSizeWhenHidden(still)
        self.bar.setSizePolicy(room)
        self.said = label("", "quiet", wrap=True, name=f"state of {what}")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.bar)
        box.addWidget(self.said)
        self.said.hide()
        self._rest()

    def follow(self, task: Task[Any] | None, *, at_once: bool = False) -> Any:
        """What there is of a run; one that was not made yet is begun, and any other let go.

        at_once : a run that is made sooner than a thread begins, and so here.
        """
        if task is not None and at_once:
            _ = task.outcome  # kept from now on
        if task is None or not task.same(self._task):
            self.work.drop()
            self._rest()
            self._task, self.outcome = task, None if task is None else task.kept
            self.say("")
            if task is not None and self.outcome is None:
                self.bar.show()
                self.stop.show()
                if not self._still:
                    self.say("working it out…")
                self.work.start(task.run, basis=task)
        return self.outcome

    def _take(self, outcome: Any, basis: Task[Any]) -> None:
        self._rest()
        if not basis.same(self._task):
            return
        self.outcome = outcome
        self.say(
            "" if outcome.whole else "stopped before its end: what is shown is of the part that was reached"
        )
        self.ended.emit(outcome)

    def _fail(self, error: object) -> None:
        self._rest()
        self.say(f"It could not be worked out: {error}.")

    def _progressed(self, so_far: Any) -> None:
        done, many = so_far
        self.bar.setRange(0, many)
        self.bar.setValue(done)

    def say(self, words: str) -> None:
        """Say it where the state of the run stands."""
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def _rest(self) -> None:
        self.bar.hide()
        self.stop.hide()
