"""What may be said of columns that were found by looking at many."""

from __future__ import annotations

from typing import ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.live.findings import Findings


class SearchedClaim(Claim, frozen=True, kw_only=True):
    """Two columns that were found among many. by_luck : how many of them have p ≤ alpha by luck, on average."""

    kind: ClassVar[str] = "searched"
    among: int
    alpha: float
    by_luck: float


def searched_claim(findings: Findings) -> SearchedClaim | None:
    """How many pairs of columns were looked at before this one was tied; None where none were."""
    among, alpha = findings.tether.among, findings.rules.alpha
    return SearchedClaim(among=among, alpha=alpha, by_luck=among * alpha) if among > 1 else None
