"""A line held through the origin, in words."""

from __future__ import annotations

from bright_tether.claims.decision import ChangeClaim
from bright_tether.claims.origin import OriginClaim
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.said import Said


def at_zero(names: Names) -> str:
    """Where x is 0."""
    return f"at {names.at_x(0.0, '0')}"


def origin_headline(change: ChangeClaim, names: Names, digits: int) -> Said:
    """What the line gives for a step of x: no change that data show by themselves."""
    size = names.in_y_change(d.figure(change.slope * change.step, digits))
    each = names.step_of_x(change.step).removeprefix("extra ")
    each = each if each.endswith(names.x) else f"{each} of {names.x}"
    return Said(f"Held through the origin, the line gives about {size} of {names.y} for each {each}.", change)


def origin_missed(claim: OriginClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """That the data do not go through the origin, and what the slope would be."""
    if claim is None or claim.verdict != "misses":
        return ()
    return (
        Said(
            f"{_stands(claim, names, digits)}, not at 0: held through the origin it misses the middle of these data, "
            f"with a slope of {_slope(claim.held_slope, claim, digits)} instead of "
            f"{_slope(claim.slope, claim, digits)}.",
            claim,
        ),
    )


def origin_kept(claim: OriginClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """That the data are compatible with the origin."""
    if claim is None or claim.verdict != "compatible":
        return ()
    return (Said(f"{_stands(claim, names, digits)}, which is compatible with the origin.", claim),)


def origin_bend(claim: OriginClaim | None) -> tuple[Said, ...]:
    """Whether what looks like a bend beside a line through the origin is one."""
    if claim is None or claim.bend is None:
        return ()
    p = d.p_value(claim.bend)
    if claim.bend <= claim.alpha:
        return (Said(f"With an intercept a squared term still tells of a bend ({p}).", claim),)
    rest = ": it is the height at 0 that is missed" if claim.verdict == "misses" else ""
    return (Said(f"With an intercept a squared term tells of no bend ({p}){rest}.", claim),)


def not_together(claim: OriginClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """That a slope through the origin is no relationship by itself."""
    if claim is None or claim.together:
        return ()
    p = "" if claim.p_slope is None else f", {d.p_value(claim.p_slope)}"
    free = f"left free, the slope is {_slope(claim.slope, claim, digits)}{p}"
    rest = f"that they go together is not shown ({free})"
    if claim.other_way:
        rest = f"here {names.y} {'falls' if claim.slope < 0 else 'rises'} with {names.x} ({free})"
    return (Said(f"Through the origin a slope also tells how far from 0 {names.y} lies; {rest}.", claim),)


def _stands(claim: OriginClaim, names: Names, digits: int) -> str:
    half = None if claim.low is None or claim.high is None else (claim.high - claim.low) / 2
    finest = d.decimals_for(half, digits, claim.intercept)
    basis = "" if claim.p is None else d.p_value(claim.p)
    if claim.low is not None and claim.high is not None:
        basis = f"{d.between((claim.low, claim.high), finest)}, {d.level_in_words(claim.level)}; {basis}"
    basis = f" ({basis})" if basis else ""
    return f"Left free, the line stands at {names.in_y(d.fixed(claim.intercept, finest))} {at_zero(names)}{basis}"


def _slope(value: float, claim: OriginClaim, digits: int) -> str:
    """A slope with digits enough to be told from the other."""
    return d.fixed(value, d.decimals_for(claim.held_slope - claim.slope, digits))
