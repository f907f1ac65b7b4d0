"""What may be said of all the ways in which an analysis could have been made."""

from __future__ import annotations

from statistics import median
from typing import ClassVar, Literal

import msgspec

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Interval
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices, Way

#: clear : leaves 0 out of its interval.
WaysVerdict = Literal["none", "one way", "clear throughout", "clear in part", "never clear", "turns"]


class OtherChoicesClaim(Claim, frozen=True, kw_only=True):
    """All ways with a value and an interval, failed : those without. rising, falling : values above and below 0.

    clear_rising, clear_falling : of them, those whose interval leaves 0 out. value, interval, rank : of the present
    way, counted from the smallest, None where it is left out. what : slopes, the change of y from the first to the last
    x, or coefficients; measures : whether τ is among coefficients of larger measure. more : whether not every way was
    worked out; left_out : options that the analyst left out.
    """

    kind: ClassVar[str] = "other_choices"
    ways: int
    failed: int
    rising: int
    falling: int
    clear_rising: int
    clear_falling: int
    lowest: float | None
    highest: float | None
    value: float | None
    interval: Interval | None
    rank: int | None
    first: float
    last: float
    what: Literal["slope", "change", "coefficient"]
    measures: bool
    level: float
    more: bool
    left_out: int
    verdict: WaysVerdict


class MovedMostClaim(Claim, frozen=True, kw_only=True):
    """Which choice, made otherwise alone, moves the present value most. value : what it becomes."""

    kind: ClassVar[str] = "moved_most"
    axis: str
    option: str
    value: float
    present: float


class RowsPathClaim(Claim, frozen=True, kw_only=True):
    """From every row to the rows in play. before, after : the value at both ends. later : rows set aside after results
    were seen; decided : whether another coefficient decided on the way, which stands on the trail.
    """

    kind: ClassVar[str] = "rows_path"
    before: float
    after: float
    reasons: int
    later: bool
    decided: bool = False


def other_choices_claim(found: OtherChoices) -> OtherChoicesClaim:
    """How far the result hangs on what was chosen."""
    ways = found.told
    values = [one.value for one in ways if one.value is not None]
    present = None if found.present is None else found.ways[found.present]
    there = present if present in ways else None
    clear_rising = sum(one.clear and (one.value or 0.0) > 0 for one in ways)
    clear_falling = sum(one.clear and (one.value or 0.0) < 0 for one in ways)
    return OtherChoicesClaim(
        ways=len(ways), failed=found.failed, rising=found.rising, falling=found.falling, clear_rising=clear_rising,
        clear_falling=clear_falling, lowest=min(values, default=None), highest=max(values, default=None),
        value=None if there is None else there.value, interval=None if there is None else there.ci,
        rank=None if there is None else ways.index(there) + 1, first=found.first, last=found.last,
        what=found.what, measures=len({one.options.coefficient == "kendall" for one in ways}) > 1,
        level=found.level, more=found.more,
        left_out=len(found.left_out),
        verdict=_verdict(len(ways), found.rising, found.falling, clear_rising + clear_falling),
    )  # fmt: skip


def _verdict(ways: int, rising: int, falling: int, clear: int) -> WaysVerdict:
    if ways < 2:
        return "one way" if ways else "none"
    if rising and falling:
        return "turns"
    return "clear throughout" if clear == ways else "clear in part" if clear else "never clear"


def moved_most_claim(found: OtherChoices) -> MovedMostClaim | None:
    """None where no single choice can be made otherwise."""
    mover, present = found.mover, found.present
    if mover is None or present is None:
        return None
    value, here = found.ways[mover.way].value, found.ways[present].value
    assert value is not None
    assert here is not None
    return MovedMostClaim(axis=mover.axis, option=mover.option, value=value, present=here)


def rows_path_claim(findings: Findings, found: OtherChoices) -> RowsPathClaim | None:
    """None where nothing led here, or where one end of the path is left out."""
    if len(found.path) < 2 or found.path[-1] != found.present:
        return None
    ends = [found.ways[at] for at in (found.path[0], found.path[-1])]
    decided = len({found.ways[at].options.coefficient for at in found.path}) > 1
    reasons = len(findings.asides_by_reason)
    if reasons and ends[0].options.rows != "every":
        return None
    before, after = (one.value or 0.0 for one in ends)
    later = any(
        one.what in ("set aside", "brought back") and one.tether == findings.tether.id
        for one in findings.study.trail
    )
    return RowsPathClaim(before=before, after=after, reasons=reasons, later=later, decided=decided)


class OptionTold(msgspec.Struct, frozen=True, kw_only=True):
    """One option: the ways that take it, their values from lowest to highest, and how many leave 0 out."""

    axis: str
    option: str
    ways: int
    lowest: float
    middle: float
    highest: float
    clear: int


def options_told(found: OtherChoices) -> tuple[OptionTold, ...]:
    """Every option that some way takes, in the order of the axes; axes of one option are not among them."""
    options_found = []
    for axis, options in found.axes:
        for option in options if len(options) > 1 else ():
            ways: list[Way] = [one for one in found.told if one.takes(axis) == option]
            values = [one.value for one in ways if one.value is not None]
            if values:
                options_found.append(OptionTold(axis=axis, option=option, ways=len(ways), lowest=min(values),
                                       middle=median(values), highest=max(values),
                                       clear=sum(one.clear for one in ways)))  # fmt: skip
    return tuple(options_found)
