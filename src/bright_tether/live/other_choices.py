"""Every way in which the analysis could have been made otherwise, worked out beside the present one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import groupby, islice
from typing import Literal

import msgspec

from bright_tether.core.line.change import Scale
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Interval, Ints, Refusal
from bright_tether.core.summary import quartiles
from bright_tether.live.held import HeldResults
from bright_tether.live.line import LineResults
from bright_tether.live.way_comes_to import way_comes_to
from bright_tether.live.ways import (
    AFTER,
    NO_RATIOS,
    SCALES,
    Asked,
    Options,
    Rows,
    TakenFrom,
    options_of,
    present_way,
    ways_of,
)
from bright_tether.study.declared import given, result, run

#: More ways than these are not worked out.
MOST_WAYS = 2000
#: How often the work looks whether it is still wanted.
_EVERY = 8


class Way(msgspec.Struct, frozen=True):
    """One way: its options, the pairs that it has, and what y changes by, with its interval."""

    options: Options
    n: int
    value: float | None
    ci: Interval | None

    @property
    def clear(self) -> bool:
        """Whether the interval leaves 0 out."""
        return self.ci is not None and (self.ci[0] > 0 or self.ci[1] < 0)

    def takes(self, axis: str) -> str:
        """The option that it takes of an axis."""
        return str(getattr(self.options, axis))

    def measures_as(self, other: Way) -> bool:
        """Whether both values are on one measure: τ is smaller than the others for the same strength."""
        return (self.options.coefficient == "kendall") is (other.options.coefficient == "kendall")


class Mover(msgspec.Struct, frozen=True, kw_only=True):
    """The choice that moves the result most when it alone is made otherwise. way : its place among the ways."""

    axis: str
    option: str
    way: int


@dataclass(frozen=True, kw_only=True)
class OtherChoices:
    """All ways, smallest value first; those without a value last.

    axes : the options of each axis that some way takes. present : place of the way that is in force; None where it is
    left out or has no value. path : places of the ways that led to it, by rows set aside
    and coefficients that decided, the present one last. what : slopes, or the change of y from the first to the last
    x, or coefficients.
    failed : ways that have no value or no interval. left_out : options that the analyst left out.
    more : whether there would be more ways than are worked out.
    """

    axes: tuple[tuple[str, tuple[str, ...]], ...]
    ways: tuple[Way, ...]
    present: int | None
    path: tuple[int, ...]
    first: float
    last: float
    what: Literal["slope", "change", "coefficient"]
    level: float
    left_out: tuple[str, ...]
    more: bool
    whole: bool

    @once
    def told(self) -> tuple[Way, ...]:
        """Those that have a value with an interval."""
        return tuple(one for one in self.ways if one.value is not None and one.ci is not None)

    @property
    def failed(self) -> int:
        """How many have none."""
        return len(self.ways) - len(self.told)

    @once
    def rising(self) -> int:
        """How many have a value above 0."""
        return sum((one.value or 0.0) > 0 for one in self.told)

    @once
    def falling(self) -> int:
        """How many have a value below 0."""
        return sum((one.value or 0.0) < 0 for one in self.told)

    @once
    def clear(self) -> int:
        """How many leave 0 out."""
        return sum(one.clear for one in self.told)

    @once
    def mover(self) -> Mover | None:
        """Which single choice moves the present result most; None where none can be made alone."""
        if self.present is None:
            return None
        here, found, farthest = self.ways[self.present], None, 0.0
        for at, one in enumerate(self.ways):
            changed = [axis for axis, _ in self.axes if here.takes(axis) != one.takes(axis)]
            # errors and weights follow the line that is chosen
            single = [axis for axis in changed if axis != "errors"] or changed
            if len(single) != 1 or one.value is None or here.value is None or not here.measures_as(one):
                continue
            away = abs(one.value - here.value)
            if away > farthest:
                found, farthest = Mover(axis=single[0], option=one.takes(single[0]), way=at), away
        return found


def _worked(
    asked: Asked, left_out: tuple[str, ...], ends: tuple[float | None, float | None],
    led_by: tuple[tuple[int, str], ...], progress: Callable[[tuple[int, int]], bool],
) -> OtherChoices:  # fmt: skip
    """Every way, worked out one after another. progress : told how many of how many; False ends it."""
    rows = Rows(asked)
    listed = list(islice(ways_of(asked, rows, left_out), MOST_WAYS + 1))
    not_worked, listed = max(len(listed) - MOST_WAYS, 0), listed[:MOST_WAYS]
    in_slopes = asked.what == "coefficient" or all(one.scale == "plain" for one in listed)
    between = _between(rows, ends)
    ways: list[Way] = []
    whole = True
    for at, options in enumerate(listed):
        if at % _EVERY == 0 and not progress((at, len(listed))):
            whole = False
            break
        try:
            value, ci = way_comes_to(asked, rows, options, None if in_slopes else between)
        except Refusal:
            value, ci = None, None
        pairs = rows.pairs(options.rows, options.scale)
        ways.append(Way(options, 0 if pairs is None else pairs.n, value, ci))
    ways.sort(key=lambda one: (one.value is None, one.value or 0.0))
    led = [_place(ways, present_way(asked, _state(asked, many), decided)) for many, decided in led_by]
    path = tuple(at for at, _ in groupby(led) if at is not None)
    what: Literal["slope", "change", "coefficient"] = (
        "coefficient" if asked.what == "coefficient" else "slope" if in_slopes else "change"
    )
    options_there = options_of(asked, _every(rows).n)
    taken = {axis: {one.takes(axis) for one in ways} for axis in options_there}
    return OtherChoices(
        axes=tuple((axis, tuple(one for one in some if one in taken[axis])) for axis, some in options_there.items()),
        ways=tuple(ways), present=_place(ways, present_way(asked)), path=path if len(path) > 1 else (),
        first=between[0], last=between[1], what=what, level=asked.level, left_out=left_out,
        more=bool(not_worked), whole=whole,
    )  # fmt: skip


def _state(asked: Asked, many: int) -> str:
    """The rows when so many of the reasons had set theirs aside."""
    if many == len(asked.asides):
        return "taken"
    return f"{AFTER}{many}" if many else "every"


def _place(ways: list[Way], options: Options) -> int | None:
    return next((at for at, one in enumerate(ways) if one.options == options and one.value is not None), None)


def _every(rows: Rows) -> Pairs:
    found = rows.pairs("every", "plain")
    assert found is not None
    return found


def _between(rows: Rows, ends: tuple[float | None, float | None]) -> tuple[float, float]:
    """The x between which y is compared: as stated, else the quartiles of x of every row. Raises TooFewPairs."""
    require(_every(rows), 1)
    low, q1, _, q3, high = quartiles(_every(rows).ordered_x)
    first, last = (q1 if ends[0] is None else ends[0]), (q3 if ends[1] is None else ends[1])
    return (first, last) if first < last else (low, high)


def _all_worked(value: OtherChoices, *_: object) -> bool:
    return value.whole


class OtherChoiceResults(HeldResults):
    """What other choices would have come to."""

    @given
    def asides_by_reason(self) -> tuple[tuple[str, Ints], ...]:
        """The rows set aside, (m,) of each reason, in the order in which the reasons came."""
        return self.tether.asides.by_reason

    @given
    def scales(self) -> tuple[Scale, ...]:
        """The scales on which both columns make sense."""
        whole = [one.clock is None and (one.unit or "").strip() not in NO_RATIOS
                 for one in (self.x_column, self.y_column)]  # fmt: skip
        return tuple(
            scale for scale, logs in SCALES.items()
            if not any(log and not can for log, can in zip(logs, whole, strict=True))
        )  # fmt: skip

    taken_from = result(TakenFrom, LineResults.x_cells, LineResults.y_cells, LineResults.row_ids, asides_by_reason,
                        LineResults.kept, LineResults.beside, LineResults.weights,
                        LineResults.weight_pattern)  # fmt: skip

    @given
    def coefficient_otherwise(self) -> str | None:
        """The coefficient that decides, Pearson's where the slope does; None where slopes are compared."""
        if self.tether.otherwise.what == "slope":
            return None
        return "pearson" if self.rules.decide == "slope" else self.rules.decide

    asked_otherwise = result(Asked, taken_from, LineResults.origin, HeldResults.error_kind, LineResults.error_ratio,
                             LineResults.order_cells, LineResults.cluster_cells, HeldResults.held_cells,
                             LineResults.level, scales, coefficient_otherwise)  # fmt: skip

    @given
    def left_out(self) -> tuple[str, ...]:
        """Options that the analyst left out."""
        return self.tether.otherwise.left_out

    @given
    def compared_between(self) -> tuple[float | None, float | None]:
        """The x between which y is compared, where they were stated."""
        return self.tether.otherwise.first, self.tether.otherwise.last

    @given
    def decisions_taken(self) -> tuple[tuple[int, str], ...]:
        """What led to the present way: how many of the reasons had set rows aside, and which coefficient decided.

        What stands on no trail was chosen before results were seen, and comes first.
        """
        reasons = [reason for reason, _ in self.asides_by_reason]
        own = self.rules.origin_of("decide") == "tether"
        whose = (self.tether.id,) if own else (None, self.tether.id)  # the study's trail has rules alone
        trail = [one for one in self.study.trail if one.tether in whose]
        later = {reason for one in trail if one.what == "set aside" for reason in one.after.split("; ")}
        decided = next((one.before for one in trail if one.what == "decide"), self.rules.decide)
        first = next((at for at, reason in enumerate(reasons) if reason in later), len(reasons))
        steps = [(many, decided) for many in range(first + 1)]
        for one in trail:
            many, decided = steps[-1]
            if one.what == "decide":
                steps.append((many, one.after))
            elif one.what == "set aside":
                places = (reasons.index(reason) + 1 for reason in one.after.split("; ") if reason in reasons)
                steps += [(place, decided) for place in places if place > many]
        steps += [(many, steps[-1][1]) for many in range(steps[-1][0] + 1, len(reasons) + 1)]
        steps.append((len(reasons), self.rules.decide))
        return tuple(
            one for one, _ in groupby((many, "pearson" if by == "slope" else by) for many, by in steps)
        )

    other_choices = run(
        _worked, asked_otherwise, left_out, compared_between, decisions_taken, whole=_all_worked
    )
