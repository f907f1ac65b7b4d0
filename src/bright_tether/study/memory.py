"""Results kept beside the inputs they were made from."""

from __future__ import annotations

from collections.abc import Callable
from threading import Lock
from typing import Any, TypeVar

import numpy as np

from bright_tether.core.results import OutOfRange, Refusal, kept_in_range, left_range
from bright_tether.tables.texts import Texts

T = TypeVar("T")
#: Whose result it is (a tether or a table), and which.
Key = tuple[object, ...]
#: Values that are compared by equality, and weigh nothing.
_PLAIN = (int, float, str, tuple, type(None))


class Memory:
    """Makes a result once for the same inputs, and again when one of them is another object.

    Large inputs are compared by identity, plain values by equality. A refusal is a result too: it
    is kept and raised again. Safe to ask from two threads: the lock is never held while making.
    """

    def __init__(self) -> None:
        self._kept: dict[Key, tuple[tuple[object, ...], object]] = {}
        self._lock = Lock()
        #: How many results were made so far.
        self.made = 0

    def keep(self, key: Key, make: Callable[..., T], *inputs: object) -> T:
        """The result kept under this key, made from these inputs. Raises what the making refuses."""
        found = self.find(key, inputs)
        value: T | Refusal = self.file(key, inputs, attempt(make, *inputs)) if found is None else found[0]
        if isinstance(value, Refusal):
            raise value.with_traceback(None)
        return value

    def find(self, key: Key, inputs: tuple[object, ...]) -> tuple[Any] | None:
        """The value kept under a key if it was made from these inputs, in a tuple of one; else None."""
        with self._lock:
            kept = self._kept.get(key)
        return (kept[1],) if kept is not None and same_inputs(kept[0], inputs) else None

    def file(self, key: Key, inputs: tuple[object, ...], value: object) -> Any:
        """Keep a value beside what it was made from; where another thread was sooner, its value is the one."""
        with self._lock:
            before = self._kept.get(key)
            if before is not None and same_inputs(before[0], inputs):
                return before[1]
            self._kept[key] = (inputs, value)
            self.made += 1
            if before is not None:
                self._drop_resting_on(before[1])
            return value

    def _drop_resting_on(self, gone: object) -> None:
        """Let go what was made from a result that is no more: nobody can ask for it again."""
        waiting = [gone]
        while waiting:
            one = waiting.pop()
            if isinstance(one, _PLAIN):  # None, or an empty tuple, is the same object wherever it stands
                continue
            stale = [key for key, (inputs, _) in self._kept.items() if any(input is one for input in inputs)]
            waiting += (self._kept.pop(key)[1] for key in stale)

    def forget_others(self, wanted: set[str]) -> None:
        """Drop what belongs to other tethers and tables than these; a key starts with its owner."""
        with self._lock:
            self._kept = {key: kept for key, kept in self._kept.items() if key[0] in wanted}


def attempt(make: Callable[..., T], *inputs: object) -> T | Refusal:
    """A result as it is kept: arithmetic that leaves float64 ends in a missing value or in a refusal."""
    try:
        with np.errstate(all="ignore"):
            return kept_in_range(make(*inputs))
    except Refusal as refusal:
        return refusal
    except (ArithmeticError, ValueError) as error:
        if left_range(error):
            return OutOfRange()
        raise


def same_inputs(before: tuple[object, ...], now: tuple[object, ...]) -> bool:
    """Whether two lots of inputs are alike: large ones the same objects, plain values equal."""
    return len(before) == len(now) and all(
        a is b or _equal_values(a, b) for a, b in zip(before, now, strict=True)
    )


def _equal_values(a: object, b: object) -> bool:
    if isinstance(a, tuple) and isinstance(b, tuple):
        return same_inputs(a, b)
    # what has no equality of its own is the same object or another; of arrays none is asked
    by_value = type(a).__eq__ is not object.__eq__ and not isinstance(a, np.ndarray | Texts)
    return type(a) is type(b) and by_value and bool(a == b)
