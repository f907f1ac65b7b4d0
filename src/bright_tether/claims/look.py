"""What may be said of the form of a scatter."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from bright_tether.claims.claim import Claim, NamedRow
from bright_tether.claims.doubts import DoubtClaim
from bright_tether.claims.rows import named_rows
from bright_tether.core.results import Ints
from bright_tether.live.findings import Findings

#: Residuals this wide beside the spread of y: a tight band below the first, a loose one above the second.
_TIGHT, _LOOSE = 0.35, 0.75
#: Up to this many pairs only what is marked stands out.
_FEW = 10


class FormClaim(Claim, frozen=True, kw_only=True):
    """The form of the band. bend : the verdict of the doubt about it.

    turns_at : x where the band turns round: lines on both sides of it go opposite ways, each told from level at α.
    tightness : typical residual over the sd of y, with its word.
    """

    kind: ClassVar[str] = "form"
    bend: str
    turns_at: float | None
    tightness: float | None
    width: Literal["tight", "", "loose"]


class OrderCountsClaim(Claim, frozen=True, kw_only=True):
    """Comparisons between rows: y higher where x is higher, lower, or tied."""

    kind: ClassVar[str] = "comparisons"
    comparisons: int
    concordant: int
    discordant: int
    tied: int


class FarRowsClaim(Claim, frozen=True, kw_only=True):
    """Rows far from the line (the doubt about outliers has a sign), and rows far out in a column."""

    kind: ClassVar[str] = "far_rows"
    far_from_line: tuple[NamedRow, ...]
    far_in_column: tuple[NamedRow, ...]


class FewToSeeClaim(Claim, frozen=True, kw_only=True):
    """So few pairs that only what is marked stands out."""

    kind: ClassVar[str] = "few_to_see"
    n: int


def form_claim(findings: Findings, bend: DoubtClaim) -> FormClaim:
    """The form, with the bend as the doubt about it has it."""
    form = findings.form
    tight = form.tightness
    width: Literal["tight", "", "loose"] = ""
    if tight is not None:
        width = "tight" if tight < _TIGHT else "loose" if tight > _LOOSE else ""
    return FormClaim(
        bend=bend.verdict, turns_at=form.turns_at if bend.sign else None, tightness=tight, width=width
    )


def order_counts(findings: Findings) -> OrderCountsClaim:
    """Kendall's counts."""
    tau, n = findings.kendall, findings.pairs.n
    total = n * (n - 1) // 2
    return OrderCountsClaim(comparisons=total, concordant=tau.concordant, discordant=tau.discordant,
                            tied=total - tau.concordant - tau.discordant)  # fmt: skip


def far_places(findings: Findings, far_out: DoubtClaim) -> Ints:
    """Every place among the pairs that lies far from the line or far out in a column."""
    form = findings.form
    seen = findings.left_free or findings
    line = seen.doubt("far-out").rows if far_out.sign else np.zeros(0, np.int64)
    return np.unique(np.concatenate((line, form.far_x, form.far_y)))


def far_rows(findings: Findings, far_out: DoubtClaim) -> FarRowsClaim:
    """The rows far from the rest."""
    form = findings.form
    column = np.unique(np.concatenate((form.far_x, form.far_y)))
    return FarRowsClaim(
        far_from_line=far_out.rows if far_out.sign else (), far_in_column=named_rows(findings, column)
    )


def few_to_see(findings: Findings) -> FewToSeeClaim | None:
    """Whether there are so few pairs that little stands out."""
    return FewToSeeClaim(n=findings.pairs.n) if findings.pairs.n <= _FEW else None
