"""Rank correlations and agreement against counting by hand and high precision."""

from itertools import combinations, permutations

import mpmath as mp
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import stats

from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Cause, TooFewPairs
from bright_tether.core.strength.agreement import agreement
from bright_tether.core.strength.kendall import kendall
from bright_tether.core.strength.pearson import pearson
from bright_tether.core.strength.ranks import dense_codes, mid_ranks
from bright_tether.core.strength.spearman import spearman
from bright_tether.core.strength.within import within_groups

RULES = {"alpha": 0.05, "alternative": "two-sided", "level": 0.95}


def pairs_of(x, y):
    return take_pairs(np.array(x, float), np.array(y, float))


def counted(x, y):
    """Concordant, discordant, tied in x only, in y only, in both: pair by pair."""
    told = dict.fromkeys(("concordant", "discordant", "tied_x", "tied_y", "tied_both"), 0)
    for i, j in combinations(range(len(x)), 2):
        a, b = np.sign(x[i] - x[j]), np.sign(y[i] - y[j])
        key = "tied_both" if a == b == 0 else "tied_x" if a == 0 else "tied_y" if b == 0 else None
        told[key or ("concordant" if a == b else "discordant")] += 1
    return told


def test_mid_ranks_share_their_places_in_either_direction():
    assert mid_ranks(*dense_codes(np.array([3.0, 1, 3, 9, 1, 3]))).tolist() == [4, 1.5, 4, 6, 1.5, 4]
    assert mid_ranks(*dense_codes(np.array([3.0, 1, 9])), highest_first=True).tolist() == [2, 3, 1]


@given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 6)), min_size=2, max_size=40))
@settings(max_examples=150, deadline=None)
def test_kendall_counts_pair_by_pair(rows):
    x, y = zip(*rows, strict=True)
    found = kendall(pairs_of(x, y), **RULES)
    for key, value in counted(x, y).items():
        assert getattr(found, key) == value
    n, score = len(x), found.concordant - found.discordant
    assert found.tau_a == score / (n * (n - 1) / 2)


@pytest.mark.parametrize("n", [3, 5, 7])
def test_exact_p_goes_through_every_order(n):
    draw = np.random.default_rng(n)
    x, y = np.arange(n), draw.permutation(n)
    scores, distances = [], []
    for order in permutations(range(n)):
        told = counted(x, order)
        scores.append(told["concordant"] - told["discordant"])
        distances.append(sum((a - b) ** 2 for a, b in zip(x, order, strict=True)))
    k, s = kendall(pairs_of(x, y), **RULES), spearman(pairs_of(x, y), **RULES)
    own = k.concordant - k.discordant
    assert k.p_exact == pytest.approx(np.mean(np.abs(scores) >= abs(own)), rel=1e-14)
    middle, mine = (n**3 - n) / 6, sum((a - b) ** 2 for a, b in zip(x, y, strict=True))
    assert s.p_exact == pytest.approx(
        np.mean(np.abs(np.array(distances) - middle) >= abs(mine - middle)), rel=1e-14
    )


def test_kendall_without_ties_has_the_textbook_z():
    x, y = np.arange(10), np.array([2, 1, 4, 3, 6, 5, 9, 8, 7, 10])
    found = kendall(pairs_of(x, y), **RULES)
    tau = mp.mpf(found.concordant - found.discordant) / 45
    z = 3 * tau * mp.sqrt(10 * 9) / mp.sqrt(2 * 25)
    assert found.z == pytest.approx(float(z), rel=1e-15)
    assert found.p == pytest.approx(float(mp.erfc(z / mp.sqrt(2))), rel=1e-13)
    half = mp.mpf("1.959963984540054235524594") * mp.sqrt(mp.mpf("0.437") / 6)
    assert found.ci[0] == pytest.approx(float(mp.tanh(mp.atanh(tau) - half)), rel=1e-13)


def test_kendall_with_ties_has_the_corrected_variance():
    x, y = [1, 1, 2, 3, 3, 3, 4, 5], [2, 2, 1, 4, 5, 5, 5, 7]
    found = kendall(pairs_of(x, y), **RULES)
    n, tx, ty = 8, [2, 3], [2, 3]
    variance = mp.mpf(n * (n - 1) * (2 * n + 5) - sum(t * (t - 1) * (2 * t + 5) for t in tx + ty)) / 18
    three = [sum(t * (t - 1) * (t - 2) for t in ties) for ties in (tx, ty)]
    two = [sum(t * (t - 1) for t in ties) for ties in (tx, ty)]
    variance += mp.mpf(three[0] * three[1]) / (9 * n * (n - 1) * (n - 2)) + mp.mpf(two[0] * two[1]) / (
        2 * n * (n - 1)
    )
    assert found.z == pytest.approx(
        float((found.concordant - found.discordant) / mp.sqrt(variance)), rel=1e-14
    )
    assert found.p_exact is None
    assert found.why["p_exact"] is Cause.TIES


