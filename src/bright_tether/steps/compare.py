"""Compare: lines side by side."""

from __future__ import annotations

from collections.abc import Callable

from bright_tether.live.comparison import Comparison
from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step, View
from bright_tether.study.pins import Grid
from bright_tether.words.grids.compare import differences_grid, every_two_grid, groups_grid, rungs_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.compare import compare_reading, comparison_of
from bright_tether.words.workings.compare import compare_working

_Make = Callable[[Findings, Comparison], Grid]


def _reading(findings: Findings, view: str, run: object) -> Reading:
    return compare_reading(findings)


def _workings(findings: Findings, view: str) -> tuple[Working, ...]:
    return compare_working(findings)


def _grids(*makers: _Make) -> Callable[[Findings], tuple[Grid, ...]]:
    def grids(findings: Findings) -> tuple[Grid, ...]:
        comparison = comparison_of(findings)
        return () if comparison is None else tuple(make(findings, comparison) for make in makers)

    return grids


STEP = Step(
    id="compare",
    title="Compare",
    gist="Lines side by side: groups, two responses, or two tethers, and whether their slopes differ.",
    views=(
        View(id="lines", title="Lines", grids=_grids(groups_grid, differences_grid)),
        View(id="differences", title="Differences", grids=_grids(differences_grid)),
        View(id="rungs", title="Rungs", grids=_grids(rungs_grid)),
        View(id="every-two", title="Every two", grids=_grids(every_two_grid)),
    ),
    reading=_reading,
    workings=_workings,
    drawn=(Findings.comparison, Findings.compare_points),
)
