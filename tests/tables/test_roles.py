"""A first choice of x and y falls on measurements."""

import numpy as np
import pytest

from bright_tether.tables.column import Column
from bright_tether.tables.roles import first_pair, role_of

DRAW = np.random.default_rng(1).normal(10, 2, 12)


def column(name, cells, kind="number"):
    return Column(id=name, name=name, kind=kind, cells=np.asarray(cells, object if kind == "text" else float))


@pytest.mark.parametrize(
    ("name", "cells", "role"),
    [
        ("depth", DRAW, "measurement"), ("row", np.arange(12), "running number"),
        ("row (m)", np.arange(12), "measurement"), ("case id", [4, 9, 2, 77], "identifier"),
        ("case", [4, 9, 2, 77], "measurement"),
        ("year", [2001, 2001, 2004, 1999], "years"), ("flow", [0, 1, 1, 0], "two values"),
        ("k", [3, 3, 3], "one value"),
        ("few", [1, 2], "measurement"),
    ],
)  # fmt: skip
def test_roles(name, cells, role):
    assert role_of(column(name, cells)) == role


def test_the_first_two_measurements_are_taken_in_their_order():
    years, row = column("year", [2001, 2002, 2004, 1999] * 3), column("row", np.arange(12))
    one, two = column("depth", DRAW), column("silt", DRAW[::-1])
    text = column("place", ["a"] * 12, "text")
    assert first_pair((row, text, years, one, two)) == ("depth", "silt")
    assert first_pair((row, years, one)) == ("year", "depth")
    assert first_pair((text, row)) == ("row", None)
    assert first_pair((text,)) == (None, None)
