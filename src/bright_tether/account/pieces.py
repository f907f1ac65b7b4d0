"""What each pin shows: the same readings, figures, tables and workings as the steps."""

from __future__ import annotations

from collections.abc import Callable

from bright_tether.account.press import Press
from bright_tether.claims.doubts import lineup_claim
from bright_tether.core.results import OutOfRange, Refusal
from bright_tether.far.through import WHERE_IT_IS, Through
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.study.pins import Block, Figures, Grid, Part, Passage, Pin, Steps
from bright_tether.study.study import Study
from bright_tether.words.grids.lines import groups_grid_for_paper
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.doubts import lineup_sentences
from bright_tether.words.readings.refused import beyond


class AllFindings:
    """The findings of every tether of a study, each made once."""

    def __init__(self, study: Study, through: Through = WHERE_IT_IS) -> None:
        """through : who goes through the whole of a table of which the study has a share."""
        self.study, self._through = study, through
        self._made: dict[str, Findings] = {}

    def of(self, tether: str) -> Findings:
        """All that is known of a tether."""
        if tether not in self._made:
            self._made[tether] = Findings(self.study, self.study.tether(tether), through=self._through)
        return self._made[tether]

    def every(self) -> tuple[Findings, ...]:
        """The findings of every tether, in order."""
        return tuple(self.of(tether.id) for tether in self.study.tethers)


def blocks_of(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    """What a pin shows of the study as it is; where there is no line, the reason instead."""
    try:
        return _PARTS[pin.part](pin, findings, press)
    except Refusal:
        return (_passage(reading_of(findings, pin.step, pin.view)),)


def reading_of(findings: Findings, step: str, view: str) -> Reading:
    """The reading of a step."""
    try:
        return step_of(step).reading_of(findings, view)
    except OutOfRange:
        return beyond(findings)


def workings_of(findings: Findings, step: str, view: str) -> tuple[Working, ...]:
    """The workings of a step, as they stand below its reading."""
    workings = step_of(step).workings
    return () if workings is None or findings.refusal is not None else workings(findings, view)


def grids_of(findings: Findings, step: str, view: str) -> tuple[Grid, ...]:
    """The tables of a step. Raises Refusal where there is no line."""
    return step_of(step).view(view).grids(findings)


def _reading(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    reading = reading_of(findings, pin.step, pin.view)
    return (_passage(step_of(pin.step).written(findings, reading)),)


def _passage(reading: Reading) -> Passage:
    share = (f"{reading.caption}.",) if reading.caption else ()
    return Passage(title=reading.headline, sentences=(*reading.sentences, *share), beware=reading.beware)


def _figures(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    reading = reading_of(findings, pin.step, pin.view)
    rows = tuple((one.name, one.value, one.beside) for one in reading.figures)
    return (
        (Figures(title=f"Figures of {step_of(pin.step).title}", rows=rows),) if rows else (_passage(reading),)
    )


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
    sentences = lineup_sentences(lineup_claim(findings)) or ("No lineup has been tried yet.",)
    return (Passage(title="Lineup", sentences=sentences),)


def _lines(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    return (groups_grid_for_paper(findings, pin.columns),)


def _nothing(pin: Pin, findings: Findings, press: Press) -> tuple[Block, ...]:
    return ()


_PARTS: dict[Part, Callable[[Pin, Findings, Press], tuple[Block, ...]]] = {
    "reading": _reading, "figures": _figures, "table": _table, "picture": _picture,
    "working": _working, "lineup": _lineup, "lines": _lines, "heading": _nothing, "note": _nothing,
}  # fmt: skip
