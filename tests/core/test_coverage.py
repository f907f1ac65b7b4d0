"""Intervals catch the truth as often as they say: mean, one case, whole line, and read backwards."""

import numpy as np
import pytest

from bright_tether.core.forecast import forecast
from bright_tether.core.inverse import inverse
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs

LEVELS = (0.90, 0.95, 0.99)


def caught(n, runs, seed):
    """The share of samples whose interval holds the truth, (3 levels, 4 intervals)."""
    draw = np.random.default_rng(seed)
    hits = np.zeros((3, 4))
    x = draw.uniform(0, 10, n)
    at, grid = 7.0, np.linspace(0, 10, 15)
    for _ in range(runs):
        fit = fit_line(take_pairs(x, 1 + 4 * x + draw.normal(size=n)))
        new, new_y = 1 + 4 * at + draw.normal(), 1 + 4 * at + draw.normal()
        for row, level in enumerate(LEVELS):
            told = forecast(fit, np.append(grid, at), level=level)
            truth = 1 + 4 * grid
            whole = np.all((told.band[:-1, 0] <= truth) & (truth <= told.band[:-1, 1]))
            back = inverse(fit, new_y, level=level)
            hits[row] += (
                told.ci[-1, 0] <= 1 + 4 * at <= told.ci[-1, 1],
                told.pi[-1, 0] <= new <= told.pi[-1, 1],
                whole,
                back.ci is not None and back.ci[0] <= at <= back.ci[1],
            )
    return hits / runs


def keeps_its_word(shares, runs):
    for row, level in enumerate(LEVELS):
        room = 4 * np.sqrt(level * (1 - level) / runs)
        for share, exact in zip(shares[row], (True, True, False, True), strict=True):
            assert share >= level - room
            if exact:  # a band caught at some x only may hold more often, never less
                assert share <= level + room


@pytest.mark.parametrize("n", [5, 20, 200])
def test_a_short_run_of_samples(n):
    keeps_its_word(caught(n, 250, n), 250)


@pytest.mark.verify
@pytest.mark.parametrize("n", [5, 20, 200])
def test_thousands_of_samples(n):
    keeps_its_word(caught(n, 4000, n + 1), 4000)