def test_the_critical_value_is_where_p_equals_alpha():
    draw = np.random.default_rng(3)
    pairs = pairs_of(draw.normal(size=25), draw.normal(size=25))
    for alternative in ("two-sided", "greater", "less"):
        rules = RULES | {"alternative": alternative}
        r, s, k = pearson_of(pairs, rules), spearman(pairs, **rules), kendall(pairs, **rules)
        sign = -1 if alternative == "less" else 1
        for p, value, critical in (
            (r.p, r.r, r.critical),
            (s.p, s.rho, s.critical),
            (k.p, k.tau_b, k.critical),
        ):
            size = abs(value) if alternative == "two-sided" else sign * value
            assert (p <= 0.05) == (size >= critical)


def pearson_of(pairs, rules):
    from bright_tether.core.line.plain import fit_line

    return pearson(fit_line(pairs), **rules)


def test_two_pairs_and_columns_of_one_value():
    two = kendall(pairs_of([1, 2], [5, 3]), **RULES)
    assert (two.tau_a, two.tau_b, two.ci) == (-1, -1, None)
    assert two.z == -1
    flat = kendall(pairs_of([1, 2, 3], [4, 4, 4]), **RULES)
    assert (flat.tau_a, flat.tau_b, flat.why["p"]) == (0, None, Cause.CONSTANT_Y)
    assert kendall(pairs_of([4, 4, 4], [1, 2, 3]), **RULES).why["tau_b"] is Cause.CONSTANT_X
    assert spearman(pairs_of([1, 2, 3], [4, 4, 4]), **RULES).why["rho"] is Cause.CONSTANT_Y
    straight = spearman(pairs_of([1, 2, 3, 9], [4, 5, 8, 9]), **RULES)
    assert (straight.rho, straight.t, straight.p_exact) == (1, None, pytest.approx(2 / 24))


@given(st.lists(st.floats(-100, 100), min_size=4, max_size=30), st.integers(0, 10**6))
@settings(max_examples=60, deadline=None)
def test_ranks_see_order_alone(x, seed):
    x = np.round(x, 2)
    assume(np.ptp(x) > 0)
    y = np.random.default_rng(seed).permutation(x)
    assume(np.ptp(y) > 0)
    one, two = pairs_of(x, y), pairs_of(np.exp(x / 50), y**3)
    assert spearman(one, **RULES).rho == pytest.approx(spearman(two, **RULES).rho, abs=1e-14)
    assert kendall(one, **RULES).tau_b == kendall(two, **RULES).tau_b
    assert kendall(one, **RULES).tau_b == pytest.approx(kendall(pairs_of(y, x), **RULES).tau_b, abs=1e-15)


def test_agreement_sees_an_offset_that_no_correlation_can():
    grades = [1, 2, 2, 3, 4, 5, 6, 7, 8]
    offset = agreement(pairs_of(grades, [grade + 2 for grade in grades]), 0.95)
    assert (offset.mean_difference, offset.sd_difference, offset.exact_matches) == (2, 0, 0)
    assert offset.why["t"] is Cause.EXACT_FIT
    x, y = [10.0, 12, 15, 20], [11.0, 12, 17, 24]
    found = agreement(pairs_of(x, y), 0.95)
    gaps = [mp.mpf(b) - mp.mpf(a) for a, b in zip(x, y, strict=True)]
    mean, n = mp.fsum(gaps) / 4, 4
    sd = mp.sqrt(mp.fsum((g - mean) ** 2 for g in gaps) / 3)
    assert found.mean_difference == float(mean)
    assert found.limits[1] == pytest.approx(
        float(mean + mp.mpf("1.959963984540054235524594") * sd), rel=1e-14
    )
    assert found.t == pytest.approx(float(mean / (sd / mp.sqrt(n))), rel=1e-14)
    means = [mp.fsum(map(mp.mpf, v)) / 4 for v in (x, y)]
    shared = mp.fsum((a - means[0]) * (b - means[1]) for a, b in zip(x, y, strict=True))
    spread = mp.fsum((a - means[0]) ** 2 for a in x) + mp.fsum((b - means[1]) ** 2 for b in y)
    assert found.concordance == pytest.approx(
        float(2 * shared / (spread + 4 * (means[0] - means[1]) ** 2)), rel=1e-14
    )
    assert found.exact_matches == 1
    two, one = agreement(pairs_of([1, 2], [1, 4]), 0.95), agreement(pairs_of([1], [3]), 0.95)
    assert (two.mean_difference, two.df) == (1, 1)
    assert (one.mean_difference, one.sd_difference) == (2, None)
    with pytest.raises(TooFewPairs):
        agreement(pairs_of([], []), 0.95)


