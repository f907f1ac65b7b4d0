"""Whose residuals the doubts are about, where columns are held."""

from __future__ import annotations

from typing import ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.claims.tether import claims_of
from bright_tether.live.findings import Findings
from bright_tether.live.longer import LongerFindings


class DoubtedClaim(Claim, frozen=True, kw_only=True):
    """The residuals with columns held. n, lost : pairs with a value in every held column, and without.

    alone, held : the doubts that show a sign for the line alone, and with the columns held.
    """

    kind: ClassVar[str] = "doubted"
    names: tuple[str, ...]
    n: int
    lost: int
    alone: tuple[str, ...]
    held: tuple[str, ...]


def doubted_claim(findings: Findings) -> DoubtedClaim | None:
    """None of the line alone."""
    if not isinstance(findings, LongerFindings):
        return None
    alone, held = claims_of(findings.base).doubts, claims_of(findings).doubts
    return DoubtedClaim(
        names=tuple(one.short for one in findings.held_cells), n=findings.pairs.n,
        lost=findings.base.pairs.n - findings.pairs.n, alone=alone.signs, held=held.signs,
    )  # fmt: skip
