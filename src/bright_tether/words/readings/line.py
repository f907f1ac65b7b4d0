"""What the step Line says."""

from __future__ import annotations

from bright_tether.core.line.figures import Line
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings, zero_is_near
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Figure, Names, Reading, names_of, there
from bright_tether.words.readings.decision import decision_sentence
from bright_tether.words.readings.groups import opposite_stories
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.rows import one_row_sentence
from bright_tether.words.readings.unanswered import unanswered_sentence

#: Above this, x varies by less than a millionth of its size.
_FAR_OFFSET = 12.0


def equation(findings: Findings, digits: int | None = None) -> str:
    """The line in the analyst's names: y = intercept + slope · x."""
    line, names = findings.line, names_of(findings.x_column, findings.y_column)
    shown = digits or findings.rules.digits
    by, steep = findings.coefficients, there(line.slope)
    if line.intercept is None:
        slope = d.fixed(line.slope, d.decimals_for(by.se_slope, shown, line.slope))
        return f"{names.y} = {slope} · {names.x}"
    height = d.fixed(line.intercept, d.decimals_for(by.se_intercept, shown, line.intercept))
    slope = d.fixed(abs(steep), d.decimals_for(by.se_slope, shown, line.slope))
    sign = "−" if steep < 0 else "+"
    if findings.tether.line.slope_first:
        lead = "−" if steep < 0 else ""
        tail = f"− {height.lstrip('−')}" if line.intercept < 0 else f"+ {height}"
        return f"{names.y} = {lead}{slope} · {names.x} {tail}"
    return f"{names.y} = {height} {sign} {slope} · {names.x}"


def equation_to_copy(findings: Findings) -> str:
    """The line with every digit it has, so that it gives the same forecasts elsewhere."""
    line, names = findings.line, names_of(findings.x_column, findings.y_column)
    steep = there(line.slope)
    if line.intercept is None:
        return f"{names.y} = {steep!r} * {names.x}"
    return f"{names.y} = {line.intercept!r} {'-' if steep < 0 else '+'} {abs(steep)!r} * {names.x}"


def line_reading(findings: Findings) -> Reading:
    """The slope in words, its test and interval, the share of spread, and what to beware of."""
    if findings.refusal:
        return refused(findings)
    line, rules = findings.line, findings.rules
    names = names_of(findings.x_column, findings.y_column)
    by = findings.coefficients
    finest = d.decimals_for(by.se_slope, rules.digits, line.slope)
    return Reading(
        headline=_headline(line, names, findings),
        sentences=(
            _confidence(findings, names, finest),
            *_errors_named(findings),
            *_matters(findings, names, finest),
            slope_test_sentence(findings),
            decision_sentence(findings),
            *one_row_sentence(findings),
            f"A residual is an observed {names.y} less the fitted one.",
        ),
        share=line.r2,
        caption=f"{d.percent(line.r2)} of the spread in {names.y} goes with {names.x} (r²)"
        if line.r2 is not None
        else f"{names.y} does not vary, so there is no spread to share",
        figures=_figures(findings, names, finest),
        beware=_beware(findings, names),
    )


def _headline(line: Line, names: Names, findings: Findings) -> str:
    if findings.fit.y.constant:
        return f"{names.y} is the same in every pair: the line is level."
    if line.p_slope is None:
        return f"Every pair lies on one line: {_slope_phrase(line, names, findings)}."
    if line.slope_0 == 0 and (findings.coefficients.p_slope or 0.0) > findings.rules.alpha:
        return "These data are compatible with a slope of 0."
    return f"{_slope_phrase(line, names, findings)}, on average."


def _slope_phrase(line: Line, names: Names, findings: Findings) -> str:
    steep = there(line.slope)
    size = d.figure(abs(steep), findings.rules.digits)
    more = "more" if steep >= 0 else "less"
    return f"Each {names.one_x} goes with about {names.in_y(size)} {more} {names.y}"


def _confidence(findings: Findings, names: Names, finest: int) -> str:
    by, line = findings.coefficients, findings.line
    if by.ci_slope is None:
        return "The interval for the slope has no value here."
    if by.p_slope is None:
        return "With every residual zero, an interval says nothing about how sure the slope is."
    low, high = (d.fixed(end, finest) for end in by.ci_slope)
    unit = f" {names.slope_unit}" if names.slope_unit else ""
    return f"With {d.level_in_words(line.level)} confidence the slope lies between {low} and {high}{unit}."


PATTERNS = {"inverse-x": "1/|x|", "inverse-x2": "1/x²", "inverse-fitted2": "1/fitted²"}
ERROR_NAMES = {
    "classical": "classical",
    "HC0": "robust (HC0)",
    "HC1": "robust (HC1)",
    "HC2": "robust (HC2)",
    "HC3": "robust (HC3)",
    "newey_west": "alike-neighbours",
    "clustered": "repeated-cases",
}


def weights_named(findings: Findings) -> str:
    """What the rows are weighted by: a column, or a pattern."""
    chosen = findings.tether.line
    if chosen.weight_pattern is not None:
        return PATTERNS[chosen.weight_pattern]
    return findings.table.column(chosen.weights or "").short


def _errors_named(findings: Findings) -> tuple[str, ...]:
    chosen, told = findings.tether.line, []
    if chosen.errors != "classical":
        told.append(f"Errors in force are {ERROR_NAMES[chosen.errors]} ones")
    if findings.fit.weights is not None:
        told.append(f"rows are weighted by {weights_named(findings)}")
    if chosen.origin:
        told.append("the line goes through the origin, and r² is about zero")
    said = "; ".join(told)
    return (said[0].upper() + said[1:] + ".",) if said else ()


