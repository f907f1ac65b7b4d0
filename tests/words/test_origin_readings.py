"""A line held through the origin says what that costs, and its slope is taken for no more than it is."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims.tether import claims_of
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.study.choices import LineChoice
from bright_tether.study.remedies import remedies
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.words.readings.standing import standing_sentence

DRAW = np.random.default_rng(9)
X = DRAW.uniform(50, 60, 30).round(2)
NOISE = DRAW.normal(size=30).round(3)


def findings_of(y, x=X, **line):
    columns = tuple(
        Column(id=name, name=f"{name} ({unit})", kind="number", cells=np.asarray(cells, float))
        for name, unit, cells in (("span", "m", x), ("sag", "cm", y))
    )
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(len(x)))
    tether = Tether(id="k1", table="t1", x="span", y="sag", line=LineChoice(origin=True, **line))
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def said(findings, step, view=""):
    reading = step_of(step).reading_of(findings, view or step_of(step).views[0].id)
    return str(reading.headline), [str(one) for one in (*reading.sentences, *reading.beware)]


BENT = 30 + 0.2 * X + (X - 55) ** 2 / 10 + NOISE / 4
UNRELATED, OFF, THROUGH, DOWN = 35 + NOISE, 30 + 0.2 * X + NOISE / 4, 0.7 * X + NOISE, 200 - 2 * X + NOISE


@pytest.mark.parametrize(("y", "look", "strength", "together"), [
    (UNRELATED, "A loose band, straight as far as can be seen.", "A slope of 0 is rejected (r = ", False),
    (OFF, "A tight rising band, straight as far as can be seen.", "A very strong rising straight-line", True),
    (THROUGH, "A rising band, straight as far as can be seen.", "A very strong rising straight-line", True),
    (DOWN, "A tight band, straight as far as can be seen.", "A slope of 0 is rejected (r = ", False),
])  # fmt: skip
def test_a_slope_through_the_origin_is_a_relationship_only_where_the_line_left_free_shows_it(
    y, look, strength, together
):
    findings = findings_of(y)
    assert said(findings, "look")[0] == look
    headline, sentences = said(findings, "strength")
    assert headline.startswith(strength)
    assert claims_of(findings).origin.together is together
    standing = str(standing_sentence(findings))
    assert ("left free, not shown" in standing) is (y is UNRELATED)
    assert ("left free, the other way" in standing) is (y is DOWN)
    told = [
        one
        for one in sentences
        if one.startswith("Through the origin a slope also tells how far from 0 sag lies")
    ]
    assert bool(told) is not together
    if y is UNRELATED:
        assert "that they go together is not shown (left free, the slope is" in told[0]
    if y is DOWN:
        assert "here sag falls with span (left free, the slope is −" in told[0]


@pytest.mark.parametrize(("y", "misses"), [(UNRELATED, True), (OFF, True), (THROUGH, False)])
def test_where_the_line_left_free_stands_at_0_is_said_wherever_the_line_is_used(y, misses):
    findings = findings_of(y)
    headline, line = said(findings, "line")
    assert headline.startswith("Held through the origin, the line gives about 0.")
    assert headline.endswith(" cm of sag for each m of span.")
    for told in (line, said(findings, "forecast")[1]):
        free = [one for one in told if one.startswith("Left free, the line stands at")]
        assert bool(free) is misses or "which is compatible with the origin" in free[0]
        assert all(("it misses the middle of these data" in one) is misses for one in free)


@pytest.mark.parametrize(("y", "says"), [
    (OFF, "With an intercept a squared term tells of no bend (p = "),
    (BENT, "With an intercept a squared term still tells of a bend (p < 0.001)."),
])  # fmt: skip
def test_what_looks_like_a_bend_may_be_the_height_at_0(y, says):
    findings = findings_of(y)
    told = said(findings, "doubts")[1]
    assert "Clear sign that the line through the origin misses the middle of the band along span" in told[0]
    (free,) = [one for one in told if one.startswith(says)]
    assert ("it is the height at 0 that is missed" in free) is (y is OFF)
    first = remedies(findings.study, findings.tether, "bend", frozenset())[0]
    assert first.words == "With an intercept"
    assert not first.edit.apply(findings.study).tethers[0].line.origin


def test_errors_that_the_line_left_free_has_none_of_leave_nothing_said():
    x = np.r_[np.full(9, 2.0), 3.0]
    findings = findings_of(x + NOISE[:10], x, errors="HC3")
    assert findings.refusal is None
    assert claims_of(findings).origin is None
    assert claims_of(findings).direction is None
    said(findings, "line")


def test_a_slope_by_weights_that_goes_against_r_has_no_word_of_strength():
    x, y = np.arange(1.0, 9), np.array([1.0, 2, 3, 4, 5, 6, -20, -30])
    cells = {"x": x, "y": y + 0.1 * NOISE[:8], "w": np.r_[np.full(6, 9.0), 1e-3, 1e-3]}
    columns = [Column(id=name, name=name, kind="number", cells=one) for name, one in cells.items()]
    table = Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(8))
    tether = Tether(id="k1", table="t1", x="x", y="y", line=LineChoice(weights="w"))
    findings = Findings(Study(tables=(table,), tethers=(tether,)), tether)
    assert claims_of(findings).strength is None
    assert said(findings, "strength")[0].startswith("By their weights the points rise (r = −")
    even = msgspec.structs.replace(tether, line=LineChoice())
    assert claims_of(Findings(findings.study, even)).strength is not None or findings.pearson.p > 0.05
