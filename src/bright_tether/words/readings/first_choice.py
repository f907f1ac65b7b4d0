"""Why x was taken as x, in words."""

from __future__ import annotations

from bright_tether.claims.first_choice import FirstChoiceClaim
from bright_tether.words.said import Said, listed

_ROLES = {
    "running number": "a running number",
    "identifier": "an identifier",
    "years": "a column of years",
    "two values": "a column of two values",
    "one value": "a column of one value",
    "measurement": "a column of numbers",
}


def first_choice_sentence(claim: FirstChoiceClaim | None) -> tuple[Said, ...]:
    """Which column was taken as x, and which were passed over."""
    if claim is None:
        return ()
    passed = ""
    if claim.passed_over:
        passed = f" ({listed(f'{name} looks like {_ROLES[role]}' for name, role in claim.passed_over)})"
    return (
        Said(
            f"{claim.x} was taken as x because it stands first among the measurements{passed}. x is the column that "
            "explains; swap the two if it is the other way about.",
            claim,
        ),
    )
