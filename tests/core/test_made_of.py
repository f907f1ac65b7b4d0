"""Columns that are the sum or the product of two others in every row."""

import numpy as np
import pytest

from bright_tether.core.shape.made_of import MadeOf, made_of

DRAW = np.random.default_rng(3)
A, B = np.round(DRAW.uniform(1, 9, (2, 100)), 1)
SUM, PRODUCT = np.round(A + B, 1), A * B


def made(x, y, thirds):
    """Held against columns that stand the other way round."""
    return made_of(x, y, np.arange(x.size)[::-1], [(name, cells[::-1]) for name, cells in thirds])


@pytest.mark.parametrize("how", ["plus", "times"])
def test_whichever_of_the_three_is_made_of_the_others_is_named(how):
    whole = SUM if how == "plus" else PRODUCT
    assert made(A, whole, [("noise", B[::-1]), ("b", B)]) == MadeOf("y", how, "b")
    assert made(whole, A, [("b", B)]) == MadeOf("x", how, "b")
    assert made(A, B, [("whole", whole)]) == MadeOf("third", how, "whole")


def test_the_last_digit_may_be_rounded_where_that_is_fine_enough():
    assert made(A, np.round(PRODUCT, 1), [("b", B)]) == MadeOf("y", "times", "b")
    coarse = np.round(A / 10 + B / 10)
    assert made(A / 10, coarse, [("b", B / 10)]) is None


@pytest.mark.parametrize("row", [0, 70, 99])
def test_one_row_that_is_otherwise_is_enough(row):
    other = SUM.copy()
    other[row] += 0.1
    assert made(A, other, [("b", B)]) is None


def test_nothing_is_made_by_few_rows_missing_values_or_a_column_that_does_not_vary():
    assert made(A[:8], SUM[:8], [("b", B[:8])]) is not None
    assert made(A[:7], SUM[:7], [("b", B[:7])]) is None
    for row in (3, 90):
        gap = B.copy()
        gap[row] = np.nan
        assert made(A, SUM, [("b", gap)]) is None
    assert made(A, A + 2, [("two", np.full(100, 2.0))]) is None
    assert made(np.full(100, 2.0), B + 2, [("b", B)]) is None
