"""The next batch is drawn while this one is worked on: drawing lets go of the interpreter, so two cores share it."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

_Batch = TypeVar("_Batch")


def one_ahead(batches: Iterator[_Batch]) -> Iterator[_Batch]:
    """The batches in their order, each made in another thread while the one before is in use.

    What they draw from is theirs alone until the last: one batch more than was taken may be drawn.
    """
    with ThreadPoolExecutor(1, thread_name_prefix="ahead") as beside:
        coming = beside.submit(next, batches, None)
        while (batch := coming.result()) is not None:
            coming = beside.submit(next, batches, None)
            yield batch
