"""Many columns looked at: each coefficient as by itself, and p adjusted for how many there were."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.strength.by_case import judged_by_case
from bright_tether.core.strength.screen import adjusted, false_shares, screen

RULES = {"kept": None, "set_aside": None, "alpha": 0.05, "alternative": "two-sided", "level": 0.95}


@pytest.mark.parametrize("coefficient", ["pearson", "spearman", "kendall"])
def test_each_is_as_by_itself_over_its_own_complete_pairs(coefficient):
    draw = np.random.default_rng(3)
    columns = [draw.normal(size=40) for _ in range(5)]
    columns[1][[3, 7]] = np.nan
    columns[2] = np.full(40, 2.0)
    looked = screen(columns, [(at, 4) for at in range(4)], coefficient, **RULES)
    assert [one.n for one in looked] == [40, 38, 40, 40]
    assert looked[2].value is None
    assert looked[2].p is None
    assert looked[2].p_holm is None
    by = {"pearson": stats.pearsonr, "spearman": stats.spearmanr, "kendall": stats.kendalltau}[coefficient]
    there = np.isfinite(columns[1])
    found = by(columns[1][there], columns[4][there])
    assert looked[1].value == pytest.approx(found.statistic, rel=1e-10)
    if coefficient != "kendall":
        assert looked[1].p == pytest.approx(found.pvalue, rel=1e-8)


@pytest.mark.parametrize("coefficient", ["pearson", "spearman", "kendall"])
def test_where_cases_decide_each_column_is_judged_by_them(coefficient):
    draw = np.random.default_rng(4)
    cases = np.append(np.repeat(np.arange(12), 4), -1)
    level = draw.normal(size=12)
    x, y = (level[cases] + draw.normal(0, 0.4, 49) for _ in range(2))
    x[3] = np.nan
    (one,) = screen([x, y], [(0, 1)], coefficient, cases=cases, **RULES)
    there = np.delete(np.arange(48), 3)
    pairs = take_pairs(x[there], y[there])
    alone = judged_by_case(
        coefficient, pairs, fit_line(pairs), cases[there], alternative="two-sided", level=0.95
    )
    assert (one.n, one.p, one.ci) == (47, alone.p, alone.ci)
    (rows,) = screen([x[:-1], y[:-1]], [(0, 1)], coefficient, **RULES)
    assert one.value == rows.value
    assert one.p > rows.p
    (each,) = screen([x[:-1], y[:-1]], [(0, 1)], coefficient, cases=np.arange(48), **RULES)
    assert (each.p, each.ci) == (rows.p, rows.ci)  # one row a case


def test_adjusted_p_are_those_of_holm_and_of_benjamini_and_hochberg():
    p = np.array([0.01, 0.04, 0.03, 0.005, 0.55])
    assert false_shares(p) == pytest.approx(stats.false_discovery_control(p), rel=1e-12)
    looked = screen([np.arange(5.0)], [], "pearson", **RULES)
    assert looked == ()
    draw = np.random.default_rng(1)
    columns = [draw.normal(size=30) for _ in range(12)]
    looked = screen(columns, [(at, 11) for at in range(11)], "pearson", **RULES)
    values = np.array([one.p for one in looked])
    order = np.argsort(values)
    stepped = np.minimum(np.maximum.accumulate(values[order] * np.arange(11, 0, -1)), 1)
    assert [looked[at].p_holm for at in order] == pytest.approx(stepped, rel=1e-12)
    assert [one.false_share for one in looked] == pytest.approx(
        stats.false_discovery_control(values), rel=1e-12
    )
    assert adjusted(looked) == looked or all(
        a.p_holm == b.p_holm for a, b in zip(adjusted(looked), looked, strict=True)
    )


def test_it_stops_when_it_is_told_to():
    draw = np.random.default_rng(1)
    columns = [draw.normal(size=9) for _ in range(100)]
    looked = screen(
        columns, [(at, 99) for at in range(99)], "pearson", progress=lambda done: done < 40, **RULES
    )
    assert len(looked) == 40
