"""A claim: something said about data, with its kind and its facts."""

from __future__ import annotations

from typing import Any, ClassVar

import msgspec
import numpy as np

from bright_tether.core.results import names_of


class NamedRow(msgspec.Struct, frozen=True, kw_only=True):
    """A row as the analyst knows it: its place in the table from 1, and its label where there is one.

    As a fact it is its place.
    """

    row: int
    label: str = ""


class Claim(msgspec.Struct, frozen=True, kw_only=True):
    """One thing that is said. Its fields are its facts, in full precision."""

    kind: ClassVar[str] = ""

    def facts(self) -> dict[str, Any]:
        """The facts by name, as plain data."""
        return {name: _plain(getattr(self, name)) for name in names_of(self)}


def _plain(value: object) -> Any:
    if isinstance(value, NamedRow):
        return value.row
    if names := names_of(value):
        return {name: _plain(getattr(value, name)) for name in names}
    if isinstance(value, np.ndarray):
        return value.tolist()
    if isinstance(value, tuple | list):
        return [_plain(one) for one in value]
    if isinstance(value, np.generic):
        return value.item()
    return value
