"""What Rehearse says of broken assumptions, and of how many pairs a purpose needs."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from bright_tether.claims.rehearse import (
    BiasClaim,
    BrokenClaim,
    SimulatedClaim,
    SpreadClaim,
    TrialClaim,
    broken_claim,
    plan_claim,
    sure,
)
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.core.rehearse.kinds import Judged
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import BROKEN, BrokenCase
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Reading, Step, Working, names_of, there
from bright_tether.words.said import Said, capital, listed
from bright_tether.words.shown import Shown

if TYPE_CHECKING:
    from bright_tether.core.rehearse.planning import Checked

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


_WITH_ERROR = ("", ", simulation error")


def plus(value: float, error: float, digits: int = 2) -> str:
    """A figure with its simulation error, at the error's own fineness."""
    decimals = d.decimals_for(error, digits + 1, value)
    return Shown(f"{d.fixed(value, decimals)} ± {d.fixed(error, decimals)}", value, error, names=_WITH_ERROR)


def share(value: float, error: float) -> str:
    """A share with its simulation error, in per cent."""
    return Shown(f"{100 * value:.1f} % ± {100 * error:.1f}", 100 * value, 100 * error,
                 names=(" (%)", " (%), simulation error"))  # fmt: skip


def by_luck_in_words(claim: SimulatedClaim | BiasClaim | SpreadClaim) -> str:
    """How often luck alone goes so far; "" of what is within simulation error, or too far for luck."""
    if claim.verdict == "within simulation error" or not claim.by_luck or sure(claim):
        return ""
    return f"as about 1 run in {round(1 / claim.by_luck)} is by luck alone"


_DONE = {"mended": "mend that", "in part": "mend part of it", "not mended": "do not mend it"}


def broken_reading(findings: Findings, cases: tuple[BrokenCase, ...] | None) -> Reading:
    """Which broken assumption makes the intervals fail, and what robust errors mend."""
    level = d.level_in_words(findings.rules.level)
    claims = [one for case in (cases or ())[1:] if (one := broken_claim(case)) is not None]
    if cases is None or len(cases) < len(BROKEN) or not claims:
        asked = ChoiceClaim(what="broken")
        return Reading(
            headline=Said(f"What a broken assumption does to the {level} interval of the slope.", asked)
        )
    failing = [one for one in claims if one.mended is not None]
    calm = [one for one in claims if one.verdict == "no harm"]
    draws, n = cases[0].by["classical"].draws, findings.truth.n
    return Reading(
        headline=_broken_headline(failing, claims, n, level),
        sentences=(
            Said(
                f"The same line, x and {n} pairs, {d.grouped(draws)} samples each, one seed; one assumption is broken "
                "at a time and the slope's intervals are counted.",
                ChoiceClaim(what="samples", value=str(draws)),
            ),
            *(_mended(one) for one in failing),
            *(_unsure(one) for one in claims if one.verdict == "unsure"),
            *_harmless(calm if failing else []),
            *_unbiased(failing, claims),
        ),
    )


def _broken_headline(failing: list[BrokenClaim], claims: list[BrokenClaim], n: int, level: str) -> Said:
    if not failing:
        return Said(f"With {n} pairs at these x, none of the broken assumptions tried ruins the {level} interval.",
                    *claims)  # fmt: skip
    worst = min(failing, key=lambda one: one.classical.share)
    return Said(
        f"With {_PHRASES[worst.name]}, classical {level} intervals would hold the true slope only "
        f"{d.percent(worst.classical.share)} of the time.",
        worst,
    )


def _mended(claim: BrokenClaim) -> Said:
    after = "" if claim.mended is None else f" ({d.percent(claim.mended.share)})"
    return Said(
        f"{capital(_PHRASES[claim.name])}: held {d.percent(claim.classical.share)}; {JUDGED_NAMES[claim.by]} errors "
        f"{_DONE[claim.verdict]}{after}.",
        claim,
    )


def _unsure(claim: BrokenClaim) -> Said:
    short = f"held {d.percent(claim.classical.share)}, short of what is promised {by_luck_in_words(claim.classical)}"
    return Said(f"{capital(_PHRASES[claim.name])}: {short}; more samples would tell.", claim)


