"""The results as plain text: the readings and figures of the screen, and the tables behind them."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

import numpy as np

from bright_tether.account.record import Wanted, record
from bright_tether.account.values import cause_of
from bright_tether.claims.rows import rows_claim
from bright_tether.core.checks.together import Checks
from bright_tether.core.compare.differences import Difference
from bright_tether.core.results import Cause, OutOfRange, Refusal, Why
from bright_tether.live.comparison import Comparison
from bright_tether.live.far import FarFindings
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.reading import Figure, Reading, names_of, there
from bright_tether.words.readings.compare import compare_reading
from bright_tether.words.readings.doubts import doubts_reading
from bright_tether.words.readings.forecast import forecast_reading
from bright_tether.words.readings.gather import gather_reading
from bright_tether.words.readings.line import equation, line_reading
from bright_tether.words.readings.local import local_sentences
from bright_tether.words.readings.look import look_reading
from bright_tether.words.readings.other_choices import other_choices_reading
from bright_tether.words.readings.rows import rows_sentence, share_in_words
from bright_tether.words.readings.standing import standing_sentence
from bright_tether.words.readings.strength import permutation_sentence, strength_reading
from bright_tether.words.said import capital, listed

_WIDTH = 22


def text_account(findings: Findings, wanted: Wanted = Wanted()) -> str:  # noqa: B008
    """What the steps say, with the rules in force; where there is no line, what there is all the same.

    Raises Refusal for what no data mend.
    """
    if isinstance(findings, FarFindings):
        return _by_sums(findings, wanted)
    try:
        if findings.refusal is None:
            return _whole(findings, wanted)
        cause_of(findings.refusal)
    except OutOfRange:
        pass  # one of the readings rests on a value that no double holds
    return _little(findings, wanted)


def _whole(findings: Findings, wanted: Wanted) -> str:
    """Every step's reading, and what was asked for beside."""
    parts = [
        *(f"These rows are {one}." for one in share_in_words(findings)),
        f"{_reading(gather_reading(findings))}\n{standing_sentence(findings)}",
        _reading(look_reading(findings)),
        _reading(strength_reading(findings)),
        f"{equation(findings)}\n\n{_reading(line_reading(findings))}",
        checks_text(findings),
    ]
    compared = findings.tether.compare
    if wanted.readings:
        parts.append(_reading(doubts_reading(findings)))
        parts += [_reading(compare_reading(findings))] if compared.group or compared.second else []
        parts += [_reading(forecast_reading(findings))] if wanted.at or wanted.inverse_at else []
    if compared.group or compared.second:
        parts.append(comparison_text(findings))
    if wanted.choices:
        parts.append(_reading(other_choices_reading(findings, findings.other_choices.outcome)))
    if wanted.widths:
        parts.append(_reading(step_of("forecast").reading_of(findings, "widths")))
    parts += [str(said) for said in local_sentences(findings)]
    if wanted.agreement:
        parts.append(_agreement(findings))
    if wanted.resample:
        parts.append(_resampling(findings, wanted.resample, wanted.seed))
    if wanted.at:
        parts.append(_forecasts(findings, wanted.at, wanted.mean_of))
    if wanted.inverse_at:
        parts.append(_inverse(findings, wanted.inverse_at, wanted.mean_of))
    if wanted.rows:
        parts.append(_rows(findings))
    return "\n\n".join(parts) + "\n"


