"""Whose residuals the doubts are about, where columns are held."""

from __future__ import annotations

from typing import ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.claims.tether import claims_of
from bright_tether.live.findings import Findings
from bright_tether.live.longer import LongerFindings, longer_of


class DoubtedClaim(Claim, frozen=True, kw_only=True):
    """The residuals with columns held. n, lost : pairs with a value in every held column, and without.

    alone, held : the doubts that show a sign for the line alone, and with the columns held; of these clear_alone and
    clear_held show a clear one.
    """

    kind: ClassVar[str] = "doubted"
    names: tuple[str, ...]
    n: int
    lost: int
    alone: tuple[str, ...]
    held: tuple[str, ...]
    clear_alone: tuple[str, ...]
    clear_held: tuple[str, ...]


class HeldDoubtsClaim(Claim, frozen=True, kw_only=True):
    """Clear signs against the line with columns held that nothing answers. columns : those held. names : the doubts."""

    kind: ClassVar[str] = "held_doubts"
    columns: tuple[str, ...]
    names: tuple[str, ...]


def doubted_claim(findings: Findings) -> DoubtedClaim | None:
    """None of the line alone."""
    if not isinstance(findings, LongerFindings):
        return None
    alone, held = claims_of(findings.base).doubts, claims_of(findings).doubts
    return DoubtedClaim(
        names=tuple(one.short for one in findings.held_cells), n=findings.pairs.n,
        lost=findings.base.pairs.n - findings.pairs.n, alone=alone.signs, held=held.signs,
        clear_alone=alone.clear, clear_held=held.clear,
    )  # fmt: skip


def held_doubts_claim(findings: Findings) -> HeldDoubtsClaim | None:
    """None without a clear sign. Raises Refusal where the columns cannot be held."""
    names = claims_of(longer_of(findings)).in_force.names
    if not names:
        return None
    return HeldDoubtsClaim(columns=tuple(one.short for one in findings.held_cells), names=names)
