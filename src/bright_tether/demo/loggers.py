"""The second demo study: months stacked, stations joined, sites sampled again and again."""

from __future__ import annotations

import msgspec

from bright_tether.demo.make_loggers import MONTHS, month_file
from bright_tether.demo.tables import demo_table
from bright_tether.study import axes, cases, changes
from bright_tether.study.edits import Several
from bright_tether.study.making import join_tables, stack_tables
from bright_tether.study.study import Study
from bright_tether.study.table_changes import bring_in
from bright_tether.tables.matching import lines_of
from bright_tether.tables.table import Join


def loggers_study() -> Study:
    """What keeps coming, put together: each table made of others follows them."""
    study = msgspec.structs.replace(Study(), title="Tarrow, files that keep coming")
    parts = [demo_table(month_file(at), f"t{at}", f"Level {name}") for at, name in enumerate(MONTHS, 1)]
    renamed = parts[3].columns[2].id
    lines = lines_of(parts, {("t4", renamed): ("t1", parts[0].columns[2].id)})
    edit, level = stack_tables(study, parts, lines, "Level logger", "month")
    study = edit.apply(study)
    stacked = study.tables[-1]
    ids = {column.short: column.id for column in stacked.columns}
    tether = study.tether(level)
    choice = changes.change_choice(study, tether, "line", "In the order of time", order=ids["time"])
    study = choice.apply(study) if choice else study
    edit, drift = changes.add_tether(study, stacked.id)
    study = edit.apply(study)
    tie = axes.choose_axes(study, study.tether(drift), x=ids["time"], y=ids["level"])
    study = tie.apply(study) if tie else study
    sampled = demo_table("tarrow_samples.csv", "t8", "Samples")
    edit, _ = bring_in(study, sampled)
    study = edit.apply(study)
    edit, _ = bring_in(study, demo_table("tarrow_stations.csv", "t9", "Stations"))
    study = msgspec.structs.replace(edit.apply(study), tethers=edit.apply(study).tethers[:-1])
    join = Join(first="t8", second="t9", first_key="c2", second_key="c1")
    edit, _ = join_tables(study, join, "Samples with their stations")
    study = edit.apply(study)
    edits = [*cases.say_cases(study, "t8", "c1"), *cases.say_cases(study, "t10", "c1")]
    study = Several(label="Several rows of one site", edits=tuple(edits)).apply(study)
    edit, _ = bring_in(study, demo_table("tarrow_round_1.csv", "t11", "Visits, first round"))
    return edit.apply(study)
