"""What is said of whose residuals the doubts are about."""

import numpy as np
import pytest
from msgspec.structs import replace

from bright_tether.claims.doubted import doubted_claim
from bright_tether.live.findings import Findings
from bright_tether.live.longer import doubted, longer_of
from bright_tether.steps.catalogue import step_of
from bright_tether.study.asides import Aside, Asides
from bright_tether.study.choices import HeldChoice, LineChoice
from bright_tether.study.study import Study
from bright_tether.study.tether import Answer, Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.words.readings.doubted import signs

DRAW = np.random.default_rng(8)
Z = np.repeat(np.linspace(-3, 3, 10)[[4, 8, 1, 6, 0, 9, 3, 7, 2, 5]], 7)
X, NOISE = DRAW.uniform(0, 10, 70), DRAW.normal(size=(3, 70))


def findings_of(columns=("z",), **cells):
    cells = {"x": X, "y": X + Z + NOISE[0], "z": Z} | cells
    found = [
        Column(id=name, name=name, kind="number", cells=np.asarray(one, float)) for name, one in cells.items()
    ]
    table = Table(id="t1", name="t", columns=tuple(found), row_ids=np.arange(70))
    held = HeldChoice(columns=columns, doubted=True)
    tether = Tether(
        id="k1", table="t1", x="x", y="y", held=held, answers=(Answer("order", "the days are far apart"),)
    )
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def said(findings, view=""):
    return [str(one) for one in step_of("doubts").reading(findings, view, None).sentences]


def test_a_sign_that_goes_with_what_is_held_is_named():
    findings = findings_of()
    assert said(findings)[0] == (
        "These are the residuals with z held. Against the line alone, the sign about independence is gone."
    )
    assert said(findings, "order")[0] == said(findings)[0]
    claims = step_of("doubts").reading(findings, "", None).sentences[0].claims
    assert (claims[0].alone, claims[0].held, claims[0].lost) == (("order",), (), 0)
    assert findings.doubt("order").sign
    assert not longer_of(findings).doubt("order").sign


def test_a_sign_that_comes_with_it_is_named_too():
    """z alone makes the residuals of the line wide and even; with z held their fan shows."""
    y = X + 30 * Z + X**2 * NOISE[1] / 12
    words = said(findings_of(y=y))[0]
    assert "signs about constant spread, outliers and influence are new" in words


def test_one_sign_that_comes_is_told_as_one():
    """A bend that what is held hides."""
    y = 0.12 * (X - 5) ** 2 + 6 * Z + NOISE[0] / 2
    words = said(findings_of(y=y))[0]
    assert words.endswith("a sign about linearity is new.")


def test_a_sign_that_grows_clear_or_fainter_is_not_called_the_same():
    y = 0.04 * (X - 5) ** 2 + Z / 4 + NOISE[0] / 2
    findings = findings_of(y=y)
    assert (findings.doubt("bend").verdict, longer_of(findings).doubt("bend").verdict) == (
        "some sign", "clear sign",
    )  # fmt: skip
    assert said(findings)[0].endswith(
        "the sign about independence is gone and the sign about linearity is clear now."
    )
    claim = doubted_claim(longer_of(findings))
    turned = replace(claim, alone=claim.held, clear_alone=claim.clear_held, clear_held=())
    assert signs(turned) == "Against the line alone, the sign about linearity is clear no more."
    same = replace(claim, alone=claim.held, clear_alone=claim.clear_held)
    assert signs(same) == "The line alone shows the same signs."


def test_a_clear_sign_with_columns_held_is_told_where_the_slope_held_is():
    y = 0.04 * (X - 5) ** 2 + Z / 4 + NOISE[0] / 2
    beware = step_of("line").reading(findings_of(y=y), "held", None).beware
    assert [str(one) for one in beware] == [
        "A clear sign against the line with z held is not answered: linearity. See the step Doubts."
    ]
    assert not step_of("line").reading(findings_of(), "held", None).beware


def test_rows_without_a_value_are_left_away():
    z = Z.copy()
    z[[3, 9]] = np.nan
    findings = findings_of(z=z)
    assert said(findings)[0].startswith(
        "These are the residuals with z held, on 68 pairs; 2 more have no value in it."
    )
    assert doubted(findings).pairs.n == 68
    assert doubted(findings).rows.row.tolist() == [one for one in range(1, 71) if one not in (4, 10)]


def test_where_nothing_can_be_held_it_is_the_line_alone():
    findings = findings_of(z=2 * X + 1)
    assert doubted(findings) is findings
    assert said(findings)[0] == (
        "These are the residuals of the line alone. What is held tells x entirely, so no slope of x is left: take one "
        "of the columns off."
    )


def test_reasons_are_about_the_line_alone_and_errors_about_both():
    findings = findings_of()
    assert findings.answer_to("order") == "the days are far apart"
    assert doubted(findings).answer_to("order") is None
    grid = step_of("doubts").views[0].grids(findings)[0]
    assert {row[3] for row in grid.rows} == {""}
    assert doubted(findings) is doubted(findings)
    assert longer_of(doubted(findings)) is doubted(findings)


@pytest.mark.parametrize("columns", [("z", "w"), ("w",)])
def test_all_held_columns_are_named(columns):
    findings = findings_of(columns, w=NOISE[2])
    assert f"with {' and '.join(columns)} held" in said(findings)[0]


def test_a_row_that_makes_a_sign_is_left_out_of_the_line_with_the_column_held():
    """Not of the line alone, whose residuals are others."""
    x, y = np.r_[X[:-1], 40.0], np.r_[(X + 6 * Z + NOISE[0])[:-1], 130.0]
    findings = findings_of(x=x, y=y)
    held = longer_of(findings)
    assert held.resting is None
    assert held.doubt("bend").sign
    assert 69 in held.signs_without.rows
    kept = np.setdiff1d(np.arange(70), held.signs_without.rows)
    cells = {"x": x[kept], "y": y[kept], "z": Z[kept]}
    columns = tuple(Column(id=name, name=name, kind="number", cells=one) for name, one in cells.items())
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(kept.size))
    bare = longer_of(Findings(Study(tables=(table,), tethers=(findings.tether,)), findings.tether))
    assert held.signs_without.p["bend"] == pytest.approx(bare.checks.curvature.p, rel=1e-9)


def test_a_row_that_carries_the_line_is_told_with_the_slope_held_without_it():
    x = X.copy()
    x[7] = 400.0
    findings = findings_of(x=x, y=x + Z + NOISE[0])
    carried = longer_of(findings).without_carried
    tether = replace(findings.tether, asides=Asides.told([Aside(row=7, reason="far")]))
    rest = Findings(findings.study, tether).held_line.held.held
    assert (carried.slope, carried.ci) == (pytest.approx(rest.slope), pytest.approx(rest.ci_slope))
    assert carried.slope != pytest.approx(findings.without_carried.slope, rel=1e-3)


def test_a_level_of_one_row_leaves_robust_errors_without_a_value_and_doubts_are_told_all_the_same():
    sort = Column(id="s", name="s", kind="category", cells=np.array(["rare"] + ["one", "two"] * 34 + ["one"]))
    plain = findings_of()
    table = replace(plain.table, columns=(*plain.table.columns, sort))
    tether = replace(
        plain.tether, held=HeldChoice(columns=("s",), doubted=True), line=LineChoice(errors="HC3")
    )
    findings = Findings(replace(plain.study, tables=(table,)), tether)
    assert said(findings)[0].startswith("These are the residuals with s held.")
    assert longer_of(findings).without_carried is None
    assert "have no value with these columns held" in str(
        step_of("line").reading(findings, "held", None).headline
    )
