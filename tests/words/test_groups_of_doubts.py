"""A sign against one line for all that goes with a line for each group, or that tests elsewhere do not know of."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.doubts.in_groups import p_in_groups
from bright_tether.core.pairs import take_pairs
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.study.choices import LineChoice
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(18)
BANK = np.repeat(["North", "South", "East"], 20)
X, NOISE = DRAW.uniform(0, 10, 60), DRAW.normal(size=60)
APART = X + 4.0 * (BANK == "South") - 2 * (BANK == "East") * X / 5 + NOISE


def findings_of(y=APART, bank=BANK, **line):
    found = [Column(id="x", name="x", kind="number", cells=X), Column(id="y", name="y", kind="number", cells=y),
             Column(id="g", name="bank", kind="category", cells=np.asarray(bank, object)),
             Column(id="w", name="w", kind="number", cells=np.full(60, 2.0))]  # fmt: skip
    table = Table(id="t1", name="t", columns=tuple(found), row_ids=np.arange(60))
    tether = Tether(id="k1", table="t1", x="x", y="y", tint="g", line=LineChoice(**line))
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def said(findings, view=""):
    return [str(one) for one in step_of("doubts").reading(findings, view, None).sentences]


def test_a_sign_that_goes_with_a_line_for_each_group_is_told_with_it():
    findings = findings_of()
    assert findings.doubt("order").sign
    for view in ("", "order"):
        (told,) = [one for one in said(findings, view) if one.startswith("With a line for each bank")]
        assert "the data are compatible with independence (p = " in told
        assert told.endswith("the sign may be the groups’.")


@pytest.mark.parametrize("findings", [
    findings_of(weights="w"), findings_of(origin=True), findings_of(bank=np.full(60, "North")),
    findings_of(bank=np.r_[["Far"], BANK[1:]]), findings_of(X + NOISE),
    findings_of(X + 3 * np.sin(np.arange(60) / 2) + NOISE / 4),
])  # fmt: skip
def test_nothing_is_said_where_some_group_has_no_line_or_the_sign_stays_or_there_is_none(findings):
    assert not [one for one in said(findings) if one.startswith("With a line for each")]


def test_the_residuals_are_those_of_each_group_s_own_line():
    pairs, codes = take_pairs(X, APART), np.unique(BANK, return_inverse=True)[1]
    found = p_in_groups(("shape", "spread"), pairs, codes, None, 0.05)
    left = np.zeros(60)
    for one in range(3):
        rows = codes == one
        line = stats.linregress(X[rows], APART[rows])
        left[rows] = APART[rows] - line.intercept - line.slope * X[rows]
    assert found["shape"] == pytest.approx(stats.shapiro(left).pvalue, rel=1e-6)
    r = stats.linregress(X, left**2).rvalue
    assert found["spread"] == pytest.approx(stats.chi2.sf(60 * r**2, 1), rel=1e-6)


def test_tests_that_take_each_row_for_itself_say_so_beside_a_clear_sign_of_alike_neighbours():
    alike = X + np.cumsum(DRAW.normal(size=60))

    def told(findings):
        reading = step_of("strength").reading(findings, "products", None)
        return [
            str(one)
            for one in reading.beware
            if "the tests of r, ρ and τ take each row for itself" in str(one)
        ]

    (one,) = told(findings_of(alike, np.full(60, "North")))
    assert one.startswith("A clear sign that neighbouring residuals are alike (p < 0.001): ")
    assert not told(findings_of(alike, np.full(60, "North"), errors="newey_west"))
    assert not told(findings_of(X + NOISE))
