"""Gather: get trustworthy pairs."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step, View
from bright_tether.study.pins import Grid
from bright_tether.words.grids.strength import columns_grid, sums_grid
from bright_tether.words.reading import Reading
from bright_tether.words.readings.gather import gather_reading


def _grids(findings: Findings) -> tuple[Grid, ...]:
    return (columns_grid(findings), *(() if findings.refusal else (sums_grid(findings),)))


def _reading(findings: Findings, view: str, run: object) -> Reading:
    return gather_reading(findings, brief=True)


STEP = Step(
    id="gather",
    title="Gather",
    gist="The table, and which column explains which: every row in play or out of it is accounted for.",
    views=(View(id="", title="", grids=_grids),),
    reading=_reading,
    drawn=(Findings.slips,),
    parts=frozenset({"reading", "figures", "table"}),
    results=False,
    claims=False,
)
