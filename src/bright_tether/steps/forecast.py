"""Forecast: what to expect at an x, and which x gives a y."""

from __future__ import annotations

from bright_tether.core.widths import Widths
from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step, View
from bright_tether.study.pins import Grid
from bright_tether.words.grids.forecast import forecast_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.forecast import forecast_reading
from bright_tether.words.readings.widths import widths_grid, widths_reading
from bright_tether.words.workings.forecast import forecast_working


def _reading(findings: Findings, view: str, run: object) -> Reading:
    if view == "widths":
        return widths_reading(findings, run if isinstance(run, Widths) else None)
    return forecast_reading(findings)


def _workings(findings: Findings, view: str) -> tuple[Working, ...]:
    return forecast_working(findings)


def _widths(findings: Findings) -> tuple[Grid, ...]:
    return (widths_grid(findings, findings.widths.outcome),)


def _first_widths(findings: Findings) -> object:
    """The intervals before anything of them is looked at: they are shown while that is worked out."""
    return None if findings.plain.exact else findings.widths_now


STEP = Step(
    id="forecast",
    title="Forecast",
    gist="What to expect at an x, of the mean and of one case, and which x gives a y.",
    views=(
        View(id="", title="Forecasts", grids=lambda findings: (forecast_grid(findings),)),
        View(
            id="widths",
            title="How wide",
            grids=_widths,
            run=lambda findings: findings.widths,
            needs=(Findings.band, _first_widths),
        ),
    ),
    reading=_reading,
    workings=_workings,
    drawn=(lambda findings: findings.forecast_x, Findings.case_story),
    needs=(Findings.comparison,),
)
