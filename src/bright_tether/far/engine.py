"""What an engine answers of a table that is not read in, whoever goes through it."""

from __future__ import annotations

from typing import Protocol

import msgspec

from bright_tether.core.strength.compared import Compared
from bright_tether.core.sums.partial import Rows
from bright_tether.core.sums.summed import Counted, Extent
from bright_tether.far.question import FarKind, Question


class Stopped(Exception):
    """The work was given up, since nobody waits for it any more."""


class FarColumn(msgspec.Struct, frozen=True):
    """A column by its header."""

    name: str
    kind: FarKind


class Overview(msgspec.Struct, frozen=True, kw_only=True):
    """Every row accounted for; how many rows lack x and y themselves; how many pairs there are, and where they end."""

    counted: Counted
    without: tuple[int, int]
    extent: Extent


class Engine(Protocol):
    """Answers for one table."""

    def columns(self) -> tuple[FarColumn, ...]:
        """Its columns, in order. Raises UnreadableFile."""

    def count(self) -> int:
        """How many rows it has."""

    def overview(self, question: Question) -> Overview:
        """What there is before any sum."""

    def rows(self, question: Question) -> Rows:
        """The pairs, to be gone through."""

    def ranks(self, question: Question) -> Rows | None:
        """The pairs as mid-ranks, lowest first; None where the engine does not rank."""

    def compared(self, question: Question, n: int) -> Compared | None:
        """Every two of the n pairs held against each other; None where nobody puts them in order."""

    def groups(self, question: Question, most: int) -> list[str]:
        """The texts of the column of groups in the pairs, in order of first appearance; at most so many and one."""

    def moments(self, name: str) -> tuple[float, float, bool]:
        """The first and last date of a column in seconds since 1970-01-01, and whether all are whole days."""
