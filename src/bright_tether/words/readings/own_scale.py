"""The change by a line in logs, told in the columns as they were measured."""

from __future__ import annotations

from bright_tether.claims.line import OwnScaleClaim
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.said import Said


def own_scale_sentence(claim: OwnScaleClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """What a change of x goes with. names : of the columns as they were measured."""
    if claim is None:
        return ()
    spread = None if claim.low is None or claim.high is None else (claim.high - claim.low) / 4
    shown = d.decimals_for(spread, digits, claim.value)
    sure = ""
    if claim.low is not None and claim.high is not None and claim.low < claim.high:
        ends = (claim.low, claim.high) if claim.times or claim.value >= 0 else (-claim.high, -claim.low)
        sure = f" ({d.between(ends, shown)}, {d.level_in_words(claim.level)})"
    who = f"each {names.step_of_x(claim.step)}"
    if claim.factor is not None:
        who = (
            f"twice the {names.x}" if claim.factor == 2 else f"{d.entered(claim.factor)} times the {names.x}"
        )
    if claim.times:
        does = f"{d.fixed(claim.value, shown)} times the {names.y}{sure}, by geometric means"
    else:
        size = names.in_y_change(d.fixed(abs(claim.value), shown))
        does = f"{size} {'more' if claim.value >= 0 else 'less'} {names.y}{sure}"
    return (Said(f"As measured, {who} goes with {does}.", claim),)
