"""When the rows were taken, in words."""

from __future__ import annotations

from bright_tether.claims.timing import TimingClaim
from bright_tether.tables.clock import SECONDS, as_written
from bright_tether.words import digits as d
from bright_tether.words.said import Said, listed


def timing_sentence(claim: TimingClaim | None) -> tuple[Said, ...]:
    """First and last moment, the usual step, gaps, rows at one moment."""
    if claim is None:
        return ()
    fine = min(claim.step or claim.median or SECONDS["days"], SECONDS["days"])

    def at(seconds: float) -> str:
        return as_written(seconds, fine)

    if claim.moments == 1:
        return (Said(f"Every row has the same {claim.column}, {at(claim.first)}.", claim),)
    parts = [f"By {claim.column} the rows run from {at(claim.first)} to {at(claim.last)}"]
    steps = claim.moments - 1
    if claim.step is not None:
        often = "each" if claim.alike == steps else f"{d.grouped(claim.alike)} of {d.count(steps, 'step')}"
        parts.append(f"{often} {duration_words(claim.step)} long" if often != "each"
                     else f"{duration_words(claim.step)} from one to the next")  # fmt: skip
    elif claim.median is not None:
        parts.append(f"at uneven steps, half of them up to {duration_words(claim.median)}")
    if claim.gaps and claim.longest is not None:
        longest = f"from {at(claim.longest[0])} to {at(claim.longest[1])}"
        parts.append(f"with a gap {longest}" if claim.gaps == 1
                     else f"with {d.grouped(claim.gaps)} gaps, the longest {longest}")  # fmt: skip
    said = [Said(f"{', '.join(parts)}.", claim)]
    if claim.shared:
        rows = d.count(claim.shared, "row")
        said.append(
            Said(f"{rows} {'shares' if claim.shared == 1 else 'share'} a moment with another row.", claim)
        )
    stated = [zone for zone in claim.zones if zone]
    if stated:
        bare = "; times without a zone are taken as they stand" if "" in claim.zones else ""
        said.append(
            Said(
                f"Times are in UTC, turned from the zones that stand with them ({listed(stated)}){bare}.",
                claim,
            )
        )
    return tuple(said)


def duration_words(seconds: float) -> str:
    """A length of time in the largest unit that it fills: 1 hour, 90 minutes, 7 days."""
    for unit in ("days", "hours", "minutes"):
        size = SECONDS[unit]
        if seconds >= size and (seconds % size == 0 or seconds >= 10 * size):
            value = round(seconds / size, 1)
            return f"{d.entered(value)} {unit[:-1] if value == 1 else unit}"
    value = round(seconds, None if seconds >= 10 else 2)
    return f"{d.entered(value)} {'second' if value == 1 else 'seconds'}"
