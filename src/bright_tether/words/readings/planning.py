"""What Rehearse says of broken assumptions, and of how many pairs a purpose needs."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from bright_tether.core.rehearse.kinds import Judged
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import BROKEN, BrokenCase
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Reading, Step, Working, names_of, there

if TYPE_CHECKING:
    from bright_tether.core.rehearse.planning import Checked
    from bright_tether.core.rehearse.sampling import Sampling

JUDGED_NAMES: dict[Judged, str] = {
    "classical": "classical",
    "HC3": "robust (HC3)",
    "newey_west": "alike-neighbours",
}
BROKEN_NAMES = {
    "as assumed": "as assumed",
    "fanning": "fanning out (1 : 7)",
    "skewed": "skewed",
    "heavy tails": "heavy tails (t, 5 df)",
    "alike": "alike along x (0.6)",
}
_PHRASES = {
    "fanning": "residuals that fan out",
    "skewed": "skewed residuals",
    "heavy tails": "heavy-tailed residuals",
    "alike": "neighbours alike along x",
}


def plus(value: float, error: float, digits: int = 2) -> str:
    """A figure with its simulation error, at the error's own fineness."""
    decimals = d.decimals_for(error, digits + 1, value)
    return f"{d.fixed(value, decimals)} ± {d.fixed(error, decimals)}"


def share(value: float, error: float) -> str:
    """A share with its simulation error, in per cent."""
    return f"{100 * value:.1f} % ± {100 * error:.1f}"


def broken_reading(findings: Findings, cases: tuple[BrokenCase, ...] | None) -> Reading:
    """Which broken assumption makes the intervals fail, and what robust errors mend."""
    level = d.level_in_words(findings.rules.level)
    if cases is None or len(cases) < len(BROKEN):
        return Reading(headline=f"What a broken assumption does to the {level} interval of the slope.")
    plain = {case.name: case.by["classical"] for case in cases}
    failing = [case for case in cases[1:] if plain[case.name].fails]
    draws, n = plain["as assumed"].draws, findings.truth.n
    if failing:
        worst = min(failing, key=lambda case: plain[case.name].caught or 0.0)
        caught = plain[worst.name].caught or 0.0
        headline = (
            f"With {_PHRASES[worst.name]}, classical {level} intervals "
            f"would catch the true slope only {d.percent(caught)} of the time."
        )
    else:
        headline = (
            f"With {n} pairs at these x, none of the broken assumptions tried ruins the {level} interval."
        )
    mended = []
    for case in failing:
        kind: Judged = "newey_west" if case.name == "alike" else "HC3"
        before, after = plain[case.name], case.by[kind]
        done = (
            "mend that"
            if not after.fails
            else "mend part of it"
            if _better(after, before)
            else "do not mend it"
        )
        mended.append(
            f"{_capital(_PHRASES[case.name])}: caught {d.percent(before.caught)}; "
            f"{JUDGED_NAMES[kind]} errors {done} ({d.percent(after.caught)})."
        )
    calm = [_PHRASES[case.name] for case in cases[1:] if not plain[case.name].fails]
    harmless = (
        (f"No clear harm to the slope's interval at this n: {', '.join(calm)}.",) if calm and failing else ()
    )
    straight = failing and not any(case.by["classical"].biased for case in cases)
    unbiased = (
        ("The slope itself stays without bias in all of them: it is the standard error that goes wrong.",)
        if straight
        else ()
    )
    return Reading(
        headline=headline,
        sentences=(
            f"The same line, x and {n} pairs, {d.grouped(draws)} samples each, one seed; "
            "one assumption is broken at a time and the slope's intervals are counted.",
            *mended,
            *harmless,
            *unbiased,
        ),
    )


