"""Agreement of two columns in one unit, in words."""

from __future__ import annotations

from bright_tether.claims.coefficients import AgreementClaim, AgreementSlopeClaim
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.said import Said


def agreement_sentences(claim: AgreementClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """For two columns in one unit: what no coefficient of strength can see."""
    if claim is None:
        return ()
    finest = d.decimals_for(claim.sd, digits, claim.mean)
    mean = names.in_y_change(d.fixed(abs(claim.mean), finest))
    more = "above" if claim.mean > 0 else "below"
    if claim.p is None or claim.low is None or claim.high is None:
        if claim.mean == 0:
            return (Said("Both columns hold the same values in every row.", claim),)
        return (
            Said(
                f"{names.y} lies {mean} {more} {names.x} in every row: an offset that r, ρ and τ cannot see.",
                claim,
            ),
        )
    between = d.between((claim.low, claim.high), finest)
    if claim.outcome == "rejected":
        offset = (
            f"On average {names.y} lies {mean} {more} {names.x} ({between}; {d.p_value(claim.p)}), an offset that r, "
            "ρ and τ cannot see"
        )
    else:
        offset = f"The mean difference {d.signed(claim.mean, finest)} is compatible with none ({between})"
    match = "matches" if claim.exact_matches == 1 else "match"
    return (
        Said(
            f"{offset}. About {d.level_in_words(claim.level)} of single differences are expected within "
            f"{d.between(claim.limits, finest)} (limits of agreement); {claim.exact_matches} of "
            f"{d.count(claim.n, 'row')} {match} exactly; concordance {d.coefficient(claim.concordance, digits)}.",
            claim,
        ),
    )


def agreement_slope_sentence(
    claim: AgreementSlopeClaim | None, names: Names, digits: int
) -> tuple[Said, ...]:
    """Where the differences change along the columns: the limits are then not those of each level."""
    if claim is None:
        return ()
    by = names.in_y_change(d.figure(abs(claim.slope), digits))
    if claim.p is None or claim.low is None or claim.high is None:
        sure = ", leaving nothing over"
    else:
        half = (claim.high - claim.low) / 2
        sides = (claim.low, claim.high) if claim.slope > 0 else (-claim.high, -claim.low)
        decimals = d.decimals_for(half, digits, claim.slope)
        by = names.in_y_change(d.fixed(abs(claim.slope), decimals))
        sure = f" ({d.between(sides, decimals)}; {d.p_value(claim.p)})"
    finest = d.decimals_for(claim.at_means[1] - claim.at_means[0], digits)
    ends = [
        f"{d.signed(difference, finest)} at {names.in_y(d.figure(mean, digits))}"
        for mean, difference in zip(claim.means, claim.at_means, strict=True)
    ]
    return (
        Said(
            f"The differences {'grow' if claim.slope > 0 else 'fall'} along the columns, by {by} for each "
            f"{names.step_of_x(1)} of the mean of both{sure}: from {ends[0]} to {ends[1]}. The mean difference and its "
            "limits are those of all rows together, not of each level.",
            claim,
        ),
    )


def agreement_note(findings: Findings) -> str:
    """What the picture of differences shows, or why it may not be right."""
    if findings.tied and findings.x_column.unit != findings.y_column.unit:
        x, y = findings.x_column, findings.y_column
        return (
            f"Agreement asks for two columns in one unit: {x.short} is in {x.unit or 'no unit'}, "
            f"{y.short} in {y.unit or 'no unit'}. The picture is right only if they measure one thing."
        )
    return (
        "Each pair’s difference against its mean: the line is the mean difference, the broken lines are where "
        "most single differences are expected, each with its interval; the dotted one is how the differences change "
        "along the mean."
    )
