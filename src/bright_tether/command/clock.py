"""What a call says of dates: how they are written, how they are measured, and forecasts at them."""

from __future__ import annotations

import argparse
from collections.abc import Iterable

from bright_tether.command.entries import BadCall, day
from bright_tether.tables.clock import (
    ORDERS,
    SECONDS,
    Clock,
    DateOrder,
    first_unclear,
    order_told,
    usual_clock,
    value_of,
)
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

_SAID: dict[str, DateOrder] = {order.replace(" ", "-"): order for order in ORDERS}


def add_clock(parser: argparse.ArgumentParser) -> None:
    """Add the options."""
    parser.add_argument("--dates", choices=tuple(_SAID), help="how dates such as 03/04/2021 are written")
    parser.add_argument("--per", choices=tuple(SECONDS), help="the unit of x where x is a date")
    parser.add_argument("--since", type=day, metavar="DATE", help="the day a date is counted from")


def dated(table: Table, options: argparse.Namespace) -> Table:
    """The table with its dates read as said. Raises BadCall where two readings of a date in use are left open."""
    named = {
        column.id for name in (options.x, options.y, options.order) if name
        for column in (table.named(name),) if column is not None
    }  # fmt: skip
    for column in table.columns:
        if column.kind in ("number", "date") or column.id not in named:
            continue
        filled = [text for text in column.texts.different if text]
        if order_told(filled) != "ask":
            continue
        if options.dates is None:
            raise BadCall(
                f"The dates of “{column.name}”, such as {first_unclear(filled)}, can be read in two ways: "
                "say --dates day-first or --dates month-first."
            )
        table = table.with_column(column.with_dates(_SAID[options.dates]))
    return table


def clock_of(column: Column, options: argparse.Namespace) -> Clock | None:
    """How x is measured where it is a date."""
    if column.kind != "date":
        if options.per or options.since:
            raise BadCall(f"--per and --since go with a date as x: “{column.name}” is none.")
        return None
    usual = usual_clock(column.along) or Clock("days", "2000-01-01")
    return Clock(options.per or usual.unit, options.since or usual.since)


def places(at: Iterable[float | str], clock: Clock | None, x: str) -> tuple[float, ...]:
    """Each x to forecast at as a number; dates by the clock."""
    found = []
    for one in at:
        if not isinstance(one, str):
            found.append(one)
        elif clock is None or (value := value_of(one, clock)) is None:
            raise BadCall(f"{one} is a date, and “{x}” is none: give numbers to --at.")
        else:
            found.append(value)
    return tuple(found)
