"""Values that recur: few levels, a pile at a limit, rows written down twice; and groups that go opposite ways."""

from types import SimpleNamespace

import msgspec
import numpy as np
import pytest

from bright_tether.claims.built_in import built_in_claims
from bright_tether.claims.stories import hidden_stories
from bright_tether.claims.tether import claims_of
from bright_tether.claims.values import recurring_claims
from bright_tether.core.pairs import take_pairs
from bright_tether.core.shape.values import Pile, Recurring, recurring
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.tables.column import Column
from live.test_resting import findings_of

DRAW = np.random.default_rng(23)
X = DRAW.uniform(0, 10, 60)
Y = 3 * X + DRAW.normal(0, 2, 60) + 20


def kinds(findings):
    return [one.kind for one in claims_of(findings).recurring]


def told(findings, step):
    return [str(one) for one in step_of(step).reading(findings, "", None).beware]


def test_a_response_of_two_values_is_no_two_clumps():
    y = np.where(X + DRAW.normal(0, 2, 60) > 5, 7.0, 2.0)
    findings = findings_of(X, y)
    assert claims_of(findings).clumps is None
    (claim,) = claims_of(findings).recurring
    assert (claim.low, claim.high, claim.at_high, claim.n) == (2.0, 7.0, int((y == 7).sum()), 60)
    assert kinds(findings_of(X[:7], np.array([2.0, 7, 2, 7, 7, 2, 7]))) == []
    assert kinds(findings_of(X[:8], np.array([2.0, 7, 2, 7, 7, 2, 7, 2]))) == ["two_values"]
    y[3] = 3.0
    assert kinds(findings_of(X, y)) == ["few_values"]


def test_the_line_of_two_values_says_what_its_height_is():
    findings = findings_of(X, (X > 5).astype(float))
    for step in ("look", "strength", "line", "doubts", "forecast"):
        assert any("y takes two values only, 0 and 1: the height of the line tells how large a share of cases is at 1"
                   in one for one in told(findings, step)), step  # fmt: skip


@pytest.mark.parametrize(
    ("rows", "levels", "said"), [(20, 5, True), (19, 5, False), (24, 6, False), (12, 3, True)]
)
def test_a_response_of_few_levels(rows, levels, said):
    y = np.arange(rows) % levels + 1.0
    assert recurring(take_pairs(X[:rows], y)).levels == (tuple(range(1, levels + 1)) if said else ())


def test_levels_are_named_wherever_the_line_is_used():
    findings = findings_of(X, np.clip(np.round(X / 3), 1, 3))
    for step in ("look", "strength", "line", "doubts", "forecast"):
        assert any(one.startswith("y takes 3 values only, 1, 2 and 3:") for one in told(findings, step)), step


@pytest.mark.parametrize(("rows", "pile"), [(3, False), (4, True)])
def test_a_pile_has_four_rows(rows, pile):
    y = np.r_[np.full(rows, 1.0), np.arange(2.0, 20)]
    assert bool(recurring(take_pairs(np.arange(y.size), y)).y) is pile


@pytest.mark.parametrize(("others", "pile"), [(3, True), (4, False)])
def test_a_pile_is_three_times_what_stands_at_any_value_between(others, pile):
    y = np.r_[np.full(9, 1.0), np.full(others, 5.0), np.arange(6.0, 20)]
    found = recurring(take_pairs(np.arange(y.size), y)).y
    assert [(one.value, one.rows, one.lowest) for one in found] == ([(1.0, 9, True)] if pile else [])


@pytest.mark.parametrize(("rest", "pile"), [(90, True), (91, False)])
def test_a_pile_is_a_tenth_of_all(rest, pile):
    y = np.r_[np.arange(float(rest)), np.full(10, 1000.0)]
    found = recurring(take_pairs(np.arange(y.size), y)).y
    assert [(one.value, one.rows, one.lowest) for one in found] == ([(1000.0, 10, False)] if pile else [])


def test_few_different_values_make_no_pile():
    for different, pile in ((7, False), (8, True)):
        y = np.r_[np.full(20, 0.0), np.arange(1.0, different)]
        assert bool(recurring(take_pairs(np.arange(y.size), y)).y) is pile


@pytest.mark.parametrize(("low", "high", "said"), [
    (35.0, np.inf, "stands for 35 or less"), (-np.inf, 35.0, "stands for 35 or more"),
])  # fmt: skip
def test_a_limit_of_the_response_is_asked_about(low, high, said):
    findings = findings_of(X, np.clip(Y, low, high))
    many = int((low >= Y).sum() + (high <= Y).sum())
    for step in ("look", "strength", "line", "doubts", "forecast"):
        (one,) = [one for one in told(findings, step) if "pairs have y at 35" in one]
        assert one.startswith(
            f"{many} of 60 pairs have y at 35, the {'lowest' if low > 0 else 'highest'} of them"
        )
        assert said in one
    other = findings_of(np.clip(X, 3, 8), Y)
    assert [(one.of, one.value, one.lowest) for one in claims_of(other).recurring] == [
        ("x", 3, True),
        ("x", 8, False),
    ]


