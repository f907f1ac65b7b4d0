"""Forecast: what to expect at an x, and which x gives a y."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step, View
from bright_tether.words.grids.forecast import forecast_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.forecast import forecast_reading
from bright_tether.words.workings.forecast import forecast_working


def _reading(findings: Findings, view: str, run: object) -> Reading:
    return forecast_reading(findings)


def _workings(findings: Findings, view: str) -> tuple[Working, ...]:
    return forecast_working(findings)


STEP = Step(
    id="forecast",
    title="Forecast",
    gist="What to expect at an x, of the mean and of one case, and which x gives a y.",
    views=(View(id="", title="", grids=lambda findings: (forecast_grid(findings),)),),
    reading=_reading,
    workings=_workings,
    needs=(Findings.comparison, lambda findings: findings.forecast_x, Findings.case_story),
)
