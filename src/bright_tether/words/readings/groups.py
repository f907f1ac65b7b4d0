"""What groups and clumps tell beside the whole, in words."""

from __future__ import annotations

from bright_tether.claims.stories import ClumpsClaim, GroupPart, PopulationsClaim, StoryClaim
from bright_tether.words import digits as d
from bright_tether.words.said import Said, listed

#: Groups named one by one in a sentence.
_NAMED = 4
COUNTS = {2: "Two", 3: "Three", 4: "Four", 5: "Five", 6: "Six"}
_VERBS = {True: "rise", False: "fall"}


def in_each(groups: tuple[GroupPart, ...], digits: int) -> str:
    """r of each group: Weir +0.981, Ford has none; those without come last, for some are not named."""
    parts = [
        f"{one.name} {d.coefficient(one.r, digits)}"
        if one.r is not None
        else f"{one.name} has none ({d.count(one.n, 'row')})"
        for one in sorted(groups, key=lambda one: one.r is None)[:_NAMED]
    ]
    more = len(groups) - _NAMED
    return ", ".join(parts) + (f" and {more} more" if more > 0 else "")


def story_headline(claim: StoryClaim, digits: int) -> Said:
    """What is so inside the groups, where it forbids a headline for the whole."""
    inside = f"{d.relation('r', claim.within, digits)} pooled, {d.p_value(claim.p_within)}"
    whole = f"{d.relation('r', claim.all, digits)}, {d.p_value(claim.p_all)}"
    if claim.crossing:
        return Said(
            f"The groups of {claim.by} go opposite ways: {_crossing(claim, digits)}; all together {whole}.",
            claim,
        )
    if claim.verdict == "none inside":
        rests = "rests on how the groups lie."
        if not claim.set_apart:
            rests = "may rest on how the groups lie, but that is not shown either."
        shown = f"no relationship is shown ({inside}); the one across them ({whole})"
        return Said(f"Inside the groups of {claim.by} {shown} {rests}", claim)
    verb = _VERBS[(claim.within or 0.0) > 0]
    if claim.verdict == "masked":
        hide = "hide" if claim.set_apart else "do not show"
        return Said(
            f"Inside the groups of {claim.by} the points {verb} ({inside}); all together {hide} it ({whole}).",
            claim,
        )
    return Said(
        f"Inside the groups of {claim.by} the points {verb} ({inside}); all together it turns round ({whole}).",
        claim,
    )


def story_sentence(claim: StoryClaim | None, digits: int) -> tuple[Said, ...]:
    """r in the groups beside r all together, whatever they tell."""
    if claim is None or claim.within is None or claim.all is None:
        return ()
    verdict = {
        "opposite": "the groups and the whole tell opposite stories; report them apart",
        "none inside": "what the whole shows is not shown inside the groups",
        "weaker": "the same direction inside the groups, but weaker than all together",
        "same": "the same direction inside the groups, and stronger than all together"
        if claim.stronger
        else "the groups and the whole tell the same story",
        "masked": "the groups show what the whole does not",
        "nothing": "neither the whole nor the groups show a relationship",
        "cannot tell": "there are too few rows in the groups to tell",
    }[claim.verdict]
    if claim.crossing:
        verdict = f"they go opposite ways, {_crossing(claim)}; report them apart"
    whole, pooled = d.relation("r", claim.all, digits), d.relation("r", claim.within, digits)
    return (
        Said(
            f"All together {whole} ({d.p_value(claim.p_all)}); within {claim.by}, pooled, {pooled} "
            f"({d.p_value(claim.p_within)}; {in_each(claim.groups, digits)}): {verdict}.",
            claim,
        ),
    )


def _crossing(claim: StoryClaim, digits: int | None = None) -> str:
    """Which groups go which way, with r where digits are given; what is pooled says nothing of them."""
    parts = []
    for way, verb in ((1, "rise"), (-1, "fall")):
        mine = [one for one in claim.groups if one.shown == way]
        named = [one.name for one in mine[:_NAMED]]
        named += [f"{len(mine) - _NAMED} more"] if len(mine) > _NAMED else []
        sizes = (
            "" if digits is None else f" ({listed(d.coefficient(one.r, digits) for one in mine[:_NAMED])})"
        )
        parts.append(f"{listed(named)} {verb}{'s' if len(mine) == 1 else ''}{sizes}")
    return " and ".join(parts)


def clumps_headline(claim: ClumpsClaim, digits: int) -> Said:
    """Clumps, and what is so inside them."""
    count = COUNTS.get(claim.k, str(claim.k))
    across = d.relation("r", claim.across, digits)
    if claim.within_r is None:
        return Said(
            f"{count} separate clumps, and nothing to correlate inside them ({across} comes from between them): "
            f"{_populations(claim)}?",
            claim,
        )
    inside = f"{d.relation('r', claim.within_r, digits)} pooled, {d.p_value(claim.within_p)}"
    return Said(
        f"{count} separate clumps: inside them {inside}; across them {across}. {_populations(claim)}?", claim
    )


def _populations(claim: ClumpsClaim) -> str:
    return f"{COUNTS.get(claim.k, str(claim.k))} populations"


def clumps_sentence(claim: ClumpsClaim | None) -> tuple[Said, ...]:
    """How the points fall apart, and what sets them apart."""
    if claim is None:
        return ()
    sizes = listed(str(n) for n in claim.n_each)
    named = f" {claim.by} sets them apart." if claim.by else ""
    return (
        Said(
            f"The points fall into {claim.k} separate clumps of {sizes} rows: the links between them are "
            f"{d.figure(claim.apart, 2)} times as long as those inside.{named}",
            claim,
        ),
    )


def hidden_sentences(claims: tuple[StoryClaim, ...], digits: int) -> tuple[Said, ...]:
    """Category columns that nobody tinted by and whose groups tell what the whole does not."""
    phrases = {
        "opposite": "the story turns round",
        "none inside": "no relationship is shown",
        "masked": "a relationship is shown that the whole does not show",
    }
    return tuple(
        Said(
            f"The groups of {one.by} go opposite ways: {_crossing(one, digits)}: tint by {one.by} to see it.",
            one,
        )
        if one.crossing
        else Said(
            f"Inside the groups of {one.by} {phrases[one.verdict]} ({d.relation('r', one.within, digits)} pooled, "
            f"{d.p_value(one.p_within)}): tint by {one.by} to see it.",
            one,
        )
        for one in claims
    )


def populations_sentence(claim: PopulationsClaim | None) -> tuple[Said, ...]:
    """Groups that are populations of their own in x or y."""
    if claim is None:
        return ()
    apart = listed(f"{name} ({d.percent(share, 0)})" for name, share in claim.apart)
    return (
        Said(
            f"The groups of {claim.by} are populations of their own: most of the spread in {apart} lies between "
            "them. Treat them apart before drawing one line for all.",
            claim,
        ),
    )
