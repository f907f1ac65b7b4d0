"""What is said of the slope held over and over."""

import msgspec
import numpy as np
import pytest

from bright_tether.core.line.plain import fit_line
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.study.choices import HeldChoice, LineChoice, RehearseChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

REHEARSE = step_of("rehearse")


def springs(source="line", draws=400, columns=("rock",), **fields):
    study = demo_study()
    tether = study.tether("k4")
    table = study.table(tether.table)
    held = HeldChoice(columns=tuple(one.id for name in columns for one in table.columns if one.short == name))
    chosen = RehearseChoice(source=source, draws=draws, **fields)
    tether = msgspec.structs.replace(tether, held=held, rehearse=chosen)
    return Findings(with_tether(study, tether), tether)


def reading_of(findings, *, run=True):
    return REHEARSE.reading(findings, "held", findings.held_samples.outcome if run else None)


def said(reading):
    return [str(one) for one in (reading.headline, *reading.sentences)]


def test_the_slope_alone_is_told_beside_the_slope_held():
    findings = springs()
    reading = reading_of(findings)
    words = said(reading)
    assert words[0].startswith("Over 400 samples the slope with rock held came out at −4.4")
    assert words[1].startswith(
        "Each sample has 42 pairs on the line with rock held, a slope of −4.452, with normal"
    )
    assert words[1].endswith("x and what is held kept as measured; seed 1.")
    assert words[-2].startswith("Your sample's own, −4.45")
    drawn = findings.held_samples.outcome
    assert reading.sentences[-1].claims[0].sd == pytest.approx(np.std(drawn.alone, ddof=1), rel=1e-12)
    assert "were the line with rock held the true one, it would aim at 5.80" in words[-1]
    alone = fit_line(findings.pairs)
    claim = reading.sentences[-1].claims[0]
    assert claim.aims == pytest.approx(alone.slope_unscaled(alone.slope_scaled), rel=1e-9)
    assert claim.held == pytest.approx(findings.held_line.held.held.slope, rel=1e-12)
    assert {one.name: one.value for one in reading.figures}["truth"] == "−4.452"
    assert str(reading.beware[0]).startswith("What is rehearsed is the fitted line as if it were true")
    steps = REHEARSE.workings(findings, "held")[0].steps
    assert float(steps[2].result) == pytest.approx(findings.held_line.held.held.se_slope, rel=1e-6)


def test_rows_drawn_again_have_a_percentile_interval_and_no_truth():
    reading = reading_of(springs(source="rows"))
    words = said(reading)
    assert words[1] == "Each sample is 42 of the 42 rows, drawn with replacement, with what is held (seed 1)."
    assert words[-1].startswith("On the same samples the slope alone came out at 5.8")
    assert "aim" not in words[-1]
    figures = {one.name: one.value for one in reading.figures}
    low, high = figures["percentile, 95 %"].numbers
    assert low < -4.45 < high


def test_whole_cases_are_named():
    study = demo_study()
    tether = study.tethers[0]
    stage, station = (study.table(tether.table).named(name).id for name in ("stage (m)", "station"))
    tether = msgspec.structs.replace(
        tether, held=HeldChoice(columns=(stage,)), line=LineChoice(errors="clustered", cluster=station),
        rehearse=RehearseChoice(source="rows", draws=20),
    )  # fmt: skip
    findings = Findings(with_tether(study, tether), tether)
    assert len(np.unique(findings.clusters)) == 2
    assert "Each sample is 2 of the 2 cases with all their rows" in said(reading_of(findings))[1]


def test_before_anything_is_drawn_and_where_nothing_can_be():
    assert said(reading_of(springs(), run=False))[0] == "No samples drawn yet."
    none = springs(columns=())
    assert none.held_samples.outcome is None
    assert said(reading_of(none))[0].startswith("No further column is held yet")
    assert REHEARSE.workings(none, "held") == ()


def test_a_stated_truth_is_told_as_it_is():
    words = said(
        reading_of(springs(source="truth", slope=-3.0, shape="skewed", pattern="fanning", alike=0.4, n=90))
    )
    assert "a slope of −3.000, with skewed errors of sd" in words[1]
    assert "fanning with x, neighbours along x alike (0.4)" in words[1]
    assert words[1].startswith("Each sample has 42 pairs")  # what is held belongs to the rows there are


def test_columns_of_any_size_have_their_formula():
    draw = np.random.default_rng(4)
    z = draw.normal(size=30)
    x, y = z + draw.normal(size=30), z + draw.normal(size=30)
    told = []
    for power in (0, 200):
        cells = {"x": np.ldexp(x, -power), "y": np.ldexp(y, 2 * power), "z": z}
        columns = tuple(Column(id=name, name=name, kind="number", cells=one) for name, one in cells.items())
        table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(30))
        tether = Tether(id="k1", table="t1", x="x", y="y", held=HeldChoice(columns=("z",)))
        findings = Findings(Study(tables=(table,), tethers=(tether,)), tether)
        steps = REHEARSE.workings(findings, "held")[0].steps
        told.append([one.result.numbers[0] for one in steps])
    s, sxx, se = told[0]
    assert told[1] == pytest.approx([np.ldexp(s, 400), np.ldexp(sxx, -400), np.ldexp(se, 600)], rel=1e-6)


def test_a_run_that_is_stopped_is_not_kept_and_tells_what_there_is():
    findings = springs(source="rows", draws=100_000)
    task = findings.held_samples
    some = task.run(lambda so_far: False)
    assert 0 < some.done < 100_000
    assert task.kept is None
    reading = REHEARSE.reading(findings, "held", some)
    names = [one.name for one in reading.figures]
    assert "caught" not in names
    assert not any("percentile" in one for one in names)
    whole = springs(source="line", draws=300)
    assert whole.held_samples.outcome is whole.held_samples.kept
    assert "caught" in [one.name for one in reading_of(whole).figures]
    assert not any("percentile" in one.name for one in reading_of(whole).figures)