def test_decimals_that_lie_one_number_apart_have_no_spread_left_by_rounding():
    x = [0.1, 0.2, 0.3, 0.4, 0.7, 1.1]
    found = agreement(pairs_of(x, [round(one + 0.2, 1) for one in x]), 0.95)
    assert (found.sd_difference, found.t, found.p, found.slope) == (0, None, None, 0)
    assert found.mean_difference == pytest.approx(0.2, rel=1e-14)
    assert found.why["slope_p"] is Cause.EXACT_FIT


def test_the_slope_of_differences_is_that_of_their_line_on_the_means():
    draw = np.random.default_rng(12)
    x = draw.normal(50, 10, 30)
    y = 2 + 0.95 * x + draw.normal(size=30)
    found = agreement(pairs_of(x, y), 0.9)
    line = stats.linregress((x + y) / 2, y - x)
    assert (found.slope, found.slope_p) == pytest.approx((line.slope, line.pvalue), rel=1e-10)
    half = stats.t.ppf(0.95, 28) * line.stderr
    assert found.slope_ci == pytest.approx((line.slope - half, line.slope + half), rel=1e-10)
    assert found.at_means == pytest.approx(
        [line.intercept + line.slope * one for one in found.means], rel=1e-9
    )
    double = agreement(pairs_of([0.1, 0.2, 0.3, 0.7], [0.2, 0.4, 0.6, 1.4]), 0.95)
    assert (double.slope, double.slope_p) == (pytest.approx(2 / 3), None)
    flat = agreement(pairs_of([1, 2, 3], [3, 2, 1]), 0.95)
    assert (flat.slope, flat.why["slope"]) == (None, Cause.CONSTANT_X)


def test_within_groups_can_turn_the_sign():
    x, y = [1, 2, 3, 11, 12, 13], [3, 2, 1, 13, 12, 11]
    found = within_groups(pairs_of(x, y), np.repeat([0, 1], 3), "ab")
    assert [group.r for group in found.groups] == pytest.approx([-1, -1])
    assert (found.r, found.df, found.n) == (pytest.approx(-1), 3, 6)
    lone = within_groups(pairs_of([1, 2, 3], [2, 4, 5]), np.array([0, 1, 1]), "ab")
    assert lone.groups[0].why["r"] is Cause.TOO_FEW_PAIRS


@pytest.mark.parametrize("level", [0.5, 0.95, 0.999])
def test_the_interval_of_rho_is_that_of_bonett_and_wright(level):
    draw = np.random.default_rng(8)
    x = draw.normal(size=23)
    found = spearman(pairs_of(x, x + draw.normal(size=23)), **RULES | {"level": level})
    reach = mp.erfinv(level) * mp.sqrt(2) * mp.sqrt((1 + mp.mpf(found.rho) ** 2 / 2) / 20)
    ends = [float(mp.tanh(mp.atanh(found.rho) + sign * reach)) for sign in (-1, 1)]
    assert found.ci == pytest.approx(ends, rel=1e-12)
    assert spearman(pairs_of([1, 2, 3], [1, 3, 2]), **RULES).ci is None


@pytest.mark.parametrize("power", [-700, -300, 300, 500])
def test_concordance_does_not_depend_on_the_unit(power):
    x, y = [1.0, 2.5, 4.0, 7.5], [1.5, 2.0, 4.5, 9.0]
    plain = agreement(pairs_of(x, y), 0.95)
    scaled = agreement(pairs_of(np.ldexp(x, power), np.ldexp(y, power)), 0.95)
    assert scaled.concordance == pytest.approx(plain.concordance, rel=1e-12)
