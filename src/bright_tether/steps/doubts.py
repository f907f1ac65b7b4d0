"""Doubts: is the line to be trusted."""

from __future__ import annotations

from msgspec.structs import replace

from bright_tether.live.findings import Findings
from bright_tether.live.longer import doubted
from bright_tether.live.sketches import MODES, Small
from bright_tether.steps.step import Step, View
from bright_tether.study.pins import Grid
from bright_tether.words.grids.doubts import doubts_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.doubted import doubted_sentences
from bright_tether.words.readings.doubts import doubt_reading, doubts_reading
from bright_tether.words.readings.unanswered import QUESTIONS
from bright_tether.words.workings.doubts import doubts_working


def _reading(findings: Findings, view: str, run: object) -> Reading:
    of = doubted(findings)
    reading = doubt_reading(of, view) if view in QUESTIONS else doubts_reading(of)
    return replace(reading, sentences=(*doubted_sentences(findings), *reading.sentences))


def _workings(findings: Findings, view: str) -> tuple[Working, ...]:
    of = doubted(findings)
    return () if of.fit.exact else doubts_working(of)


def _grids(findings: Findings) -> tuple[Grid, ...]:
    return (doubts_grid(doubted(findings)),)


def _cards(findings: Findings) -> list[tuple[Small, bool]]:
    """The pictures of the cards, and what a mark in them rests on."""
    of = doubted(findings)
    sketches = (of.sketch(modes[0]) for modes in MODES.values())
    return [(one.small, one.in_turn) for one in sketches]


def _judged(findings: Findings) -> object:
    """What the six rest on, and whose residuals they are about."""
    of = doubted(findings)
    alone = findings.signs_by_luck if of is not findings else None
    return of.checks, of.design, of.signs_by_luck, of.quantiles, of.doubts, findings.doubts, alone


STEP = Step(
    id="doubts",
    title="Doubts",
    gist="Six doubts about the line, each judged by a stated rule, with what could be done.",
    views=(
        View(id="", title="All six", grids=_grids, needs=(_cards,)),
        *(View(id=name, title=question, grids=_grids) for name, question in QUESTIONS.items()),
    ),
    reading=_reading,
    workings=_workings,
    needs=(Findings.checks, Findings.design, Findings.signs_by_luck, Findings.quantiles, _judged),
    parts=frozenset({"reading", "figures", "table", "picture", "working", "lineup"}),
    proposed=("table",),
)
