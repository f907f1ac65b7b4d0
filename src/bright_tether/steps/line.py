"""Line: the fitted line and what it says."""

from __future__ import annotations

from contextlib import suppress

from msgspec.structs import replace

from bright_tether.core.line.errors import KINDS, NoErrors
from bright_tether.core.results import Refusal
from bright_tether.live.all_rows import AllRows, all_rows, is_share
from bright_tether.live.findings import Findings
from bright_tether.live.longer import longer_of
from bright_tether.live.other_choices import OtherChoices
from bright_tether.steps.step import Step, View
from bright_tether.study.pins import Grid
from bright_tether.words.grids.all_rows import all_rows_grids
from bright_tether.words.grids.held import along_grid, held_grid
from bright_tether.words.grids.line import alternatives_grid, errors_grid, variation_grid
from bright_tether.words.grids.other_choices import other_choices_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.all_rows import all_rows_reading
from bright_tether.words.readings.held import held_reading
from bright_tether.words.readings.held_forecast import held_forecasts_grid
from bright_tether.words.readings.line import equation, line_reading
from bright_tether.words.readings.other_choices import other_choices_reading
from bright_tether.words.workings.line import correlation_working, slope_working
from bright_tether.words.workings.other_choices import other_choices_working


def _reading(findings: Findings, view: str, run: object) -> Reading:
    if view == "other-choices":
        return other_choices_reading(findings, run if isinstance(run, OtherChoices) else None)
    if view == "all-rows":
        return all_rows_reading(findings, run if isinstance(run, AllRows) else None)
    return held_reading(findings) if view == "held" else line_reading(findings)


def _workings(findings: Findings, view: str) -> tuple[Working, ...]:
    if view == "other-choices":
        return (other_choices_working(findings, findings.other_choices.kept),)
    if view == "all-rows":
        found = all_rows(findings).kept
        return () if found is None or found.far is None else (slope_working(found.far),)
    return slope_working(findings), correlation_working(findings)


def _errors(findings: Findings) -> tuple[Grid, ...]:
    return (errors_grid(findings),)


def _each_kind_of_errors(findings: Findings) -> None:
    for kind in KINDS:
        if kind != "clustered" or findings.clusters is not None:
            with suppress(NoErrors):
                findings.coefficients_by(kind)


def _held(findings: Findings) -> tuple[Grid, ...]:
    grids = held_grid(findings), along_grid(findings), held_forecasts_grid(findings)
    return tuple(grid for grid in grids if grid is not None)


def _held_doubts(findings: Findings) -> object:
    """What the beware about the line with columns held rests on."""
    with suppress(Refusal):
        longer = longer_of(findings)
        return longer.doubts, longer.signs_without
    return None


def _choices(findings: Findings) -> tuple[Grid, ...]:
    return (other_choices_grid(findings, findings.other_choices.outcome),)


def _all_rows(findings: Findings) -> tuple[Grid, ...]:
    return all_rows_grids(findings, all_rows(findings).outcome)


def _with_equation(findings: Findings, reading: Reading) -> Reading:
    """The reading as it stands on a page, where no picture with the equation need stand above it."""
    if findings.refusal is not None:
        return reading
    return replace(reading, sentences=(f"{equation(findings)}.", *reading.sentences))


STEP = Step(
    id="line",
    title="Line",
    gist="The fitted line, its slope with an interval by the errors in force, and other lines beside it.",
    views=(
        View(id="line", title="The line", grids=_errors),
        View(id="errors", title="Errors", grids=_errors, needs=(_each_kind_of_errors,)),
        View(id="variation", title="Variation", grids=lambda findings: (variation_grid(findings),)),
        View(id="other-lines", title="Other lines", grids=lambda findings: (alternatives_grid(findings),),
             needs=(Findings.alternatives,)),
        View(id="fitted", title="Fitted", grids=_errors, needs=(Findings.fitted_points,)),
        View(id="held", title="Others held", grids=_held,
             needs=(Findings.held_line, Findings.unseen_line, Findings.along_line, Findings.held_forecast,
                    _held_doubts)),
        View(id="other-choices", title="Other choices", grids=_choices, run=lambda findings: findings.other_choices,
             needs=(lambda findings: findings.other_choices,)),
        View(id="all-rows", title="All rows", grids=_all_rows, run=all_rows, offered=is_share,
             needs=(Findings.plain_line, Findings.checks, Findings.comparison)),
    ),
    reading=_reading,
    workings=_workings,
    drawn=(Findings.band, Findings.residual_strip, Findings.coefficients),
    needs=(Findings.design, Findings.within_by_id, Findings.within_groups, Findings.case_story, Findings.common_slope),
    written=_with_equation,
    proposed=("reading", "figures", "picture"),
)  # fmt: skip
