"""Columns that were found by looking at many, in words."""

from __future__ import annotations

from bright_tether.claims.searched import SearchedClaim
from bright_tether.words import digits as d
from bright_tether.words.said import Said


def searched_sentence(claim: SearchedClaim | None) -> tuple[Said, ...]:
    """How many were looked at, and what luck alone gives of them."""
    if claim is None:
        return ()
    luck = d.figure(claim.by_luck, 2)
    return (
        Said(f"This pair of columns was chosen among {d.grouped(claim.among)} that were looked at; the p here are "
             f"those of one test. Luck alone would give about {luck} of {d.grouped(claim.among)} with p ≤ "
             f"{d.entered(claim.alpha)}.", claim),
    )  # fmt: skip
