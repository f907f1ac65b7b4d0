"""What the step Rehearse says."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from bright_tether.claims.line import exact_claim
from bright_tether.claims.rehearse import (
    bias_claim,
    luck_claim,
    own_claim,
    simulated_claim,
    spread_claim,
)
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Names, Reading, Step, Working, names_of
from bright_tether.words.readings.decision import across_headline
from bright_tether.words.readings.planning import (
    broken_reading,
    plan_reading,
    plan_working,
    share,
)
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.rehearse_held import held_samples_reading, held_samples_working
from bright_tether.words.readings.rehearsed import (
    STATISTIC_NAMES,
    bias_sentence,
    caught_sentence,
    errors_in_words,
    own_sentence,
    sample_figures,
    sampled_beware,
    spread_decimals,
    spread_sentence,
)
from bright_tether.words.readings.unanswered import travelling
from bright_tether.words.said import Said

if TYPE_CHECKING:
    from bright_tether.core.rehearse.draws import Draws
    from bright_tether.core.rehearse.sampling import Sampling

SOURCES = {
    "line": "the fitted line, normal errors",
    "residuals": "the fitted line, its own residuals",
    "rows": "the rows themselves",
    "truth": "a truth you state",
}
DESIGNS = {"kept": "x kept as measured", "drawn": "x drawn again from the measured",
           "even": "x evenly spaced", "normal": "x drawn from a normal curve"}  # fmt: skip


def nothing_to_rehearse(findings: Findings) -> Reading | None:
    """The reading where there is no line, or one without residuals."""
    if findings.refusal:
        return refused(findings)
    if findings.plain.exact:
        return Reading(
            headline=Said("Every pair lies on the line: without scatter each sample would be the same.",
                          exact_claim(findings))
        )  # fmt: skip
    return None


def samples_reading(findings: Findings, drawn: Draws | None) -> Reading:
    """What drawing again and again gave, as far as it has come."""
    one = findings.sampled(drawn) if drawn is not None else None
    if one is None or drawn is None:
        return Reading(headline=Said("No samples drawn yet.", ChoiceClaim(what="samples", value="0")),
                       sentences=(_source_sentence(findings, None),))  # fmt: skip
    name, across = what(findings), across_headline(findings)
    fine = d.decimals_for(one.mean_error, findings.rules.digits, one.mean)
    bias = bias_claim(one)
    over = d.count(one.draws - one.without, "sample")
    average = Said(f"Over {over} the {name} came out at {d.fixed(one.mean, fine)} on average.", bias)
    return Reading(
        headline=across or average,
        sentences=(
            *((average,) if across else ()),
            _source_sentence(findings, drawn),
            *_without(one, name),
            bias_sentence(bias, drawn.by_rows, fine),
            spread_sentence(spread_claim(one), name),
            caught_sentence(simulated_claim(one), one),
            *own_sentence(own_claim(findings.own_value, one, drawn.by_rows), one, findings.rules.digits),
        ),
        figures=_figures(findings, one, drawn),
        beware=(*_beware(findings, drawn), *travelling(findings)),
    )


def _without(one: Sampling, name: str) -> tuple[Said, ...]:
    """Samples that have no such statistic."""
    if not one.without:
        return ()
    has = "has" if one.without == 1 else "have"
    counted = "it is" if one.without == 1 else "they are"
    words = (
        f"{d.grouped(one.without)} more {has} one value of y only and so no {name}: {counted} not counted."
    )
    return (Said(words, ChoiceClaim(what="samples_without", value=str(one.without))),)


def what(findings: Findings) -> str:
    """The statistic in words: slope, or the forecast and where."""
    name = findings.tether.rehearse.statistic
    if name != "forecast":
        return STATISTIC_NAMES[name]
    names = _names(findings)
    return f"forecast at {names.at_x(findings.rehearsed_at, d.figure(findings.rehearsed_at, 4))}"


def _names(findings: Findings) -> Names:
    return names_of(findings.x_column, findings.y_column)


def _source_sentence(findings: Findings, drawn: Draws | None) -> Said:
    chosen = findings.tether.rehearse
    n, claim = d.grouped(findings.pairs.n), ChoiceClaim(what="source", value=chosen.source)
    if chosen.source == "rows":
        again = (
            f"; {d.count(drawn.redrawn, 'draw')} of one x only drawn anew" if drawn and drawn.redrawn else ""
        )
        if findings.drawn_cases is not None and findings.case_story is not None:
            cases = d.grouped(findings.case_story.cases)
            return Said(
                f"Each sample is {cases} of the {cases} cases with all their rows, drawn with replacement, so that x "
                f"changes with them (seed {chosen.seed}{again}).",
                claim,
            )
        return Said(
            f"Each sample is {n} of the {n} rows, drawn with replacement, so that x changes with them "
            f"(seed {chosen.seed}{again}).",
            claim,
        )
    truth = findings.truth
    names, digits = _names(findings), findings.rules.digits + 1
    line = (
        f"{names.y} = {d.figure(truth.intercept, digits)} + {d.figure(truth.slope, digits)} · {names.term_x}"
    )
    line = line.replace("+ −", "− ")
    errors = errors_in_words(truth, chosen.source, digits)
    rest = f"{DESIGNS[truth.design]}; seed {chosen.seed}"
    return Said(f"Each sample has {d.grouped(truth.n)} pairs on {line}, with {errors}; {rest}.", claim)


def _figures(findings: Findings, one: Sampling, draws: Draws) -> tuple[Figure, ...]:
    whole = draws.done == findings.tether.rehearse.draws
    figures = sample_figures(one, findings.rules.digits, whole=whole)
    if one.percentile is None and draws.by_rows and whole and one.statistic in ("slope", "intercept", "r"):
        again, spread = findings.bootstrapped.outcome, spread_decimals(one, findings.rules.digits)
        drawn = getattr(again, one.statistic)
        level = d.level_in_words(one.level)
        figures += (
            Figure(f"percentile, {level}", d.between(drawn.percentile, spread)),
            Figure(f"BCa, {level}", d.between(drawn.bca, spread)),
        )
    return figures


def _beware(findings: Findings, drawn: Draws) -> tuple[Said, ...]:
    said = []
    if findings.fit is not findings.plain:
        said.append(Said("The line in force is weighted or through the origin; samples are fitted with the plain line.",
                         ChoiceClaim(what="plain_line")))  # fmt: skip
    source = findings.tether.rehearse.source
    return (*said, *sampled_beware(source, by_rows=drawn.by_rows, n=findings.pairs.n))


def luck_reading(findings: Findings, drawn: Draws | None) -> Reading:
    """How large |r| gets without any relationship."""
    from bright_tether.core.rehearse.sampling import luck_of
    from bright_tether.core.rehearse.truth import null_reach

    alpha, r, digits = findings.rules.alpha, findings.pearson.r, findings.rules.digits
    found = luck_of(drawn, r, alpha) if drawn is not None and r is not None else None
    claim = luck_claim(findings, null_reach(findings.pairs.n, alpha), found)
    often = d.percent(alpha, 1 if (100 * alpha) % 1 else 0)
    headline = Said(
        f"With {d.grouped(claim.n)} pairs and no relationship, luck gives |r| ≥ {claim.reach:.{digits}f} in {often} "
        "of samples.",
        claim,
    )
    if found is None:
        return Reading(headline=headline)
    far, draws = d.relation("r", claim.r, digits), d.grouped(found.draws)
    how = f"{'Not one' if not found.beyond else d.grouped(found.beyond)} of them reached the size of your {far}."
    return Reading(
        headline=headline,
        sentences=(
            Said(
                f"Of {draws} samples drawn without one, {share(found.passed, found.error)} came that "
                f"far; the farthest reached |r| = {found.largest:.{digits}f}.",
                claim,
            ),
            Said(how, claim),
            Said(
                "True chance clumps and leaves gaps; values spread evenly, as the eye expects them, do not come by "
                "luck. The two pictures on top set one beside the other.",
                ChoiceClaim(what="luck"),
            ),
        ),
        figures=(
            Figure(f"|r| by luck, {often}", d.fixed(claim.reach, digits)),
            Figure("your r", d.coefficient(claim.r, digits)),
            Figure(
                "largest by luck",
                d.fixed(found.largest, digits),
                d.worded(f"in {draws}", draws, names=("draws",)),
            ),
        ),
    )


def rehearse_reading(findings: Findings, view: str, run: Any) -> Reading:
    """The reading of a view. run : what there is of its run, None before it."""
    nothing = nothing_to_rehearse(findings)
    if nothing:
        return nothing
    tell: dict[str, Callable[[Findings, Any], Reading]] = {
        "samples": samples_reading, "luck": luck_reading, "assumptions": broken_reading, "pairs": plan_reading,
        "held": held_samples_reading,
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
    if view == "held":
        return held_samples_working(findings)
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
        caught = ", its interval held the truth" if inside else ", its interval missed the truth"
    shown = "" if sample < len(drawn.samples_x) else "; its points are not kept"
    return f"plum: sample {sample + 1}, {value}{caught}{shown}"
