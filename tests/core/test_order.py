"""An order is right whatever was put in order before."""

import numpy as np
import pytest

from bright_tether.core.order import order_of

DRAW = np.random.default_rng(31)


def rises(values):
    order = order_of(values)
    along = values[order]
    return sorted(order.tolist()) == list(range(values.size)) and bool((along[1:] >= along[:-1]).all())


@pytest.mark.parametrize("n", [0, 1, 5, 30_000])
def test_values_rise_along_their_order_after_any_change(n):
    x, y = DRAW.normal(size=(2, n))
    for values in (x, y, x, np.round(x), -x, x[::-1].copy(), np.zeros(n), x):
        assert rises(values)
    for _ in range(5 if n else 0):
        x[DRAW.integers(0, n)] = DRAW.normal()
        x[DRAW.integers(0, n)] = x[DRAW.integers(0, n)]
        assert rises(x)
        assert rises(y)
    x += DRAW.normal(size=n) * 1e-4  # many small changes
    assert rises(x)


def test_the_same_values_have_the_order_that_is_known():
    values = DRAW.normal(size=30_000)
    assert order_of(values) is order_of(values.copy())


def test_the_orders_of_several_columns_are_kept():
    values = DRAW.normal(size=(3, 30_000))
    first = [order_of(one) for one in values]
    assert [order_of(one) is known for one, known in zip(values, first, strict=True)] == [True] * 3
