"""Results kept beside the inputs they were made from."""

from __future__ import annotations

from collections.abc import Callable
from threading import Lock
from typing import ParamSpec, TypeVar

import numpy as np

from bright_tether.core.results import OutOfRange, Refusal, kept_in_range, left_range

P = ParamSpec("P")
T = TypeVar("T")


class Memory:
    """Makes a result once for the same inputs, and again when one of them is another object.

    Large inputs are compared by identity, plain values by equality. A refusal is a result too: it
    is kept and raised again. Safe to ask from two threads: the lock is never held while making.
    """

    def __init__(self) -> None:
        self._kept: dict[tuple[str, str], tuple[tuple[object, ...], object]] = {}
        self._lock = Lock()
        self.made = 0

    def keep(self, key: tuple[str, str], make: Callable[P, T], *inputs: P.args, **settings: P.kwargs) -> T:
        """The result kept under this key, made from these inputs."""
        given = (*inputs, *settings.values())
        with self._lock:
            kept = self._kept.get(key)
        if kept is not None and same_inputs(kept[0], given):
            value = kept[1]
        else:
            value = made(make, *inputs, **settings)
            with self._lock:
                self._kept[key] = (given, value)
                self.made += 1
        if isinstance(value, Refusal):
            raise value.with_traceback(None)
        return value  # type: ignore[return-value]

    def forget_others(self, wanted: set[str]) -> None:
        """Drop what belongs to other tethers than these; a key starts with its tether."""
        with self._lock:
            self._kept = {key: kept for key, kept in self._kept.items() if key[0] in wanted}


def made(make: Callable[P, T], *inputs: P.args, **settings: P.kwargs) -> T | Refusal:
    """A result as it is kept: arithmetic that leaves float64 ends in a missing value or in a refusal."""
    try:
        with np.errstate(all="ignore"):
            return kept_in_range(make(*inputs, **settings))
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
    plain = (str, int, float, bool, tuple, frozenset, type(None))
    return type(a) is type(b) and isinstance(a, plain) and a == b
