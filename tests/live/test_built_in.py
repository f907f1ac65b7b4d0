"""What is built into how two columns go together: by formulas, and by a third column."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims.built_in import built_in_claims
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.computed import expression
from bright_tether.tables.formula import OfTether
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(4)
CLAY, SAND, FLOW = np.round(DRAW.uniform(1, 9, (3, 20)), 1)


def table_of(**cells):
    columns = tuple(Column(id=name, name=name, kind="number", cells=one) for name, one in cells.items())
    return Table(id="t1", name="t", columns=columns, row_ids=np.arange(20))


def worked_out(table, name, text):
    formula = expression(text, table)
    cells = eval(text, {}, {one.name: one.cells for one in table.columns})
    column = Column(id=name, name=name, kind="number", cells=cells, formula=formula)
    return msgspec.structs.replace(table, columns=(*table.columns, column))


def told(table, x, y, *others):
    tethers = (Tether(id="k1", table="t1", x=x, y=y), *others)
    findings = Findings(Study(tables=(table,), tethers=tethers), tethers[0])
    said = " ".join(map(str, step_of("look").reading(findings, "", None).beware))
    return [(one.why, one.whole, one.part, one.third) for one in built_in_claims(findings)], said


def test_a_total_beside_its_part_is_asked_about():
    found, said = told(table_of(clay=CLAY, sand=SAND, total=CLAY + SAND), "clay", "total")
    assert found == [("plus", "total", "clay", "sand")]
    assert (
        "total is clay plus sand at every row in play: where one of clay and total was worked out from the other, "
        in said
    )


def test_two_parts_of_a_total_are_asked_about():
    found, said = told(table_of(clay=CLAY, sand=SAND, total=CLAY * SAND), "clay", "sand")
    assert found == [("times", "total", "clay", "sand")]
    assert "where one of clay and sand was worked out from total and the other, " in said


@pytest.mark.parametrize(
    ("x", "y"), [("flow", "twice"), ("twice", "flow"), ("flow", "four"), ("four", "flow")]
)
def test_a_column_worked_out_from_the_other_is_named_however_far_back(x, y):
    table = worked_out(
        worked_out(table_of(flow=FLOW, sand=SAND), "twice", "flow * 2"), "four", "twice + sand"
    )
    whole = y if x == "flow" else x
    assert told(table, x, y)[0] == [("own part", whole, "flow", "")]


def test_two_columns_worked_out_from_one_are_named():
    table = table_of(flow=FLOW, sand=SAND, clay=CLAY)
    table = worked_out(worked_out(table, "sandy", "sand / flow"), "muddy", "clay / flow")
    found, said = told(table, "sandy", "muddy")
    assert found == [("from the same", "muddy", "sandy", "flow")]
    assert "sandy and muddy are both worked out from flow: some of their strength is built in." in said
    assert told(table, "sand", "muddy")[0] == []


def test_what_a_line_says_of_each_row_goes_with_what_is_in_that_line():
    table = table_of(flow=FLOW, sand=SAND, clay=CLAY)
    left = Column(id="left", name="left over", kind="number", cells=DRAW.normal(size=20),
                  formula=OfTether("k2", "residual"))  # fmt: skip
    table = msgspec.structs.replace(table, columns=(*table.columns, left))
    line = Tether(id="k2", table="t1", x="flow", y="sand")
    found, said = told(table, "sand", "left", line)
    assert found == [("of a line", "left over", "sand", "")]
    assert "left over is what a line says of each row, and sand is in that line" in said
    assert told(table, "clay", "left", line)[0] == []
    assert told(table, "sand", "left")[0] == [], "the line is gone"
