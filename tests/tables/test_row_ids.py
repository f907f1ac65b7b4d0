"""Sets of rows as arrays do all that sets do."""

import operator

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bright_tether.tables.row_ids import NO_ROWS, RowIds

SOME = st.frozensets(st.integers(0, 30), max_size=12)


@given(SOME, SOME)
def test_they_combine_and_compare_as_sets(a, b):
    mine, other = RowIds(a), RowIds(b)
    for how in (operator.and_, operator.or_, operator.sub, operator.xor):
        for left, right in ((mine, other), (mine, b), (a, other)):
            found = how(left, right)
            assert isinstance(found, RowIds)
            assert list(found) == sorted(how(a, b))
    for how in (operator.eq, operator.ne, operator.le, operator.lt, operator.ge, operator.gt):
        assert how(mine, other) is how(mine, b) is how(a, b)
    assert (len(mine), bool(mine), list(mine)) == (len(a), bool(a), sorted(a))
    assert [row in mine for row in range(-1, 32)] == [row in a for row in range(-1, 32)]
    assert "weir" not in mine


@pytest.mark.parametrize(
    "rows", [[3, 1, 3, 2], np.array([3, 1, 3, 2]), {1, 2, 3}, RowIds([1, 2, 3]), iter((2, 3, 1))]
)
def test_they_are_made_of_whatever_names_rows(rows):
    assert RowIds(rows).ids.tolist() == [1, 2, 3]
    assert not NO_ROWS
