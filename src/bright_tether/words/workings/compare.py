"""The calculation behind a difference of slopes."""

from __future__ import annotations

from functools import partial

from bright_tether.core.compare.by_case import ComparedByCase
from bright_tether.core.compare.groups import with_lines
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Step, Working, t_and_p, there
from bright_tether.words.readings.compare import comparison_of, df_in_words


def compare_working(findings: Findings) -> tuple[Working, ...]:
    """The t of the difference of slopes, from the two fits."""
    comparison = comparison_of(findings)
    lined = [] if comparison is None else with_lines(comparison.groups)
    if (
        comparison is None
        or comparison.slopes is None
        or len(lined) != 2
        or comparison.slopes.separate.df is None
    ):
        return ()
    (first_line, first_errors), (second_line, second_errors) = (
        (there(group.line), there(group.errors)) for group in lined
    )
    fine = partial(d.figure, digits=7)
    first, second = lined
    one = comparison.slopes.separate
    steps = [
        Step(
            f"slope, {group.name}",
            f"n = {group.n}, df = {there(group.errors).df}",
            _with_error(fine(there(group.line).slope), fine(group.slope_error)),
        )
        for group in lined
    ]
    gap = f"{fine(first_line.slope)} − {_brackets(there(second_line.slope))}"
    welch = comparison.slopes.welch
    steps += [
        Step("difference", gap, fine(one.difference)),
        Step("its error", f"√({fine(first.slope_error)}² + {fine(second.slope_error)}²)", fine(one.se)),
        Step("df", f"{first_errors.df} + {second_errors.df} ({first.n} + {second.n} − 4)"
             if first_errors.kind == "classical" else f"{first_errors.df} + {second_errors.df}", df_in_words(one.df)),
        Step("t", f"{fine(one.difference)} / {fine(one.se)}", fine(one.t)),
        Step("p", f"both tails of t on {df_in_words(one.df)} df", d.p_in_digits(one.p)),
        Step("Welch", "the same t on df from both errors", _df_and_p(fine(welch.df), welch.p)),
    ]  # fmt: skip
    if comparison.slopes.pooled is not None:
        pooled = comparison.slopes.pooled
        steps.append(
            Step(
                "pooled",
                "one variance from both sums of squares",
                t_and_p(fine(pooled.t), pooled.p, "t "),
            )
        )
    workings = [Working("The difference of two slopes", tuple(steps)), *_by_case(comparison.by_case)]
    if comparison.same_rows is not None:
        same = comparison.same_rows.slope
        workings.append(
            Working(
                "The same rows twice",
                (
                    Step("slope of the difference", "line of (first − second) on x", fine(same.difference)),
                    Step("its error", f"{df_in_words(same.df)} df", fine(same.se)),
                    Step(
                        "t",
                        f"{fine(same.difference)} / {fine(same.se)}",
                        t_and_p(fine(same.t), same.p),
                    ),
                ),
            )
        )
    return tuple(workings)


def _by_case(found: ComparedByCase | None) -> tuple[Working, ...]:
    """The same difference with what each case adds to both lines taken together."""
    one = None if found is None else found.slopes
    if found is None or one is None or one.df is None:
        return ()
    fine, sets = partial(d.figure, digits=7), 1 if found.shared else 2
    steps = (
        Step("cases", "in both lines together, and with rows in both", _cases(found.cases, found.shared)),
        Step("its error", "√Σ(what a case adds to the first slope − to the second)²", fine(one.se)),
        Step("df", f"{found.cases} − {sets}", df_in_words(one.df)),
        Step("t", f"{fine(one.difference)} / {fine(one.se)}", fine(one.t)),
        Step("p", f"both tails of t on {df_in_words(one.df)} df", d.p_in_digits(one.p)),
    )
    return (Working("The difference by case", steps),)


def _with_error(slope: str, error: str) -> str:
    return d.worded(f"{slope} ± {error}", slope, error, names=("slope", "se of slope"))


def _df_and_p(df: str, p: float | None) -> str:
    return d.worded(f"{df} df, {d.p_in_digits(p)}", df, d.p_in_digits(p), names=("df", "p"))


def _cases(every: int, shared: int) -> str:
    return d.worded(
        f"{every}, {shared}", d.grouped(every), d.grouped(shared), names=("cases", "cases in both")
    )


def _brackets(value: float) -> str:
    shown = d.figure(value, 7)
    return f"({shown})" if value < 0 else shown
