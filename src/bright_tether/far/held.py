"""The pairs of a table that stays where it is, taken into memory and gone through there."""

from __future__ import annotations

from collections.abc import Callable

from bright_tether.core.results import Floats
from bright_tether.core.sums.partial import HeldRows, J, Rows
from bright_tether.far.duck import DuckEngine
from bright_tether.far.question import Question


class _Ordered(HeldRows, frozen=True, eq=False):
    """Pairs with an order of their own. there : what puts them in it."""

    there: Rows

    def along(self, of: Callable[[Floats, Floats], J]) -> J | None:
        """Block after block, in that order."""
        return self.there.along(of)


class HeldEngine(DuckEngine):
    """Sums over pairs that are taken in; DuckDB finds and ranks them, and puts them in a stated order."""

    _taken: tuple[Question, Rows] | None = None

    def rows(self, question: Question) -> Rows:
        """The pairs, to be gone through; those asked for last are kept."""
        if self._taken is None or self._taken[0] != question:
            found, there = self.taken_in(question), super().rows(question)
            if found is None:  # without any pair there is nothing to take
                return there
            x, y = found
            self._taken = question, (_Ordered(x, y, there) if question.order else HeldRows(x, y))
        return self._taken[1]
