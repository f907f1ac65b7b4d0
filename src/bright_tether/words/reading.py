"""What a reading and a working are made of."""

from __future__ import annotations

from collections.abc import Set
from typing import TypeVar

import msgspec

from bright_tether.core.results import OutOfRange
from bright_tether.tables.clock import SECONDS, Clock, as_written, moment_of
from bright_tether.tables.column import Column, shown
from bright_tether.words import digits as d

T = TypeVar("T")


class Figure(msgspec.Struct, frozen=True):
    """One line of figures: its name, its value, what stands beside it."""

    name: str
    value: str
    beside: str = ""


class Marking(msgspec.Struct, frozen=True):
    """Rows that a sentence speaks of, to be marked from it. rows : row ids."""

    words: str
    rows: Set[int]


class Reading(msgspec.Struct, frozen=True, kw_only=True):
    """What a step says: a headline, sentences, the figures they rest on, and what to beware of.

    share : the part of the spread in y that goes with x, 0 to 1, with its caption.
    """

    headline: str
    sentences: tuple[str, ...] = ()
    share: float | None = None
    caption: str = ""
    figures: tuple[Figure, ...] = ()
    beware: tuple[str, ...] = ()
    markings: tuple[Marking, ...] = ()


class Step(msgspec.Struct, frozen=True):
    """One step of a working: what is worked out, how, with which numbers, and what comes out."""

    what: str
    how: str
    result: str


class Working(msgspec.Struct, frozen=True):
    """The opened-up calculation behind a figure."""

    title: str
    steps: tuple[Step, ...]


def there(value: T | None) -> T:
    """A value that is there wherever there is a line that can be told of. Raises OutOfRange where it is not."""
    if value is None:
        raise OutOfRange
    return value


#: Headers that are units themselves.
_OWN_UNITS = ("year", "month", "week", "day", "hour", "minute", "second")


class Names(msgspec.Struct, frozen=True):
    """The analyst's own names for the two columns, with their units."""

    x: str
    y: str
    x_unit: str | None
    y_unit: str | None
    clock: Clock | None = None

    def step_of_x(self, step: float) -> str:
        """One step in x, in words: extra year, extra 0.1 NTU, extra unit of depth."""
        if step == 1:
            return f"extra {self._one_of_x}"
        size = shown(step)
        return f"extra {size} {self.x_unit}" if self.x_unit else f"extra {size} of {self.x}"

    @property
    def _one_of_x(self) -> str:
        named = self.x_unit or (self.x.lower() if self.x.lower().rstrip("s") in _OWN_UNITS else "")
        return singular(named) if named else f"unit of {self.x}"

    def in_x(self, value: str) -> str:
        """A value of x with its unit."""
        return f"{value} {self.x_unit}" if self.x_unit else value

    @property
    def term_x(self) -> str:
        """x in an equation: its name, or of a date its unit and the day it is counted from."""
        return self.x if self.clock is None else f"{self.clock.unit} since {self.clock.since}"

    def at_x(self, value: float, text: str) -> str:
        """A place in x with its name: turbidity 50 NTU; of a date its day. text : the value as it would be written."""
        return self.day_of(value) or self.in_x(f"{self.x} {text}")

    def day_of(self, value: float) -> str:
        """The day, and the time if there is one, that a value of x stands for; "" where x is no date."""
        if self.clock is None:
            return ""
        fine = self.clock.unit in ("seconds", "minutes", "hours")
        return as_written(moment_of(value, self.clock), 60 if fine else SECONDS["days"])

    def ends_x(self, ends: tuple[float, float] | None, text: str, word: str = " … ") -> str:
        """Two values of x as text; of a date their days. text : the two as they would be written."""
        if ends is None or self.clock is None:
            return text
        days = [self.day_of(one) for one in ends]
        # before the year 1 and after 9999 there are no days
        return word.join(days) if all(days) else f"{text} {self.term_x}"

    def in_y(self, value: str) -> str:
        """A value of y with its unit."""
        return f"{value} {self.y_unit}" if self.y_unit else value

    def in_y_change(self, value: str) -> str:
        """A difference of two values of y with its unit; percentage points for a per cent column."""
        unit = "percentage points" if self.y_unit == "%" else self.y_unit
        return f"{value} {unit}" if unit else value

    @property
    def slope_unit(self) -> str:
        """What the slope is measured in."""
        if not self.x_unit and not self.y_unit:
            return ""
        y_unit = "percentage points" if self.y_unit == "%" else self.y_unit or f"of {self.y}"
        return f"{y_unit} per {self._one_of_x}"


def singular(unit: str) -> str:
    """A unit written out in the plural, as one of it: years → year; marks as mm, NTU, °C stay."""
    plain = len(unit) > 3 and unit.isalpha() and unit.islower() and unit.endswith("s")
    return unit[:-1] if plain and not unit.endswith(("ss", "us", "is")) else unit


def names_of(x: Column, y: Column) -> Names:
    """The names to use for two columns; their whole headers where the short ones are alike."""
    if x.short == y.short:
        return Names(x.name, y.name, x.unit, y.unit, x.clock)
    return Names(x.short, y.short, x.unit, y.unit, x.clock)


def n_in_words(n: int) -> str:
    """A number of pairs, as it stands beside a figure."""
    return d.worded(f"n = {d.grouped(n)}", d.grouped(n), names=("n",))


def t_and_p(t: str, p: float | None, before: str = "") -> str:
    """A statistic with its p, as a working gives them."""
    return d.worded(f"{before}{t}, {d.p_in_digits(p)}", t, d.p_in_digits(p), names=("t", "p"))