def _by_sums(findings: FarFindings, wanted: Wanted) -> str:
    """What the sums over rows that stay where they are give. Raises Refusal."""
    line, by, digits = findings.line, findings.coefficients, findings.rules.digits
    level = f"{d.level_in_words(findings.rules.level)}, {ERROR_NAMES[findings.errors.kind]} errors"
    figures = [
        Figure("slope", d.figure(line.slope, digits + 1), f"{_ends(by.ci_slope, digits)} ({level})"),
        Figure(
            "intercept", d.figure(line.intercept, digits + 1), f"{_ends(by.ci_intercept, digits)} ({level})"
        ),
        Figure("residual sd", d.figure(line.s, digits + 1)),
        Figure("r", d.figure(findings.pearson.r, digits + 1), d.p_value(findings.pearson.p)),
    ]
    with suppress(Refusal):
        figures.append(
            Figure("ρ", d.figure(findings.spearman.rho, digits + 1), d.p_value(findings.spearman.p))
        )
    with suppress(Refusal):
        kendall = findings.kendall
        figures.append(Figure("τ", d.figure(kendall.tau_b, digits + 1), d.p_value(kendall.p)))
    parts = [
        str(rows_sentence(rows_claim(findings))),
        "\n".join((equation(findings), *map(_figure, figures))),
        checks_text(findings),
    ]
    lacking = [name for name, why in _whys(findings.checks).items() if Cause.EVERY_ROW in why.values()]
    if lacking:
        need = "needs" if len(lacking) == 1 else "need"
        parts[-1] += f"\n{capital(listed(lacking))} {need} every row at once: --share ROWS draws some."
    if findings.tether.compare.group:
        parts.append(comparison_text(findings))
    if wanted.at:
        parts.append(_forecasts(findings, wanted.at, wanted.mean_of))
    if wanted.inverse_at:
        parts.append(_inverse(findings, wanted.inverse_at, wanted.mean_of))
    return "\n\n".join(parts) + "\n"


def _whys(checks: Checks) -> dict[str, Why]:
    """Why checks have no value, by the names that they stand under."""
    return {
        "repeated x": checks.lack_of_fit.why, "the spread ratio": checks.why,
        "Durbin–Watson": checks.durbin_watson.why, "runs": checks.runs.why,
        "Shapiro–Wilk": checks.shapiro_wilk.why, "Anderson–Darling": checks.anderson_darling.why,
    }  # fmt: skip


def _ends(interval: tuple[float, float] | None, digits: int) -> str:
    """An interval, as finely as its width allows."""
    return d.between(interval, d.decimals_of(interval, digits, interval and interval[0]))


def _little(findings: Findings, wanted: Wanted) -> str:
    """What so few or such odd pairs give."""
    results, digits = record(findings, wanted), findings.rules.digits
    figures = [("covariance", results["correlation"]["covariance"])]
    for name, key in (("pearson", "r"), ("spearman", "rho"), ("kendall", "tau_b")):
        figures.append((key, results["correlation"][name][key]))
    figures += [(name, results["line"][name]) for name in ("slope", "intercept")]
    lines = [_figure(Figure(name, d.figure(value, digits))) for name, value in figures if value is not None]
    return "\n".join((_reading(gather_reading(findings)), *lines)) + "\n"


def checks_text(findings: Findings) -> str:
    """The checks of the residuals, one a line."""
    checks, digits = findings.checks, findings.rules.digits
    lines = ["Checks of the residuals"]
    for name, value, beside in (
        ("curvature t", checks.curvature.t, d.p_value(checks.curvature.p)),
        ("powers of fitted, F", checks.reset.f, d.p_value(checks.reset.p)),
        ("repeated x, F", checks.lack_of_fit.f, d.p_value(checks.lack_of_fit.p)),
        ("Breusch–Pagan", checks.breusch_pagan.lm, d.p_value(checks.breusch_pagan.p)),
        ("White", checks.white.lm, d.p_value(checks.white.p)),
        ("spread ratio", checks.spread_ratio, "upper over lower third of x"),
        ("Durbin–Watson d", checks.durbin_watson.d, d.p_value(checks.durbin_watson.p_two_sided)),
        ("runs z", checks.runs.z, d.p_value(checks.runs.p)),
        ("Shapiro–Wilk W", checks.shapiro_wilk.w, d.p_value(checks.shapiro_wilk.p)),
        ("Anderson–Darling A²*", checks.anderson_darling.a2_star, d.p_value(checks.anderson_darling.p)),
        ("Jarque–Bera", checks.jarque_bera.jb, d.p_value(checks.jarque_bera.p)),
    ):
        lines.append(_figure(Figure(name, d.figure(value, digits), beside)))
    return "\n".join(lines)


