"""What the step Forecast says."""

from __future__ import annotations

from functools import partial

from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.live.forecasting import Actual, Expected
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Figure, Reading, Step, Working
from bright_tether.words.readings.line import ERROR_NAMES, PATTERNS
from bright_tether.words.readings.look import rows_named
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.unanswered import unanswered_sentence


def forecast_reading(findings: Findings) -> Reading:
    """The first x in words: what to expect, of the mean and of one case, and what to beware of."""
    if findings.refusal:
        return refused(findings)
    own = [one for one in findings.expected if one.group is None]
    if not own and findings.placed_x:
        return Reading(headline=f"{_too_far(findings)[0]}")
    if not own:
        return Reading(headline="Type an x above 0: its logarithm or root is what the line knows.")
    first = next((one for one in own if one.level == findings.rules.level), own[0])
    return Reading(
        headline=_headline(findings, first),
        sentences=(
            mean_sentence(findings, first),
            case_sentence(findings, first),
            *_levels(findings, own, first),
            *_beyond(findings, first),
            *_near(findings, first),
            *_backwards(findings),
        ),
        figures=_figures(findings, first),
        beware=(*_too_far(findings), *_beware(findings), *unanswered_sentence(findings)),
    )


def _too_far(findings: Findings) -> tuple[str, ...]:
    """Which x lie so far out that no double holds their forecast."""
    held = {x for x, _ in findings.reached_x}
    lost = [d.entered(x) for x, _ in findings.placed_x if x not in held]
    if not lost:
        return ()
    return (f"No forecast at {', '.join(lost)}: {cause(Cause.OUT_OF_RANGE)}.",)


def _names(findings: Findings) -> tuple[str, str]:
    return findings.x_way.source.short, findings.y_way.source.short


def _with_unit(value: str, unit: str | None) -> str:
    return f"{value} {unit}" if unit else value


def at_x(findings: Findings, one: Expected) -> str:
    """Where: turbidity 50 NTU."""
    return _with_unit(f"{_names(findings)[0]} {d.entered(one.x)}", findings.x_way.source.unit)


def finest(findings: Findings, one: Expected) -> int:
    """Decimals that a forecast can bear."""
    return d.decimals_for((one.ci[1] - one.ci[0]) / 2, findings.rules.digits, one.fitted)


def _headline(findings: Findings, one: Expected) -> str:
    shown = _with_unit(d.fixed(one.fitted, finest(findings, one)), findings.y_way.source.unit)
    return f"At {at_x(findings, one)}, {_names(findings)[1]} is expected at {shown}."


def mean_sentence(findings: Findings, one: Expected) -> str:
    """The interval for the mean, in the analyst's own columns."""
    y, level = _names(findings)[1], d.level_in_words(one.level)
    between = d.between(one.ci, finest(findings, one))
    return (
        f"The {one.middle} {y} of all cases at {at_x(findings, one)} lies, with {level} confidence, "
        f"between {between.replace(' … ', ' and ')}."
    )


def case_sentence(findings: Findings, one: Expected) -> str:
    """The interval for one new case."""
    y, level, many = _names(findings)[1], d.level_in_words(one.level), findings.tether.forecast.mean_of
    if one.pi is None:
        made = findings.forecasts((findings.x_way.there(one.x),))
        return f"Nothing is said of one new case: {cause(made.why['pi'])}."
    between = d.between(one.pi, finest(findings, one)).replace(" … ", " and ")
    who = "One new case" if many == 1 else f"The mean of {many} new cases"
    return (
        f"{who} there is expected between {between} ({level}): wider, because single cases scatter about the line; "
        f"this is the interval to hold a single {y} against."
    )


def _levels(findings: Findings, own: list[Expected], first: Expected) -> tuple[str, ...]:
    others = [one for one in own if one.x == first.x and one.level != first.level]
    if not others or first.pi is None:
        return ()
    told = ", ".join(
        f"{d.level_in_words(one.level)} {d.between(one.pi, finest(findings, one))}"
        for one in sorted([*others, first], key=lambda one: one.level)
    )
    return (f"More confidence, wider interval, for one case: {told}.",)


def _beyond(findings: Findings, one: Expected) -> tuple[str, ...]:
    if not one.outside:
        return ()
    x = findings.x_way
    low, high = x.back(findings.pairs.x).min(), x.back(findings.pairs.x).max()
    digits = findings.rules.digits
    return (
        f"{at_x(findings, one)} lies {d.figure(one.distance, 2)} sd of x beyond what was measured "
        f"({d.figure(float(low), digits)} to {d.figure(float(high), digits)}): that the line goes on there "
        "is not shown by these data, and no interval covers it.",
    )


def _near(findings: Findings, one: Expected) -> tuple[str, ...]:
    places = findings.near(one.x)
    if not places.size:
        return ()
    rows, told = findings.rows, []
    for place in places.tolist():
        over = float(rows.residual[place])
        size = d.figure(abs(over), 2)
        side = "over" if over >= 0 else "under"
        told.append(f"{rows_named(findings, places[places == place])} {side} it by {size}")
    return (f"The cases nearest in x lie off the line: {'; '.join(told)}.",)


