"""A p that is α to the last digit rejects, wherever one is held against α."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims import decision as decided
from bright_tether.claims.along import along_of, slope_along_claim
from bright_tether.claims.coefficients import coefficients_claim, exact_claim
from bright_tether.claims.compare import difference_claim, equivalence_claim, rungs_claim, spreads_claim
from bright_tether.claims.held import held_claim, held_of
from bright_tether.claims.spread_power import spread_power_claim
from bright_tether.claims.stories import hidden_stories
from bright_tether.claims.tether import claims_of
from bright_tether.core.shape.form import _way
from bright_tether.live.findings import Findings
from bright_tether.study.choices import CompareChoice, HeldChoice, LineChoice
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.words.readings.compare import compare_reading

DRAW = np.random.default_rng(8)
X = DRAW.uniform(1, 9, 40)
NOISE = DRAW.normal(0, 1, 40)
GROUPS = np.array(["u", "v"] * 20, object)


def findings_of(y, x=X, decide=None, groups=GROUPS, **parts):
    cells = {"x": x, "y": np.asarray(y, float), "z": DRAW.normal(0, 1, x.size)}
    columns = [Column(id=name, name=name, kind="number", cells=one) for name, one in cells.items()]
    columns.append(Column(id="g", name="g", kind="category", cells=groups[: x.size]))
    cases = np.array([f"s{place // 2}" for place in range(x.size)], object)
    columns.append(Column(id="c", name="c", kind="label", cells=cases))
    table = Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(x.size))
    tether = Tether(id="k1", table="t1", x="x", y="y", **parts)
    return Findings(Study(tables=(table,), tethers=(tether,), rules=RuleChoices(decide=decide)), tether)


def at(findings, alpha, **more):
    """The same with this α."""
    rules = RuleChoices(alpha=alpha, decide=findings.rules.decide, **more)
    study = msgspec.structs.replace(findings.study, rules=rules)
    return Findings(study, findings.tether)


def both_sides(p):
    """α at p, and the next float below it."""
    return ((p, True), (float(np.nextafter(p, 0)), False))


def test_the_decision_and_what_it_is_called():
    found = findings_of(0.2 * X + NOISE)
    for alpha, met in both_sides(found.decision.p):
        again = at(found, alpha)
        assert again.decision.reject is met
        assert claims_of(again).decision.outcome == decided.outcome_of(found.decision.p, alpha)
        assert (claims_of(again).decision.outcome == "rejected") is met
    p = found.coefficients.p_slope
    for alpha, met in both_sides(p):
        again = at(found, alpha)
        assert claims_of(again).change.shown is met


def test_the_side_that_was_not_asked_about():
    found = findings_of(-0.2 * X + NOISE)
    p = at(found, 0.05, alternative="greater").decision.p
    for alpha, met in both_sides(1 - p):
        if 1 - p > 0.5:
            continue
        again = at(found, alpha, alternative="greater")
        assert claims_of(again).decision.other_side is met


def test_two_tests_on_one_page_part():
    """Kendall decides; the slope's own p is α, then just above it."""
    found = findings_of(np.where(X > 8, 9.0, 0.25 * X) + NOISE, decide="kendall")
    slope, p = found.coefficients.p_slope, found.decision.p
    assert slope != p
    for alpha, met in (*both_sides(slope), *both_sides(p)):
        again = at(found, alpha)
        parts = (slope <= alpha) != (p <= alpha)
        assert (decided.tests_part(again, claims_of(again).decision) is not None) is parts, (alpha, met)
    robust = findings_of(0.22 * X + NOISE, line=LineChoice(errors="HC3"), decide="slope")
    overall, p = robust.line.p_f, robust.decision.p
    assert overall != p
    for alpha, _ in (*both_sides(overall), *both_sides(p)):
        again = at(robust, alpha)
        parts = (overall <= alpha) != (p <= alpha)
        assert (decided.tests_part(again, claims_of(again).decision) is not None) is parts


def compared(**more):
    return findings_of(
        0.6 * X + (GROUPS == "u") * (0.5 + 0.25 * X) + NOISE, compare=CompareChoice(group="g", **more)
    )


