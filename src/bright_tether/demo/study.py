"""The demo study: the survey's tables, tied."""

from __future__ import annotations

from typing import Any

from bright_tether.demo.tables import demo_table
from bright_tether.study.asides import Aside, Asides
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table


def demo_study() -> Study:
    """The Tarrow survey: one table and tether a trap, the first without the fouled probes."""
    visits = demo_table("tarrow_visits.csv", "t1", "Survey visits")
    notes = _column(visits, "probe note")
    asides = Asides.told(
        Aside(int(visits.row_ids[at]), "probe fouled")
        for at, note in enumerate(notes.cells)
        if note == "fouled"
    )
    first = _tether(visits, "k1", "turbidity", "sediment", tint="station", asides=asides, one_row="one visit")
    others = (
        ("rating", "Stage and discharge", "stage", "discharge", "", "one gauging"),
        ("grades", "Bank erosion grades", "surveyor A", "surveyor B", "", "one reach"),
        ("springs", "Springs", "calcium", "conductance", "rock", "one spring"),
        ("traps", "Sediment traps", "days out", "catch", "", "one trap"),
        ("logger", "Logger check", "reference", "logger", "", "one hour"),
        ("bottles", "Two methods", "added sediment", "filtering", "", "one bottle"),
    )
    tables, tethers = [visits], [first]
    for at, (file, name, x, y, tint, one_row) in enumerate(others, 2):
        table = demo_table(f"tarrow_{file}.csv", f"t{at}", name)
        tables.append(table)
        tethers.append(_tether(table, f"k{at}", x, y, tint=tint, one_row=one_row))
    return Study(title="Tarrow sediment survey", tables=tuple(tables), tethers=tuple(tethers))


def _tether(table: Table, tether_id: str, x: str, y: str, *, tint: str = "", **more: Any) -> Tether:
    return Tether(
        id=tether_id, table=table.id, x=_column(table, x).id, y=_column(table, y).id,
        tint=_column(table, tint).id if tint else None, chosen=True, **more,
    )  # fmt: skip


def _column(table: Table, name: str) -> Column:
    return next(column for column in table.columns if column.short == name)
