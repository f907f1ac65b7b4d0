"""What the step Strength says."""

from __future__ import annotations

import math

import numpy as np

from bright_tether.core.resampling.permutation import Permutation
from bright_tether.live.findings import Findings
from bright_tether.study.rules import GroundRules
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Figure, Marking, Names, Reading, names_of
from bright_tether.words.readings.decision import decision_sentence
from bright_tether.words.readings.groups import group_story, in_each, opposite, tells_opposite, tint_name
from bright_tether.words.readings.look import built_in, far_out_places, rows_at, rows_named
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.trail import trail_sentence

#: r and ρ this far apart call for a reason.
_APART = 0.05
#: Ties are named from this share of all comparisons on.
_TIES = 0.03


def strength_reading(findings: Findings) -> Reading:
    """The coefficients in words: how strong, which way, by which test, and why they differ."""
    if findings.refusal:
        return refused(findings)
    names = names_of(findings.x_column, findings.y_column)
    reasons, markings = why_they_differ(findings, names)
    return Reading(
        headline=headline(findings),
        sentences=(
            decision_sentence(findings),
            *_exact_beside(findings),
            *_opposite(findings),
            *reasons,
            *(() if tells_opposite(findings, findings.within_groups) else group_story(findings)),
            *agreement_sentences(findings, names),
        ),
        figures=_figures(findings, names),
        beware=(*trail_sentence(findings), *built_in(findings, names), *_few(findings)),
        markings=markings,
    )


def decided(findings: Findings) -> tuple[str, float | None]:
    """The coefficient that the deciding test rests on, with its sign: its letter and value."""
    test = findings.decider
    if test == "spearman":
        return "ρ", findings.spearman.rho
    if test == "kendall":
        return "τ", findings.kendall.tau_b
    return "r", findings.pearson.r


def headline(findings: Findings) -> str:
    """Strength word, direction and sign, only where the deciding test carries them."""
    letter, value = decided(findings)
    made, digits = findings.decision, findings.rules.digits
    if value is None:
        return "One of the columns does not vary: nothing can go together with it."
    shown = d.coefficient(value, digits)
    pooled = opposite(findings, findings.within_groups)
    if pooled is not None:
        word, way = findings.rules.word_for(pooled), "rising" if pooled > 0 else "falling"
        return (
            f"Inside {tint_name(findings)}: {_a(word)} {way} relationship "
            f"(r = {d.coefficient(pooled, digits)}); across the groups it turns round."
        )
    kind = "straight-line relationship" if letter == "r" else "relationship by order"
    if made.reject is None and abs(value) == 1:
        way = "rising" if value > 0 else "falling"
        return f"A perfect {way} {kind} ({letter} = {shown})."
    basis = d.p_value(made.p) if made.instead_of is None else f"the slope decides, {d.p_value(made.p)}"
    if made.test == "slope" and made.null != 0 and not made.reject:
        stated = d.entered(findings.line.slope_0)
        return (
            f"{letter} = {shown}; these data are compatible with a slope of {stated} ({d.p_value(made.p)})."
        )
    if not made.reject:
        return f"These data are compatible with no {kind} ({letter} = {shown}, {basis})."
    if made.test == "slope" and made.null != 0:
        return f"{letter} = {shown}; the stated slope does not fit."
    way = "rising" if value > 0 else "falling"
    word = _a(findings.rules.word_for(value))
    return f"{word[0].upper()}{word[1:]} {way} {kind} ({letter} = {shown}, {basis})."


def _a(word: str) -> str:
    return f"{'an' if word[:1].lower() in 'aeiou' else 'a'} {word}"


def _exact_beside(findings: Findings) -> tuple[str, ...]:
    """Where an exact p exists for the deciding rank test: does it fall on the same side of α?"""
    test, rules = findings.decider, findings.rules
    if test not in ("spearman", "kendall"):
        return ()
    result = findings.spearman if test == "spearman" else findings.kendall
    if result.p_exact is None or result.p is None:
        return ()
    basis = "t" if test == "spearman" else "the normal curve"
    shown = d.p_value(result.p_exact)
    if rules.alternative != "two-sided":
        return (f"Over all orders of {findings.pairs.n} ranks, two-sided, the exact {shown}.",)
    if (result.p_exact <= rules.alpha) == (result.p <= rules.alpha):
        return (f"The exact {shown}, over all orders of the ranks, falls on the same side of α.",)
    return (
        f"The exact {shown}, over all orders of the ranks, falls on the other side of α: with "
        f"{findings.pairs.n} pairs {basis} is only an approximation, and the exact p is the one to go by.",
    )


