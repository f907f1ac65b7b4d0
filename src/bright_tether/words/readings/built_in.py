"""Strength that comes from how the columns were made, in words."""

from __future__ import annotations

from bright_tether.claims.built_in import BuiltInClaim
from bright_tether.words.reading import Names
from bright_tether.words.said import Said


def built_in_sentences(claims: tuple[BuiltInClaim, ...], names: Names) -> tuple[Said, ...]:
    """One sentence for each."""
    return tuple(Said(_sentence(one, names), one) for one in claims)


def _sentence(claim: BuiltInClaim, names: Names) -> str:
    if claim.why == "own part":
        return f"{claim.whole} is worked out from {claim.part}: some of their strength is built in."
    if claim.why == "of a line":
        return (
            f"{claim.whole} is what a line says of each row, and {claim.part} is in that line: how the two go together "
            "is built in."
        )
    if claim.why == "from the same":
        made = f"{claim.part} and {claim.whole} are both worked out from {claim.third}"
        return f"{made}: some of their strength is built in."
    if claim.why in ("plus", "times"):
        other = "the other" if claim.whole in (names.x, names.y) else f"{claim.whole} and the other"
        return (
            f"{claim.whole} is {claim.part} {claim.why} {claim.third} at every row in play: where one of {names.x} and "
            f"{names.y} was worked out from {other}, some of how they go together is built in."
        )
    if claim.why == "running totals":
        return (
            f"{names.x} and {names.y} both rise at every row. If they are running totals, they go together "
            "whatever they count: their changes from row to row say more."
        )
    if claim.why == "shares":
        return (
            f"{claim.whole} and {claim.part} never pass 100 % together and often come near it: as shares of one whole, "
            "what one has the other cannot, and a falling relationship is built in."
        )
    if claim.why == "averages":
        return f"Each pair is {claim.whole}: averages go together more tightly than single cases do."
    return (
        f"Rows share a {claim.whole}: they are not cases of their own, and count for fewer than they are. Errors for "
        "repeated rows of one case heed that."
    )
