"""One pairing of two columns."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from bright_tether.study.asides import NO_ASIDES, Asides
from bright_tether.study.bounds import BinCount, Many, Positive
from bright_tether.study.choices import (
    CompareChoice,
    ForecastChoice,
    HeldChoice,
    LineChoice,
    OtherwiseChoice,
    RehearseChoice,
)
from bright_tether.study.rules import RuleChoices
from bright_tether.tables.clock import Clock
from bright_tether.tables.filters import Condition


class Answer(msgspec.Struct, frozen=True):
    """A doubt that was looked at and left to stand, with the reason."""

    doubt: str
    reason: str


class Picked(msgspec.Struct, frozen=True, kw_only=True):
    """One lineup: which picture was picked, which was the real one, of how many, and when."""

    picked: int
    real: int
    of: int
    seed: int
    when: str


#: Stands for the residuals where bins are kept by column.
RESIDUAL = "residual"


class View(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """How a tether's scatter is shown: its words, limits and scales.

    x, y : limits, each from and to; each of them, or both, None where the picture chooses. zero : whether the
    origin is always in view.
    bins : start, width and number by hand, by column id, and by RESIDUAL for the residuals.
    """

    title: str = ""
    x_label: str = ""
    y_label: str = ""
    x: tuple[float | None, float | None] | None = None
    y: tuple[float | None, float | None] | None = None
    zero: bool = False
    log_x: bool = False
    log_y: bool = False
    names: bool = False
    bins: dict[str, tuple[float, Positive, BinCount]] = {}


class Tether(msgspec.Struct, frozen=True, kw_only=True):
    """x ⟶ y: the explanatory and the response column of one table, and how its rows are taken.

    x, y, tint : column ids, None while not chosen. table : a table id. name : the analyst's own, else "".
    conditions : the row filter. one_row : what one row is, in the analyst's words.
    chosen : whether the analyst said which column is x, rather than table order.
    mutual : whether neither column explains the other. clock : how a date on an axis is measured, None for what
    its span asks for. among : how many pairs of columns were looked at before this one was chosen, 0 for none.
    """

    id: str
    table: str
    name: str = ""
    x: str | None = None
    y: str | None = None
    chosen: bool = False
    tint: str | None = None
    asides: Asides = msgspec.field(default_factory=lambda: NO_ASIDES)
    conditions: tuple[Condition, ...] = ()
    one_row: str = ""
    rules: RuleChoices = RuleChoices()
    mutual: bool = False
    clock: Clock | None = None
    among: Many = 0
    view: View = View()
    line: LineChoice = LineChoice()
    answers: tuple[Answer, ...] = ()
    lineups: tuple[Picked, ...] = ()
    compare: CompareChoice = CompareChoice()
    held: HeldChoice = HeldChoice()
    otherwise: OtherwiseChoice = OtherwiseChoice()
    forecast: ForecastChoice = ForecastChoice()
    rehearse: RehearseChoice = RehearseChoice()

    def with_asides(self, rows: Iterable[int], reason: str) -> Tether:
        """The tether with these rows set aside for this reason, whatever was said of them before."""
        return msgspec.structs.replace(self, asides=self.asides.more(rows, reason))

    def without_asides(self, rows: Iterable[int]) -> Tether:
        """The tether with these rows back in play."""
        return msgspec.structs.replace(self, asides=self.asides.less(rows))
