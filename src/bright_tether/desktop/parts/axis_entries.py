"""What is typed for an axis of a figure: numbers, or dates where the axis is a calendar."""

from __future__ import annotations

import re
from typing import cast

from bright_tether.study.figures import FigureAxis, StepUnit
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import as_written, moment

_STEP = re.compile(r"(?:(\d+)\s*)?(second|minute|hour|day|week|month|year)s?", re.IGNORECASE)


class NumberEntries:
    """Ends, steps and places that are numbers."""

    #: Hints of the fields: ends, step, places.
    hints = ("own", "own", "by hand")
    kind, step_is, places_are = "number", "A step is a number above 0", "are typed with spaces between them"

    def shown(self, value: float | None) -> str:
        """A value as it is typed; "" for none."""
        return "" if value is None else f"{value:g}"

    def step_shown(self, axis: FigureAxis) -> str:
        """The step as it is typed."""
        return self.shown(axis.step)

    def places_shown(self, at: tuple[float, ...]) -> str:
        """Places as they are typed."""
        return " ".join(map(self.shown, at))

    def value(self, text: str) -> float | None:
        """What is typed; None for nothing, and for what is none."""
        return as_number(text)

    def step(self, text: str) -> tuple[float | None, StepUnit]:
        """A step and its unit; None where it is none."""
        asked = as_number(text)
        return (asked if asked is not None and asked > 0 else None), ""

    def parts(self, text: str) -> list[str]:
        """The single places of what is typed."""
        return text.replace(",", " ").replace(";", " ").split()

    def places(self, text: str) -> tuple[float, ...]:
        """The places that are some."""
        return tuple(one for one in map(self.value, self.parts(text)) if one is not None)


class DateEntries(NumberEntries):
    """Ends and places that are dates, kept as the column keeps them; steps such as “3 months”."""

    hints = ("own", "3 months", "dates; by hand")
    kind = "date (2021-03-04)"
    step_is = "A step of dates is such as “3 months” or “1 week”"
    places_are = "are typed as 2021-03-04, with “;” between them"

    def shown(self, value: float | None) -> str:
        """A date as it is typed."""
        return "" if value is None else as_written(value, 60)

    def step_shown(self, axis: FigureAxis) -> str:
        """The step with its unit."""
        if not (axis.step and axis.unit):
            return ""
        return f"{axis.step:g} {axis.unit if axis.step != 1 else axis.unit[:-1]}"

    def places_shown(self, at: tuple[float, ...]) -> str:
        """Dates with semicolons between them."""
        return "; ".join(map(self.shown, at))

    def value(self, text: str) -> float | None:
        """The moment of a date; a year is its first day."""
        text = text.strip()
        return moment(f"{text}-01" if re.fullmatch(r"\d{4}", text) else text)

    def step(self, text: str) -> tuple[float | None, StepUnit]:
        """So many of a unit."""
        match = _STEP.fullmatch(text.strip())
        if match is None or match[1] == "0":
            return None, ""
        return float(match[1] or 1), cast(StepUnit, match[2].lower() + "s")

    def parts(self, text: str) -> list[str]:
        """Between semicolons, or between spaces where there are none."""
        found = re.split(r"\s*;\s*", text.strip()) if ";" in text else text.replace(",", " ").split()
        return [one for one in found if one]


def trouble_of(axis: str, entries: NumberEntries, typed: tuple[str, str, str, str]) -> str:
    """What is typed for an axis and cannot be meant, in one sentence; "" where all can.

    typed : both ends, the step, the places.
    """
    low, high, step, at = (text.strip() for text in typed)
    ends = [entries.value(one) for one in (low, high)]
    for text, value in zip((low, high), ends, strict=True):
        if text and value is None:
            return f"“{text}” is no {entries.kind}: the {axis} axis keeps its own end."
    first, last = ends
    if first is not None and last is not None and first >= last:
        return f"The {axis} axis cannot go from {low} to {high}: it keeps its own ends."
    if step and entries.step(step)[0] is None:
        return f"{entries.step_is}: the {axis} axis keeps its own numbers."
    if len(entries.places(at)) != len(entries.parts(at)):
        return f"Numbers of the {axis} axis {entries.places_are}: what is none is left out."
    return ""
