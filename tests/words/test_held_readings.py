"""What is said with other columns held: by p, α and the size of the change, and never of a cause."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims.along import slope_along_claim
from bright_tether.claims.held import held_claim, unseen_claim
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study.choices import HeldChoice, LineChoice
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.words.grids.held import along_grid, held_grid
from bright_tether.words.readings.held import held_reading

DRAW = np.random.default_rng(51)
N = 60
Z = DRAW.normal(size=N)
NOISE, OTHER = DRAW.normal(size=(2, N))


def findings_of(x, y, held, kind="number", choice=None, **line):
    columns = [Column(id=name, name=name, kind="number", cells=np.asarray(cells, float))
               for name, cells in (("x", x), ("y", y))]  # fmt: skip
    columns += [
        Column(id=name, name=name, kind=kind, cells=np.asarray(cells)) for name, cells in held.items()
    ]
    table = Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(len(x)))
    chosen = choice or HeldChoice(columns=tuple(held))
    tether = Tether(id="k1", table="t1", x="x", y="y", held=chosen, line=LineChoice(**line))
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


@pytest.mark.parametrize(("x", "y", "verdict", "said"), [
    (OTHER, 2 * OTHER + NOISE, "keeps", "leaves the slope much as it is"),
    (Z + OTHER, 2 * Z + (Z + OTHER) + 0.3 * NOISE, "shrinks", "smaller."),
    (OTHER - Z, 2 * (OTHER - Z) + 1.6 * Z + 0.3 * NOISE, "grows", "larger."),
    (Z + 0.3 * OTHER, 6 * Z - 2 * (Z + 0.3 * OTHER) + 0.3 * NOISE, "turns", "turns the slope round"),
    (Z + 0.5 * OTHER, 3 * Z + 0.5 * NOISE, "gone", "that is not the same as no slope"),
    (OTHER + Z, OTHER - Z * 1.0 + 0.8 * NOISE, "appears", "it is once z is held"),
    (OTHER, NOISE, "neither", "No slope is shown alone either"),
])  # fmt: skip
def test_what_becomes_of_the_slope_is_said_by_its_verdict(x, y, verdict, said):
    findings = findings_of(x, y, {"z": Z})
    claim, reading = held_claim(findings, findings.held_line), held_reading(findings)
    assert claim.verdict == verdict, (claim.share, claim.p_alone, claim.p)
    words = " ".join((reading.headline, *reading.sentences))
    assert said in words
    assert ("no slope of x is shown" in reading.headline) is (verdict in ("gone", "neither"))
    assert "it shows no cause" in words
    if verdict in ("shrinks", "grows"):
        assert f"{100 * abs(claim.share):.0f} % {said}" in words


def test_rows_without_a_value_are_counted_out_of_both_slopes():
    z = Z.copy()
    z[:7] = np.nan
    findings = findings_of(OTHER, 2 * OTHER + NOISE, {"z": z})
    reading, claim = held_reading(findings), held_claim(findings, findings.held_line)
    assert (claim.n, claim.lost) == (53, 7)
    assert "53 of 60 pairs have a value of z; both slopes are of these." in reading.sentences
    part = findings_of(OTHER[7:], (2 * OTHER + NOISE)[7:], {"z": Z[7:]})
    assert claim.slope_alone == pytest.approx(part.line.slope, rel=1e-12)
    assert claim.slope == pytest.approx(part.held_line.held.held.slope, rel=1e-12)


@pytest.mark.parametrize(("held", "line", "said"), [
    ({"z": np.ones(N)}, {}, "“z” has one value in all rows in play"),
    ({"z": 3 - 2 * OTHER}, {}, "What is held tells x entirely"),
    ({"z": Z, "w": Z * 2}, {}, "entirely: take one of them off"),
    ({"z": Z}, {"origin": True}, "Columns are held beside a plain line"),
    ({}, {}, "No further column is held yet"),
    ({"z": np.where(np.arange(N) < 2, Z, np.nan)}, {}, "needs at least 3 rows that have a value"),
    ({"z": np.where(np.arange(N) < 3, Z, np.nan)}, {}, "no degrees of freedom"),
    ({"z": Z}, {"errors": "clustered", "cluster": "z"}, None),
    ({"g": [f"level {at}" for at in range(N)]}, {}, "“g” has 60 levels, and a column of up to 40 can be held"),
])  # fmt: skip
def test_what_cannot_be_held_is_said_with_what_to_do(held, line, said):
    kind = "category" if "g" in held else "number"
    findings = findings_of(OTHER, 2 * OTHER + NOISE, held, kind, **line)
    reading = held_reading(findings)
    assert said is None or said in reading.headline, reading.headline
    assert (held_grid(findings) is None) is (said is not None)


def test_what_little_is_left_of_x_is_a_warning():
    findings = findings_of(Z + 0.1 * OTHER, Z + NOISE, {"z": Z})
    (beware,) = held_reading(findings).beware
    assert beware.startswith("The slope rests on the 0.")
    assert "of the spread in x that z does not tell (inflation" in beware
    assert not held_reading(findings_of(OTHER, Z + NOISE, {"z": Z})).beware


def test_a_category_is_held_against_the_level_that_is_chosen():
    groups = np.array(["low", "mid", "high"], object)[DRAW.integers(0, 3, N)]
    plain = findings_of(OTHER, OTHER + NOISE, {"g": groups}, "category")
    grid = held_grid(plain)
    first = groups[0]
    assert [row[0] for row in grid.rows[:2]] == ["x, alone", "x, others held"]
    assert all(row[0].endswith(f"against {first}") for row in grid.rows[2:])
    chosen = HeldChoice(columns=("g",), reference={"g": "mid"})
    other = findings_of(OTHER, OTHER + NOISE, {"g": groups}, "category", chosen)
    assert {row[0] for row in held_grid(other).rows[2:]} == {"g: low against mid", "g: high against mid"}
    assert other.held_line.held.held.slope == pytest.approx(plain.held_line.held.held.slope, rel=1e-10)


def test_groups_held_are_r_within_groups():
    study = demo_study()
    tether = msgspec.structs.replace(study.tether("k4"), held=HeldChoice(columns=(study.tether("k4").tint,)))
    findings = Findings(study, tether)
    held = findings.held_line.held
    assert held.partial_r == pytest.approx(findings.within_groups.r, rel=1e-12)
    assert held.partial_df == findings.within_groups.df
    assert held_reading(findings).headline == (
        "With rock held, each extra mg/L goes with about 4.45 uS/cm less conductance, on average."
    )


@pytest.mark.parametrize(("pull", "slope", "own", "does", "said"), [
    (0.0, 0.5, 0.6, "shown still", "would not bring it into doubt"),
    (0.3, 0.3, 0.3, "in doubt", "would bring it into doubt."),
    (0.7, 0.3, 0.3, "nothing left", "would leave nothing of the slope"),
    (0.0, 1.0, 1.0, "cannot be", "z goes with x and y so strongly that nothing more can go with them as strongly."),
    (2.0, 1.0, 1.0, "cannot be", "z goes with x so strongly that nothing more can go with it as strongly."),
])  # fmt: skip
def test_what_was_not_measured_is_held_against_what_was(pull, slope, own, does, said):
    x = pull * Z + OTHER
    findings = findings_of(x, slope * x + own * Z + NOISE, {"z": Z})
    claim = unseen_claim(findings)
    assert (claim.like, claim.does) == ("z", does), (claim.with_x, claim.with_y)
    words = " ".join(held_reading(findings).sentences)
    assert said in words
    assert f"take up {100 * claim.to_nothing:.0f} % of what is left of x and of y alike" in words
    assert 0 < claim.to_doubt <= claim.to_nothing < 1


def test_nothing_is_said_of_the_unmeasured_where_no_slope_is_shown():
    findings = findings_of(OTHER, NOISE, {"z": Z})
    claim = unseen_claim(findings)
    assert (claim.shown, claim.to_doubt) == (False, 0.0)
    assert not any("unmeasured" in one for one in held_reading(findings).sentences)
    alone = held_reading(findings_of(OTHER, 2 * OTHER + NOISE, {}))
    assert "something unmeasured would have to take up" in alone.sentences[0]
    robust = held_reading(findings_of(OTHER, 2 * OTHER + NOISE, {}, errors="HC3"))
    assert robust.sentences[0].endswith("by classical errors.")
    exact = findings_of(OTHER, 2 * OTHER, {"z": Z})
    assert unseen_claim(exact) is None


def test_whether_a_slope_is_shown_does_not_hang_on_the_lines_own_hypotheses():
    """A clear falling slope is shown, whichever side or slope the line itself is asked for."""
    x, y = OTHER, -2 * OTHER + NOISE
    for rules, line in (
        (RuleChoices(alternative="greater"), LineChoice()),
        (RuleChoices(), LineChoice(slope_0=-2.0)),
    ):
        plain = findings_of(x, y, {"z": Z})
        tether = msgspec.structs.replace(plain.tether, rules=rules, line=line)
        findings = Findings(msgspec.structs.replace(plain.study, tethers=(tether,)), tether)
        claim = held_claim(findings, findings.held_line)
        assert (claim.verdict, claim.p < 0.001, claim.p_alone < 0.001) == ("keeps", True, True)
        assert "less y, on average" in held_reading(findings).headline
        assert findings.unseen_line.unseen.t == pytest.approx(findings.held_line.held.partial_t, rel=1e-9)


def along(x, y, z, kind="number", **choice):
    return findings_of(x, y, {"z": z}, kind=kind, choice=HeldChoice(columns=("z",), along="z", **choice))


def sentences(findings):
    return " ".join(map(str, held_reading(findings).sentences))


@pytest.mark.parametrize(("product", "said"), [
    (1.5, "The slope of x differs along z: for each unit of z more it is 1."),
    (-1.5, "smaller (p < 0.001)."),
    (0.0, "That the slope of x differs along z is not shown (p = "),
])  # fmt: skip
def test_a_slope_along_numbers_is_told_at_low_middle_and_high(product, said):
    findings = along(OTHER, OTHER + Z + product * OTHER * Z + 0.3 * NOISE, Z)
    line = findings.along_line
    told = sentences(findings)
    assert said in told
    assert f"at {np.quantile(Z, 0.25):.4g}".replace("-", "−") in told
    assert line.along.p == pytest.approx(line.along.difference.p_slope)
    ahead = findings.held_forecast
    assert ahead.along == "z"
    middle = next(one for one in line.along.places if one.place == pytest.approx(np.median(Z)))
    (there,) = along(OTHER, OTHER + Z + product * OTHER * Z + 0.3 * NOISE, Z, at={"x": 0.5, "z": middle.place}
                     ).held_forecast.forecasts  # fmt: skip
    assert there.fitted == pytest.approx(middle.intercept + 0.5 * middle.slope.slope)
    assert any(str(one).endswith(", with the slope along z.") for one in held_reading(findings).sentences)
    grid = along_grid(findings)
    assert grid.title == "Slope along z"
    assert len(grid.rows) == 3
    figure = next(
        one for one in held_reading(findings).figures if one.name.startswith("one slope along z, F (1, ")
    )
    assert float(figure.value) == pytest.approx(line.along.f, rel=0.01)


def test_a_slope_by_levels_is_told_level_by_level():
    names = np.array(["low", "mid", "high", "more", "most"])[np.arange(N) % 5]
    findings = along(OTHER, OTHER * (1 + np.arange(N) % 5) + 0.1 * NOISE, names, kind="category")
    told = sentences(findings)
    assert "The slope of x differs between the levels of z (p < 0.001)." in told
    assert "in low" in told
    assert "and 1 more level." in told
    assert along_grid(findings).rows[4][0] == "most"


def test_where_the_slope_along_a_column_cannot_be_told_that_is_said():
    two = (np.arange(N) % 2).astype(float)
    findings = along(two + 1, two + NOISE, 3 * two)
    assert held_reading(findings).headline.startswith("What is held tells x entirely")
    flat = np.where(two == 1, OTHER, 1.0)
    findings = along(flat, flat + NOISE, two)
    assert "cannot be told from these rows" in sentences(findings) or "differs" in sentences(findings)
    assert along_grid(findings_of(OTHER, NOISE, {"z": Z})) is None


def test_the_stated_order_holds_among_the_rows_that_have_every_value():
    """Errors of alike neighbours with blanks in the held column: as if those rows were not in the table."""
    turn, z = DRAW.permutation(N).astype(float), Z.copy()
    z[[3, 20, 41]] = np.nan
    there = np.isfinite(z)
    y = OTHER + Z + np.cumsum(NOISE) / 4

    def slope(mine):
        columns = {"x": OTHER[mine], "y": y[mine], "z": z[mine], "turn": turn[mine]}
        named = tuple(
            Column(id=name, name=name, kind="number", cells=cells) for name, cells in columns.items()
        )
        table = Table(id="t1", name="t", columns=named, row_ids=np.arange(mine.sum()))
        tether = Tether(id="k1", table="t1", x="x", y="y", held=HeldChoice(columns=("z",)),
                        line=LineChoice(errors="newey_west", order="turn"))  # fmt: skip
        return Findings(Study(tables=(table,), tethers=(tether,)), tether).held_line.held.held

    whole, part = slope(np.ones(N, bool)), slope(there)
    assert whole.se_slope == pytest.approx(part.se_slope, rel=1e-12)
    assert whole.slope == pytest.approx(part.slope, rel=1e-12)


@pytest.mark.parametrize(
    ("alone", "p_alone", "held", "p", "share", "verdict"),
    [
        (1.0, 0.05, 0.5, 0.05, 0.5, "shrinks"),  # p is α: rejected
        (1.0, 0.050001, 0.5, 0.05, 0.5, "appears"),
        (1.0, 0.05, 0.5, 0.050001, 0.5, "gone"),
        (1.0, 0.2, 0.5, 0.3, 0.5, "neither"),
        (1.0, 0.01, -0.5, 0.01, 1.5, "turns"),
        (1.0, 0.01, 1.5, 0.01, -0.5, "grows"),
        (1.0, None, 1.0, None, 0.0, "keeps"),  # exact lines have no p
        (0.0, None, 1.0, 0.01, None, "appears"),
        (1.0, 0.01, 1.0, 0.01, None, "keeps"),
    ],
)
def test_what_becomes_of_a_slope_is_by_its_tests_and_its_share(alone, p_alone, held, p, share, verdict):
    from bright_tether.claims.held import _verdict

    assert _verdict(alone, p_alone, held, p, 0.05, share) == verdict


@pytest.mark.parametrize(("slopes", "said"), [
    ((-1, 0, 1), "the slope of x differs along z: −0.997 at −1 and 1.033 at 1."),
    ((0.5, 1, 1.5), "each extra unit of x goes with about 1.0"),
    ((-2, 0, 1.9), "the slope of x differs along z: −1.981 at −1 and 1.949 at 1."),
    ((1, 2, 3), "each extra unit of x goes with about 2.0"),
])  # fmt: skip
def test_a_slope_that_turns_round_along_what_is_held_takes_the_headline(slopes, said):
    z, x = np.tile([-1.0, 0.0, 1.0], 20), np.repeat(np.linspace(-2, 2, 20), 3)
    y, along = np.tile(slopes, 20) * x + 0.1 * NOISE, HeldChoice(columns=("z",), along="z")
    findings = findings_of(x, y, {"z": z}, choice=along)
    claim = slope_along_claim(findings.along_line, 0.05)
    assert claim.verdict == "differs"
    assert claim.turns is (min(slopes) < 0)
    assert held_reading(findings).headline.startswith(f"With z held, {said}")


def test_a_slope_that_is_shown_at_one_place_alone_takes_it_where_one_for_all_is_not_shown():
    z, x = np.tile([-1.0, 0.0, 1.0], 20), np.repeat(np.linspace(-2, 2, 20), 3)
    y = np.tile([-0.1, 0.0, 0.8], 20) * x + 2 * OTHER * (1 + np.abs(z))
    findings = findings_of(x, y, {"z": z}, choice=HeldChoice(columns=("z",), along="z"))
    claim = slope_along_claim(findings.along_line, 0.05)
    wide = msgspec.structs.replace(claim, verdict="differs", at=tuple(
        msgspec.structs.replace(one, low=low, high=high)
        for one, low, high in zip(claim.at, (-1.0, -1.0, 0.1), (1.0, 1.0, 2.0), strict=True)
    ))  # fmt: skip
    assert [one.place for one in wide.shown] == [claim.at[2].place]
    assert not wide.turns
    assert msgspec.structs.replace(wide, verdict="not shown").turns is False


def test_an_exact_line_with_columns_held_promises_no_interval():
    exact = findings_of(OTHER, OTHER - 2 * Z, {"z": Z}, choice=HeldChoice(columns=("z",), along="z"))
    reading = held_reading(exact)
    assert str(reading.headline) == (
        "With z held, every pair lies on one line: each extra unit of x goes with 1.00 more y."
    )
    words = " ".join(map(str, reading.sentences))
    assert (
        "With every residual 0, intervals, tests and widths say nothing: is y worked out from x and z?"
        in words
    )
    assert "confidence" not in words
    assert "10⁻" not in words
    fall = held_reading(findings_of(OTHER, Z - OTHER, {"z": Z}))
    assert str(fall.headline).endswith("each extra unit of x goes with 1.00 less y.")
    assert fall.figures[0].value == "−1.00"
    told = held_reading(findings_of(OTHER, 3 * Z, {"z": Z}))
    assert str(told.headline) == "With z held, every pair lies on one line: x adds nothing."
