"""The third demo study: a third column that takes half of a slope away, and one exclusion that turns a decision."""

from __future__ import annotations

from importlib.resources import files

import msgspec

from bright_tether.demo.make_what_else import RAIN, REACHES
from bright_tether.study.choices import HeldChoice
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.tables.table import Table


def what_else_study() -> Study:
    """Stage ⟶ sediment with rain and warmth held; gradient ⟶ gravel with every reach in play."""
    wet, steep = _table(RAIN, "t1", "Days"), _table(REACHES, "t2", "Reaches")
    held = HeldChoice(columns=(_column(wet, "rain the day before"), _column(wet, "water temperature")))
    tethers = (
        Tether(id="k1", table="t1", x=_column(wet, "stage"), y=_column(wet, "sediment"), chosen=True, one_row="day",
               held=held),
        Tether(id="k2", table="t2", x=_column(steep, "gradient"), y=_column(steep, "gravel"), chosen=True,
               one_row="reach"),
    )  # fmt: skip
    return msgspec.structs.replace(
        Study(), title="Tarrow, what else could explain it", tables=(wet, steep), tethers=tethers
    )


def _table(file: str, table_id: str, name: str) -> Table:
    content = files("bright_tether.demo").joinpath(file).read_bytes()
    return msgspec.structs.replace(
        read_content(content, file, table_id, guess_plan(content, file)), name=name
    )


def _column(table: Table, name: str) -> str:
    return next(one.id for one in table.columns if one.short == name)
