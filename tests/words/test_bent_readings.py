"""What is said of r with what lies far out bent inward: by its interval, for what it is."""

import numpy as np
import pytest

from bright_tether.claims.bent import bent_claim
from bright_tether.live.findings import Findings
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.words.readings.bent import bent_grid, bent_reading

DRAW = np.random.default_rng(91)
X = DRAW.normal(size=40)
NOISE = DRAW.normal(size=40)


def findings_of(x, y):
    columns = tuple(Column(id=name, name=name, kind="number", cells=np.asarray(cells, float))
                    for name, cells in (("x", x), ("y", y)))  # fmt: skip
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(len(x)))
    tether = Tether(id="k1", table="t1", x="x", y="y")
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def far(x, y, by):
    x, y = x.copy(), y.copy()
    x[0], y[0] = 30.0, by
    return x, y


@pytest.mark.parametrize(("x", "y", "verdict", "said"), [
    (X, X + NOISE, "alike", "lies within that interval: rows far out do not make it what it is."),
    (*far(X, NOISE, 30.0), "carried", "lies outside that interval: rows far out carry part of it."),
    (*far(X, X + 0.3 * NOISE, 6.0), "hidden", "lies outside that interval: rows far out hide part of it."),
    (*far(X, X + 0.3 * NOISE, -20.0), "turned", "lies outside that interval: rows far out turn it round."),
])  # fmt: skip
def test_rows_far_out_carry_hide_or_leave_r(x, y, verdict, said):
    findings = findings_of(x, y)
    claim, reading = bent_claim(findings), bent_reading(findings)
    assert claim.verdict == verdict
    words = [str(one) for one in reading.sentences]
    assert words[-1].endswith(said)
    assert f"{claim.bent_x} values of x and {claim.bent_y} of y, of 40." in words[2]
    assert (
        f"With 95 % confidence it lies between {reading.figures[0].beside.replace(' … ', ' and ')}"
        in words[1]
    )
    assert words[1].endswith("samples of the rows, seed 1.")
    assert str(reading.headline).startswith(
        f"With what lies far out bent inward, r is {reading.figures[0].value}"
    )
    grid = bent_grid(findings)
    assert [row[1] for row in grid.rows] == [one.value for one in reading.figures]


def test_without_a_middle_there_is_none_and_that_is_said():
    findings = findings_of(np.where(np.arange(40) < 36, 1.0, X), NOISE)
    reading = bent_reading(findings)
    assert str(reading.headline).startswith("There is no r of bent columns: most values of a column are one")
    assert len(reading.sentences) == 1
    assert reading.figures == ()


def test_long_columns_have_no_interval_and_say_why():
    x = DRAW.normal(size=2100)
    findings = findings_of(x, x + DRAW.normal(size=2100))
    words = [str(one) for one in bent_reading(findings).sentences]
    assert words[1].startswith("It has no interval (p < 0.001, 2098 df): there are too many rows")
    assert bent_claim(findings).verdict == "no interval"
