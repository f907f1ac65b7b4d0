"""A table drawn from a stated truth: x between two ends or about a mean, y on a line with normal noise."""

from __future__ import annotations

import numpy as np

from bright_tether.tables.column import Column
from bright_tether.tables.computed import recomputed
from bright_tether.tables.formula import Draw
from bright_tether.tables.table import Table


def simulated_table(
    table_id: str, *, rows: int, intercept: float, slope: float, sd: float, low: float, high: float, seed: int,
    normal: bool = False,
) -> Table:  # fmt: skip
    """Two live columns of so many rows; the draw is that of columns made at random, from the seed.

    normal : x is normal, and low and high are its mean and its sd.
    """
    blank = np.full(rows, np.nan)
    x = Column(id="c1", name="x", kind="number", cells=blank,
               formula=Draw(kind="normal" if normal else "uniform", seed=seed, a=low, b=high))  # fmt: skip
    y = Column(id="c2", name="y", kind="number", cells=blank,
               formula=Draw(kind="line", seed=seed + 1, a=intercept, b=slope, c=sd, x="c1"))  # fmt: skip
    table = Table(id=table_id, name="a stated truth", columns=(x, y), row_ids=np.arange(rows), next_row=rows)
    return recomputed(table)
