"""Studies to measure with."""

from __future__ import annotations

import numpy as np

from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table


def study_of(x: np.ndarray, y: np.ndarray) -> Study:
    """A study of one table with two columns, tied."""
    columns = tuple(
        Column(id=f"c{i + 1}", name=name, kind="number", cells=cells)
        for i, (name, cells) in enumerate({"x": x.copy(), "y": y.copy()}.items())
    )
    table = Table(id="t1", name="pairs", columns=columns, row_ids=np.arange(x.size))
    return Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="c1", y="c2", chosen=True),))
