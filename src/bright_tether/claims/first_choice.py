"""Why x was taken as x before anybody said so."""

from __future__ import annotations

from typing import ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.live.findings import Findings
from bright_tether.tables.roles import role_of


class FirstChoiceClaim(Claim, frozen=True, kw_only=True):
    """x as it was taken: the first measurements. passed_over : number columns before it, and what they seem."""

    kind: ClassVar[str] = "first_choice"
    x: str
    passed_over: tuple[tuple[str, str], ...]


def first_choice(findings: Findings) -> FirstChoiceClaim | None:
    """The choice, where the analyst has not said which column is x; a date explains by itself."""
    if findings.tether.chosen or not findings.tied or findings.clock:
        return None
    passed = []
    for column in findings.table.columns:
        if column.id == findings.tether.x:
            break
        if column.numeric:
            passed.append((column.short, role_of(column)))
    return FirstChoiceClaim(x=findings.x_column.short, passed_over=tuple(passed))