def test_nothing_or_less_is_too_little_to_be_measured():
    findings = findings_of(X, np.maximum(Y - 35, 0.0))
    assert any("where that stands for too little to be measured, r" in one for one in told(findings, "line"))
    findings = findings_of(X, np.minimum(Y - 35, 0.0))
    assert any(
        "the highest of them: where that stands for 0 or more, r" in one for one in told(findings, "line")
    )


@pytest.mark.parametrize("clock", [None, "a clock"])
def test_many_rows_of_one_moment_are_no_limit(clock):
    pile = (Pile(value=0.0, rows=9, lowest=True),)
    stub = SimpleNamespace(
        pairs=SimpleNamespace(n=40, two_y=None), recurring=Recurring(levels=(), x=pile, y=(), copies=0),
        x_column=SimpleNamespace(clock=clock), y_column=SimpleNamespace(clock=None),
    )  # fmt: skip
    assert len(recurring_claims(stub)) == (clock is None)


def test_rows_written_down_more_than_once():
    findings = findings_of(np.tile(X[:15], 3), np.tile(Y[:15], 3))
    (claim,) = claims_of(findings).recurring
    assert (claim.copies, claim.n) == (30, 45)
    assert any(
        one.startswith("30 of 45 pairs repeat both values of another: ") for one in told(findings, "line")
    )
    assert kinds(findings_of(np.r_[X[:30], X[:4]], np.r_[Y[:30], Y[:4]])) == ["copies"]
    assert kinds(findings_of(np.r_[X[:30], X[:3]], np.r_[Y[:30], Y[:3]])) == []
    assert kinds(findings_of(np.r_[X[:40], X[:4]], np.r_[Y[:40], Y[:4]])) == []
    assert kinds(findings_of(np.tile(X[:8], 4), np.tile(Y[:8], 4))) == ["copies"]
    assert kinds(findings_of(np.tile(X[:7], 4), np.tile(Y[:7], 4))) == []


def test_values_that_coincide_by_rounding_are_no_copies():
    coarse = findings_of(np.round(X), np.round(Y / 8))
    assert coarse.pairs.n - len({*zip(coarse.pairs.x, coarse.pairs.y, strict=True)}) > 6
    assert "copies" not in kinds(coarse)
    doses = np.repeat(np.arange(10.0), 6)
    assert "copies" not in kinds(
        findings_of(doses, 2 * doses)
    )  # one line: nothing is left over to be counted twice


def test_very_many_rows_are_not_gone_through(monkeypatch):
    monkeypatch.setattr("bright_tether.live.look.MOST_ROWS", 59)
    assert findings_of(X, np.maximum(Y, 35.0)).recurring is None


def test_an_interval_below_nothing_is_told_where_no_value_was():
    y = np.exp(DRAW.normal(0, 1, 60)) + 0.1
    findings = findings_of(X, y)
    low = findings.expected[0].pi[0]
    assert low < 0
    (said,) = [one for one in told(findings, "forecast") if "in play lies above 0" in one]
    assert said.startswith(f"Every y in play lies above 0, and the interval reaches to −{abs(low):.1f}")
    for other in (findings_of(X, y - y.min()), findings_of(X, y + 100), with_limit(findings)):
        assert not any("in play lies above 0" in one for one in told(other, "forecast"))


def with_limit(findings):
    """The same with the lowest possible y stated."""
    table = findings.study.tables[0]
    x, y = table.columns
    table = msgspec.structs.replace(table, columns=(x, msgspec.structs.replace(y, low=0.0)))
    return Findings(msgspec.structs.replace(findings.study, tables=(table,)), findings.tether)


def grouped(slopes, each=14, *, tint=True):
    """Groups about one middle with these slopes."""
    x = np.tile(np.linspace(-1, 1, each), len(slopes))
    y = np.concatenate([slope * np.linspace(-1, 1, each) for slope in slopes]) + DRAW.normal(0, 0.1, x.size)
    names = np.repeat([f"g{at}" for at in range(len(slopes))], each).astype(object)
    plain = findings_of(x, y)
    table = plain.study.tables[0]
    column = Column(id="g", name="side", kind="category", cells=names)
    table = msgspec.structs.replace(table, columns=(*table.columns, column))
    tether = msgspec.structs.replace(plain.tether, tint="g" if tint else None)
    return Findings(msgspec.structs.replace(plain.study, tables=(table,), tethers=(tether,)), tether)


def test_groups_that_go_opposite_ways_take_the_headline():
    findings = grouped((1, -1))
    claim = claims_of(findings).story
    assert (claim.verdict, claim.crossing, claim.forbids) == ("nothing", True, True)
    assert [one.shown for one in claim.groups] == [1, -1]
    for step in ("strength", "line", "forecast"):
        headline = step_of(step).reading(findings, "", None).headline
        assert headline.startswith("The groups of side go opposite ways: g0 rises (+0.9"), step
        assert " and g1 falls (−0.9" in headline
    said = " ".join(map(str, step_of("strength").reading(findings, "", None).sentences))
    assert "they go opposite ways, g0 rises and g1 falls; report them apart." in said
    assert "neither the whole" not in said


