"""Every step and view over odd data under choices made by chance: it answers, in sentences, whatever meets."""

import numpy as np
import pytest

from bright_tether.core.rehearse.kinds import JUDGED, PURPOSES, STATISTICS
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from bright_tether.study.asides import Aside, Asides
from bright_tether.study.choices import (
    CompareChoice,
    ForecastChoice,
    HeldChoice,
    LineChoice,
    OtherwiseChoice,
    RehearseChoice,
)
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Answer, Tether, View
from bright_tether.tables.clock import Clock
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from tests.truth.check import language

#: Columns of n values, each odd in its own way.
VALUES = (
    lambda draw, n: draw.normal(size=n),
    lambda draw, n: np.round(draw.normal(0, 1.5, n)),
    lambda draw, n: np.exp(draw.normal(0, 2, n)),
    lambda draw, n: draw.integers(0, 2, n).astype(float),
    lambda draw, n: np.arange(n, dtype=float),
    lambda draw, n: np.full(n, 3.0),
    lambda draw, n: draw.normal(size=n) * 10.0 ** draw.integers(-200, 200),
    lambda draw, n: 1e9 + draw.integers(0, 3, n),
    lambda draw, n: np.r_[draw.normal(size=max(n - 1, 0)), np.full(min(n, 1), 1e6)],
    lambda draw, n: np.r_[np.zeros(n // 2), draw.normal(size=n - n // 2)],
)


def findings_by_chance(seed):
    """A table of x, y, z, weights, a category, one with a level of one row, and cases; and a tether over it."""
    draw = np.random.default_rng(seed)

    def one_of(*some):
        return some[int(draw.integers(len(some)))]

    n = one_of(0, 1, 2, 3, 4, 5, 6, 8, 12, 20, 40, 80)
    x, z, free = (one_of(*VALUES)(draw, n) for _ in range(3))
    with np.errstate(over="ignore"):
        y = one_of(free, 2 * x + z, x.copy(), x * z, x + draw.normal(size=n))
    for cells in (x, y, z):
        cells[draw.random(n) < one_of(0, 0, 0.1)] = np.nan
    words = {
        "g": [one_of("a", "b", "c", "") for _ in range(n)],
        "o": ["rare", *["often"] * n][:n],
        "d": [f"case {at // 3}" for at in range(n)],
        "l": [f"b{at}" for at in range(n)],
        "t": [str(np.datetime64("2022-01-31") + int(day)) for day in np.sort(draw.integers(0, 900, n))],
    }
    kinds = {"l": "label", "t": "date"}
    numbers = {"x": x, "y": y, "z": z, "w": np.abs(draw.normal(size=n)).round(1)}
    units = {"x": one_of("", " (m)", " (%)"), "y": one_of("", " (kg)", " (%)"), "z": " (s)", "w": ""}
    low, high = one_of(*[(None, None)] * 4, (0.0, None), (0.0, 100.0))
    columns = [
        Column(id=k, name=k + units[k], kind="number", cells=v,
               **({"low": low, "high": high} if k == "y" else {})) for k, v in numbers.items()
    ]  # fmt: skip
    columns += [
        Column(id=k, name=k, kind=kinds.get(k, "category"), cells=np.array(v, dtype=object))
        for k, v in words.items()
    ]
    held = one_of((), ("z",), ("g",), ("o",), ("z", "g"), ("z", "o", "g"), ("d",))
    tether = Tether(
        id="k1", table="t1", x=one_of("x", "x", "x", "t"), y="y", tint=one_of(None, "g", "o", "d"),
        mutual=one_of(False, False, True), among=one_of(0, 0, 12), clock=one_of(None, Clock("weeks", "2022-01-01")),
        view=View(log_x=one_of(False, False, True), log_y=one_of(False, False, True)),
        otherwise=OtherwiseChoice(what=one_of("slope", "coefficient")),
        held=HeldChoice(columns=held, along=one_of("", *held), doubted=one_of(False, True),
                        at=one_of({}, {"z": 9.0, "g": "b", "x": 1.0})),
        line=LineChoice(errors=one_of("classical", "classical", "HC0", "HC3", "newey_west", "clustered"), cluster="d",
                        weights=one_of(*[None] * 6, "w"), origin=one_of(*[False] * 6, True),
                        order=one_of(None, "z", "t"), slope_0=one_of(0.0, 0.0, 1.0), matters=one_of(None, 0.5),
                        weight_pattern=one_of(*[None] * 6, "inverse-x", "inverse-fitted2", "power-x")),
        compare=CompareChoice(group=one_of(None, "g", "o", "d"), second=one_of(None, None, None, "z"),
                              rows_are=one_of(None, "cases", "settings"), margin=one_of(None, 0.5),
                              height_at=one_of(None, 0.0)),
        forecast=ForecastChoice(at=one_of((), (0.0, 5.0, 1e6)), back=one_of((), (1.0, -50.0)), mean_of=one_of(1, 3),
                                levels=one_of((), (0.8,)), band=one_of(False, True), local=one_of(*[False] * 4, True),
                                cases=one_of((), ((1.0, 2.0),)), width=one_of("spread", "ranks")),
        rehearse=RehearseChoice(draws=20, source=one_of("line", "residuals", "rows", "truth"),
                                statistic=one_of(*STATISTICS),
                                shape=one_of("normal", "skewed", "heavy", "own"), pattern=one_of("even", "fanning"),
                                alike=one_of(0.0, 0.6), judged=one_of(None, *JUDGED),
                                design=one_of("kept", "drawn", "even", "normal"), purpose=one_of(*PURPOSES)),
        rules=RuleChoices(alpha=one_of(None, 0.01, 0.5), alternative=one_of(None, "less", "greater"),
                          decide=one_of(None, "spearman", "kendall", "slope")),
        asides=Asides.told(Aside(row=at, reason="odd") for at in range(n) if draw.random() < 0.05),
        answers=one_of((), (Answer("bend", "known"),)),
    )  # fmt: skip
    table = Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(n))
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def walk(findings):
    """Every sentence of every view, its tables and workings made beside."""
    with np.errstate(all="ignore"):
        for step in STEPS:
            for view in step.views_of(findings):
                run = None
                if view.run is not None and findings.refusal is None:
                    try:
                        run = view.run(findings).outcome
                    except Refusal:
                        continue
                reading = step.reading(findings, view.id, run)
                yield from map(str, (reading.headline, *reading.sentences, *reading.beware))
                try:
                    view.grids(findings)
                    if step.workings is not None and findings.refusal is None:
                        step.workings(findings, view.id)
                except Refusal:
                    continue


def unsound(seeds):
    return [
        (seed, wrong, says)
        for seed in seeds
        for says in walk(findings_by_chance(seed))
        for wrong in language(says)
        if not wrong.startswith("dust")
        and "shows no cause" not in says  # the one place where the word may stand
    ]


@pytest.mark.parametrize("first", range(0, 20, 5))
def test_every_view_answers_whatever_is_chosen(first):
    assert not unsound(range(first, first + 5))


@pytest.mark.verify
def test_words_are_sound_over_a_thousand_sets_of_choices():
    assert not unsound(range(1000, 2000))
