"""Points as pictures need them: in rising x, whoever asks for which."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.core.pairs import take_pairs
from bright_tether.live.cloud import cloud, drawable

ROWS = st.lists(
    st.tuples(st.integers(-9, 9), st.integers(-9, 9), st.booleans(), st.booleans()), min_size=1, max_size=40
)


@settings(max_examples=200, deadline=None)
@given(ROWS)
def test_points_are_told_in_rising_x(rows):
    with pytest.MonkeyPatch.context() as monkey:
        told_in_rising_x(rows, monkey)


def told_in_rising_x(rows, monkey):
    x, y = (np.array([row[at] for row in rows], float) for at in (0, 1))
    out = tuple(at for at, row in enumerate(rows) if row[2])
    aside = np.isin(np.arange(len(rows)), out)
    made = cloud(
        x, y, np.arange(len(rows)), np.array(out, np.int64), None, None, take_pairs(x, y, set_aside=aside)
    )
    assert [made.x.tolist(), made.y.tolist(), made.aside.tolist()] == [x.tolist(), y.tolist(), aside.tolist()]
    assert made.in_play.x.tolist() == sorted(x[~aside].tolist())
    wanted = np.array([row[3] for row in rows])
    heights = np.arange(len(rows), dtype=float)  # tells each point apart
    found = made.marked_by_x(wanted, heights)
    assert sorted(found.y.tolist()) == np.flatnonzero(wanted).tolist()
    assert (np.diff(found.x) >= 0).all()
    assert (found.x == x[found.y.astype(int)]).all()
    some = made.marked_by_x(wanted, made.y)
    assert sorted(zip(some.x.tolist(), some.y.tolist(), strict=True)) == sorted(
        zip(x[wanted].tolist(), y[wanted].tolist(), strict=True)
    )
    marked = frozenset(np.flatnonzero(wanted).tolist())
    assert made.mask(marked).tolist() == wanted.tolist()
    assert made.mask(marked) is made.mask(marked)
    assert made.mask(frozenset({0})).tolist() == [at == 0 for at in range(len(rows))]
    assert sorted(made.rising.tolist()) == np.flatnonzero(~made.aside).tolist()
    assert (np.diff(made.x[made.rising]) >= 0).all()
    assert sorted(made.rising_out.tolist()) == np.flatnonzero(made.aside).tolist()
    assert (np.diff(made.out.x) >= 0).all()
    for dense in (len(rows), 0):
        monkey.setattr("bright_tether.live.cloud.DENSE_ABOVE", dense)
        assert sorted(made.between(-3, 4).tolist()) == np.flatnonzero((x >= -3) & (x <= 4)).tolist()
    kept = made.only(wanted, x**3, y, as_before=True)  # a function that rises
    assert sorted(kept.rising.tolist()) == np.flatnonzero(~kept.aside).tolist()
    assert (np.diff(kept.x[kept.rising]) >= 0).all()


def test_an_empty_cloud_has_no_places():
    nothing = np.zeros(0)
    made = cloud(nothing, nothing, np.zeros(0, np.int64), np.zeros(0, np.int64), None, None,
                 take_pairs(nothing, nothing))  # fmt: skip
    assert made.rising.size == 0
    assert made.marked_by_x(np.zeros(0, bool), nothing).x.size == 0
    assert made.in_play.x.size == 0


@pytest.mark.parametrize(("values", "can"), [
    ([1e308, 1e308], False), ([np.nan, 1e300, -1e300], False), ([1.0, np.nan], True), ([], True), ([1e-300], False),
])  # fmt: skip
def test_values_whose_sum_no_double_holds_are_judged_without_a_word(values, can):
    assert drawable(np.array(values), np.array([1.0, 2.0])) is can
