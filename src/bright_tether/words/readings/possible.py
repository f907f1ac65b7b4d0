"""What y can be, and lines and intervals that leave it, in words."""

from __future__ import annotations

from bright_tether.claims.forecast import ForecastClaim, PastLimitClaim
from bright_tether.claims.line import PossibleClaim
from bright_tether.tables.column import Column
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.said import Said


def possible_sentences(claims: tuple[PossibleClaim, ...], names: Names) -> tuple[Said, ...]:
    """Where line or band leave the possible range of y."""
    return tuple(
        Said(
            f"The {one.what} runs {one.side} {names.in_y(d.entered(one.limit))}, where {names.y} cannot be: a straight "
            "line ignores that.",
            one,
        )
        for one in claims
    )


def possible_sentence(claim: ForecastClaim, column: Column, names: Names) -> tuple[Said, ...]:
    """A forecast that leaves what y can be. column : y as it was measured."""
    if claim.possible:
        return ()
    least = "" if column.low is None else f"below {names.in_y(d.entered(column.low))}"
    most = "" if column.high is None else f"above {names.in_y(d.entered(column.high))}"
    limits = " or ".join(part for part in (least, most) if part)
    return (
        Said(f"The line or its intervals leave what {names.y} can be (not {limits}): the intervals are cut there, and "
             "a straight line ignores that.", claim),
    )  # fmt: skip


def past_limit_sentences(claims: tuple[PastLimitClaim, ...], names: Names, shown: int) -> tuple[Said, ...]:
    """An interval that reaches where no y in play lies and perhaps none can be. shown : decimals."""
    y, found = names.y, []
    for claim in claims:
        reaches = f"the interval reaches to {names.in_y(d.fixed(claim.end, shown))}"
        if claim.limit == 0:
            lies, scale = f"Every {y} in play lies above 0", "log"
            if not claim.nearest:
                lies, scale = f"No {y} in play lies below 0", "root"
            words = f"{lies}, and {reaches}: where {y} cannot be negative, say so in Gather (possible from), and see "
            words += f"whether its {scale} suits better."
        else:
            words = (
                f"No {y} in play lies above 100 %, and {reaches}: where {y} cannot be more, say so in Gather "
            )
            words += "(possible up to)."
        found.append(Said(words, claim))
    return tuple(found)
