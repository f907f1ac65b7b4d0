"""The demo study: the survey's tables, tied."""

from __future__ import annotations

from importlib.resources import files

import msgspec

from bright_tether.study.study import Study
from bright_tether.study.tether import Aside, Tether
from bright_tether.tables.reading import guess_plan, read_content
from bright_tether.tables.table import Table

VISITS = "tarrow_visits.csv"


def demo_study() -> Study:
    """The Tarrow survey: turbidity ⟶ sediment without the fouled probes, tinted by station."""
    visits = _table(VISITS, "t1", "Survey visits")
    notes = visits.named("probe note")
    assert notes is not None
    asides = tuple(
        Aside(int(visits.row_ids[at]), "probe fouled")
        for at, note in enumerate(notes.cells)
        if note == "fouled"
    )
    sediment = Tether(
        id="k1", table="t1", x=_id(visits, "turbidity"), y=_id(visits, "sediment"),
        tint=_id(visits, "station"), asides=asides, chosen=True,
    )  # fmt: skip
    discharge = Tether(id="k2", table="t1", x=_id(visits, "stage"), y=_id(visits, "discharge"), chosen=True)
    return Study(title="Tarrow sediment survey", tables=(visits,), tethers=(sediment, discharge))


def _table(file: str, table_id: str, name: str) -> Table:
    content = files("bright_tether.demo").joinpath(file).read_bytes()
    read = read_content(content, file, table_id, guess_plan(content, file))
    return msgspec.structs.replace(read, name=name)


def _id(table: Table, name: str) -> str:
    column = table.named(name)
    assert column is not None
    return column.id
