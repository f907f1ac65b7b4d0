"""What the step Compare says."""

from __future__ import annotations

from functools import partial

from bright_tether.core.checks.added import FTest
from bright_tether.core.compare.differences import Difference
from bright_tether.core.compare.groups import with_lines
from bright_tether.core.results import Refusal
from bright_tether.live.compare import Comparison
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause, refusal
from bright_tether.words.reading import Figure, Reading, Step, Working, names_of, there
from bright_tether.words.readings.line import ERROR_NAMES
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.unanswered import unanswered_sentence


def comparison_of(findings: Findings) -> Comparison | None:
    """The comparison, or None where there is none to make."""
    try:
        return None if findings.refusal else findings.comparison
    except Refusal:
        return None


def deciding(made: Comparison) -> Difference | None:
    """The difference of slopes that decides."""
    if made.decides == "same_rows" and made.same_rows is not None:
        return made.same_rows.slope
    return made.slopes.separate if made.slopes else None


def compare_reading(findings: Findings) -> Reading:
    """Whether the lines differ, as far as the data tell."""
    if findings.refusal:
        return refused(findings)
    try:
        made = findings.comparison
    except Refusal as found:
        return Reading(headline="Compare this line with which?", sentences=(refusal(found),))
    lined = [group for group in made.groups if group.line is not None]
    if len(lined) < 2:
        return Reading(headline="There are not two lines to compare.", sentences=_too_small(made))
    return Reading(
        headline=_headline(findings, made),
        sentences=(
            *_slopes(findings, made),
            *_which_test(findings, made),
            *_equivalence(findings, made),
            *_ladder(findings, made),
            *_correlations(findings, made),
            *_too_small(made),
        ),
        figures=_figures(findings, made),
        beware=(*_errors(findings), *unanswered_sentence(findings)),
    )


def _headline(findings: Findings, made: Comparison) -> str:
    one, alpha = deciding(made), findings.rules.alpha
    if made.units_differ:
        return "Two lines in different units: their correlations can be compared, their slopes cannot."
    if one is None:
        p = made.ladder.parallel.p
        if p is None:
            return f"{len(made.groups)} lines side by side."
        if p <= alpha:
            return "Not all slopes are the same."
        return "These data are compatible with one slope for all."
    if one.p is None:
        return f"A difference of slopes cannot be judged here: {cause(one.why['p'])}."
    if one.p <= alpha:
        return "The slopes differ."
    return "These data are compatible with no difference in slope."


def _slopes(findings: Findings, made: Comparison) -> tuple[str, ...]:
    one, names = deciding(made), names_of(findings.x_column, findings.y_column)
    lined = [group for group in made.groups if group.line is not None]
    if one is None or one.difference is None or len(lined) != 2:
        return ()
    digits = findings.rules.digits
    if one.ci is None:
        return ()
    finest = d.decimals_for(one.se, digits)
    first, second = lined
    unit = f" {names.slope_unit}" if names.slope_unit else ""
    more = "more" if one.difference >= 0 else "less"
    said = (
        f"The slope of {first.name} is {d.fixed(abs(one.difference), finest)}{unit} {more} than that of "
        f"{second.name} ({d.between(one.ci, finest)}, {d.level_in_words(findings.rules.level)})"
    )
    if one.p is None:
        return (f"{said}.",)
    basis = f"t = {d.figure(one.t, digits)}, {_df(one.df)} df, {d.p_value(one.p)}"
    if one.p <= findings.rules.alpha:
        return (f"{said}; no difference does not fit these data ({basis}).",)
    return (
        f"{said}; no difference is compatible with these data ({basis}), and so is every value in the "
        "interval: that is not the same as equal.",
    )


def _df(value: float | None) -> str:
    if value is None:
        return d.NONE
    return str(int(value)) if float(value).is_integer() else d.figure(value, 3)


def _which_test(findings: Findings, made: Comparison) -> tuple[str, ...]:
    told = []
    if made.source == "responses":
        if findings.tether.compare.rows_are is None:
            told.append(
                "Is a row one case measured twice, or two experiments that share settings of x? "
                "Say so above: until then rows are read as cases."
            )
        if made.decides == "same_rows":
            told.append("Rows are cases: the two residuals of a row go together, so the paired test decides.")
        else:
            told.append(
                "Rows are settings: the two residuals of a row are apart, so the separate test decides."
            )
    elif made.slopes is not None and made.slopes.pooled is not None:
        lined = [group for group in made.groups if group.line is not None]
        spreads = [group.line.s for group in lined if group.line is not None and group.line.s]
        if len(spreads) == 2:
            ratio = max(spreads) / min(spreads)
            if ratio > 1.5:
                told.append(
                    f"One group scatters {d.figure(ratio, 2)} times as widely as the other: read the separate "
                    "or the Welch figures, not the pooled ones."
                )
            else:
                told.append(
                    "The groups scatter about as widely: separate, Welch and pooled figures may each be read."
                )
    return tuple(told)


def _equivalence(findings: Findings, made: Comparison) -> tuple[str, ...]:
    found = made.equivalence
    if found is None or found.p is None:
        return ()
    margin = d.entered(found.margin)
    if found.equivalent:
        return (f"The slopes are shown to be within ±{margin} of each other ({d.p_value(found.p)}).",)
    one = deciding(made)
    differ = one is not None and one.p is not None and one.p <= findings.rules.alpha
    tail = "" if differ else "; that does not show that they differ"
    return (
        f"It is not shown that the slopes are within ±{margin} of each other ({d.p_value(found.p)}){tail}.",
    )