def comparison_text(findings: Findings) -> str:
    """The lines side by side, the differences, the rungs."""
    comparison, digits = findings.comparison, findings.rules.digits
    lines = ["Lines side by side"]
    for group in comparison.groups:
        if group.line is None:
            lines.append(_figure(Figure(group.name, d.NONE, f"n = {group.n}: {cause(there(group.cause))}")))
            continue
        finest = d.decimals_for(group.slope_error, digits, group.line.slope)
        ci = None if group.judged is None else group.judged.ci_slope
        slope, between = d.fixed(group.line.slope, finest), d.between(ci, finest)
        lines.append(_figure(Figure(f"slope, {group.name}", slope, f"{between}   n = {group.n}")))
    for name, one in _differences(comparison):
        if one is not None:
            finest = d.decimals_for(one.se, digits)
            basis = f"t = {d.figure(one.t, digits)}, {d.figure(one.df, digits)} df, {d.p_value(one.p)}"
            lines.append(_figure(Figure(name, d.signed(one.difference, finest),
                                        f"{d.between(one.ci, finest)}   {basis}")))  # fmt: skip
    rungs, by = (comparison.ladder, "") if comparison.by_case is None else (comparison.by_case, " by case")
    for name, test in (
        (f"parallel, F{by}", rungs.parallel),
        (f"same height, F{by}", rungs.same_height),
        (f"one line for all, F{by}", rungs.coincident),
    ):
        lines.append(_figure(Figure(name, d.figure(test.f, digits), d.p_value(test.p))))
    if comparison.equivalence is not None:
        within = "shown" if comparison.equivalence.equivalent else "not shown"
        p = "" if comparison.equivalence.p is None else d.p_value(comparison.equivalence.p)
        lines.append(_figure(Figure("within the margin", within, p)))
    return "\n".join(lines)


def _differences(comparison: Comparison) -> Iterator[tuple[str, Difference | None]]:
    if comparison.slopes is not None:
        yield "slopes apart", comparison.slopes.separate
        yield "slopes, Welch", comparison.slopes.welch
        yield "slopes, pooled", comparison.slopes.pooled
    if comparison.intercepts is not None:
        yield "intercepts apart", comparison.intercepts.separate
    if comparison.by_case is not None:
        yield "slopes, by case", comparison.by_case.slopes
        yield "intercepts, by case", comparison.by_case.intercepts
    if comparison.same_rows is not None:
        yield "slopes, same rows", comparison.same_rows.slope
        yield "intercepts, same rows", comparison.same_rows.intercept


def _inverse(findings: Findings, ys: tuple[float, ...], mean_of: int) -> str:
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    level = d.level_in_words(findings.rules.level)
    lines = [f"Which {names.x} gives this {names.y}: {level} for new cases, {level} for the mean response"]
    for y in ys:
        one, mean = findings.inverse(y, mean_of), findings.inverse(y, None)
        if one.x is None:
            lines.append(f"  {names.y} {d.entered(y)}: none, {cause(one.why['x'])}")
            continue
        wide = None if one.ci is None else one.ci[1] - one.ci[0]
        finest = d.decimals_for(wide, digits, one.x)
        shown = f"{d.fixed(one.x, finest)}   {d.between(one.ci, finest)}   {d.between(mean.ci, finest)}"
        lines.append(f"  {names.y} {d.entered(y)}: {shown}")
    return "\n".join(lines)


