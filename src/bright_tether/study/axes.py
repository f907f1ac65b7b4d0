"""Which columns a tether ties, and what becomes of entries that were typed in another unit."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec
import numpy as np

from bright_tether.study.choices import (
    CompareChoice,
    ForecastChoice,
    LineChoice,
    OtherwiseChoice,
    RehearseChoice,
)
from bright_tether.study.edits import ChangeTether, Edit
from bright_tether.study.names import tether_name
from bright_tether.study.study import Study
from bright_tether.study.tether import RESIDUAL, Tether, View
from bright_tether.tables.clock import Clock, measured, moment_of, usual_clock
from bright_tether.tables.roles import better_pair
from bright_tether.tables.table import Table

#: Entries that go when an axis or its unit changes, as the analyst calls them, and where they stand.
_ALWAYS = (
    ("the slope that is tested against", "line", "slope_0"),
    ("the smallest change that matters", "line", "matters"),
    ("the intercept that is tested against", "line", "intercept_0"),
    ("the weights by a rule", "line", "weight_pattern"),
    ("the weight of a new case", "line", "new_weight"),
    ("the margin of the comparison", "compare", "margin"),
    ("the stated intercept", "rehearse", "intercept"),
    ("the stated slope", "rehearse", "slope"),
    ("the stated sd", "rehearse", "sd"),
    ("what is planned for", "rehearse", "goal"),
    ("the effect that is planned for", "rehearse", "effect"),
    ("the x at which heights are compared", "compare", "height_at"),
    ("the bandwidth of the smooth", "forecast", "bandwidth"),
    ("the first x between which ways are compared", "otherwise", "first"),
    ("the last x between which ways are compared", "otherwise", "last"),
)
#: Entries that go where x, or y, is another column.
_OF_X = ("the x to forecast at", "forecast", "at")
_OF_Y = ("the y to go back from", "forecast", "back")
_STARTS: dict[str, msgspec.Struct] = {
    "line": LineChoice(), "compare": CompareChoice(), "forecast": ForecastChoice(), "rehearse": RehearseChoice(),
    "otherwise": OtherwiseChoice(),
}  # fmt: skip


def choose_axes(study: Study, tether: Tether, *, x: str | None, y: str | None) -> Edit | None:
    """Tie other columns; choosing for one axis what the other holds swaps them.

    What was typed in the unit of a column that is no longer tied goes with it.
    """
    if (x, y) == (tether.y, tether.x) and x != y:
        return swap_axes(study, tether)
    clock = tether.clock if x == tether.x else clock_for(study.table(tether.table), x)
    after = msgspec.structs.replace(tether, x=x, y=y, chosen=True, clock=clock)
    if after == tether:
        return None
    after = without_entries(after, x=x != tether.x, y=y != tether.y)
    return ChangeTether(label=f"Tie {tether_name(study, after)}", before=tether, after=after)


def clock_for(table: Table, column_id: str | None) -> Clock | None:
    """How a date is measured from now on, so that rows which come before its first day move nothing."""
    if not table.has(column_id) or table.column(column_id or "").kind != "date":
        return None
    return usual_clock(table.column(column_id or "").along)


def measure_by(study: Study, tether: Tether, clock: Clock) -> Edit | None:
    """Measure a date by another clock. What was typed along x stays where it is in time; what rests on the unit of
    the slope goes.
    """
    old = tether.clock or clock_for(study.table(tether.table), tether.x)
    if old is None or clock == tether.clock:
        return None

    def there(value: float) -> float:
        return float(measured(np.array([moment_of(value, old)]), clock)[0])

    kept = without_entries(tether, x=False, y=False)
    view, forecast = kept.view, kept.forecast
    ends = view.x and (
        None if view.x[0] is None else there(view.x[0]),
        None if view.x[1] is None else there(view.x[1]),
    )
    after = msgspec.structs.replace(
        kept, clock=clock, view=msgspec.structs.replace(view, x=ends),
        forecast=msgspec.structs.replace(
            forecast, at=tuple(map(there, forecast.at)), cases=tuple((there(x), y) for x, y in forecast.cases)
        ),
    )  # fmt: skip
    return ChangeTether(label=f"Measure x in {clock.unit} since {clock.since}", before=tether, after=after)


def swap_axes(study: Study, tether: Tether) -> Edit | None:
    """Let x and y change places; what is typed for one axis goes with its column, what rests on both goes."""
    if tether.x == tether.y:
        return None
    view, forecast = tether.view, tether.forecast
    after = msgspec.structs.replace(
        tether, x=tether.y, y=tether.x, chosen=True,
        view=msgspec.structs.replace(
            view, x=view.y, y=view.x, x_label=view.y_label, y_label=view.x_label,
            log_x=view.log_y, log_y=view.log_x,
        ),
        forecast=msgspec.structs.replace(
            forecast, at=forecast.back, back=forecast.at, cases=tuple((y, x) for x, y in forecast.cases)
        ),
        line=msgspec.structs.replace(tether.line, error_ratio=1 / tether.line.error_ratio),
    )  # fmt: skip
    return ChangeTether(label="Swap x and y", before=tether, after=without_entries(after, x=False, y=False))


def entries_gone(edit: Edit | None) -> tuple[str, ...]:
    """What was typed in another unit and went when the axes, or the clock, changed, as the analyst calls it."""
    if not isinstance(edit, ChangeTether):
        return ()
    before, after = edit.before, edit.after
    if (before.x, before.y, before.clock) == (after.x, after.y, after.clock):
        return ()
    swapped = (before.x, before.y) == (after.y, after.x)
    places = _ALWAYS if swapped else (*_ALWAYS, _OF_X, _OF_Y)
    gone = [
        name for name, part, field in places if _typed(before, part, field) and not _typed(after, part, field)
    ]
    gone += ["the kept cases"] if before.forecast.cases and not after.forecast.cases else []
    gone += ["the answers to doubts"] if before.answers and not after.answers else []
    return tuple(gone)


def tied_again(study: Study, table_id: str) -> Iterator[ChangeTether]:
    """Better first choices for tethers on a table whose axes nobody chose."""
    table = study.table(table_id)
    for tether in study.tethers:
        if tether.table == table_id and not tether.chosen:
            x, y = better_pair(table.columns, tether.x, tether.y)
            if (x, y) != (tether.x, tether.y):
                after = msgspec.structs.replace(tether, x=x, y=y, clock=clock_for(table, x))
                yield ChangeTether(label=f"Tie {tether_name(study, after)}", before=tether, after=after)


def _typed(tether: Tether, part: str, field: str) -> bool:
    return bool(getattr(getattr(tether, part), field) != getattr(_STARTS[part], field))


def without_entries(tether: Tether, *, x: bool, y: bool) -> Tether:
    """The tether without what rests on both axes, and on x or y where that is another column now."""
    for _, part, field in (*_ALWAYS, *((_OF_X,) if x else ()), *((_OF_Y,) if y else ())):
        if _typed(tether, part, field):
            held = msgspec.structs.replace(getattr(tether, part), **{field: getattr(_STARTS[part], field)})
            tether = msgspec.structs.replace(tether, **{part: held})
    cases = () if x or y else tether.forecast.cases
    bins = {key: held for key, held in tether.view.bins.items() if key != RESIDUAL}
    start, own = View(), ("x_label", "x", "log_x") * x + ("y_label", "y", "log_y") * y
    return msgspec.structs.replace(
        tether, answers=(), lineups=(),
        view=msgspec.structs.replace(tether.view, bins=bins, **{name: getattr(start, name) for name in own}),
        forecast=msgspec.structs.replace(tether.forecast, cases=cases),
    )  # fmt: skip
