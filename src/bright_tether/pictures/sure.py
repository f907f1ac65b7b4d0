"""What the interface may not have, and here always has."""

from __future__ import annotations

from typing import TypeVar

T = TypeVar("T")


def sure(value: T | None) -> T:
    """The value, which is there."""
    assert value is not None
    return value