def test_rungs_and_slopes_that_differ():
    found = compared()
    slopes, heights = found.comparison.ladder.parallel.p, found.comparison.ladder.same_height.p
    assert heights < slopes < 0.5
    rungs = {}
    for alpha in (slopes, np.nextafter(slopes, 0), heights, np.nextafter(heights, 0)):
        again = at(found, float(alpha))
        difference = difference_claim(again, again.comparison)
        rungs[alpha] = rungs_claim(again, again.comparison, difference).verdict
        assert (difference.outcome == "rejected") is bool(difference.p <= alpha)
    assert list(rungs.values()) == ["a line each", "parallel", "parallel", "one line"]


def test_equivalence():
    found = compared(margin=1.0)
    p = found.comparison.equivalence.p
    for alpha, met in both_sides(p):
        again = at(found, alpha)
        difference = difference_claim(again, again.comparison)
        assert equivalence_claim(again.comparison, difference).shown is met


def test_cases_are_named_where_they_decide_alone():
    """Cases that lie in one group each tell nothing of the difference, so it is judged apart from them."""
    by = {"line": LineChoice(errors="clustered", cluster="c"), "compare": CompareChoice(group="g")}
    shared = findings_of(0.6 * X + NOISE, **by)
    told = difference_claim(shared, shared.comparison)
    assert (told.test, told.cases) == ("by_case", 20)
    table = shared.study.tables[0]
    cases = np.array([f"{GROUPS[place]}{place // 4}" for place in range(40)], object)
    columns = (*table.columns[:4], msgspec.structs.replace(table.columns[4], cells=cases))
    table = msgspec.structs.replace(table, columns=columns)
    apart = Findings(msgspec.structs.replace(shared.study, tables=(table,)), shared.tether)
    told = difference_claim(apart, apart.comparison)
    assert apart.comparison.by_case is not None
    assert (told.test, told.cases) == ("separate", None)


def test_the_story_of_groups():
    """All together and within, each with its p at α and just above it."""
    found = findings_of(0.25 * X + (GROUPS == "u") + NOISE, tint="g")
    story = claims_of(found).story
    low, high = sorted((story.p_all, story.p_within))
    verdicts = [claims_of(again := at(found, float(alpha))).story.verdict
                for alpha in (high, np.nextafter(high, 0), low, np.nextafter(low, 0))]  # fmt: skip
    one = "masked" if story.p_within < story.p_all else "none inside"
    assert again is not None
    assert verdicts == ["same", one, one, "nothing"]


def test_a_group_by_itself():
    found = findings_of(np.where(GROUPS == "u", 0.2, 0.6) * X + NOISE, tint="g")
    r, n = claims_of(found).story.groups[0].r, 20
    p = found.within_groups and float(_p(r, n - 2))
    for alpha, shown in both_sides(2 * p):
        again = at(found, alpha)
        assert claims_of(again).story.groups[0].shown == int(shown)


def _p(r, df):
    from bright_tether.claims.stories import p_of

    return p_of(r, df)


def test_the_three_coefficients():
    found = findings_of(0.2 * X + NOISE)
    ps = {"r": found.pearson.p, "rho": found.spearman.p, "tau": found.kendall.p}
    for name, p in ps.items():
        for alpha, met in both_sides(p):
            assert (name in coefficients_claim(at(found, alpha)).rejected) is met


def test_the_exact_p_of_ranks():
    x = X[:8]
    found = findings_of(0.3 * x + NOISE[:8], x=x, decide="kendall")
    exact, p = found.kendall.p_exact, found.kendall.p
    for alpha, _ in (*both_sides(exact), *both_sides(p)):
        if alpha <= 0.5:
            assert exact_claim(at(found, alpha)).same_side is ((exact <= alpha) == (p <= alpha))


def test_a_slope_along_another_column_and_one_held():
    found = findings_of(0.3 * X + NOISE, held=HeldChoice(columns=("z",), along="z"))
    p = along_of(found).along.p
    for alpha, met in both_sides(p):
        again = at(found, alpha)
        assert slope_along_claim(along_of(again), alpha).verdict == ("differs" if met else "not shown")
    places = slope_along_claim(along_of(found), 0.05).at
    ends = [one.slope.ci_slope for one in along_of(found).along.places]
    assert [(one.low, one.high) for one in places] == ends
    held = held_of(found).held
    for alpha in (p for one in (held.alone.p_slope, held.held.p_slope) for p, _ in both_sides(one)):
        again = at(found, alpha)
        before, after = held.alone.p_slope <= alpha, held.held.p_slope <= alpha
        verdict = held_claim(again, held_of(again)).verdict
        assert (verdict in ("gone", "neither")) is not after
        assert (verdict in ("appears", "neither")) is not before


