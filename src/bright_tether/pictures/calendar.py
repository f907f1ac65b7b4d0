"""Places of days, months and hours along an axis that is measured by a clock."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from bright_tether.study.figures import StepUnit
from bright_tether.tables.clock import SECONDS, Clock, moment_of, shown_at

_EPOCH = datetime(1970, 1, 1)
_DAY = SECONDS["days"]
_MONTH, _YEAR = 28 * _DAY, 12 * 28 * _DAY
#: Steps in seconds that a reader counts in, up to days; longer ones are in months.
_STEPS = (
    1,
    5,
    15,
    30,
    60,
    300,
    900,
    1800,
    3600,
    3 * 3600,
    6 * 3600,
    12 * 3600,
    _DAY,
    2 * _DAY,
    7 * _DAY,
    14 * _DAY,
)
_MONTHS = (1, 2, 3, 6, 12, 24, 60, 120, 240, 600, 1200)
#: 1970-01-05 was a Monday.
_MONDAY = 4 * _DAY
#: Months in what is no whole number of days.
_IN_MONTHS = {"months": 1, "years": 12}


def calendar_places(low: float, high: float, most: int, clock: Clock) -> tuple[list[float], int]:
    """Up to so many readable places between two values of a clock, and the seconds from one to the next.

    No place where the calendar does not reach.
    """
    try:
        first, last = (_EPOCH + timedelta(seconds=moment_of(value, clock)) for value in (low, high))
    except OverflowError:
        return [], _DAY
    wide, most = (last - first).total_seconds(), max(most, 2)
    step = next((step for step in _STEPS if wide / step <= most), None)
    if step is not None:
        return [shown_at(one, clock) for one in _evenly(first, last, step)], step
    months = next((many for many in _MONTHS if wide / (many * 30.44 * _DAY) <= most), _MONTHS[-1])
    return [shown_at(one, clock) for one in _monthly(first, last, months)], months * _MONTH


def calendar_steps(first: float, last: float, many: float, unit: StepUnit, most: int) -> list[float]:
    """The moments from one to another that stand so many of a unit apart; none where they would be too many.

    Months and years are counted whole.
    """
    try:
        start, end = (_EPOCH + timedelta(seconds=one) for one in (first, last))
    except OverflowError:
        return []
    if unit in _IN_MONTHS:
        months = max(round(many), 1) * _IN_MONTHS[unit]
        return _monthly(start, end, months) if (last - first) / (months * _MONTH) <= most else []
    step = many * SECONDS[unit] if unit in SECONDS else 0
    return _evenly(start, end, step) if step > 0 and (last - first) / step <= most else []


def fineness(moments: list[float]) -> float:
    """The seconds of the coarsest words that tell these moments: years, months, days, minutes or seconds."""
    at = [_EPOCH + timedelta(seconds=round(one)) for one in moments]
    if any((one.hour, one.minute, one.second) != (0, 0, 0) for one in at):
        return 1 if any(one.second for one in at) else 60
    if any(one.day != 1 for one in at):
        return _DAY
    return _MONTH if any(one.month != 1 for one in at) else _YEAR


def place_text(value: float, step: float, clock: Clock, *, whole: bool = False) -> str:
    """What stands beside a place: the year, the month, the day or the time, as the step asks for.

    whole : a time with its day, where it is not among times of the same day.
    """
    try:
        at = _EPOCH + timedelta(seconds=round(moment_of(value, clock)))
    except OverflowError:
        return ""
    if step >= _YEAR:
        return f"{at:%Y}"
    if step >= _MONTH:
        return f"{at:%b %Y}"
    if step >= _DAY:
        return f"{at:%-d %b %Y}"
    if (at.hour, at.minute, at.second) == (0, 0, 0):
        return f"{at:%-d %b}"
    time = f"{at:%H:%M}" if step >= 60 else f"{at:%H:%M:%S}"
    return f"{at:%-d %b} {time}" if whole else time


def _evenly(first: datetime, last: datetime, step: float) -> list[float]:
    """Moments a step apart, weeks from a Monday."""
    start = _MONDAY if step >= 7 * _DAY and step % (7 * _DAY) == 0 else 0
    low, high = ((one - _EPOCH).total_seconds() - start for one in (first, last))
    return [at * step + start for at in range(math.ceil(low / step), math.floor(high / step) + 1)]


def _monthly(first: datetime, last: datetime, months: int) -> list[float]:
    """First days of months, so many apart."""
    at = -(-(first.year * 12 + first.month - 1) // months) * months
    places = []
    while at // 12 <= 9999:
        day = datetime(at // 12, at % 12 + 1, 1)
        if day > last:
            break
        if day >= first:
            places.append((day - _EPOCH).total_seconds())
        at += months
    return places
