"""Strength that comes from how the columns were made, in words."""

from __future__ import annotations

from bright_tether.claims.stories import BuiltInClaim
from bright_tether.words.reading import Names
from bright_tether.words.said import Said


def built_in_sentences(claims: tuple[BuiltInClaim, ...], names: Names) -> tuple[Said, ...]:
    """One sentence for each."""
    return tuple(Said(_sentence(one, names), one) for one in claims)


def _sentence(claim: BuiltInClaim, names: Names) -> str:
    if claim.why == "own part":
        return f"{claim.whole} is worked out from {claim.part}: some of their strength is built in."
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