def test_a_fitted_power_of_the_spread():
    found = findings_of(2 * X + 0.3 * X * NOISE, line=LineChoice(weight_pattern="power-x"))
    p = spread_power_claim(found).p
    for alpha, met in both_sides(p):
        assert spread_power_claim(at(found, alpha)).verdict == ("follows" if met else "not shown")


@pytest.mark.parametrize("slope", [0.2, -0.2])
def test_the_way_of_one_side_of_a_turn(slope):
    found = findings_of(slope * X + NOISE)
    every = np.ones(40, bool)
    p = found.pearson.p
    assert _way(found.pairs, every, p) == np.sign(slope)
    assert _way(found.pairs, every, float(np.nextafter(p, 0))) == 0


def test_slopes_that_lie_wholly_beyond_the_margin_are_told_so():
    found = findings_of(
        np.where(GROUPS == "u", 2, 1) * X + NOISE, compare=CompareChoice(group="g", margin=0.01)
    )
    low, high = found.comparison.slopes.separate.ci
    least = min(abs(low), abs(high))
    for margin, beyond in ((float(np.nextafter(least, 0)), True), (least, False)):
        tether = msgspec.structs.replace(found.tether, compare=CompareChoice(group="g", margin=margin))
        again = Findings(found.study, tether)
        difference = difference_claim(again, again.comparison)
        assert equivalence_claim(again.comparison, difference).beyond is beyond
        said = " ".join(map(str, compare_reading(again).sentences))
        assert (" apart: the whole interval of their difference does." in said) is beyond


@pytest.mark.parametrize(("wider", "uneven"), [(1.0, False), (6.0, True)])
def test_f_is_not_leant_on_where_two_lines_scatter_unevenly(wider, uneven):
    noise = np.where(GROUPS == "u", wider, 1) * np.repeat(NOISE[:20], 2)
    found = findings_of(X + noise, compare=CompareChoice(group="g"))
    claim = rungs_claim(found, found.comparison, difference_claim(found, found.comparison))
    assert claim.uneven is uneven
    said = " ".join(map(str, compare_reading(found).sentences))
    assert ("which these do not show: go by the test that decides." in said) is (uneven and not claim.parts)


def test_f_over_three_lines_says_where_they_scatter_unevenly():
    sites = np.array(["u", "v", "w", "w"] * 10, object)
    noise = np.where(sites == "u", 6.0, 1.0) * NOISE
    found = findings_of(X + noise, groups=sites, compare=CompareChoice(group="g"))
    claim = spreads_claim(found, found.comparison)
    assert (claim.wide, claim.p <= 0.05) == ("u", True)
    for alpha, met in both_sides(claim.p):
        again = at(found, alpha)
        assert (spreads_claim(again, again.comparison) is not None) is met
        assert ("shown to scatter unevenly" in " ".join(map(str, compare_reading(again).sentences))) is met
    said = " ".join(map(str, compare_reading(found).sentences))
    assert "both lines" not in said


def test_groups_that_say_nothing_are_not_suspected_unasked():
    draw = np.random.default_rng(6)
    x = draw.normal(0, 1, 16).round(2)
    y = (0.55 * x + draw.normal(0, 1, 16)).round(2)
    idle = np.array(list("abcd") * 4, object)
    found = findings_of(y, x=x, groups=idle)
    assert hidden_stories(found) == ()
    asked = findings_of(y, x=x, groups=idle, compare=CompareChoice(group="g"))
    told = claims_of(asked).story
    assert (told.verdict, told.set_apart) == ("none inside", False)
    apart = x + 3 * (np.arange(16) >= 8)
    halves = np.where(np.arange(16) >= 8, "far", "near").astype(object)
    rising = y - 0.55 * x + 3 * (np.arange(16) >= 8)
    hidden = hidden_stories(findings_of(rising, x=apart, groups=halves))
    assert [(one.verdict, one.set_apart) for one in hidden] == [("none inside", True)]
    for alpha, met in both_sides(hidden[0].p_heights):
        claim = msgspec.structs.replace(hidden[0], alpha=alpha)
        assert (claim.set_apart, claim.matters) == (met, met)
