"""What is said of r once what lies far out is bent inward."""

from __future__ import annotations

from bright_tether.claims.bent import BentClaim, bent_claim
from bright_tether.core.strength.bent import DRAWS, SEED, SHARE
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Figure, Reading, names_of
from bright_tether.words.readings.refused import refused
from bright_tether.words.said import Said


def bent_reading(findings: Findings) -> Reading:
    """Both coefficients, and whether rows far out make the one what it is."""
    if findings.refusal is not None:
        return refused(findings)
    claim, digits = bent_claim(findings), findings.rules.digits
    share = d.level_in_words(SHARE)
    how = (
        f"About {share} of each column, what lies farthest from its median, is bent inward to where the rest ends "
        "(percentage-bend correlation)."
    )
    sentences = [Said(how, claim)]
    if claim.verdict != "none":
        sentences += [*_interval(claim, digits), _bent(claim, findings), *_verdict(claim, digits)]
    if findings.case_decides:
        sentences.append(Said("Its test and interval count rows, not cases.", claim))
    return Reading(
        headline=_headline(claim, digits), sentences=tuple(sentences), figures=_figures(claim, digits)
    )


def _headline(claim: BentClaim, digits: int) -> Said:
    if claim.verdict == "none":
        return Said(f"There is no r of bent columns: {cause(claim.why)}.", claim)
    bent, plain = (d.coefficient(one, digits) for one in (claim.r, claim.plain))
    return Said(f"With what lies far out bent inward, r is {bent}; as it is, {plain}.", claim)


def _interval(claim: BentClaim, digits: int) -> tuple[Said, ...]:
    test = f" ({d.p_value(claim.p)}, {d.grouped(claim.df)} df)" if claim.p is not None else ""
    if claim.low is None or claim.high is None:
        return (Said(f"It has no interval{test}: {cause(claim.why)}.", claim),)
    ends = d.coefficients((claim.low, claim.high), digits)
    level, many = d.level_in_words(claim.level), d.grouped(DRAWS)
    between = ends.replace(" … ", " and ")
    words = (
        f"With {level} confidence it lies between {between}{test}; {many} samples of the rows, seed {SEED}."
    )
    return (Said(words, claim),)


def _bent(claim: BentClaim, findings: Findings) -> Said:
    names = names_of(findings.x_column, findings.y_column)
    return Said(
        f"Bent are {d.grouped(claim.bent_x)} values of {names.x} and {d.grouped(claim.bent_y)} of {names.y}, of "
        f"{d.grouped(claim.n)}.", claim,
    )  # fmt: skip


def _verdict(claim: BentClaim, digits: int) -> tuple[Said, ...]:
    plain = d.coefficient(claim.plain, digits)
    words = {
        "alike": f"r as it is, {plain}, lies within that interval: rows far out do not make it what it is.",
        "carried": f"r as it is, {plain}, lies outside that interval: rows far out carry part of it.",
        "turned": f"r as it is, {plain}, lies outside that interval: rows far out turn it round.",
        "hidden": f"r as it is, {plain}, lies outside that interval: rows far out hide part of it.",
    }
    return (Said(words[claim.verdict], claim),) if claim.verdict in words else ()


def _figures(claim: BentClaim, digits: int) -> tuple[Figure, ...]:
    if claim.verdict == "none":
        return ()
    ends = None if claim.low is None or claim.high is None else (claim.low, claim.high)
    return (
        Figure("r, far values bent", d.coefficient(claim.r, digits), d.coefficients(ends, digits)),
        Figure("r", d.coefficient(claim.plain, digits), ""),
    )


def bent_grid(findings: Findings) -> Grid:
    """Both coefficients side by side. Raises Refusal."""
    claim, digits, r = bent_claim(findings), findings.rules.digits, findings.pearson
    ends = None if claim.low is None or claim.high is None else (claim.low, claim.high)
    rows = (
        (
            "r, far values bent",
            d.coefficient(claim.r, digits),
            d.coefficients(ends, digits),
            d.p_value(claim.p),
        ),
        ("Pearson r", d.coefficient(r.r, digits), d.coefficients(r.ci, digits), d.p_value(r.p)),
    )
    return Grid(title="r with far values bent", heads=("coefficient", "value", "interval", "p"), rows=rows)