def _backwards(findings: Findings) -> tuple[str, ...]:
    told = []
    x_name, y_name = _names(findings)
    for y in findings.tether.forecast.back:
        try:
            one, mean = findings.backwards(y)
        except ValueError:
            continue
        where = _with_unit(f"{y_name} {d.entered(y)}", findings.y_way.source.unit)
        if one.x is None:
            told.append(f"No {x_name} is singled out by {where}: {cause(one.why['x'])}.")
            continue
        wide = None if one.ci is None else (one.ci[1] - one.ci[0]) / 4
        shown = d.decimals_for(wide, findings.rules.digits, one.x)
        there = _with_unit(f"{x_name} {d.fixed(one.x, shown)}", findings.x_way.source.unit)
        told.append(
            f"{where} is reached at {there}: "
            f"for one case {d.between(one.ci, shown)}, for the mean {d.between(mean.ci, shown)}."
        )
    return tuple(told)


def _figures(findings: Findings, one: Expected) -> tuple[Figure, ...]:
    shown = finest(findings, one)
    level = d.level_in_words(one.level)
    figures = [
        Figure("fitted", d.fixed(one.fitted, shown), findings.y_way.source.unit or ""),
        Figure(f"{one.middle}, {level}", d.between(one.ci, shown), d.half(one.half_ci, shown)),
        Figure(f"one case, {level}", d.between(one.pi, shown), d.half(one.half_pi, shown)),
    ]
    if findings.tether.forecast.band:
        figures.append(Figure(f"whole line, {level}", d.between(one.band, shown)))
    return tuple(figures)


def _beware(findings: Findings) -> tuple[str, ...]:
    told, by = [], findings.coefficients
    if by.p_slope is not None and by.p_slope > findings.rules.alpha and findings.line.slope_0 == 0:
        told.append(
            f"The slope is compatible with 0 ({d.p_value(by.p_slope)}): "
            "the forecast says little more than the mean."
        )
    kind = findings.tether.line.errors
    if kind != "classical":
        told.append(
            f"Intervals rest on {ERROR_NAMES[kind]} errors; "
            "the width for single cases still takes one s everywhere."
        )
    if findings.fit.weights is not None:
        told.append(f"The line is weighted: {_new_case(findings)}.")
    if findings.y_way.changed:
        told.append(
            f"The line was fitted to {findings.y_column.short}; "
            "carried back, its middle is a median, not a mean."
        )
    return tuple(told)


def _new_case(findings: Findings) -> str:
    """What a new case is taken to weigh."""
    new = findings.new_weight
    if new is None:
        return "state the weight of a new case above, and its interval can be given"
    if new.stated is not None:
        return f"a new case is taken to have weight {d.entered(new.stated)}"
    return f"a new case has the weight {PATTERNS[new.pattern or 'inverse-x']} at its own x"


def actual_sentence(findings: Findings, told: Actual) -> str:
    """An actual case against what was expected of it."""
    y = findings.y_way.source
    size = _with_unit(d.figure(abs(told.above), findings.rules.digits), y.unit)
    side = "above" if told.above >= 0 else "below"
    if told.share is None:
        return (
            f"{y.short} {d.entered(told.y)} lies {size} {side} the line; whether that is unusual is not "
            "known, since the weight of a new case is not stated."
        )
    level = d.level_in_words(findings.rules.level)
    inside = "inside" if told.inside else "outside"
    usual = "not unusual for one case" if told.inside else "unusual for one case"
    share = d.percent(told.share) if told.share >= 0.001 else "fewer than 0.1 %"
    return (
        f"{y.short} {d.entered(told.y)} lies {size} {side} the line ({d.figure(abs(told.by_s), 2)} s), "
        f"{inside} the {level} interval: {usual}; about {share} of new cases would lie as far off."
    )


def forecast_working(findings: Findings) -> tuple[Working, ...]:
    """Every ingredient of both half-widths at the first x."""
    own = [one for one in findings.expected if one.group is None and one.level == findings.rules.level]
    if not own:
        return ()
    fine = partial(d.figure, digits=7)
    x = findings.x_way.there(own[0].x)
    many = findings.tether.forecast.mean_of
    made = findings.forecasts((x,), many)
    line, n = findings.line, findings.pairs.n
    height = 0.0 if line.intercept is None else line.intercept
    count = "n" if findings.fit.weights is None else "Σw"
    steps = [
        Step("fitted", f"{fine(height)} + {fine(line.slope)} · {fine(x)}", fine(float(made.fitted[0]))),
        Step("leverage of x", f"1/{count} + (x − x̄)² / Sxx",
             fine(float(made.leverage[0]))),
        Step("error of the mean", "s·√leverage" if findings.tether.line.errors == "classical"
             else "from the errors in force", fine(float(made.se_mean[0]))),
        Step("error of a new case", "√(s² / m + error of the mean²)" + ("" if many == 1 else f", m = {many}"),
             fine(float(made.se_individual[0]))),
        Step("t", f"{d.level_in_words(findings.rules.level)}, {findings.errors.df} df (n = {n})",
             fine(float(made.half_ci[0] / made.se_mean[0])) if made.se_mean[0] else d.NONE),
        Step("half-width, mean", "t · error of the mean", fine(float(made.half_ci[0]))),
        Step("half-width, one case", "t · error of a new case", fine(float(made.half_pi[0]))),
    ]  # fmt: skip
    return (Working(f"The forecast at {at_x(findings, own[0])}", tuple(steps)),)