def _ladder(findings: Findings, made: Comparison) -> tuple[str, ...]:
    alpha, rungs = findings.rules.alpha, made.ladder
    if rungs.parallel.p is None or made.decides == "same_rows":
        return ()
    if rungs.parallel.p <= alpha:
        return (f"A line each is needed: one common slope does not fit ({_f(rungs.parallel)}).",)
    if rungs.same_height.p is not None and rungs.same_height.p <= alpha:
        return (
            f"One common slope is compatible with the data ({_f(rungs.parallel)}), but not one height "
            f"({_f(rungs.same_height)}): parallel lines would do.",
        )
    return (
        f"One line for all is compatible with the data (slopes {_f(rungs.parallel)}; heights "
        f"{_f(rungs.same_height)}).",
    )


def _f(test: FTest) -> str:
    return f"F({test.df1}, {test.df2}) = {d.figure(test.f, 3)}, {d.p_value(test.p)}"


def _correlations(findings: Findings, made: Comparison) -> tuple[str, ...]:
    digits = findings.rules.digits
    if made.decides == "same_rows" and made.dependent is not None and made.dependent.p is not None:
        basis = (
            f"t = {d.figure(made.dependent.t, digits)}, {made.dependent.df} df, {d.p_value(made.dependent.p)}"
        )
        return (f"The two correlations with x, in the same cases: {basis}.",)
    if made.correlations is not None and made.correlations.p is not None:
        return (
            f"The two correlations: z = {d.figure(made.correlations.z, digits)}, "
            f"{d.p_value(made.correlations.p)}.",
        )
    return ()


def _too_small(made: Comparison) -> tuple[str, ...]:
    told = [
        f"{group.name} has no line of its own: n = {group.n}, {cause(group.cause)}."
        for group in made.groups
        if group.line is None and group.cause is not None
    ]
    told += [
        f"The line of {group.name} has no error of its own: n = {group.n}, {cause(group.no_errors)}."
        for group in made.groups
        if group.line is not None and group.no_errors is not None
    ]
    return tuple(told)


def _errors(findings: Findings) -> tuple[str, ...]:
    kind = findings.tether.line.errors
    if kind == "classical":
        return ()
    return (
        f"Differences are judged by {ERROR_NAMES[kind]} errors; the rungs and every two groups rest on one "
        "common spread all the same.",
    )


def _figures(findings: Findings, made: Comparison) -> tuple[Figure, ...]:
    told = []
    for group in made.groups[:6]:
        if group.line is not None:
            finest = d.decimals_for(group.slope_error, findings.rules.digits, group.line.slope)
            told.append(Figure(f"slope, {group.name}", d.fixed(group.line.slope, finest), f"n = {group.n}"))
    return tuple(told)


def compare_working(findings: Findings) -> tuple[Working, ...]:
    """The t of the difference of slopes, from the two fits."""
    made = comparison_of(findings)
    lined = [] if made is None else with_lines(made.groups)
    if made is None or made.slopes is None or len(lined) != 2 or made.slopes.separate.df is None:
        return ()
    (first_line, first_errors), (second_line, second_errors) = (
        (there(group.line), there(group.errors)) for group in lined
    )
    fine = partial(d.figure, digits=7)
    first, second = lined
    one = made.slopes.separate
    steps = [
        Step(
            f"slope, {group.name}",
            f"n = {group.n}, df = {there(group.errors).df}",
            f"{fine(there(group.line).slope)} ± {fine(group.slope_error)}",
        )
        for group in lined
    ]
    gap = f"{fine(first_line.slope)} − {_brackets(there(second_line.slope))}"
    welch = made.slopes.welch
    steps += [
        Step("difference", gap, fine(one.difference)),
        Step("its error", f"√({fine(first.slope_error)}² + {fine(second.slope_error)}²)", fine(one.se)),
        Step("df", f"{first_errors.df} + {second_errors.df} ({first.n} + {second.n} − 4)"
             if first_errors.kind == "classical" else f"{first_errors.df} + {second_errors.df}", _df(one.df)),
        Step("t", f"{fine(one.difference)} / {fine(one.se)}", fine(one.t)),
        Step("p", f"both tails of t on {_df(one.df)} df", d.p_value(one.p)),
        Step("Welch", "the same t on df from both errors", f"{fine(welch.df)} df, {d.p_value(welch.p)}"),
    ]  # fmt: skip
    if made.slopes.pooled is not None:
        pooled = made.slopes.pooled
        steps.append(
            Step(
                "pooled",
                "one variance from both sums of squares",
                f"t {fine(pooled.t)}, {d.p_value(pooled.p)}",
            )
        )
    workings = [Working("The difference of two slopes", tuple(steps))]
    if made.same_rows is not None:
        same = made.same_rows.slope
        workings.append(
            Working(
                "The same rows twice",
                (
                    Step("slope of the difference", "line of (first − second) on x", fine(same.difference)),
                    Step("its error", f"{_df(same.df)} df", fine(same.se)),
                    Step(
                        "t",
                        f"{fine(same.difference)} / {fine(same.se)}",
                        f"{fine(same.t)}, {d.p_value(same.p)}",
                    ),
                ),
            )
        )
    return tuple(workings)


def _brackets(value: float) -> str:
    shown = d.figure(value, 7)
    return f"({shown})" if value < 0 else shown
