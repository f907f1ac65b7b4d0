"""Units decide nothing: columns in units 2^260 times as large give the same figures, each in its own unit.

In what unit a figure is, the record tells itself: by what doubling x, and doubling y, does to it.
"""

import math

import numpy as np
import pytest

from tests.truth.families import Case
from tests.truth.study import said

DRAW = np.random.default_rng(20)
N = 42
X = np.round(DRAW.uniform(2, 30, N), 2)
Y = np.round(5 + 1.3 * X + DRAW.normal(0, 2, N) + 0.02 * X**2, 2)
Z = np.round(Y * 0.8 + DRAW.normal(0, 1, N), 2)
H = [f"b{at // 4}" for at in range(N)]
G = [str(one) for one in np.array(["u", "v", "w"])[DRAW.integers(0, 3, N)]]
#: A logarithm has no unit of its own.
LOST = ("log10_condition",)
#: Far enough for values to be scaled before they are squared, near enough for every figure to be a double.
FAR = 260
#: Options with the powers of the units of x and of y that what is typed is in.
CALLS = {
    "plain": {"at": (11.0, 1, 0), "inverse_at": (30.0, 0, 1), "mean_of": (3, 0, 0)},
    "stated": {"slope_0": (1.1, -1, 1), "intercept_0": (4.0, 0, 1)},
    "robust": {"errors": ("HC3", 0, 0), "at": (11.0, 1, 0), "inverse_at": (30.0, 0, 1)},
    "neighbours": {"errors": ("newey_west", 0, 0), "at": (40.0, 1, 0)},
    "weighted": {"weight_pattern": ("inverse-x", 0, 0), "at": (11.0, 1, 0)},
    "origin": {"no_intercept": (True, 0, 0), "at": (11.0, 1, 0), "inverse_at": (30.0, 0, 1)},
    "groups": {"group": ("g", 0, 0), "margin": (0.5, -1, 1)},
    "responses": {"second_response": ("z", 0, 0), "rows_are": ("settings", 0, 0)},
    "held": {"with": ("z", 0, 0), "at": (11.0, 1, 0)},
    "cases": {"errors": ("clustered", 0, 0), "cluster": ("h", 0, 0), "group": ("g", 0, 0)},
    "order": {"decide": ("kendall", 0, 0), "alternative": ("greater", 0, 0)},
}


def figures(value, path=()):
    """Every number of a record by where it stands."""
    if isinstance(value, dict):
        for key, inner in value.items():
            if key not in ("readings", "facts", "why"):
                yield from figures(inner, (*path, key))
    elif isinstance(value, list):
        for at, inner in enumerate(value):
            yield from figures(inner, (*path, at))
    elif type(value) in (int, float):
        yield path, float(value)


def record(name, of_x, of_y):
    options = {
        key: value * 2.0 ** (of_x * px + of_y * py) if type(value) is float else value
        for key, (value, px, py) in ({"error_ratio": (2.0, -2, 2)} | CALLS[name]).items()
    }
    columns = {"x": X * 2.0**of_x, "y": Y * 2.0**of_y, "z": Z * 2.0**of_y, "g": G, "h": H}
    return dict(figures(said(Case(name, 0, columns, options))))


def power(one, other):
    """Of what power of two a figure is another, a half at least; None of none."""
    if one == other == 0:
        return 0
    if one == 0 or other == 0 or not math.isfinite(other / one):
        return None
    found = math.log2(abs(other / one))
    return round(2 * found) / 2 if abs(2 * found - round(2 * found)) < 1e-6 else None


@pytest.mark.parametrize("name", CALLS)
def test_units_decide_nothing(name):
    plain, by_x, by_y = record(name, 0, 0), record(name, 1, 0), record(name, 0, 1)
    far = record(name, FAR, -FAR + 20)
    assert plain.keys() == by_x.keys() == by_y.keys()
    wrong = []
    for place, value in plain.items():
        px, py = power(value, by_x[place]), power(value, by_y[place])
        if px is None or py is None or place not in far:
            wrong += [(place, value, far.get(place))] if place[-1] not in LOST else []
            continue
        wanted = value * 2.0 ** (px * FAR) * 2.0 ** (py * (20 - FAR))
        if not math.isclose(far[place], wanted, rel_tol=1e-9):
            wrong.append((place, far[place], wanted))
    assert not wrong
