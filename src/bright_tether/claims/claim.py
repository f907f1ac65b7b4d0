"""A claim: something said about data, with its kind and its facts."""

from __future__ import annotations

from dataclasses import dataclass, fields, is_dataclass
from typing import Any, ClassVar

import numpy as np


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedRow:
    """A row as the analyst knows it: its place in the table from 1, and its label where there is one.

    As a fact it is its place.
    """

    row: int
    label: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Claim:
    """One thing that is said. Its fields are its facts, in full precision."""

    kind: ClassVar[str] = ""

    def facts(self) -> dict[str, Any]:
        """The facts by name, as plain data."""
        return {field.name: _plain(getattr(self, field.name)) for field in fields(self)}


def _plain(value: object) -> Any:
    if isinstance(value, NamedRow):
        return value.row
    if is_dataclass(value) and not isinstance(value, type):
        return {field.name: _plain(getattr(value, field.name)) for field in fields(value)}
    if isinstance(value, np.ndarray):
        return value.tolist()
    if isinstance(value, tuple | list):
        return [_plain(one) for one in value]
    if isinstance(value, np.generic):
        return value.item()
    return value
