"""The workings row by row add up to the coefficients; tables and grids say what single calls say."""

from itertools import combinations

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.strength.critical import critical_table
from bright_tether.core.strength.falling import inversions
from bright_tether.core.strength.kendall import kendall
from bright_tether.core.strength.pearson import pearson
from bright_tether.core.strength.reversal import reversal
from bright_tether.core.strength.row_by_row import TooManyPairs, comparisons, products, rank_rows
from bright_tether.core.strength.screen import every_two, screen
from bright_tether.core.strength.spearman import spearman

RULES = {"alpha": 0.05, "alternative": "two-sided", "level": 0.95}
DRAW = np.random.default_rng(3)


def pairs_of(x, y):
    return take_pairs(np.asarray(x, float), np.asarray(y, float))


@pytest.fixture
def tied():
    return pairs_of(DRAW.integers(0, 8, 30), DRAW.integers(0, 8, 30))


def test_products_add_up_to_r(tied):
    told = products(tied)
    r = pearson(fit_line(tied), **RULES).r
    assert told.total / 29 == pytest.approx(r, rel=1e-13)
    assert np.allclose(told.z_x, stats.zscore(tied.x, ddof=1))


def test_ranks_from_either_end_give_the_same_rho(tied):
    rho = spearman(tied, **RULES).rho
    low, high = rank_rows(tied), rank_rows(tied, highest_first=True)
    assert np.allclose(low.rank_x + high.rank_x, 31)
    for one in (low, high):
        assert np.corrcoef(one.rank_x, one.rank_y)[0, 1] == pytest.approx(rho, rel=1e-12)
    assert np.allclose(low.rank_x, stats.rankdata(tied.x))


def test_comparisons_add_up_to_the_counts_of_tau(tied):
    told, tau = comparisons(tied), kendall(tied, **RULES)
    assert told.concordant.sum() == tau.concordant
    assert told.discordant.sum() == tau.discordant
    assert told.tied.sum() == tau.tied_x + tau.tied_y + tau.tied_both
    assert told.broken.sum() == 2 * tau.discordant
    assert (told.concordant + told.discordant + told.tied).tolist() == list(range(29, -1, -1))
    with pytest.raises(TooManyPairs):
        comparisons(pairs_of(np.arange(4000), np.arange(4000)))


@pytest.mark.parametrize("n", [1, 2, 5, 33, 700, 33_000])
def test_falling_pairs_are_counted_as_one_by_one(n):
    values = DRAW.integers(0, max(n // 3, 1) + 1, n)
    values = np.minimum(values, n - 1)
    if n <= 700:
        expected = sum(int(a > b) for a, b in combinations(values.tolist(), 2))
    else:
        lower = values[None, :] < values[:, None]
        expected = int(np.triu(lower, 1).sum()) if n < 5000 else _merge_count(values.tolist())[0]
    assert inversions(values) == expected


def _merge_count(values):
    if len(values) < 2:
        return 0, values
    half = len(values) // 2
    left, right = _merge_count(values[:half]), _merge_count(values[half:])
    found, merged, i = left[0] + right[0], [], 0
    for value in right[1]:
        while i < len(left[1]) and left[1][i] <= value:
            merged.append(left[1][i])
            i += 1
        found += len(left[1]) - i
        merged.append(value)
    return found, merged + left[1][i:]


def test_a_run_that_goes_back_is_found_with_what_it_costs():
    y = np.arange(15.0)
    y[5:10] = y[5:10][::-1]
    found = reversal(pairs_of(np.arange(15), y))
    assert sorted(found.places.tolist()) == [5, 6, 7, 8, 9]
    assert (found.broken, found.of_all) == (10, 10)
    assert found.tau_without == 1.0
    assert reversal(pairs_of(DRAW.normal(size=40), DRAW.normal(size=40))) is None
    assert reversal(pairs_of(np.arange(15), np.arange(15))) is None


def test_critical_table_holds_the_values_of_single_calls():
    told = critical_table(12, 0.03, "greater")
    assert told.alphas == (0.10, 0.05, 0.03, 0.02, 0.01)
    assert told.n[told.present] == 12
    pairs = pairs_of(DRAW.permutation(12), DRAW.permutation(12))
    rules = {"alpha": 0.03, "alternative": "greater", "level": 0.9}
    assert told.r[told.present][2] == pearson(fit_line(pairs), **rules).critical
    assert told.tau[told.present][2] == pytest.approx(kendall(pairs, **rules).critical, rel=1e-13)
    assert critical_table(3, 0.05, "two-sided").n[0] == 3


def test_every_pair_is_pairwise_complete():
    a, b, c = (DRAW.normal(size=20) for _ in range(3))
    b[3] = c[5] = c[6] = np.nan
    for name, theirs in (
        ("pearson", stats.pearsonr),
        ("spearman", stats.spearmanr),
        ("kendall", stats.kendalltau),
    ):
        told = screen((a, b, c), every_two(3), name, kept=None, set_aside=None, **RULES)
        assert [(one.first, one.second, one.n) for one in told] == [(0, 1, 19), (0, 2, 18), (1, 2, 17)]
        whole = np.isfinite(b) & np.isfinite(c)
        assert told[2].value == pytest.approx(theirs(b[whole], c[whole])[0], rel=1e-10)
    flat = screen((a, np.ones(20)), every_two(2), "pearson", kept=None, set_aside=None, **RULES)
    assert flat[0].value is None
    assert flat[0].p is None


def test_two_pairs_are_compared_with_each_other():
    told = comparisons(pairs_of([1.0, 2.0], [5.0, 3.0]))
    assert np.asarray(told.discordant).sum() == 1
    assert np.asarray(told.concordant).sum() == 0
    assert rank_rows(pairs_of([1.0, 2.0], [5.0, 3.0])).squares == 2
    assert products(pairs_of([1.0, 2.0], [5.0, 3.0])).z_x == pytest.approx([-np.sqrt(0.5), np.sqrt(0.5)])
