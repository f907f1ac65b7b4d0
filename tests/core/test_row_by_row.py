"""What each row has of its own: the same whether worked out whole or in parts, and only where it is asked for."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.core.line import row_by_row
from bright_tether.core.line.row_by_row import EACH_ROW, RowByRow
from bright_tether.core.line.terms import line_of
from bright_tether.core.pairs import take_pairs, weighted_pairs
from bright_tether.core.results import Refusal

SMALL = st.integers(-6, 6).map(float)


def line(x, y, weights=None, origin=False):
    pairs = take_pairs(np.array(x), np.array(y))
    return line_of(pairs if weights is None else weighted_pairs(pairs, np.array(weights)), origin=origin)


@settings(max_examples=150, deadline=None)
@given(st.lists(st.tuples(SMALL, SMALL, st.integers(0, 3).map(float)), min_size=3, max_size=30), st.booleans(),
       st.booleans(), st.permutations((*EACH_ROW, "outlier_p", "why", "standing_out")))  # fmt: skip
def test_parts_make_the_whole_in_whatever_order_it_is_asked_for(rows, weighted, origin, asked):
    try:
        fit = line(
            *(zip(*rows, strict=True) if weighted else list(zip(*rows, strict=True))[:2]), origin=origin
        )
    except Refusal:
        return
    whole = RowByRow(fit)
    with pytest.MonkeyPatch.context() as monkey:
        monkey.setattr(row_by_row, "_TOGETHER", 4)
        parts = RowByRow(fit)
        for name in asked:
            one, other = getattr(whole, name), getattr(parts, name)
            if name == "why":
                assert dict(one) == dict(other)
            elif name == "standing_out":
                assert one.far.tolist() == other.far.tolist() == np.flatnonzero(whole.outlier_p < 1).tolist()
                assert one.far_p.tolist() == other.far_p.tolist() == whole.outlier_p[one.far].tolist()
                sizes = [size for size in np.abs(whole.studentised).tolist() if not np.isnan(size)]
                assert one.largest_t == other.largest_t == (max(sizes) if sizes else None)
                assert (one.cooks_d, one.alone) == (other.cooks_d, other.alone)
            else:
                np.testing.assert_array_equal(one, other)


def test_a_long_table_keeps_what_was_asked_for_alone(monkeypatch):
    monkeypatch.setattr(row_by_row, "_TOGETHER", 4)
    draw = np.random.default_rng(3)
    x = draw.normal(size=50)
    rows = RowByRow(line(x, x + draw.normal(size=50)))
    assert rows.standing_out.cooks_d == pytest.approx(rows.cooks_d.max())
    assert set(rows.__dict__) & set(EACH_ROW) == {"cooks_d"}
    fitted, leverage = rows.together("fitted", "leverage")
    assert rows.fitted is fitted
    assert rows.leverage is leverage
    assert not fitted.flags.writeable
