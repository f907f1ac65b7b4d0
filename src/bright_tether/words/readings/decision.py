"""The decision in words, and what it carries: direction, strength, change; H0 is never accepted."""

from __future__ import annotations

from bright_tether.claims.decision import (
    DecisionClaim,
    DirectionClaim,
    InterceptTestClaim,
    SlopeTestClaim,
    TestsPartClaim,
)
from bright_tether.claims.tether import claims_of
from bright_tether.core.results import Alternative, Decider
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.reading import Names
from bright_tether.words.said import Said, capital

LETTERS = {"pearson": "r", "spearman": "ρ", "kendall": "τ", "slope": "t of the slope"}
COEFFICIENT_LETTERS = {"r": "r", "rho": "ρ", "tau_b": "τ"}
_RELATIONS = {"two-sided": ("=", "≠"), "greater": ("≤", ">"), "less": ("≥", "<")}
_LINEAR = {
    "two-sided": ("no linear relationship", "a linear relationship"),
    "greater": ("no rising linear relationship", "a rising linear relationship"),
    "less": ("no falling linear relationship", "a falling linear relationship"),
}
_PARAMETERS = {"spearman": "ρ", "kendall": "τ", "slope": "slope"}
_BESIDE = {"two-sided": "", "greater": " or less", "less": " or more"}
_WAYS = {1: "rising", -1: "falling"}
_VERBS = {1: "rise", -1: "fall"}


def hypotheses(test: Decider, alternative: Alternative, null: float) -> tuple[str, str]:
    """H0 and H1 as they are tested, with the side on which H0 lies."""
    if test == "pearson":
        return _LINEAR[alternative]
    name, value = _PARAMETERS[test], d.entered(null)
    lower, upper = _RELATIONS[alternative]
    return f"{name} {lower} {value}", f"{name} {upper} {value}"


def null_in_words(claim: DecisionClaim) -> str:
    """H0 as data are compatible with it: no linear relationship, a slope of 0 or less, ρ ≥ 0."""
    if claim.test == "slope":
        return f"a slope of {d.entered(claim.null)}{_BESIDE[claim.alternative]}"
    return hypotheses(claim.test, claim.alternative, claim.null)[0]


def decision_sentence(findings: Findings) -> Said:
    """Which test decides, between what, and how it came out."""
    claim, digits = claims_of(findings).decision, findings.rules.digits
    h0, h1 = hypotheses(claim.test, claim.alternative, claim.null)
    between = f"H0, {h0}, against H1, {h1}"
    if claim.statistic is None or claim.p is None:
        return Said(f"No decision between {between}: {cause(claim.why)}.", claim)
    basis = f"Decided by {LETTERS[claim.test]} at α = {d.entered(claim.alpha)}, {between}"
    outcome = "H0 is rejected" if claim.outcome == "rejected" else "H0 is not rejected"
    return Said(
        f"{basis}: {_reached(claim, digits)} ({d.p_value(claim.p)}), so {outcome}{_other(claim)}.", claim
    )


def _reached(claim: DecisionClaim, digits: int) -> str:
    """The statistic beside its critical value, with digits enough to see on which side it lies."""
    value, limit = claim.statistic or 0.0, claim.critical
    if limit is None:
        return f"{LETTERS[claim.test]} = {d.figure(value, digits)}"
    if claim.test != "slope" and limit > 1:
        return f"no {LETTERS[claim.test]} can reach the critical value with so few pairs"
    sign = {"two-sided": "±", "greater": "+", "less": "−"}[claim.alternative]
    place = "reaches" if claim.outcome == "rejected" else "does not reach"
    for more in range(digits, digits + 12):
        if f"{abs(value):.{more}f}" != f"{limit:.{more}f}" or abs(value) == limit:
            break
    size = d.fixed(value, more) if claim.test == "slope" else d.coefficient(value, more)
    bound = d.fixed(limit, more)
    return f"{size} {place} {sign if float(limit) > 0.5 * 10.0**-more else ''}{bound}"


def _other(claim: DecisionClaim) -> str:
    if not claim.other_side:
        return ""
    way = -1 if claim.alternative == "greater" else 1
    return f"; tested the other way, they would be shown to {_VERBS[way]}"