def _opposite(findings: Findings) -> tuple[str, ...]:
    within = findings.within_groups
    if within is None or not tells_opposite(findings, within):
        return ()
    digits = findings.rules.digits
    whole = d.coefficient(findings.pearson.r, digits)
    return (
        f"The groups and the whole tell opposite stories: r is {in_each(within, digits)} "
        f"({d.coefficient(within.r, digits)} pooled within), and {whole} all together only because the "
        f"groups of {tint_name(findings)} stand apart. Report them apart.",
    )


def why_they_differ(findings: Findings, names: Names) -> tuple[tuple[str, ...], tuple[Marking, ...]]:
    """Likely causes where r, ρ and τ tell different things, and the rows concerned."""
    r, rho, tau = findings.pearson.r, findings.spearman.rho, findings.kendall
    if r is None or rho is None:
        return (), ()
    digits, told, markings = findings.rules.digits, [], []
    apart = abs(r - rho) >= _APART
    strays = far_out_places(findings.form)
    if apart and 0 < strays.size <= max(3, findings.pairs.n // 20):
        bare_r, bare_rho = findings.without(strays)
        if bare_r is not None and abs(bare_r - r) >= _APART / 2:
            told.append(
                f"r weighs how far out a row lies, ρ only its place: without {rows_named(findings, strays)} "
                f"r is {d.coefficient(bare_r, digits)} instead of {d.coefficient(r, digits)} "
                f"(ρ {d.coefficient(bare_rho, digits)} instead of {d.coefficient(rho, digits)})."
            )
            markings.append(Marking(f"Mark {d.count(strays.size, 'row')}", rows_at(findings, strays)))
    if findings.form.bent:
        told.append(
            "The band bends: r asks how near the points come to a straight line, "
            "ρ and τ only whether order is kept."
        )
    run = findings.reversal
    if run is not None and run.tau_without is not None:
        first, last = (rows_named(findings, end) for end in (run.places[:1], run.places[-1:]))
        told.append(
            f"From {first} to {last}, along {names.x}, order runs the other way: these "
            f"{run.places.size} rows hold {run.broken} of the {run.of_all} broken comparisons. "
            f"Without them τ would be "
            f"{d.coefficient(run.tau_without, digits)} instead of {d.coefficient(tau.tau_b, digits)}."
        )
        markings.append(
            Marking(f"Mark the {run.places.size} rows that run back", rows_at(findings, run.places))
        )
    total = findings.pairs.n * (findings.pairs.n - 1) // 2
    tied = tau.tied_x + tau.tied_y + tau.tied_both
    if tau.tau_b is not None and tied >= _TIES * total:
        told.append(
            f"{d.grouped(tied)} of {d.grouped(total)} comparisons are ties and say nothing of order: "
            f"τ-a counts them as neither ({d.coefficient(tau.tau_a, digits)}), τ-b leaves them out "
            f"({d.coefficient(tau.tau_b, digits)}); ρ shares their ranks."
        )
    if tells_opposite(findings, findings.within_groups):
        return tuple(told), tuple(markings)
    if apart and not told:
        told.append(
            f"r and ρ differ by {d.figure(abs(r - rho), 2)} without one cause that stands out: "
            "spacing within the columns counts for r and not for ρ."
        )
    if tau.tau_b is not None and not told:
        usual = 2 / math.pi * math.asin(max(-1.0, min(1.0, r)))
        told.append(
            f"The three agree: τ counts comparisons and is smaller by its making "
            f"(about {d.coefficient(usual, 2)} goes with r = {d.coefficient(r, digits)} in a normal cloud)."
        )
    return tuple(told), tuple(markings)


def agreement_sentences(findings: Findings, names: Names) -> tuple[str, ...]:
    """For two columns in one unit: what no coefficient of strength can see."""
    if not names.x_unit or names.x_unit != names.y_unit:
        return ()
    told, digits = findings.agreement, findings.rules.digits
    if told.mean_difference is None or told.sd_difference is None:
        return ()
    finest = d.decimals_for(told.sd_difference, digits, told.mean_difference)
    mean = names.in_y(d.fixed(abs(told.mean_difference), finest))
    more = "above" if told.mean_difference > 0 else "below"
    same = f"{told.exact_matches} of {d.count(findings.pairs.n, 'row')} match exactly"
    if told.p is None:
        if told.mean_difference == 0:
            return ("Both columns hold the same values in every row.",)
        return (
            f"{names.y} lies {mean} {more} {names.x} in every row: an offset that r, ρ and τ cannot see.",
        )
    concordance = d.coefficient(told.concordance, digits)
    between = d.between(told.ci, finest)
    if told.p <= findings.rules.alpha:
        offset = (
            f"On average {names.y} lies {mean} {more} {names.x} ({between}; {d.p_value(told.p)}), "
            "an offset that r, ρ and τ cannot see"
        )
    else:
        mean = d.signed(told.mean_difference, finest)
        offset = f"The mean difference {mean} is compatible with none ({between})"
    return (
        f"{offset}. Single differences run from {d.between(told.limits, finest)} (limits of agreement); "
        f"{same}; concordance {concordance}.",
    )


def _few(findings: Findings) -> tuple[str, ...]:
    n, digits = findings.pairs.n, findings.rules.digits
    if n > 10 or findings.pearson.r is None:
        return ()
    ci = findings.pearson.ci
    wide = ""
    if ci:
        wide = f"; r could be anything from {d.coefficient(ci[0], digits)} to {d.coefficient(ci[1], digits)}"
    needed = d.coefficient(findings.pearson.critical, digits).lstrip("+")
    return (f"With {n} pairs |r| must reach {needed} to count as evidence{wide}.",)


def _figures(findings: Findings, names: Names) -> tuple[Figure, ...]:
    digits, r, rho, tau = findings.rules.digits, findings.pearson, findings.spearman, findings.kendall
    unit = " · ".join(unit for unit in (names.x_unit, names.y_unit) if unit)
    told = [
        Figure("covariance", d.figure(findings.covariance.covariance, digits), unit),
        Figure("r", d.coefficient(r.r, digits), d.p_value(r.p)),
        Figure("r²", d.figure(findings.line.r2, digits), "of the spread"),
        Figure(f"t of r ({r.df} df)", d.figure(r.t, digits), d.p_value(r.p)),
        Figure("ρ", d.coefficient(rho.rho, digits), d.p_value(rho.p)),
        Figure(f"t of ρ ({rho.df} df)", d.figure(rho.t, digits), _exact(rho.p_exact)),
        Figure("τ-b", d.coefficient(tau.tau_b, digits), d.p_value(tau.p)),
        Figure("z of τ", d.figure(tau.z, digits), _exact(tau.p_exact)),
    ]
    within = findings.within_groups
    if within is not None and len(within.groups) > 1:
        told += [
            Figure(f"r, {g.name or '(blank)'}", d.coefficient(g.r, digits), f"n = {g.n}")
            for g in within.groups[:5]
        ]
        told.append(Figure("r, within groups", d.coefficient(within.r, digits), f"{within.df} df"))
    return tuple(told)


def _exact(p: float | None) -> str:
    return "" if p is None else f"exact {d.p_value(p)}"


def no_value(findings: Findings, name: str) -> str:
    """Why a coefficient has no interval or value, for the ruler."""
    result = getattr(findings, name)
    missing = result.why.get("ci")
    return f"no interval: {cause(missing)}" if missing else ""


def permutation_sentence(told: Permutation, rules: GroundRules) -> str:
    """What shuffling says."""
    if told.p is None:
        return f"No permutation p: {cause(told.why['p'])}."
    how = {"two-sided": "as far from 0", "greater": "as high", "less": "as low"}[rules.alternative]
    return (
        f"In {d.grouped(told.reached)} of {d.grouped(told.shuffles)} shuffles r came {how} as here: "
        f"permutation {d.p_value(told.p)} (± {d.figure(told.p_error, 2)} by simulation), seed {told.seed}."
    )


def places_of(findings: Findings, rows: frozenset[int]) -> np.ndarray:
    """Where marked rows stand among the pairs."""
    ids = findings.table.row_ids[findings.pairs.at]
    return np.flatnonzero(np.isin(ids, np.fromiter(rows, np.int64, len(rows))))


def agreement_note(findings: Findings) -> str:
    """What the picture of differences shows, or why it may not be right."""
    if findings.tied and findings.x_column.unit != findings.y_column.unit:
        x, y = findings.x_column, findings.y_column
        return (
            f"Agreement asks for two columns in one unit: {x.short} is in {x.unit or 'no unit'}, "
            f"{y.short} in {y.unit or 'no unit'}. The picture is right only if they measure one thing."
        )
    return (
        "Each pair's difference against its mean: the line is the mean difference, the broken lines "
        "hold most single differences, each with its interval."
    )
