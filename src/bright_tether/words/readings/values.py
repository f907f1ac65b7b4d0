"""Values that recur, in words: for wherever the line is used."""

from __future__ import annotations

from bright_tether.claims.values import CopiesClaim, FewValuesClaim, PileClaim, RecurringClaim, TwoValuesClaim
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.said import Said, listed


def recurring_sentences(claims: tuple[RecurringClaim, ...], names: Names) -> tuple[Said, ...]:
    """Everything that recurs."""
    return tuple(Said(_words(one, names), one) for one in claims)


def _words(claim: RecurringClaim, names: Names) -> str:
    if isinstance(claim, TwoValuesClaim):
        return _two(claim, names.y)
    if isinstance(claim, FewValuesClaim):
        return _few(claim, names.y)
    return _pile(claim, names) if isinstance(claim, PileClaim) else _copies(claim)


def _two(claim: TwoValuesClaim, y: str) -> str:
    """What a line says of a response that is one thing or the other."""
    low, high = d.entered(claim.low), d.entered(claim.high)
    return (
        f"{y} takes two values only, {low} and {high}: the height of the line tells how large a share of cases is "
        f"at {high}, its residuals cannot be normal, nor of one spread where that share changes, and an interval "
        f"for one case means little. A curve that stays between {low} and {high} suits such a response better."
    )


def _few(claim: FewValuesClaim, y: str) -> str:
    values = listed(d.entered(one) for one in claim.values)
    return (
        f"{y} takes {len(claim.values)} values only, {values}: the line gives means, which lie between them, and of "
        "an interval for one case only the values inside it count. Where they are grades without equal steps, ρ and τ "
        "ask of their order alone."
    )


def _pile(claim: PileClaim, names: Names) -> str:
    column, where = (names.x, names.in_x) if claim.of == "x" else (names.y, names.in_y)
    value, end = where(d.entered(claim.value)), "lowest" if claim.lowest else "highest"
    beyond = f"{value} or {'less' if claim.lowest else 'more'}"
    if claim.value == 0 and claim.lowest:
        beyond = "too little to be measured"
    return (
        f"{d.grouped(claim.rows)} of {d.grouped(claim.n)} pairs have {column} at {value}, the {end} of them: where "
        f"that stands for {beyond}, r and the line are not those of {column} itself."
    )


def _copies(claim: CopiesClaim) -> str:
    return (
        f"{d.grouped(claim.copies)} of {d.grouped(claim.n)} pairs repeat both values of another: where a case was "
        "written down more than once, tests and intervals count it as often and promise too much."
    )