def _harmless(claims: list[BrokenClaim]) -> tuple[Said, ...]:
    if not claims:
        return ()
    calm = listed(_PHRASES[one.name] for one in claims)
    return (Said(f"No harm to the slope's interval that shows at this n: {calm}.",
                 *claims),)  # fmt: skip


def _unbiased(failing: list[BrokenClaim], claims: list[BrokenClaim]) -> tuple[Said, ...]:
    if not failing or any(one.biased for one in claims):
        return ()
    return (
        Said(
            "The slope itself shows no bias in any of them: it is the standard error that goes wrong.",
            *claims,
        ),
    )


def plan_reading(findings: Findings, tried: Checked | None) -> Reading:
    """How many pairs the purpose needs, and how the trial came out."""
    claim, aim, digits = plan_claim(findings), purpose_in_words(findings), findings.rules.digits
    fine = partial(d.figure, digits=digits)
    shown: Callable[[float | None], str] = d.percent if claim.by_power else fine
    if claim.needed is None:
        why = "not even a million would do"
        if claim.side is not None:
            why = f"the test looks for values {claim.side} 0 alone, and this one lies on the other side"
        elif claim.floor is not None:
            why = f"even a line known exactly leaves ± {fine(claim.floor)} for one case"
        return Reading(
            headline=Said(f"No number of pairs gives {aim}: {why}.", claim), sentences=_assumed(findings)
        )
    size = "a power of " if claim.by_power else "± "
    trial = None
    if tried is not None:
        trial = TrialClaim(
            n=tried.n, draws=tried.draws, by_power=claim.by_power, found=tried.found, error=tried.error
        )
    figures = [
        Figure("pairs needed", d.grouped(claim.needed)),
        Figure("pairs at hand", d.grouped(claim.at_hand)),
        Figure("by formula", shown(claim.reached)),
        *(() if trial is None else (Figure("by simulation", _found(trial)),)),
    ]
    verb = "is" if claim.needed == 1 else "are"
    return Reading(
        headline=Said(f"{d.count(claim.needed, 'pair')} {verb} needed for {aim}.", claim),
        sentences=(
            Said(f"They reach {size}{shown(claim.reached)}; you have {claim.at_hand}.", claim),
            *_assumed(findings),
            *(() if trial is None else (_trial_sentence(trial),)),
        ),
        figures=tuple(figures),
    )


def _found(claim: TrialClaim) -> str:
    return share(claim.found, claim.error) if claim.by_power else plus(claim.found, claim.error)


def _trial_sentence(claim: TrialClaim) -> Said:
    said = "the test found it in" if claim.by_power else "the half-width was on average"
    return Said(
        f"Tried out on {d.grouped(claim.draws)} samples of {d.grouped(claim.n)}: {said} {_found(claim)}.",
        claim,
    )


def purpose_in_words(findings: Findings) -> str:
    """What is wished for, with its goal."""
    wish, names = findings.wish, names_of(findings.x_column, findings.y_column)
    digits = findings.rules.digits
    level, goal = d.level_in_words(wish.level), d.figure(wish.goal, digits)
    at = names.day_of(findings.rehearsed_at) or f"{names.x} {d.figure(findings.rehearsed_at, 4)}"
    effect, alpha = d.figure(wish.effect, digits), f"α = {wish.alpha:g}"
    power = d.percent(wish.goal, 0) if wish.purpose.endswith("power") else ""
    return {
        "slope half-width": f"a slope within ± {goal} ({level})",
        "mean half-width": f"the mean of {names.y} at {at} within ± {goal} ({level})",
        "case half-width": f"one new {names.y} at {at} within ± {goal} ({level})",
        "slope power": f"{power} power to find a true slope of {effect} ({alpha})",
        "r power": f"{power} power to find a true r of {d.coefficient(wish.effect, digits)} ({alpha})",
    }[wish.purpose]


def _assumed(findings: Findings) -> tuple[Said, ...]:
    wish, digits = findings.wish, findings.rules.digits
    claim = ChoiceClaim(what="plan", value=wish.purpose)
    if wish.purpose == "r power":
        return (Said("This takes both columns as normal and drawn anew each time.", claim),)
    spread = f"s = {d.figure(wish.sd, digits)} and sd of x = {d.figure(wish.sd_x, digits)}"
    return (
        Said(
            f"This takes new pairs to scatter like these ({spread}) and the residuals to be even and independent; "
            "wider-spread x need fewer pairs.",
            claim,
        ),
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
