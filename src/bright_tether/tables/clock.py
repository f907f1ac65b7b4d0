"""Dates and times as they are written, and the moments they stand for."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime, timedelta, timezone
from typing import Literal, NamedTuple

import msgspec
import numpy as np
from numpy.typing import NDArray

from bright_tether.tables.cells import hardly_any
from bright_tether.tables.texts import Texts

Floats = NDArray[np.float64]
DateOrder = Literal["day first", "month first"]
#: Which of two numbers is the day can be told from a column, or has to be asked.
ORDERS: tuple[DateOrder, ...] = ("day first", "month first")
ClockUnit = Literal["seconds", "minutes", "hours", "days", "weeks", "years"]
#: Seconds in each; a year is 365.25 days.
SECONDS: dict[ClockUnit, int] = {
    "seconds": 1, "minutes": 60, "hours": 3600, "days": 86_400, "weeks": 604_800, "years": 31_557_600,
}  # fmt: skip
_MONTHS = {
    name[:length]: at
    for at, name in enumerate(
        ("january", "february", "march", "april", "may", "june", "july", "august", "september", "october",
         "november", "december"), 1)
    for length in (3, len(name))
} | {"sept": 9}  # fmt: skip
_TIME = r"(?:[T ,]+(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,6}))?)?\s*([ap]\.?m\.?)?\s*(z|utc|[+\-]\d{2}:?\d{2})?)?"
_YEAR_FIRST = re.compile(r"(\d{4})([-/.])(\d{1,2})\2(\d{1,2})" + _TIME, re.IGNORECASE)
_MONTH = re.compile(r"(\d{4})-(\d{2})")
_WEEK = re.compile(r"(\d{4})-?W(\d{2})(?:-?([1-7]))?", re.IGNORECASE)
_YEAR_LAST = re.compile(r"(\d{1,2})([-/.])\s?(\d{1,2})\2\s?(\d{4}|\d{2})" + _TIME, re.IGNORECASE)
_NAMED = re.compile(r"(\d{1,2})(?:st|nd|rd|th)?[ .\-/]+([a-z]{3,9})\.?[ ,\-/]+(\d{4})" + _TIME, re.IGNORECASE)
_NAMED_FIRST = re.compile(r"([a-z]{3,9})\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})" + _TIME, re.IGNORECASE)
#: Texts that are read as dates at a time.
_AT_ONCE = 1 << 14
#: Lengths of days, and of days with a time, as they are kept; "" is none.
_PLAIN = (0, 10, 16, 19)
_EPOCH = datetime(1970, 1, 1)
#: Years of two digits are 1969 to 2068.
_PIVOT = 69


class Clock(msgspec.Struct, frozen=True):
    """How a date is measured as a number: units since a day, written 2021-03-04."""

    unit: ClockUnit
    since: str


class _Written(NamedTuple):
    """A date as it stands: its year, day and month in this order or, where that is None, in either; its time."""

    year: int
    parts: tuple[int, int]
    order: DateOrder | None
    time: str
    zone: str


def is_date(text: str) -> bool:
    """Whether a text is a date by some reading."""
    return bool(_readings(text))


def orders_of(texts: Iterable[str]) -> frozenset[DateOrder]:
    """By which order of day and month every one of these texts is a date; both where they cannot be told apart."""
    possible = set(ORDERS)
    for text in texts:
        possible &= set(_readings(text))
        if not possible:
            break
    return frozenset(possible)


def depends_on_order(texts: Iterable[str]) -> bool:
    """Whether these dates are other days by the two orders."""
    return bool(first_unclear(texts))


def order_told(texts: Sequence[str]) -> DateOrder | Literal["ask"] | None:
    """How dates are written: told by the texts, to be asked, or None where four in five are no dates."""
    dates: list[str] = []
    if hardly_any(texts, lambda text: bool(_readings(text))):
        return None
    for at, text in enumerate(texts):
        if _readings(text):
            dates.append(text)
        elif len(texts) - (at + 1 - len(dates)) < 0.8 * len(
            texts
        ):  # those that are left cannot make up for it
            return None
    if not dates:
        return None
    possible = orders_of(dates)
    if not possible:
        return None
    return (
        "ask" if len(possible) == 2 and depends_on_order(dates) else next(o for o in ORDERS if o in possible)
    )


def first_unclear(texts: Iterable[str]) -> str:
    """The first date that is another day by the other order; "" where there is none."""
    return next(
        (text for text in texts if canonical(text, "day first") != canonical(text, "month first")), ""
    )


def canonical(text: str, order: DateOrder) -> str | None:
    """The date as it is kept, year first; None where it is none by this order.

    2021-03-04, with the time and the zone where they were written; months and ISO weeks stay as they are.
    """
    text = text.strip()
    if _moment(text) is not None:
        return text
    written = _written(text)
    day = _day(written, order) if written else None
    if written is None or day is None:
        return None
    return f"{day.isoformat()}{' ' + written.time if written.time else ''}{written.zone}"


def moments(cells: np.ndarray) -> Floats:
    """Seconds since 1970-01-01 of each text as it is kept, (rows,) float64; NaN for what is no date.

    A month is its first day, a week its Monday. A stated zone is turned into UTC; none counts as written.
    """
    if isinstance(cells, Texts):  # alike texts are read once
        return cells.by_word(lambda words: moments(words.astype(object)))
    if cells.size > _AT_ONCE:  # between two lots other threads come to their turn
        lots = range(0, cells.size, _AT_ONCE)
        return np.concatenate([_moments(cells[start : start + _AT_ONCE]) for start in lots])
    return _moments(cells)


def _moments(cells: np.ndarray) -> Floats:
    texts = cells.astype(str)
    try:
        if _plain(texts):
            found = texts.astype("datetime64[s]")
            return np.where(np.isnat(found), np.nan, found.astype(np.int64).astype(float))
    except (ValueError, DeprecationWarning):  # a 31st of February among them, or a zone
        pass
    distinct, places = np.unique(texts, return_inverse=True)
    values = [_moment(text.strip()) for text in distinct.tolist()]
    held = np.array([np.nan if value is None else value for value in values] or [np.nan], float)
    return held[places.reshape(-1)]


def _plain(texts: NDArray[np.str_]) -> bool:
    """Whether every text could be a day or a day with a time, by its length and the dashes in it."""
    if not texts.size or texts.dtype.itemsize < 4 * _PLAIN[1]:
        return False
    letters = texts.view("U1").reshape(texts.size, -1)
    blank = letters[:, 0] == ""
    dashed = (letters[:, 4] == "-") & (letters[:, 7] == "-")
    return bool((blank | dashed).all() and np.isin(np.char.str_len(texts), _PLAIN).all())


def moment(text: str) -> float | None:
    """The moment a typed date stands for, year first or with its month in letters; None where it is none."""
    kept = canonical(text, "day first")
    return None if kept is None or kept != canonical(text, "month first") else _moment(kept)


def period(text: str) -> tuple[float, float]:
    """The first moment of what a text names, and the first after it: of a year, a month, a week, a day, a minute.

    NaN for what is no date.
    """
    text = text.strip()
    year = re.fullmatch(r"\d{4}", text)
    first = _moment(f"{text}-01") if year else moment(text)
    if first is None:
        return np.nan, np.nan
    if year or _MONTH.fullmatch(text):
        number, month = int(text[:4]), 12 if year else int(text[5:7])
        after = _moment(f"{number + month // 12:04}-{month % 12 + 1:02}")
        return first, np.inf if after is None else after
    if match := _WEEK.fullmatch(text):
        return first, first + SECONDS["days" if match[3] else "weeks"]
    timed = ":" in text
    return first, first + (1 if text.count(":") > 1 else 60 if timed else SECONDS["days"])


def zones_of(cells: np.ndarray) -> frozenset[str]:
    """The zones that stand behind these times; "" for a time without one. Days alone have none."""
    found = set()
    for text in cells.different if isinstance(cells, Texts) else set(cells.tolist()):
        match = _YEAR_FIRST.fullmatch(text.strip())
        if match is not None and match[5] is not None:
            found.add(_zone_text(match[10]))
    return frozenset(found)


def usual_clock(values: Floats) -> Clock | None:
    """A clock for these moments, (k,): days since the first, or hours or years where these fit their span."""
    finite = values[np.isfinite(values)]
    if not finite.size:
        return None
    span = float(np.ptp(finite))
    steps = np.diff(np.unique(finite))
    unit: ClockUnit = "days"
    if steps.size and span < 7 * SECONDS["days"]:
        unit = "hours" if span >= 2 * SECONDS["hours"] else "minutes" if span >= 120 else "seconds"
        if bool((finite % SECONDS["days"] == 0).all()):
            unit = "days"
    elif span > 20 * SECONDS["years"]:
        unit = "years"
    return Clock(unit, day_text(float(finite.min())))


def day_text(seconds: float) -> str:
    """The day of a moment: 2021-03-04."""
    return (_EPOCH + timedelta(seconds=seconds)).date().isoformat()


def shown_from(clock: Clock) -> float:
    """The moment at which a clock shows 0, in seconds since 1970-01-01."""
    return _moment(clock.since) or 0.0


def measured(values: Floats, clock: Clock) -> Floats:
    """Moments by a clock, (rows,): exact where they are whole units."""
    return (values - shown_from(clock)) / SECONDS[clock.unit]


def moment_of(value: float, clock: Clock) -> float:
    """The moment at which a clock shows a value."""
    return value * SECONDS[clock.unit] + shown_from(clock)


def shown_at(seconds: float, clock: Clock) -> float:
    """What a clock shows at a moment."""
    return (seconds - shown_from(clock)) / SECONDS[clock.unit]


def value_of(text: str, clock: Clock) -> float | None:
    """What a clock shows at a typed date; None where it is none that has one day."""
    seconds = moment(text)
    return None if seconds is None else shown_at(seconds, clock)


def as_written(seconds: float, step: float = SECONDS["days"]) -> str:
    """A moment as text, as fine as the step in seconds asks for; "" beyond the calendar."""
    try:
        at = _EPOCH + timedelta(seconds=round(seconds))
    except OverflowError:
        return ""
    if step >= SECONDS["days"] or (step >= 60 and not (at.hour or at.minute or at.second)):
        return at.strftime("%Y-%m-%d") if at.year >= 1000 else at.date().isoformat()
    return at.strftime("%Y-%m-%d %H:%M" if step >= 60 and not at.second else "%Y-%m-%d %H:%M:%S")


def duration(text: str) -> float | None:
    """The seconds of a text such as “1 hour” or “5 minutes”; None where it is none."""
    match = re.fullmatch(r"\s*(\d+(?:\.\d+)?)\s*([a-z]+)\s*", text, re.IGNORECASE)
    if match is None:
        return None
    word = match[2].lower()
    return next((float(match[1]) * size for unit, size in SECONDS.items() if word in (unit, unit[:-1])), None)


def _readings(text: str) -> tuple[DateOrder, ...]:
    return tuple(order for order in ORDERS if canonical(text, order) is not None)


def _written(text: str) -> _Written | None:
    if match := _YEAR_FIRST.fullmatch(text):
        year, (month, day), rest = int(match[1]), (int(match[3]), int(match[4])), match.groups()[4:]
        time = _time_text(rest)
        return None if time is None else _Written(year, (day, month), "day first", time, _zone_text(rest[5]))
    if match := _YEAR_LAST.fullmatch(text):
        year = int(match[4])
        if len(match[4]) == 2:
            year += 1900 if year >= _PIVOT else 2000
        rest = match.groups()[4:]
        time = _time_text(rest)
        parts = int(match[1]), int(match[3])
        return None if time is None else _Written(year, parts, None, time, _zone_text(rest[5]))
    for pattern, day_at, month_at in ((_NAMED, 1, 2), (_NAMED_FIRST, 2, 1)):
        match = pattern.fullmatch(text)
        named = _MONTHS.get(match[month_at].lower()) if match else None
        if match and named:
            rest = match.groups()[3:]
            time = _time_text(rest)
            parts = int(match[day_at]), named
            return (
                None if time is None
                else _Written(int(match[3]), parts, "day first", time, _zone_text(rest[5]))
            )  # fmt: skip
    return None


def _day(written: _Written, order: DateOrder) -> date | None:
    day, month = written.parts if (written.order or order) == "day first" else written.parts[::-1]
    try:
        return date(written.year, month, day)
    except ValueError:
        return None


def _time_text(rest: tuple[str | None, ...]) -> str | None:
    """A time as 13:05 or 13:05:30; "" for none, None for what no clock shows."""
    hour, minute, second, part, half = rest[:5]
    if hour is None or minute is None:
        return ""
    number = int(hour)
    if half:
        if not 1 <= number <= 12:
            return None
        number = number % 12 + (12 if half.lower().startswith("p") else 0)
    if number > 23 or int(minute) > 59 or int(second or 0) > 59:
        return None
    return f"{number:02}:{minute}" + (f":{second}" if second else "") + (f".{part}" if part else "")


def _zone_text(zone: str | None) -> str:
    if not zone:
        return ""
    if zone.lower() in ("z", "utc"):
        return "Z"
    return zone if ":" in zone else f"{zone[:3]}:{zone[3:]}"


def _moment(text: str) -> float | None:
    """The moment of a text as it is kept."""
    try:
        if match := _MONTH.fullmatch(text):
            return (datetime(int(match[1]), int(match[2]), 1) - _EPOCH).total_seconds()
        if match := _WEEK.fullmatch(text):
            day = date.fromisocalendar(int(match[1]), int(match[2]), int(match[3] or 1))
            return (datetime(day.year, day.month, day.day) - _EPOCH).total_seconds()
        match = _YEAR_FIRST.fullmatch(text)
        if match is None or match[2] != "-" or len(match[3]) != 2 or len(match[4]) != 2 or match[9]:
            return None
        hour, minute, second, part = (match[at] for at in (5, 6, 7, 8))
        at = datetime(
            int(match[1]), int(match[3]), int(match[4]), int(hour or 0), int(minute or 0), int(second or 0),
            int((part or "0").ljust(6, "0")),
        )  # fmt: skip
        zone = _zone_text(match[10])
        if zone and zone != "Z":
            ahead = timedelta(hours=int(zone[1:3]), minutes=int(zone[4:6]))
            at = at.replace(tzinfo=timezone(ahead if zone[0] == "+" else -ahead))
            return (at.astimezone(UTC).replace(tzinfo=None) - _EPOCH).total_seconds()
        return (at - _EPOCH).total_seconds()
    except (ValueError, OverflowError):
        return None
