"""What the step Rehearse says."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Names, Reading, Step, Working, names_of
from bright_tether.words.readings.planning import (
    JUDGED_NAMES,
    broken_reading,
    plan_reading,
    plan_working,
    plus,
    share,
)
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.unanswered import unanswered_sentence

if TYPE_CHECKING:
    from bright_tether.core.rehearse.draws import Draws
    from bright_tether.core.rehearse.sampling import Sampling

SOURCES = {
    "line": "the fitted line, normal errors",
    "residuals": "the fitted line, its own residuals",
    "rows": "the rows themselves",
    "truth": "a truth you state",
}
STATISTIC_NAMES = {
    "slope": "slope",
    "intercept": "intercept",
    "r": "r",
    "r2": "r²",
    "forecast": "forecast",
}
SHAPES = {"normal": "normal", "skewed": "skewed", "heavy": "heavy-tailed", "own": "its own residuals"}
PATTERNS = {"even": "one sd everywhere", "fanning": "fanning with x"}
DESIGNS = {"kept": "x kept as measured", "drawn": "x drawn again from the measured",
           "even": "x evenly spaced", "normal": "x drawn from a normal curve"}  # fmt: skip


def nothing_to_rehearse(findings: Findings) -> Reading | None:
    """The reading where there is no line, or one without residuals."""
    if findings.refusal:
        return refused(findings)
    if findings.plain.exact:
        return Reading(headline="Every pair lies on the line: without scatter each sample would be the same.")
    return None


def samples_reading(findings: Findings, made: Draws | None) -> Reading:
    """What drawing again and again gave, as far as it has come."""
    one = findings.sampled(made) if made is not None else None
    if one is None or made is None:
        return Reading(headline="No samples drawn yet.", sentences=(_source_sentence(findings, None),))
    name = what(findings)
    fine = d.decimals_for(one.mean_error, findings.rules.digits, one.mean)
    return Reading(
        headline=f"Over {d.grouped(one.draws)} samples the {name} came out at {d.fixed(one.mean, fine)} "
        "on average.",
        sentences=(
            _source_sentence(findings, made),
            _bias_sentence(one, made, fine),
            *_spread_sentence(findings, one),
            *_caught_sentence(findings, one),
            *_own_sentence(findings, one, made),
        ),
        figures=_figures(findings, one, made),
        beware=(*_beware(findings, one, made), *unanswered_sentence(findings)),
    )


def what(findings: Findings) -> str:
    """The statistic in words: slope, or the forecast and where."""
    name = findings.tether.rehearse.statistic
    if name != "forecast":
        return STATISTIC_NAMES[name]
    names = _names(findings)
    return f"forecast at {names.in_x(f'{names.x} {d.figure(findings.rehearsed_at, 4)}')}"


def _names(findings: Findings) -> Names:
    return names_of(findings.x_column, findings.y_column)


def _source_sentence(findings: Findings, made: Draws | None) -> str:
    chosen = findings.tether.rehearse
    n = findings.pairs.n
    if chosen.source == "rows":
        again = f"; {d.count(made.redrawn, 'draw')} of one x only drawn anew" if made and made.redrawn else ""
        return (
            f"Each sample is {n} of the {n} rows, drawn with replacement, so that x changes with them "
            f"(seed {chosen.seed}{again})."
        )
    truth = findings.truth
    names, digits = _names(findings), findings.rules.digits + 1
    line = f"{names.y} = {d.figure(truth.intercept, digits)} + {d.figure(truth.slope, digits)} · {names.x}"
    line = line.replace("+ −", "− ")
    if chosen.source == "residuals":
        errors = f"residuals drawn from its own, widened to their sd {d.figure(truth.sd, digits)}"
    else:
        errors = f"{SHAPES[truth.shape]} errors of sd {d.figure(truth.sd, digits)}"
        errors += f", {PATTERNS[truth.pattern]}" if truth.pattern != "even" else ""
        errors += f", neighbours along x alike ({truth.alike:g})" if truth.alike else ""
    rest = f"{DESIGNS[truth.design]}; seed {chosen.seed}"
    return f"Each sample has {truth.n} pairs on {line}, with {errors}; {rest}."


def _bias_sentence(one: Sampling, made: Draws, fine: int) -> str:
    truth = "the line of all rows" if made.by_rows else "the truth"
    size = f"{d.signed(one.bias, fine + 1)} ± {d.fixed(one.mean_error, fine + 1)}"
    verdict = (
        "more than simulation error explains: it is biased here"
        if one.biased
        else "no more than simulation error"
    )
    decimals = d.decimals_for(one.mean_error, 3, one.truth)
    return f"Against {truth}, {d.fixed(one.truth, decimals)}, that is off by {size}: {verdict}."


def _spread_sentence(findings: Findings, one: Sampling) -> tuple[str, ...]:
    sd = plus(one.sd, one.sd_error)
    if not one.formula:
        return (f"The {STATISTIC_NAMES[one.statistic]} spreads with sd {sd} from sample to sample.",)
    formula = d.fixed(one.formula, d.decimals_for(one.sd_error, 3, one.formula))
    gap = abs(one.sd - one.formula) > 3 * one.sd_error
    more = "more" if one.sd > one.formula else "less"
    verdict = f": it really varies {more} than the formula says" if gap else ", as it should"
    return (
        f"From sample to sample it varies with sd {sd}; the formula's standard error is {formula}{verdict}.",
    )


def _caught_sentence(findings: Findings, one: Sampling) -> tuple[str, ...]:
    if one.caught is None or one.caught_error is None:
        return (f"{STATISTIC_NAMES[one.statistic].capitalize()} has no interval here, so none is judged.",)
    level = d.level_in_words(one.level)
    caught = share(one.caught, one.caught_error)
    kind = "" if one.statistic == "r" else f", by {JUDGED_NAMES[one.judged]} errors,"
    if one.fails:
        return (
            f"Only {caught} of the {level} intervals{kind} caught the truth: "
            "they promise more than they keep.",
        )
    if one.caught > one.level + 3 * one.caught_error:
        return (
            f"{caught} of the {level} intervals{kind} caught the truth: they are wider than they need be.",
        )
    return (f"{caught} of the {level} intervals{kind} caught the truth, as they promise.",)


def _own_sentence(findings: Findings, one: Sampling, made: Draws) -> tuple[str, ...]:
    from bright_tether.core.rehearse.sampling import share_as_far

    own = findings.own_value
    if own is None or made.by_rows:
        return ()
    digits = d.decimals_for(one.sd, findings.rules.digits + 1, own)
    if abs(own - one.truth) <= 1e-6 * one.sd:  # drawn from the fitted line itself
        return (
            f"Your sample's own, {d.fixed(own, digits)}, is the truth drawn from: it stands in the middle.",
        )
    part = share_as_far(one, own)
    told = f"{d.percent(part)} of the" if part else f"none of the {d.grouped(one.draws)}"
    return (f"Your sample's own is {d.fixed(own, digits)}: {told} samples lie as far from the truth.",)


def _figures(findings: Findings, one: Sampling, made: Draws) -> tuple[Figure, ...]:
    fine = d.decimals_for(one.mean_error, findings.rules.digits, one.mean)
    spread = d.decimals_for(one.sd_error, findings.rules.digits, one.sd)
    told = [
        Figure("mean", d.fixed(one.mean, fine), d.half(one.mean_error, fine)),
        Figure("truth", d.fixed(one.truth, fine)),
        Figure("sd", d.fixed(one.sd, spread), d.half(one.sd_error, spread)),
    ]
    if one.formula is not None:
        told.append(Figure("se by formula", d.fixed(one.formula, spread)))
    if one.caught is not None and one.caught_error is not None:
        told.append(Figure("caught", f"{100 * one.caught:.1f} %", f"± {100 * one.caught_error:.1f}"))
    whole = made.done == findings.tether.rehearse.draws
    if made.by_rows and whole and one.statistic in ("slope", "intercept", "r"):
        again = findings.bootstrapped.outcome
        drawn = getattr(again, one.statistic)
        level = d.level_in_words(one.level)
        told += [
            Figure(f"percentile, {level}", d.between(drawn.percentile, spread)),
            Figure(f"BCa, {level}", d.between(drawn.bca, spread)),
        ]
    return tuple(told)


def _beware(findings: Findings, one: Sampling, made: Draws) -> tuple[str, ...]:
    told = []
    if findings.fit is not findings.plain:
        told.append(
            "The line in force is weighted or through the origin; samples are fitted with the plain line."
        )
    if findings.tether.rehearse.source in ("line", "residuals"):
        told.append("What is rehearsed is the fitted line as if it were true; it cannot show that it is.")
    if made.by_rows and findings.pairs.n < 20:
        told.append(f"With {findings.pairs.n} rows a resampling interval tends to be too narrow.")
    return tuple(told)


def luck_reading(findings: Findings, made: Draws | None) -> Reading:
    """How large |r| gets without any relationship."""
    from bright_tether.core.rehearse.sampling import luck_of
    from bright_tether.core.rehearse.truth import null_reach

    n, alpha, r, digits = findings.pairs.n, findings.rules.alpha, findings.pearson.r, findings.rules.digits
    reach = null_reach(n, alpha)
    often = d.percent(alpha, 1 if (100 * alpha) % 1 else 0)
    headline = (
        f"With {n} pairs and no relationship, luck gives |r| ≥ {reach:.{digits}f} in {often} of samples."
    )
    one = luck_of(made, r, alpha) if made is not None and r is not None else None
    if one is None:
        return Reading(headline=headline)
    far, beyond = d.coefficient(r, digits), one.beyond
    how = {0: f"None of them reached your r = {far}."}.get(
        beyond, f"{d.count(beyond, 'of them reached', 'of them reached')} the size of your r = {far}."
    )
    return Reading(
        headline=headline,
        sentences=(
            f"Of {d.grouped(one.draws)} samples drawn without one, {share(one.passed, one.error)} came that far; "
            f"the farthest reached |r| = {one.largest:.{digits}f}.",
            how,
            "True chance clumps and leaves gaps; values spread evenly, as the eye expects them, do not come "
            "by luck. The two pictures on top set one beside the other.",
        ),
        figures=(
            Figure(f"|r| by luck, {often}", f"{reach:.{digits}f}"),
            Figure("your r", far),
            Figure("largest by luck", f"{one.largest:.{digits}f}", f"in {d.grouped(one.draws)}"),
        ),
    )


def rehearse_reading(findings: Findings, view: str, run: Any) -> Reading:
    """The reading of a view. run : what there is of its run, None before it."""
    nothing = nothing_to_rehearse(findings)
    if nothing:
        return nothing
    tell: dict[str, Callable[[Findings, Any], Reading]] = {
        "samples": samples_reading, "luck": luck_reading, "assumptions": broken_reading, "pairs": plan_reading,
    }  # fmt: skip
    return tell[view or "samples"](findings, run)


def rehearse_working(findings: Findings, view: str = "samples") -> tuple[Working, ...]:
    """The formula's standard error, or that of the plan, with its numbers."""
    if nothing_to_rehearse(findings):
        return ()
    fine = partial(d.figure, digits=7)
    sums, line, n = findings.sums, findings.plain_line, findings.pairs.n
    if view == "pairs" and findings.plan.needed is not None:
        return plan_working(findings)
    steps = [
        Step("s", f"√(sum of squared residuals / {n - 2})", fine(line.s)),
        Step("Sxx", "Σ(x − x̄)²", fine(sums.sxx)),
        Step("se of the slope", "s / √Sxx", fine(line.se_slope)),
    ]
    return (Working("The standard error of the slope by formula", tuple(steps)),)


def sample_sentence(findings: Findings, drawn: Draws | None, sample: int | None) -> str:
    """What one sample gave, from 0; None for your own."""
    if sample is None or drawn is None:
        return "bright: your line and your value; dashed: the truth"
    one = findings.sampled(drawn)
    value = "" if one is None else d.figure(one.values[sample], 5)
    caught = ""
    if one is not None and one.low.size:
        inside = one.low[sample] <= one.truth <= one.high[sample]
        caught = ", its interval caught the truth" if inside else ", its interval missed the truth"
    shown = "" if sample < len(drawn.samples_x) else "; its points are not kept"
    return f"plum: sample {sample + 1}, {value}{caught}{shown}"
