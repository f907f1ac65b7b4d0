"""Results kept beside the inputs they were made from."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from threading import RLock
from typing import ParamSpec, TypeVar

from bright_tether.core.results import Refusal

P = ParamSpec("P")
T = TypeVar("T")


class Memory:
    """Makes a result once for the same inputs, and again when one of them is another object.

    Large inputs are compared by identity, plain values by equality. A refusal is a result too: it
    is kept and raised again. Safe to ask from two threads; one makes, the other waits.
    """

    def __init__(self) -> None:
        self._kept: dict[Hashable, tuple[tuple[object, ...], object]] = {}
        self._lock = RLock()
        self.made = 0

    def keep(self, key: Hashable, make: Callable[P, T], *inputs: P.args, **settings: P.kwargs) -> T:
        """The result kept under this key, made from these inputs."""
        given = (*inputs, *settings.values())
        with self._lock:
            kept = self._kept.get(key)
            if kept is None or not _same(kept[0], given):
                self.made += 1
                try:
                    value: object = make(*inputs, **settings)
                except Refusal as refusal:
                    value = refusal
                self._kept[key] = (given, value)
            else:
                value = kept[1]
        if isinstance(value, Refusal):
            raise value.with_traceback(None)
        return value  # type: ignore[return-value]

    def forget(self, wanted: set[Hashable]) -> None:
        """Drop what belongs to tethers that are gone; keys start with the tether's id."""
        with self._lock:
            self._kept = {key: kept for key, kept in self._kept.items() if key[0] in wanted}


def _same(before: tuple[object, ...], now: tuple[object, ...]) -> bool:
    return len(before) == len(now) and all(
        a is b or _equal_values(a, b) for a, b in zip(before, now, strict=True)
    )


def _equal_values(a: object, b: object) -> bool:
    plain = (str, int, float, bool, tuple, frozenset, type(None))
    return type(a) is type(b) and isinstance(a, plain) and a == b
