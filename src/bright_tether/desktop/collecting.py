"""Garbage that goes in circles is collected on the interface thread alone.

A picture that was let go leaves widgets and items that hold each other. Python would look for such circles in whichever
thread asks for memory next, and end them there, while this thread may be painting or laying out what they belong to.
"""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

#: Milliseconds between two looks.
_EVERY = 200


class Collector(QTimer):
    """Until it is closed, collects in its own thread whatever Python would have collected in any."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.timeout.connect(collect_what_is_due)
        gc.disable()
        self.start(_EVERY)

    def close(self) -> None:
        """Leave it to Python again."""
        self.stop()
        gc.enable()


def collect_what_is_due() -> None:
    """One collection, of the oldest generation that is over its limit."""
    counts = zip(gc.get_count(), gc.get_threshold(), strict=True)
    due = [generation for generation, (count, limit) in enumerate(counts) if count > limit]
    if due:
        gc.collect(due[-1])
