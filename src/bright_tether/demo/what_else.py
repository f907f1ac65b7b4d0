"""The third demo study: a third column that takes half of a slope away, and one exclusion that turns a decision."""

from __future__ import annotations

import msgspec

from bright_tether.demo.make_what_else import RAIN, REACHES
from bright_tether.demo.tables import demo_table
from bright_tether.study.choices import HeldChoice
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.table import Table


def what_else_study() -> Study:
    """Stage ⟶ sediment with rain and warmth held; gradient ⟶ gravel with every reach in play."""
    wet, steep = demo_table(RAIN, "t1", "Days"), demo_table(REACHES, "t2", "Reaches")
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


def _column(table: Table, name: str) -> str:
    return next(one.id for one in table.columns if one.short == name)
