"""Rehearse: what would happen over and over."""

from __future__ import annotations

from contextlib import suppress

from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step, View
from bright_tether.study.pins import Grid
from bright_tether.words.grids.rehearse import broken_grid
from bright_tether.words.readings.rehearse import rehearse_reading, rehearse_working


def _broken(findings: Findings) -> tuple[Grid, ...]:
    return (broken_grid(findings, findings.broken.outcome),)


def _held(findings: Findings) -> object:
    """The line with columns held, where there is one."""
    with suppress(Refusal):
        return findings.held_truth, findings.held_line
    return None


STEP = Step(
    id="rehearse",
    title="Rehearse",
    gist="What would happen over and over: samples, luck alone, broken assumptions, how many pairs.",
    views=(
        View(id="samples", title="Samples", run=lambda findings: findings.samples),
        View(id="held", title="Others held", run=lambda findings: findings.held_samples),
        View(id="luck", title="Luck alone", run=lambda findings: findings.luck),
        View(
            id="assumptions", title="Broken assumptions", grids=_broken, run=lambda findings: findings.broken
        ),
        View(id="pairs", title="How many pairs", run=lambda findings: findings.trial),
    ),
    reading=rehearse_reading,
    workings=rehearse_working,
    drawn=(Findings.plain_line, Findings.sums, Findings.truth, Findings.plan, _held),
)
