"""What the step Look says: form, direction, tightness, gaps, far-out points, groups."""

from __future__ import annotations

from bright_tether.claims import look as seen
from bright_tether.claims.built_in import built_in_claims
from bright_tether.claims.claim import Claim
from bright_tether.claims.decision import DirectionClaim
from bright_tether.claims.doubts import DoubtClaim
from bright_tether.claims.line import level_claim
from bright_tether.claims.look import FarRowsClaim, FewToSeeClaim, FormClaim, OrderCountsClaim
from bright_tether.claims.origin import as_seen
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.claims.stories import (
    GapClaim,
    gap_claims,
    hidden_stories,
    populations_claim,
)
from bright_tether.claims.tether import claims_of
from bright_tether.claims.timing import timing_claim
from bright_tether.core.doubts.verdicts import Verdict
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Figure, Marking, Names, Reading, n_in_words, names_of
from bright_tether.words.readings.built_in import built_in_sentences
from bright_tether.words.readings.decision import across_headline, way
from bright_tether.words.readings.groups import (
    clumps_sentence,
    hidden_sentences,
    populations_sentence,
    story_sentence,
)
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.timing import timing_sentence
from bright_tether.words.readings.unanswered import rests_sentence
from bright_tether.words.readings.values import recurring_sentences
from bright_tether.words.said import Said, capital, listed

#: No sign of a bend, by what keeps its p from being one.
_NO_BEND = {
    None: "No sign of a bend",
    "size": "No bend of a size that counts",
    "the family": "No sign of a bend, as one of six checks",
}


def look_reading(findings: Findings) -> Reading:
    """The scatter in words, each from a stated measure."""
    if findings.refusal:
        return refused(findings)
    names, digits, claims = (
        names_of(findings.x_column, findings.y_column),
        findings.rules.digits,
        claims_of(findings),
    )
    level = level_claim(findings)
    if level is not None:
        return Reading(
            headline=Said(f"{names.y} is the same in every pair: there is nothing to see in it.", level)
        )
    bend, order = claims.seen.doubt("bend"), claims.seen.doubt("order")
    form = seen.form_claim(findings, bend)
    told = as_seen(findings, bend)
    return Reading(
        headline=across_headline(findings) or form_headline(findings, form, claims.direction, bend, order),
        sentences=(
            straightness(form, bend, told, names, digits),
            counts_sentence(seen.order_counts(findings), names),
            *clumps_sentence(claims.clumps),
            *gap_sentence(gap_claims(findings), names, digits),
            *timing_sentence(timing_claim(findings)),
            far_sentence(claims.far_rows),
            *rests_sentence(claims.rests, digits),
            *story_sentence(claims.story, digits),
            *_mutual(findings, names),
        ),
        figures=_figures(findings, names),
        beware=(
            *hidden_sentences(hidden_stories(findings), digits),
            *populations_sentence(populations_claim(findings)),
            *built_in_sentences(built_in_claims(findings), names),
            *recurring_sentences(claims.recurring, names),
            *few_sentence(seen.few_to_see(findings)),
        ),
        markings=_markings(findings),
    )


def form_headline(
    findings: Findings,
    claim: FormClaim,
    direction: DirectionClaim | None,
    bend: DoubtClaim,
    order: DoubtClaim,
) -> Said:
    """The band in a few words; a direction only where the decision carries one."""
    told = as_seen(findings, bend)
    if bend.sign and claim.turns_at is not None and not bend.without:
        turns = "turns round" if bend.verdict == Verdict.CLEAR else "perhaps turns round"
        return Said(f"A band that {turns}.", claim, told)
    width = " ".join(word for word in (claim.width, way(direction)) if word)
    band = f"A {width} band" if width else "A band"
    # a slope through the origin carries none where r does not show it, and says nothing against one
    shown = "" if direction or findings.fit.origin else ", no direction shown"
    if bend.without:
        return Said(
            f"{band}, bent perhaps by {rows_in_words(bend.without)} alone{shown}.", claim, direction, told
        )
    if bend.sign:
        bends = "that bends" if bend.verdict == Verdict.CLEAR else "that perhaps bends"
        return Said(f"{band} {bends}{shown}.", claim, direction, told)
    if bend.verdict == Verdict.NO and order.verdict == Verdict.CLEAR and (order.size or 0.0) > 0:
        aside = "without a bend that shows, but neighbouring rows keep to one side of the line"
        return Said(f"{band}, {aside}{shown}.", claim, direction, told, as_seen(findings, order))
    straight = {
        Verdict.NO.value: "straight as far as can be seen",
        Verdict.FEW.value: "with too few rows to tell a bend",
    }.get(bend.verdict, "with no room for a bend to show")
    return Said(f"{band}, {straight}{shown}.", claim, direction, told)


