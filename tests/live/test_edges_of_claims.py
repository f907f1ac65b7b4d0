"""Claims at their edges: made where they are due, and nowhere else."""

import numpy as np
import pytest

from bright_tether.claims.built_in import built_in_claims
from bright_tether.claims.compare import correlations_claim
from bright_tether.claims.rehearse import within
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import _counted
from bright_tether.study.choices import CompareChoice, LineChoice
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(3)
X = DRAW.uniform(0, 10, 24)
Y, Z = (1 + slope * X + DRAW.normal(0, 1, 24) for slope in (0.5, 0.7))


def findings_of(line=None, compare=None, **texts):
    cells = {"x": X, "y": Y, "z": Z}
    columns = [Column(id=name, name=name, kind="number", cells=one) for name, one in cells.items()]
    columns += [
        Column(id=name, name=name, kind="category", cells=np.array(one, object))
        for name, one in texts.items()
    ]
    table = Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(24))
    tether = Tether(id="k1", table="t1", x="x", y="y", line=line or LineChoice(),
                    compare=compare or CompareChoice())  # fmt: skip
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


@pytest.mark.parametrize(
    ("each", "errors", "due"),
    [
        (1, "classical", False),
        (1, "HC3", False),
        (2, "classical", True),
        (2, "HC3", True),
        (2, "clustered", False),
    ],
)
def test_cases_are_repeated_only_where_one_has_several_rows(each, errors, due):
    cases = [f"b{at // each}" for at in range(24)]
    found = built_in_claims(findings_of(LineChoice(errors=errors, cluster="case"), case=cases))
    assert [one.whole for one in found if one.why == "repeated cases"] == (["case"] if due else [])


def test_two_responses_of_the_same_cases_have_the_dependent_test():
    findings = findings_of(compare=CompareChoice(second="z", rows_are="cases"))
    claim = correlations_claim(findings, findings.comparison)
    told = findings.comparison.dependent
    assert (claim.test, claim.statistic, claim.df, claim.p) == ("t", told.t, told.df, told.p)
    assert claim.df == 21


def test_two_responses_at_shared_settings_have_the_separate_one():
    findings = findings_of(compare=CompareChoice(second="z", rows_are="settings"))
    claim = correlations_claim(findings, findings.comparison)
    told = findings.comparison.correlations
    assert (claim.test, claim.statistic, claim.df, claim.p) == ("z", told.z, None, told.p)


def test_two_groups_have_it_too_and_three_have_none():
    two = findings_of(compare=CompareChoice(group="g"), g=["u", "v"] * 12)
    claim = correlations_claim(two, two.comparison)
    assert claim.test == "z"
    assert (claim.r_a, claim.r_b) == tuple(one.line.r for one in two.comparison.groups)
    three = findings_of(compare=CompareChoice(group="g"), g=["u", "v", "w"] * 8)
    assert correlations_claim(three, three.comparison) is None


@pytest.mark.parametrize(
    ("found", "says"),
    [
        (0.75, "within simulation error"),
        (0.7500001, "above"),
        (0.25, "within simulation error"),
        (0.2499999, "below"),
    ],
)
def test_twice_the_simulation_error_is_still_within_it(found, says):
    assert within(found, 0.5, 0.125) == says


def test_samples_of_one_case_are_counted_behind_those_before():
    told = []

    class SoFar:
        done = 30

    assert _counted(lambda many: bool(told.append(many)) or True, 200)(SoFar())
    assert told == [230]
