"""A sentence with the claims that it words."""

from __future__ import annotations

from collections.abc import Iterable

from bright_tether.claims.claim import Claim


class Said(str):
    """A sentence. claims : what it says, in the order in which it says it."""

    claims: tuple[Claim, ...]

    def __new__(cls, text: str, *claims: Claim | None) -> Said:
        """Word these claims; None stands for one that does not hold here."""
        said = super().__new__(cls, text)
        said.claims = tuple(one for one in claims if one is not None)
        return said


def capital(text: str) -> str:
    """A sentence with its first letter in capitals, but for the name of a coefficient."""
    return text if text[:1] in ("ρ", "τ") else text[:1].upper() + text[1:]


def listed(parts: Iterable[str]) -> str:
    """Parts in a row: a, b and c."""
    known = list(parts)
    return known[0] if len(known) == 1 else f"{', '.join(known[:-1])} and {known[-1]}" if known else ""