def _matters(findings: Findings, names: Names, finest: int) -> tuple[str, ...]:
    """Whether the size matters, not only whether it is not 0."""
    least, ci = findings.tether.line.matters, findings.coefficients.ci_slope
    if least is None or ci is None:
        return ()
    shown = f"{d.fixed(least, finest)} {names.slope_unit}".rstrip()
    low, high = ci
    if low >= least or high <= -least:
        told = "the whole interval lies beyond it: the slope is shown to matter"
    elif -least < low and high < least:
        told = "the whole interval lies within it: the slope is shown to be too small to matter"
    else:
        told = "the interval reaches to both sides of it: these data do not tell whether the slope matters"
    return (f"The smallest slope that matters is ±{shown}; {told}.",)


_BESIDE = {"two-sided": "", "greater": " or less", "less": " or more"}


def slope_test_sentence(findings: Findings) -> str:
    """The test of the slope in words, worked out from p, α and the alternative."""
    line, rules, by = findings.line, findings.rules, findings.coefficients
    null = f"A slope of {d.figure(line.slope_0, rules.digits)}{_BESIDE[line.alternative]}"
    if by.p_slope is None:
        return f"No test: {cause(by.why['p_slope'])}."
    basis = f"t = {d.figure(by.t_slope, rules.digits)}, {findings.errors.df} df, {d.p_value(by.p_slope)}"
    if by.p_slope <= rules.alpha:
        return f"{null} does not fit these data ({basis}, α = {rules.alpha:g})."
    return f"{null} is compatible with these data ({basis}, α = {rules.alpha:g})."


def _figures(findings: Findings, names: Names, finest: int) -> tuple[Figure, ...]:
    line, r, digits = findings.line, findings.pearson, findings.rules.digits
    by, df = findings.coefficients, findings.errors.df
    told = [Figure("slope", d.fixed(line.slope, finest), d.between(by.ci_slope, finest))]
    if line.intercept is not None:
        height = d.decimals_for(by.se_intercept, digits, line.intercept)
        told.append(Figure("intercept", d.fixed(line.intercept, height), d.between(by.ci_intercept, height)))
    return (
        *told,
        Figure(
            "s, typical residual" if findings.fit.weights is None else "s, at weight 1",
            d.figure(line.s, digits),
            names.y_unit or "",
        ),
        Figure("r", d.coefficient(r.r, digits), _r_interval(r.ci, digits)),
        Figure(f"t ({df} df)", d.figure(by.t_slope, digits), d.p_value(by.p_slope)),
        Figure(f"F (1, {line.residual_df})", d.figure(line.f, digits), d.p_value(line.p_f)),
    )


def _impossible(findings: Findings, names: Names) -> list[str]:
    """Where line or band leave the possible range of y within the measured x."""
    band, column, digits = findings.band, findings.y_column, findings.rules.digits
    said = []
    for limit, side, beyond in ((column.low, "below", min), (column.high, "above", max)):
        if limit is None:
            continue
        fitted, edge = beyond(band.fitted.tolist()), beyond(band.ci.ravel().tolist())
        what = (
            "line" if beyond(fitted, limit) != limit else "interval" if beyond(edge, limit) != limit else ""
        )
        if what:
            shown = names.in_y(d.figure(limit, digits))
            said.append(
                f"The {what} runs {side} {shown}, where {names.y} cannot be: a straight line ignores that."
            )
    return said


def _r_interval(ci: tuple[float, float] | None, digits: int) -> str:
    return d.NONE if ci is None else " … ".join(d.coefficient(end, digits) for end in ci)


def _beware(findings: Findings, names: Names) -> tuple[str, ...]:
    line, rules, x = findings.line, findings.rules, findings.x_summary
    said: list[str] = list(opposite_stories(findings))
    low, high = there(x.min), there(x.max)
    if line.intercept is not None and not low <= 0 <= high:
        side, edge = ("lowest", low) if low > 0 else ("highest", high)
        shown = names.in_x(d.figure(edge, rules.digits))
        near = ", if not by far" if zero_is_near(low, high) else ""
        said.append(
            f"The intercept is the level at {names.in_x('0')} of {names.x}; the {side} reading "
            f"is {shown}, so it lies outside what was measured{near}."
        )
    said += _impossible(findings, names)
    said += unanswered_sentence(findings)
    if line.why.get("t_slope") is Cause.EXACT_FIT:
        said.append(
            "A line without scatter is rare in measurements: is one column worked out from the other?"
        )
    elif findings.pairs.n <= 6 and findings.pearson.r is not None:
        needed = d.coefficient(findings.pearson.critical, rules.digits).lstrip("+")
        said.append(
            f"With only {findings.pairs.n} pairs ({line.residual_df} df) one row can carry the line, "
            f"and |r| must reach {needed} to count as evidence."
        )
    if line.log10_condition is not None and line.log10_condition > _FAR_OFFSET:
        said.append(
            f"{names.x} varies by very little beside its size, so what was rounded off "
            "when it was written down cannot be got back; the intercept suffers most."
        )
    if not findings.tether.chosen:
        said.append(f"{names.x} was taken as x because it stands first: swap them if it is the response.")
    return tuple(said)