def test_groups_that_go_opposite_ways_leave_a_headline_that_holds():
    findings = grouped((3, 3, 3, -0.5))
    claim = claims_of(findings).story
    assert (claim.crossing, claim.forbids) == (True, False)
    assert [one.shown for one in claim.groups] == [1, 1, 1, -1]
    findings = grouped((1, 0))
    flat = claims_of(findings).story
    assert [one.shown for one in flat.groups] == [1, 0]
    assert not flat.crossing


def test_groups_nobody_tinted_by_are_named_where_they_go_opposite_ways():
    findings = grouped((1, -1), tint=False)
    assert [one.by for one in hidden_stories(findings)] == ["side"]
    (said,) = [one for one in told(findings, "look") if "opposite ways" in one]
    assert said.endswith(": tint by side to see it.")


@pytest.mark.parametrize(("apart", "stronger"), [(0.0, False), (3.0, True)])
def test_groups_may_show_the_same_and_more(apart, stronger):
    x = np.tile(np.linspace(-1, 1, 14), 2)
    findings = grouped((2, 2))
    table = findings.study.tables[0]
    y = 2 * x + np.repeat([0.0, apart], 14) + DRAW.normal(0, 0.4, 28)
    columns = (table.columns[0], msgspec.structs.replace(table.columns[1], cells=y), table.columns[2])
    table = msgspec.structs.replace(table, columns=columns)
    again = Findings(msgspec.structs.replace(findings.study, tables=(table,)), findings.tether)
    claim = claims_of(again).story
    assert (claim.verdict, claim.stronger) == ("same", stronger)
    said = " ".join(map(str, step_of("strength").reading(again, "", None).sentences))
    assert ("and stronger than all together." in said) is stronger


def test_a_group_is_shown_by_its_own_test_among_so_many():
    """Of p between α over three and α none is shown."""
    r = 0.6
    x = np.linspace(-1, 1, 14)
    across = DRAW.normal(0, 1, 14)
    across -= np.polyval(np.polyfit(x, across, 1), x)
    own = r * x / np.sqrt(x @ x) + np.sqrt(1 - r * r) * across / np.sqrt(across @ across)
    for groups, shown in ((2, 1), (3, 0)):  # p = 0.023
        findings = grouped((1,) * groups)
        table = findings.study.tables[0]
        y = table.columns[1].cells.copy()
        y[:14] = own
        columns = (table.columns[0], msgspec.structs.replace(table.columns[1], cells=y), table.columns[2])
        table = msgspec.structs.replace(table, columns=columns)
        again = Findings(msgspec.structs.replace(findings.study, tables=(table,)), findings.tether)
        assert claims_of(again).story.groups[0].shown == shown


def test_a_loop_is_not_called_straight():
    turn = np.linspace(0, 2 * np.pi, 50)
    loop = findings_of(np.cos(turn), np.sin(turn) + 0.3 * np.cos(turn))
    assert claims_of(loop).doubt("order").verdict == "clear sign"
    headline = step_of("look").reading(loop, "", None).headline
    assert headline == (
        "A loose rising band, without a bend that shows, but neighbouring rows keep to one side of the line."
    )
    assert (
        step_of("look")
        .reading(findings_of(X, Y), "", None)
        .headline.endswith("straight as far as can be seen.")
    )


def shares(x, y, names=("sand (%)", "clay (%)")):
    """What is built into two columns of these names."""
    plain = findings_of(np.asarray(x, float), np.asarray(y, float))
    columns = tuple(
        msgspec.structs.replace(one, name=name)
        for one, name in zip(plain.study.tables[0].columns, names, strict=True)
    )
    table = msgspec.structs.replace(plain.study.tables[0], columns=columns)
    findings = Findings(msgspec.structs.replace(plain.study, tables=(table,)), plain.tether)
    return [one.why for one in built_in_claims(findings)]


def test_shares_of_one_whole_fall_by_their_making():
    sand = np.array([10.0, 25, 31, 44, 58, 63, 77, 90])
    assert shares(sand, 100 - sand) == ["shares"]
    assert shares(sand, 100 - sand, ("sand (%)", "clay (g)")) == []
    assert shares(sand[:7], 100 - sand[:7]) == []
    assert shares(sand, 100.6 - sand) == []
    assert shares(sand, np.r_[100 - sand[:7], -1]) == []
    often = np.r_[90 - sand[:2], 60 - sand[2:4], 1, 1, 1, 1]
    assert shares(np.minimum(sand, 80), often) == ["shares"]
    assert shares(np.minimum(sand, 80), np.r_[often[:1], often[1] - 1, often[2:]]) == []
