"""What is worked out when it is first asked for, and kept."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Generic, Self, TypeVar, overload

T = TypeVar("T")


class once(Generic[T]):  # noqa: N801  (it stands where a property stands)
    """A property that is worked out once for each object.

    Before Python 3.12 ``functools.cached_property`` holds one lock for all objects of a class: whoever asks in one
    thread waits for whoever works in another, on quite other data. Here two threads may at worst do the same twice.
    """

    def __init__(self, make: Callable[[Any], T]) -> None:
        self._make, self._name = make, make.__name__
        self.__doc__ = make.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        self._name = name

    @overload
    def __get__(self, holder: None, owner: type) -> Self: ...
    @overload
    def __get__(self, holder: object, owner: type) -> T: ...
    def __get__(self, holder: object, owner: type) -> Self | T:
        if holder is None:
            return self
        value = holder.__dict__[self._name] = self._make(holder)
        return value
