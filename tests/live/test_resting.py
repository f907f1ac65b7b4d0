"""Which rows a decision, or a sign against the line, rests on."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims import doubts as doubted
from bright_tether.claims.tether import claims_of
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS, step_of
from bright_tether.study.choices import LineChoice
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(11)
X, Y = DRAW.normal(0, 1, (2, 30))


def findings_of(x, y, **choices):
    columns = tuple(
        Column(id=name, name=name, kind="number", cells=np.asarray(cells, float))
        for name, cells in (("x", x), ("y", y))
    )
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(len(x)) + 40)
    tether = Tether(id="k1", table="t1", x="x", y="y", line=LineChoice(**choices))
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def less(x, y, *rows):
    kept = np.delete(np.arange(len(x)), rows)
    return findings_of(np.asarray(x)[kept], np.asarray(y)[kept])


@pytest.fixture
def one_far():
    return np.r_[X[:4], 12.0, X[4:]], np.r_[Y[:4], 12.0, Y[4:]]


def test_one_row_makes_the_whole_relationship(one_far):
    found = findings_of(*one_far).resting
    assert found.rows.tolist() == [4]
    alone = less(*one_far, 4).decision
    assert found.without.statistic == pytest.approx(alone.statistic, rel=1e-12)
    assert found.without.p == pytest.approx(alone.p, rel=1e-12)
    assert alone.p > 0.05 >= findings_of(*one_far).decision.p


@pytest.mark.parametrize("errors", ["HC0", "HC1"])
def test_it_is_the_test_in_force_that_is_asked_again(one_far, errors):
    found = findings_of(*one_far, errors=errors).resting
    assert found.without.test == "slope"
    assert found.without.p > 0.05


def test_two_rows_that_only_go_together(one_far):
    """Without either the other still holds the line up."""
    x, y = np.r_[one_far[0], 12.5], np.r_[one_far[1], 11.0]
    assert less(x, y, 4).decision.p < 0.05
    assert less(x, y, 31).decision.p < 0.05
    assert findings_of(x, y).resting.rows.tolist() == [4, 31]


def test_nothing_rests_on_a_row_that_only_stands_out():
    y = 3 * X + Y
    y[7] += 9
    findings = findings_of(X, y)
    assert findings.doubt("far-out").sign
    assert findings.resting is None
    assert claims_of(findings).rests is None


def test_a_row_that_turns_the_line_round():
    """Thirty rows fall; one makes them rise."""
    x, y = np.r_[X, 15.0], np.r_[Y - 1.5 * X, 30.0]
    found = findings_of(x, y)
    assert found.decision.statistic > 0
    assert found.resting.rows.tolist() == [30]
    assert found.resting.without.statistic < 0
    assert found.resting.without.p < 0.05
    said = [str(one) for one in step_of("forecast").reading(found, "", None).beware]
    without = f"{found.resting.without.statistic:+.3f}".replace("-", "−")
    assert (
        f"Which way the relationship goes rests on row 31, without which r is {without} (p < 0.001)." in said
    )


def test_a_column_that_does_not_vary_without_the_row():
    findings = findings_of([1.0] * 9 + [5.0], [2.0, 3, 1, 2, 3, 2, 1, 2, 3, 40])
    assert findings.resting.rows.tolist() == [9]
    assert findings.resting.without is None
    said = step_of("strength").reading(findings, "", None).headline
    assert said.endswith("but it rests on row 10, without which nothing is left to be tested.")


def test_errors_that_have_no_value_without_the_row_leave_nothing_to_say():
    """Of four rows at two x and one more, what is left has a row that fits itself."""
    typed = findings_of([2.0, 0.0, 2.0, 3.0], [0.27396649, 1.6202219, -1.27381829, 0.49863359], errors="HC0")
    found = Findings(msgspec.structs.replace(typed.study, rules=RuleChoices(alpha=0.5)), typed.tether)
    assert found.decision.reject
    assert found.design.carried.size
    assert found.resting is None
    assert found.signs_without is None


def test_weights_that_leave_no_row_leave_nothing_to_say():
    """Without the one row that is not 0 no weight by the fitted height has a value."""
    found = findings_of([1.0, 2, 3, 4, 5, 6, 40], [0.0, 0, 0, 0, 0, 0, 1], weight_pattern="inverse-fitted2")
    assert found.decision.p is not None
    assert found.noticed.tolist() == [6]
    assert found.resting is None


def test_a_null_that_is_not_rejected_rests_on_nothing():
    y = Y.copy()
    y[3] += 9
    findings = findings_of(X, y)
    assert findings.doubt("far-out").sign
    assert not findings.decision.reject
    assert findings.resting is None


@pytest.mark.parametrize("wild", [(7,), (7, 19)])
def test_a_relationship_that_wild_rows_hide(wild):
    y = 2 * X + 0.5 * Y
    y[list(wild)] += 90
    findings = findings_of(X, y)
    assert not findings.decision.reject
    assert findings.resting.rows.tolist() == list(wild)
    alone = less(X, y, *wild).decision
    assert findings.resting.without.p == pytest.approx(alone.p, rel=1e-12)
    claim = claims_of(findings).rests
    assert not claim.rejected
    rows = "row 8" if len(wild) == 1 else "rows 8 and 20"
    rest = f"rests on {rows}, without which r is {alone.statistic:+.3f} (p < 0.001)."
    for step in ("strength", "line"):
        assert step_of(step).reading(findings, "", None).headline.endswith(f", but that {rest}")
    said = [str(one) for one in step_of("forecast").reading(findings, "", None).beware]
    assert f"That no relationship is shown {rest}" in said


def test_a_row_that_carries_the_line_is_told_with_the_slope_without_it():
    x, y = np.r_[X, 30.0], np.r_[2 * X + Y, 61.0]
    findings = findings_of(x, y)
    claim, rest = doubted.carried_claim(findings), less(x, y, 30)
    assert [row.row for row in claim.rows] == [31]
    assert (claim.slope, claim.low, claim.high) == pytest.approx(
        (rest.line.slope, *rest.coefficients.ci_slope)
    )
    said = [str(one) for one in step_of("line").reading(findings, "", None).beware]
    assert any(f"without it the slope is {rest.line.slope:.2f} ({rest.coefficients.ci_slope[0]:.2f} … " in one
               for one in said)  # fmt: skip
    robust = findings_of(x, y, errors="HC3")
    by = msgspec.structs.replace(rest.tether, line=LineChoice(errors="HC3"))
    assert doubted.carried_claim(robust).low == pytest.approx(
        Findings(rest.study, by).coefficients.ci_slope[0]
    )
    wider = Findings(msgspec.structs.replace(findings.study, rules=RuleChoices(level=0.99)), findings.tether,
                     findings.memory)  # fmt: skip
    assert doubted.carried_claim(wider).low < claim.low


@pytest.mark.parametrize(
    ("x", "told"), [([1.0, 2, 3, 30], True), ([1.0, 1, 1, 30], False), ([1.0, 2, 30], False)]
)
def test_what_is_left_of_few_rows_may_have_no_slope(x, told):
    findings = findings_of(x, np.r_[[2.0, 3, 3.5][: len(x) - 1], 40.0])
    claim = doubted.carried_claim(findings)
    assert (claim.slope is not None) is told
    said = " ".join(map(str, step_of("line").reading(findings, "", None).beware))
    assert ("what it shows rests on that." in said) is not told


def test_every_step_says_so(one_far):
    findings = findings_of(*one_far)
    claim = claims_of(findings).rests
    assert [row.row for row in claim.rows] == [5]
    told = {}
    for step in STEPS:
        reading = step.reading(findings, "", None)
        told[step.id] = [str(said) for said in (reading.headline, *reading.sentences, *reading.beware)
                         if claim in getattr(said, "claims", ())]  # fmt: skip
    without = findings.resting.without
    rest = f"rests on row 5, without which r is {without.statistic:+.3f} (p = {without.p:.3f})".replace(
        "-", "−"
    )
    assert {name for name, said in told.items() if said} >= {"look", "strength", "line", "doubts", "forecast"}
    assert all(rest in said for each in told.values() for said in each)
    assert all(len(each) <= 1 for each in told.values())
    assert claims_of(findings).standing.rests is claim


def test_a_sign_that_one_row_brings_about_names_it(one_far):
    x, y = one_far[0], one_far[1].copy()
    y[4] = 25.0
    findings = findings_of(x, y)
    bend, left = claims_of(findings).doubt("bend"), less(x, y, 4)
    assert bend.sign
    assert [row.row for row in bend.without] == [5]
    assert bend.p_without == pytest.approx(left.checks.curvature.p, rel=1e-9)
    assert bend.p_without > 0.05
    said = " ".join(map(str, step_of("doubts").reading(findings, "", None).sentences))
    assert "Without row 5 the data are compatible with" in said
    assert f"linearity (p = {left.checks.curvature.p:.3f})" in said
    look = step_of("look").reading(findings, "", None)
    assert look.headline == "A rising band, bent perhaps by row 5 alone."
    looked = " ".join(map(str, look.sentences))
    assert f"without row 5 p = {left.checks.curvature.p:.3f})" in looked


def test_a_sign_that_stays_without_the_row_names_none():
    x = np.linspace(0, 10, 40)
    y = (x - 5) ** 2 + DRAW.normal(0, 1, 40)
    y[20] += 60
    findings = findings_of(x, y)
    assert findings.doubt("bend").sign
    assert findings.signs_without.p["bend"] < 0.05
    assert claims_of(findings).doubt("bend").without == ()


def test_among_very_many_rows_no_single_one_is_looked_for(monkeypatch, one_far):
    monkeypatch.setattr("bright_tether.live.findings.MOST_ROWS", 30)
    findings = findings_of(*one_far)
    assert findings.resting is None
    assert findings.signs_without is None


def test_a_changed_row_is_asked_about_anew(one_far):
    first = findings_of(*one_far)
    assert first.resting is not None
    moved = msgspec.structs.replace(first.study.tables[0].columns[1], cells=np.r_[Y[:4], 0.0, Y[4:]])
    table = msgspec.structs.replace(first.study.tables[0], columns=(first.study.tables[0].columns[0], moved))
    again = Findings(msgspec.structs.replace(first.study, tables=(table,)), first.tether, first.memory)
    assert again.resting is None