def slope_test_sentence(claim: SlopeTestClaim | None, digits: int) -> tuple[Said, ...]:
    """The slope's own test beside another deciding test."""
    if claim is None:
        return ()
    null = f"a slope of {d.entered(claim.null)}{_BESIDE[claim.alternative]}"
    if claim.p is None:
        return (Said(f"The slope has no test: {cause(claim.why)}.", claim),)
    basis = f"t = {d.figure(claim.t, digits)}, {d.grouped(claim.df)} df, {d.p_value(claim.p)}"
    outcome = "is rejected" if claim.outcome == "rejected" else "is not rejected"
    return (
        Said(f"By its own test, with {ERROR_NAMES[claim.errors]} errors, {null} {outcome} ({basis}).", claim),
    )


def intercept_test_sentence(claim: InterceptTestClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """The intercept's test against what is stated."""
    if claim is None:
        return ()
    if claim.p is None:
        return (Said(f"The intercept has no test: {cause(claim.why)}.", claim),)
    basis = f"t = {d.figure(claim.t, digits)}, {d.grouped(claim.df)} df, {d.p_value(claim.p)}"
    outcome = "is rejected" if claim.outcome == "rejected" else "is not rejected"
    null = f"An intercept of {names.in_y(d.entered(claim.null))}"
    return (Said(f"{null} {outcome}, two-sided, with {ERROR_NAMES[claim.errors]} errors ({basis}).", claim),)


def tests_part_sentence(claim: TestsPartClaim | None) -> tuple[Said, ...]:
    """Two tests on a page that come out differently, and why."""
    if claim is None:
        return ()
    names = {"pearson": "r", "spearman": "ρ", "kendall": "τ", "slope": "the slope", "F": "F"}
    first, second = names[claim.first], names[claim.second]
    because = {
        "errors": "F takes one spread everywhere, and the errors in force do not",
        "order": f"{first} asks for order alone, the slope for a straight line",
        "other hypothesis": "F asks, on both sides, whether the slope is 0, and that is not the hypothesis here",
    }[claim.because]
    return (
        Said(
            f"{capital_the(first)} ({d.p_value(claim.p_first)}) and {second} ({d.p_value(claim.p_second)}) "
            f"fall on different sides of α: {because}. {capital_the(first)} decides.",
            claim,
        ),
    )


def capital_the(name: str) -> str:
    """A name at the start of a sentence; letters of coefficients stay as they are."""
    return capital(name) if name.startswith("the ") else name


def across_headline(findings: Findings) -> Said | None:
    """What takes the headline where groups or clumps forbid one across them: the same sentence in every step."""
    from bright_tether.words.readings.groups import clumps_headline, story_headline

    claims, digits = claims_of(findings), findings.rules.digits
    if claims.story is not None and claims.story.forbids:
        return story_headline(claims.story, digits)
    return None if claims.clumps is None else clumps_headline(claims.clumps, digits)


def outcome_headline(findings: Findings, named: str) -> Said:
    """What the decision says where it carries no direction that was asked for. named : coefficient with its value."""
    claims = claims_of(findings)
    claim = claims.decision
    if claim.outcome == "no test":
        return Said(f"No test of {null_in_words(claim)} ({named}): {cause(claim.why)}.", claim)
    basis = f"{named}, {tested(claim, findings.rules.digits)}"
    if claim.other_side:
        sign = 1 if claim.alternative == "less" else -1
        return Said(
            f"No sign of a {_WAYS[-sign]} relationship: they {_VERBS[sign]} ({basis}).",
            claim,
            claims.direction,
        )
    if claim.outcome == "rejected" and claim.null == 0 and claims.direction is not None:
        points = "The points" if findings.pairs.weights is None else "By their weights the points"
        return Said(f"{points} {_VERBS[claims.direction.sign]} ({basis}).", claim, claims.direction)
    if claim.outcome == "rejected":
        return Said(f"{capital(null_in_words(claim))} is rejected ({basis}).", claim, claims.direction)
    return Said(f"These data are compatible with {null_in_words(claim)} ({basis}).", claim)


def tested(claim: DecisionClaim, digits: int) -> str:
    """The p of the decision, under the name of what it belongs to where that is the slope."""
    sided = "" if claim.alternative == "two-sided" else "one-sided "
    if claim.test == "slope":
        return f"slope t = {d.figure(claim.statistic, digits)}, {sided}{d.p_value(claim.p)}"
    return f"{sided}{d.p_value(claim.p)}"


def way(direction: DirectionClaim | None) -> str:
    """Rising, falling, or nothing where the decision carries no direction."""
    return "" if direction is None else _WAYS[direction.sign]
