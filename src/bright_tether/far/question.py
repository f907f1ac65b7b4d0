"""What is asked of a table that is not read in: which columns, and which of its rows."""

from __future__ import annotations

from typing import Literal

import msgspec

from bright_tether.far.place import ROW, named, text
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import SECONDS, Clock, period, shown_from
from bright_tether.tables.filters import Condition

#: What a column holds.
FarKind = Literal["number", "date", "text"]


class Question(msgspec.Struct, frozen=True, kw_only=True):
    """Pairs of two columns, by their headers.

    clock : how x is measured where it is a date. beside : columns without which a row counts as missing.
    conditions : the row filter, by headers; numeric : those of them that hold numbers. group, level : rows of this
    text in this column alone. rows_aside : rows set aside, by their places from 0 in the order of the files. order :
    the column that says in which order the rows came, and what it holds; "" for the order of the files. view : ends of
    x and of y beyond which no pair is asked for.
    """

    x: str
    y: str
    clock: Clock | None = None
    beside: tuple[str, ...] = ()
    conditions: tuple[Condition, ...] = ()
    numeric: frozenset[str] = frozenset()
    group: str = ""
    level: str | None = None
    rows_aside: tuple[int, ...] = ()
    order: str = ""
    order_kind: FarKind = "number"
    view: tuple[float, float, float, float] | None = None

    @property
    def pair(self) -> str:
        """x and y as doubles."""
        return f"{self.x_value} AS x, {self.y_value} AS y"

    @property
    def x_value(self) -> str:
        """x as a double."""
        if self.clock is None:
            return _number(self.x)
        return f"(({moment_of(self.x)}) - ({shown_from(self.clock)!r})) / {SECONDS[self.clock.unit]!r}"

    @property
    def y_value(self) -> str:
        """y as a double."""
        return _number(self.y)

    @property
    def order_value(self) -> str:
        """What the rows are put in order by."""
        reader = {"number": _number, "date": moment_of, "text": words_of}[self.order_kind]
        return reader(self.order)

    @property
    def there(self) -> str:
        """Whether a row has all it needs."""
        needed = [f"isfinite({one})" for one in (self.x_value, self.y_value)]
        needed += [f"{words_of(one)} <> ''" for one in self.beside]
        if self.order:
            needed.append(
                f"{self.order_value} <> ''" if self.order_kind == "text" else f"isfinite({self.order_value})"
            )
        return f"coalesce({' AND '.join(needed)}, false)"

    @property
    def kept(self) -> str:
        """Whether a row meets the filter."""
        found = [_met(one, numbers=one.column in self.numeric) for one in self.conditions]
        return f"coalesce({' AND '.join(found)}, false)" if found else "true"

    @property
    def out(self) -> str:
        """Whether a row is set aside."""
        if not self.rows_aside:
            return "false"
        return f"{named(ROW)} IN ({', '.join(map(str, self.rows_aside))})"

    @property
    def of_all(self) -> bool:
        """Whether every row that has all it needs is a pair."""
        return not self.conditions and not self.rows_aside and self.level is None and self.view is None

    @property
    def in_play(self) -> str:
        """Whether a row is one of the pairs."""
        found = f"({self.kept}) AND ({self.there}) AND NOT ({self.out})"
        if self.view is not None:
            left, right, low, high = self.view
            found += f" AND {self.x_value} BETWEEN {left!r} AND {right!r}"
            found += f" AND {self.y_value} BETWEEN {low!r} AND {high!r}"
        if self.level is None:
            return found
        return f"{found} AND {words_of(self.group)} = {text(self.level)}"


def moment_of(name: str) -> str:
    """A date as seconds since 1970-01-01."""
    return f"epoch(TRY_CAST({named(name)} AS TIMESTAMP))"


def words_of(name: str) -> str:
    """A cell as a text without blanks around it."""
    return f"trim(CAST({named(name)} AS VARCHAR))"


def _number(name: str) -> str:
    return f"TRY_CAST({named(name)} AS DOUBLE)"


def _met(condition: Condition, *, numbers: bool) -> str:
    """One condition on one column, as ``tables.filters`` has it. numbers : whether the column holds numbers."""
    texts = ", ".join(map(text, condition.texts)) or "''"
    words = f"coalesce(CAST({named(condition.column)} AS VARCHAR), '')"  # a blank is a text like any other
    if numbers and condition.relation in ("is", "is not"):
        wanted = [repr(n) for n in map(as_number, condition.texts) if n is not None]
        same = f"{_number(condition.column)} IN ({', '.join(wanted)})" if wanted else "false"
        return (
            same if condition.relation == "is" else f"isfinite({_number(condition.column)}) AND NOT ({same})"
        )
    match condition.relation:
        case "is":
            return f"{words} IN ({texts})"
        case "is not":
            return f"{words} NOT IN ({texts})"
        case "has":
            return f"contains(lower({words}), lower({text(condition.texts[0] if condition.texts else '')}))"
    low, high = condition.low, condition.high
    if low is None and high is None and condition.texts:
        return _dated(condition)
    found = [f"{_number(condition.column)} >= {low!r}"] if low is not None else []
    found += [f"{_number(condition.column)} <= {high!r}"] if high is not None else []
    return " AND ".join(found) or "true"


def _dated(condition: Condition) -> str:
    first, last = (*condition.texts, "", "")[:2]
    low = first if condition.relation in ("between", "from") else ""
    high = last if condition.relation == "between" else first if condition.relation == "until" else ""
    found = [f"{moment_of(condition.column)} >= {float(period(low)[0])!r}"] if low else []
    found += [f"{moment_of(condition.column)} < {float(period(high)[1])!r}"] if high else []
    return " AND ".join(found) or "true"
