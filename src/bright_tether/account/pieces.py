"""What each pin shows: the same readings, figures, tables and workings as the steps."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from bright_tether.core.results import OutOfRange, Refusal
from bright_tether.live.findings import Findings
from bright_tether.live.memory import Memory
from bright_tether.study.pins import Block, Drawing, Figures, Grid, Passage, Pin, Steps
from bright_tether.study.study import Study
from bright_tether.words.grids.compare import (
    differences_grid,
    every_two_grid,
    groups_grid,
    rungs_grid,
)
from bright_tether.words.grids.doubts import doubts_grid
from bright_tether.words.grids.forecast import forecast_grid
from bright_tether.words.grids.line import alternatives_grid, errors_grid, variation_grid
from bright_tether.words.grids.rehearse import broken_grid
from bright_tether.words.grids.strength import coefficients_grid, columns_grid, pairs_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.compare import compare_reading, compare_working, comparison_of
from bright_tether.words.readings.doubts import (
    doubt_reading,
    doubts_reading,
    doubts_working,
    lineup_sentences,
)
from bright_tether.words.readings.forecast import forecast_reading, forecast_working
from bright_tether.words.readings.gather import gather_reading
from bright_tether.words.readings.line import equation, line_reading
from bright_tether.words.readings.look import look_reading
from bright_tether.words.readings.refused import beyond
from bright_tether.words.readings.rehearse import (
    ASSUMPTIONS,
    rehearse_reading,
    rehearse_working,
    whole_run,
)
from bright_tether.words.readings.strength import strength_reading
from bright_tether.words.readings.unanswered import QUESTIONS
from bright_tether.words.workings.line import correlation_working, slope_working
from bright_tether.words.workings.strength import strength_workings

if TYPE_CHECKING:
    from bright_tether.account.page import Page


class Press(Protocol):
    """Draws pictures and sets pages; made by whoever knows how to draw."""

    def draw(self, findings: Findings, step: str, view: str) -> Drawing | None:
        """The picture of a step, or None where there is none."""

    def print_page(self, page: Page, html: str, path: Path) -> None:
        """Set a page as PDF. Raises OSError."""


class NoPress:
    """Draws nothing: for accounts in words and figures alone."""

    def draw(self, findings: Findings, step: str, view: str) -> Drawing | None:
        """Nothing."""
        return None

    def print_page(self, page: Page, html: str, path: Path) -> None:
        """Not possible."""
        raise OSError("there is nothing here to print with")


NO_PRESS = NoPress()


class Shelf:
    """The findings of every tether of a study, each made once."""

    def __init__(self, study: Study, memory: Memory | None = None) -> None:
        self.study = study
        self._memory = memory or Memory()
        self._made: dict[str, Findings] = {}

    def findings(self, tether: str) -> Findings:
        """All that is known of a tether."""
        if tether not in self._made:
            self._made[tether] = Findings(self.study, self.study.tether(tether), self._memory)
        return self._made[tether]


def blocks_of(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    """What a pin shows of the study as it is; where there is no line, the reason instead."""
    try:
        return _PARTS[pin.part](pin, findings, press)
    except Refusal:
        return (_passage(reading_of(findings, pin.step, pin.view)),)


def reading_of(findings: Findings, step: str, view: str) -> Reading:
    """The reading of a step."""
    try:
        return _reading_of(findings, step, view)
    except OutOfRange:
        return beyond(findings)


def _reading_of(findings: Findings, step: str, view: str) -> Reading:
    match step:
        case "Gather":
            return gather_reading(findings, brief=True)
        case "Look":
            return look_reading(findings)
        case "Strength":
            return strength_reading(findings)
        case "Doubts":
            return doubt_reading(findings, view) if view in QUESTIONS else doubts_reading(findings)
        case "Compare":
            return compare_reading(findings)
        case "Forecast":
            return forecast_reading(findings)
        case "Rehearse":
            made = None if findings.refusal or findings.plain.exact else whole_run(findings, view)
            return rehearse_reading(findings, view, made)
    return line_reading(findings)


def workings_of(findings: Findings, step: str, view: str) -> tuple[Working, ...]:
    """The workings of a step, as they stand below its reading."""
    if findings.refusal is not None:
        return ()
    match step:
        case "Strength":
            return strength_workings(findings)
        case "Line":
            return (slope_working(findings), correlation_working(findings))
        case "Doubts":
            return () if findings.fit.exact else doubts_working(findings)
        case "Compare":
            return compare_working(findings)
        case "Forecast":
            return forecast_working(findings)
        case "Rehearse":
            return rehearse_working(findings, view)
    return ()


def grids_of(findings: Findings, step: str, view: str) -> tuple[Grid, ...]:
    """The tables of a step. Raises Refusal where there is no line."""
    if step == "Gather":
        return (columns_grid(findings),)
    if step == "Look":
        return (pairs_grid(findings),)
    if step == "Compare":
        made = comparison_of(findings)
        if made is None:
            return ()
        tables = {"Lines": groups_grid, "Differences": differences_grid, "Rungs": rungs_grid,
                  "Every two": every_two_grid}  # fmt: skip
        wanted = (tables[view],) if view in tables else (groups_grid, differences_grid)
        return tuple(make(findings, made) for make in wanted)
    if step == "Rehearse":
        return (broken_grid(findings, findings.broken),) if view == ASSUMPTIONS else ()
    made_by: dict[str, Callable[[Findings], Grid]] = {
        "Strength": coefficients_grid,
        "Line": {"Errors": errors_grid, "Variation": variation_grid, "Other lines": alternatives_grid}.get(
            view, errors_grid
        ),
        "Doubts": doubts_grid,
        "Forecast": forecast_grid,
    }
    return (made_by[step](findings),) if step in made_by else ()


def _reading(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    reading = reading_of(findings, pin.step, pin.view)
    passage = _passage(reading)
    if pin.step == "Line" and findings.refusal is None:
        return (Passage(title=passage.title, sentences=(f"{equation(findings)}.", *passage.sentences),
                        beware=passage.beware),)  # fmt: skip
    return (passage,)


def _passage(reading: Reading) -> Passage:
    share = (f"{reading.caption}.",) if reading.caption else ()
    return Passage(title=reading.headline, sentences=(*reading.sentences, *share), beware=reading.beware)


def _figures(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    reading = reading_of(findings, pin.step, pin.view)
    rows = tuple((one.name, one.value, one.beside) for one in reading.figures)
    return (Figures(title=f"Figures of {pin.step}", rows=rows),) if rows else (_passage(reading),)


def _table(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    grids = grids_of(findings, pin.step, pin.view)
    return grids or _figures(pin, findings, press)


def _picture(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    drawn = press.draw(findings, pin.step, pin.view)
    return () if drawn is None else (drawn,)


def _working(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    return tuple(
        Steps(title=one.title, rows=tuple((step.what, step.how, step.result) for step in one.steps))
        for one in workings_of(findings, pin.step, pin.view)
    )


def _lineup(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    told = lineup_sentences(findings) or ("No lineup has been tried yet.",)
    return (Passage(title="Lineup", sentences=told),)


def _nothing(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    return ()


_PARTS: dict[str, Callable[[Pin, Findings, Press], tuple[Block, ...]]] = {
    "reading": _reading, "figures": _figures, "table": _table, "picture": _picture,
    "working": _working, "lineup": _lineup, "heading": _nothing, "note": _nothing,
}  # fmt: skip