def _better(after: Sampling, before: Sampling) -> bool:
    return (after.caught or 0) > (before.caught or 0) + 2 * (after.caught_error or 0)


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def plan_reading(findings: Findings, tried: Checked | None) -> Reading:
    """How many pairs the purpose needs, and how the trial came out."""
    wish, plan = findings.wish, findings.plan
    aim = purpose_in_words(findings)
    digits = findings.rules.digits
    fine = partial(d.figure, digits=digits)
    if plan.needed is None:
        why = (
            f"even a line known exactly leaves ± {fine(plan.floor)} for one case"
            if plan.floor is not None and wish.goal <= plan.floor
            else "not even a million would do"
        )
        return Reading(headline=f"No number of pairs gives {aim}: {why}.", sentences=_assumed(findings))
    by_power = wish.purpose.endswith("power")
    shown: Callable[[float | None], str] = d.percent if by_power else fine
    reached = (
        f"They reach {'a power of ' if by_power else '± '}{shown(plan.reached)}; you have {findings.pairs.n}."
    )
    sentences = [reached, *_assumed(findings)]
    if tried is not None:
        found = share(tried.found, tried.error) if by_power else plus(tried.found, tried.error)
        said = "the test found it in" if by_power else "the half-width was on average"
        sentences.append(f"Tried out on {d.grouped(tried.draws)} samples of {tried.n}: {said} {found}.")
    headline = (
        f"{_capital(d.count(plan.needed, 'pair'))} {'is' if plan.needed == 1 else 'are'} needed for {aim}."
    )
    figures = [
        Figure("pairs needed", d.grouped(plan.needed)),
        Figure("pairs at hand", d.grouped(findings.pairs.n)),
    ]
    figures.append(Figure("by formula", shown(plan.reached)))
    if tried is not None:
        figures.append(Figure("by simulation", share(tried.found, tried.error) if by_power
                              else plus(tried.found, tried.error)))  # fmt: skip
    return Reading(headline=headline, sentences=tuple(sentences), figures=tuple(figures))


def purpose_in_words(findings: Findings) -> str:
    """What is wished for, with its goal."""
    wish, names = findings.wish, names_of(findings.x_column, findings.y_column)
    digits = findings.rules.digits
    level, goal = d.level_in_words(wish.level), d.figure(wish.goal, digits)
    at = f"{names.x} {d.figure(findings.rehearsed_at, 4)}"
    effect, alpha = d.figure(wish.effect, digits), f"α = {wish.alpha:g}"
    power = d.percent(wish.goal, 0) if wish.purpose.endswith("power") else ""
    return {
        "slope half-width": f"a slope within ± {goal} ({level})",
        "mean half-width": f"the mean of {names.y} at {at} within ± {goal} ({level})",
        "case half-width": f"one new {names.y} at {at} within ± {goal} ({level})",
        "slope power": f"{power} power to find a true slope of {effect} ({alpha})",
        "r power": f"{power} power to find a true r of {d.coefficient(wish.effect, digits)} ({alpha})",
    }[wish.purpose]


def _assumed(findings: Findings) -> tuple[str, ...]:
    wish, digits = findings.wish, findings.rules.digits
    if wish.purpose == "r power":
        return ("This takes both columns as normal and drawn anew each time.",)
    spread = f"s = {d.figure(wish.sd, digits)} and sd of x = {d.figure(wish.sd_x, digits)}"
    return (
        f"This takes new pairs to scatter like these ({spread}) and the residuals to be even and independent; "
        "wider-spread x need fewer pairs.",
    )


def plan_working(findings: Findings) -> tuple[Working, ...]:
    """The plan's ingredients."""
    fine = partial(d.figure, digits=7)
    wish, plan = findings.wish, findings.plan
    steps = [
        Step("s", "the typical residual of this line", fine(wish.sd)),
        Step("sd of x", "of these pairs", fine(wish.sd_x)),
        Step("pairs needed", "the fewest n that reach the goal", d.grouped(plan.needed)),
    ]
    if wish.purpose == "slope half-width":
        steps.append(
            Step("half-width", f"t · s / (sd of x · √(n − 1)), n = {plan.needed}", fine(plan.reached))
        )
    elif wish.purpose.endswith("half-width"):
        more = "1 + " if wish.purpose == "case half-width" else ""
        steps.append(Step("half-width", f"t · s · √({more}1/n + (x − x̄)² / ((n − 1)·sd²)), n = {plan.needed}",
                          fine(plan.reached)))  # fmt: skip
    else:
        steps.append(Step("power", f"noncentral t on {there(plan.needed) - 2} df", fine(plan.reached)))
    return (Working(f"Pairs for {purpose_in_words(findings)}", tuple(steps)),)
