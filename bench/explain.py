"""What else could explain it: columns held, and every other way."""

from __future__ import annotations

import msgspec
import numpy as np

from bench.ratios import Ratio, compare
from bright_tether.live.findings import Findings
from bright_tether.study.asides import Aside, Asides
from bright_tether.study.choices import HeldChoice, LineChoice
from bright_tether.study.memory import Memory
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table


def _study(seed: int, n: int, others: int) -> tuple[Study, np.ndarray, np.ndarray]:
    """x, y above 0 and further columns that go with both; the design of all, (n, 2 + others), and y."""
    draw = np.random.default_rng(seed)
    beside = draw.normal(10, 1, (others, n))
    x = draw.normal(20, 2, n) + beside.sum(axis=0) / 4
    y = 30 + 0.5 * x + beside.sum(axis=0) + draw.normal(0, 1, n)
    cells = {"x": x, "y": y, **{f"z{at}": one for at, one in enumerate(beside)}}
    columns = tuple(Column(id=name, name=name, kind="number", cells=one) for name, one in cells.items())
    table = Table(id="t1", name="pairs", columns=columns, row_ids=np.arange(n))
    held = HeldChoice(columns=tuple(f"z{at}" for at in range(others)))
    tether = Tether(id="k1", table="t1", x="x", y="y", chosen=True, held=held)
    return Study(tables=(table,), tethers=(tether,)), np.stack([np.ones(n), x, *beside], axis=1), y


def held_million() -> Ratio:
    """The slope with two columns held, classical and HC3, against one least-squares solution of the same design."""
    study, design, y = _study(21, 1_000_000, 2)
    robust = msgspec.structs.replace(study.tethers[0], line=LineChoice(errors="HC3"))

    def ours() -> None:
        memory = Memory()
        for tether in (study.tethers[0], robust):
            _ = Findings(study, tether, memory).held_line

    return compare("held-1e6", 2, ours, lambda: np.linalg.lstsq(design, y, rcond=None), 5)


def choices_two_thousand() -> Ratio:
    """Two thousand ways at 500 rows, against as many least-squares solutions of that size."""
    study, design, y = _study(22, 500, 3)
    tether = study.tethers[0]
    asides = Asides.told(Aside(row=7 * at, reason=f"reason {at}") for at in range(64))
    tether = msgspec.structs.replace(tether, asides=asides)

    def ours() -> None:
        assert len(Findings(study, tether, Memory()).other_choices.outcome.ways) == 2000

    def theirs() -> None:
        for _ in range(2000):
            np.linalg.lstsq(design[:, :2], y, rcond=None)

    return compare("choices-2000", 3, ours, theirs, 3)