def _reading(reading: Reading) -> str:
    lines = [reading.headline, *reading.sentences]
    lines += [reading.caption] if reading.caption else []
    lines += [_figure(figure) for figure in reading.figures]
    lines += [f"Beware: {said}" for said in reading.beware]
    return "\n".join(lines)


def _figure(figure: Figure) -> str:
    return f"  {figure.name:<{_WIDTH}} {figure.value:>12}  {figure.beside}".rstrip()


def _resampling(findings: Findings, draws: int, seed: int) -> str:
    resampled, digits = findings.bootstrap(draws, seed), findings.rules.digits
    level = d.level_in_words(findings.rules.level)
    lines = [
        f"Rows drawn again {d.grouped(resampled.draws)} times, seed {seed}: se, {level} percentile, {level} BCa"
    ]
    for name in ("slope", "intercept", "r"):
        one = getattr(resampled, name)
        finest = d.decimals_for(one.se, digits)
        lines.append(_figure(Figure(name, d.fixed(one.se, finest), f"{d.between(one.percentile, finest)}   "
                                    f"{d.between(one.bca, finest)}")))  # fmt: skip
    lines.append(permutation_sentence(findings.permutation(draws, seed).outcome, findings.rules))
    return "\n".join(lines)


def _agreement(findings: Findings) -> str:
    agreement, digits = findings.agreement, findings.rules.digits
    finest = d.decimals_for(agreement.sd_difference, digits, agreement.mean_difference)
    figures = (
        Figure(
            "mean difference", d.signed(agreement.mean_difference, finest), d.between(agreement.ci, finest)
        ),
        Figure("limits of agreement", d.between(agreement.limits, finest)),
        Figure("slope of the differences", d.figure(agreement.slope, digits), d.p_value(agreement.slope_p)),
        Figure("exact matches", str(agreement.exact_matches), f"of {findings.pairs.n}"),
        Figure("concordance", d.coefficient(agreement.concordance, digits)),
    )
    return "\n".join(("Agreement, y less x", *map(_figure, figures)))


def _forecasts(findings: Findings, at: tuple[float, ...], mean_of: int) -> str:
    forecasts, digits = findings.forecasts(at, mean_of), findings.rules.digits
    names = names_of(findings.x_column, findings.y_column)
    level = d.level_in_words(findings.rules.level)
    new = "one new case" if mean_of == 1 else f"the mean of {mean_of} new cases"
    lines = [f"Forecast of {names.y}: fitted, {level} for the mean response, {level} for {new}"]
    for i, x in enumerate(forecasts.x.tolist()):
        if not np.isfinite(forecasts.fitted[i]):
            lines.append(
                f"  {names.day_of(x) or f'{names.x} {d.entered(x)}'}: none, {cause(forecasts.why['fitted'])}"
            )
            continue
        half = float(forecasts.half_ci[i])
        finest = d.decimals_for(half if np.isfinite(half) else None, digits, float(forecasts.fitted[i]))
        mean, one = (
            d.between(tuple(ends[i]) if np.isfinite(ends[i]).all() else None, finest)
            for ends in (forecasts.ci, forecasts.pi)
        )
        beyond = "  (outside the measured range)" if forecasts.outside[i] else ""
        shown = d.fixed(float(forecasts.fitted[i]), finest)
        lines.append(f"  {names.day_of(x) or f'{names.x} {d.entered(x)}'}: {shown}   {mean}   {one}{beyond}")
    return "\n".join(lines)


def _rows(findings: Findings) -> str:
    rows, digits = findings.rows, findings.rules.digits
    names = ("row", "x", "y", "fitted", "residual", "leverage", "studentised", "cooks_d")
    lines = ["  ".join(f"{name:>12}" for name in names)]
    for values in zip(*(getattr(rows, name).tolist() for name in names), strict=True):
        shown = [str(values[0]), *(d.figure(value, digits + 2) for value in values[1:])]
        lines.append("  ".join(f"{text:>12}" for text in shown))
    return "\n".join(lines)
