"""Places of days, months and hours along an axis that is measured by a clock."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from bright_tether.tables.clock import SECONDS, Clock, moment_of

_EPOCH = datetime(1970, 1, 1)
_DAY = SECONDS["days"]
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
        week = 4 * _DAY if step in (7 * _DAY, 14 * _DAY) else 0  # 1970-01-05 was a Monday
        start = math.ceil(((first - _EPOCH).total_seconds() - week) / step) * step + week
        end = (last - _EPOCH).total_seconds()
        seconds = [start + at * step for at in range(math.floor((end - start) / step) + 1)]
        return [_value(one, clock) for one in seconds], step
    months = next((many for many in _MONTHS if wide / (many * 30.44 * _DAY) <= most), _MONTHS[-1])
    at = -(-(first.year * 12 + first.month - 1) // months) * months
    places = []
    while at // 12 <= 9999:
        day = datetime(at // 12, at % 12 + 1, 1)
        if day > last:
            break
        if day >= first:
            places.append(_value((day - _EPOCH).total_seconds(), clock))
        at += months
    return places, months * 28 * _DAY


def place_text(value: float, step: float, clock: Clock) -> str:
    """What stands beside a place: the year, the month, the day or the time, as the step asks for."""
    try:
        at = _EPOCH + timedelta(seconds=round(moment_of(value, clock)))
    except OverflowError:
        return ""
    if step >= 12 * 28 * _DAY:
        return f"{at:%Y}"
    if step >= 28 * _DAY:
        return f"{at:%b %Y}"
    if step >= _DAY:
        return f"{at:%-d %b %Y}"
    return (
        f"{at:%-d %b}"
        if (at.hour, at.minute, at.second) == (0, 0, 0)
        else f"{at:%H:%M}"
        if step >= 60
        else f"{at:%H:%M:%S}"
    )


def _value(seconds: float, clock: Clock) -> float:
    return (seconds - moment_of(0.0, clock)) / SECONDS[clock.unit]
