"""A walk through the nine steps, one sentence each; it comes when it is called, and goes when it is told to."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout

from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.steps.catalogue import STEPS


class Tour(QFrame):
    """A strip below the stage: which step this is, what it is for, and on to the next."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("card")
        self.setAccessibleName("Walk through the steps")
        self._session, self._at = session, 0
        self._words = label(wrap=True, name="walk says")
        self._next = button("Next", self.go_on, "main", "Next step of the walk")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 8, 8)
        row.addWidget(self._words, 1)
        row.addWidget(self._next)
        row.addWidget(button("Skip the rest", self.hide, "link"))
        self.hide()

    def begin(self) -> None:
        """Start at the first step."""
        self._at = -1
        self.show()
        self.go_on()

    def go_on(self) -> None:
        """To the next step; after the last, away."""
        self._at += 1
        if self._at >= len(STEPS):
            self.hide()
            return
        step = STEPS[self._at]
        self._words.setText(f"{self._at + 1} of {len(STEPS)} · {step.title}: {step.gist}")
        self._next.setText("Done" if self._at == len(STEPS) - 1 else "Next")
        self._session.show_step(step.id)
