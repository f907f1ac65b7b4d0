"""The document: tables, tethers, ground rules and pins."""

from __future__ import annotations

import msgspec

from bright_tether.study.figures import FigureChoices
from bright_tether.study.memory import Memory
from bright_tether.study.pins import PageStyle, Pin
from bright_tether.study.rules import RuleChoices
from bright_tether.study.tether import Tether
from bright_tether.study.trail import LaterChange
from bright_tether.tables.table import Table, blank_table


class Study(msgspec.Struct, frozen=True, eq=False, kw_only=True):
    """A frozen value: every change makes a new one that shares what did not change.

    memory : results made so far, shared by all that came of one study; no part of the document.
    """

    title: str = "Untitled study"
    tables: tuple[Table, ...] = ()
    tethers: tuple[Tether, ...] = ()
    rules: RuleChoices = RuleChoices()
    trail: tuple[LaterChange, ...] = ()
    pins: tuple[Pin, ...] = ()
    style: PageStyle = "plain"
    figures: FigureChoices = FigureChoices()
    memory: Memory = msgspec.field(default_factory=Memory)

    def table(self, table_id: str) -> Table:
        """The table with this id."""
        return next(table for table in self.tables if table.id == table_id)

    def tether(self, tether_id: str) -> Tether:
        """The tether with this id."""
        return next(tether for tether in self.tethers if tether.id == tether_id)

    def fresh_id(self, letter: str) -> str:
        """An id that no table, tether or pin has."""
        taken = (
            {one.id for one in self.tables} | {one.id for one in self.tethers} | {one.id for one in self.pins}
        )
        return next(f"{letter}{n}" for n in range(1, len(taken) + 2) if f"{letter}{n}" not in taken)


def empty_study() -> Study:
    """A study with one blank table, ready to be typed into."""
    table = blank_table("t1", "Table 1")
    tether = Tether(id="k1", table="t1", x=table.columns[0].id, y=table.columns[1].id)
    return Study(tables=(table,), tethers=(tether,))