def straightness(claim: FormClaim, bend: DoubtClaim, told: Claim, names: Names, digits: int) -> Said:
    """The bend as the doubt about it has it. told : the claim of that."""
    if bend.p is None or bend.size is None:
        why = f": {cause(bend.cause)}" if bend.cause else ""
        return Said(f"A bend cannot be told from a straight line here{why}.", told)
    without = f"; without {rows_in_words(bend.without)} {d.p_value(bend.p_without)}" if bend.without else ""
    p = d.p_value(bend.p) + without
    basis = f"a squared term takes up {d.percent(bend.size)} of what the line leaves over ({p})"
    if bend.sign:
        turn = (
            ""
            if claim.turns_at is None
            else f", turning near {names.day_of(claim.turns_at) or names.in_x(d.figure(claim.turns_at, digits))}"
        )
        return Said(f"{capital(bend.verdict)} of a bend{turn}: {basis}.", told, claim)
    few = "Too few rows to tell a bend" if bend.verdict == Verdict.FEW else _NO_BEND[bend.short_of]
    return Said(f"{few}: {basis}.", told)


def counts_sentence(claim: OrderCountsClaim, names: Names) -> Said:
    """Order, counted."""
    ties = f"; {d.grouped(claim.tied)} {'is' if claim.tied == 1 else 'are'} tied" if claim.tied else ""
    return Said(
        f"Of {d.count(claim.comparisons, 'comparison')} between rows, {names.y} is higher where {names.x} is higher in "
        f"{d.grouped(claim.concordant)} and lower in {d.grouped(claim.discordant)}{ties}.",
        claim,
    )


def gap_sentence(claims: tuple[GapClaim, ...], names: Names, digits: int) -> tuple[Said, ...]:
    """Where nothing was measured."""
    if not claims:
        return ()
    parts = listed(
        "between "
        + names.ends_x((one.low, one.high), names.in_x(_ends(one, digits)), " and ")
        + f" ({d.percent(one.share, 0)} of its range)"
        for one in sorted(claims, key=lambda one: one.low)
    )
    where = "" if names.clock else f"where {names.x} lies "
    return (Said(f"Nothing was measured {where}{parts}.", *claims),)


def _ends(claim: GapClaim, digits: int) -> str:
    return d.between((claim.low, claim.high), _finest(claim, digits), word=" and ")


def _finest(claim: GapClaim, digits: int) -> int:
    return d.decimals_as_written((claim.low, claim.high), d.decimals_for(claim.high - claim.low, digits + 1))


def far_sentence(claim: FarRowsClaim) -> Said:
    """Rows far from the rest."""
    parts = []
    if claim.far_from_line:
        parts.append(
            f"far from the straight line {_lie(len(claim.far_from_line))} {rows_in_words(claim.far_from_line)}"
        )
    if claim.far_in_column:
        parts.append(
            f"far out in a column {_lie(len(claim.far_in_column))} {rows_in_words(claim.far_in_column)}"
        )
    return Said(f"{capital('; '.join(parts))}." if parts else "No row lies far from the rest.", claim)


def _lie(rows: int) -> str:
    return "lies" if rows == 1 else "lie"


def _markings(findings: Findings) -> tuple[Marking, ...]:
    rows = claims_of(findings).far_ids
    return (Marking(f"Mark {d.count(len(rows), 'far-out row')}", rows),) if rows else ()


def _mutual(findings: Findings, names: Names) -> tuple[Said, ...]:
    if not findings.tether.mutual:
        return ()
    return (
        Said(
            f"Neither column explains the other, so both lines are drawn: {names.y} on {names.x} in full, "
            f"{names.x} on {names.y} dashed; r belongs to both.",
            ChoiceClaim(what="mutual"),
        ),
    )


def few_sentence(claim: FewToSeeClaim | None) -> tuple[Said, ...]:
    """So few pairs that little stands out."""
    if claim is None:
        return ()
    return (Said(f"With {claim.n} pairs only a marked bend, clump or stray row would stand out.", claim),)


def _figures(findings: Findings, names: Names) -> tuple[Figure, ...]:
    digits, bend = findings.rules.digits, claims_of(findings).seen.doubt("bend")
    sd = d.figure(findings.y_summary.sd, digits)
    return (
        Figure("r, all together", d.coefficient(findings.pearson.r, digits), n_in_words(findings.pairs.n)),
        *_group_figures(findings),
        Figure("ρ, by order", d.coefficient(findings.spearman.rho, digits)),
        Figure("bend takes up", d.percent(bend.size), d.p_value(bend.p)),
        Figure(
            "typical residual",
            d.figure(findings.plain_s, digits),
            d.worded(f"sd of {names.y} {sd}", sd, names=(f"sd of {names.y}",)),
        ),
        Figure("widest gap in x", d.percent(findings.gaps.share, 0), "of the range"),
    )


def _group_figures(findings: Findings) -> tuple[Figure, ...]:
    within = findings.within_groups
    if within is None or len(within.groups) < 2:
        return ()
    digits = findings.rules.digits
    each = [
        Figure(f"r, {g.name or '(blank)'}", d.coefficient(g.r, digits), n_in_words(g.n))
        for g in within.groups
    ]
    return (
        *each[:6],
        Figure(
            "r, within groups",
            d.coefficient(within.r, digits),
            d.worded(f"{d.grouped(within.df)} df", d.grouped(within.df), names=("df",)),
        ),
    )
