"""How often a true line over the same x has a row that pulls at it as much as one of these does, by simulation."""

from __future__ import annotations

import numpy as np

from bright_tether.core.doubts.power import ALIKE, SEED
from bright_tether.core.doubts.statistics import Design, cooks_distances, statistic
from bright_tether.core.results import Floats

#: Above so many rows only those are drawn by themselves that could reach the observed distance: a residual of the
#: others would have to lie ten of its standard deviations out.
_MANY, _OUT_OF_REACH = 2000, 10.0**2
#: Values that are drawn at a time.
_AT_A_TIME = 500_000


def pulls_by_luck(design: Design, observed: float, *, draws: int = 999, seed: int = SEED) -> float:
    """The share of true lines with normal errors whose largest Cook's distance is as large, (b + 1)/(draws + 1)."""
    draw = np.random.Generator(np.random.PCG64(seed))
    many = design.n > _MANY
    found = _of_few(design, observed, draws, draw) if many else _of_all(design, draws, draw)
    return (int(np.count_nonzero(found >= observed - ALIKE * abs(observed))) + 1) / (draws + 1)


def _of_all(design: Design, draws: int, draw: np.random.Generator) -> Floats:
    parts = np.array_split(np.arange(draws), max(draws * design.n // _AT_A_TIME, 1))
    lines = (design.residuals_of(draw.normal(size=(part.size, design.n))) for part in parts)
    return np.concatenate([statistic(design, "pull", residuals) for residuals in lines])


def _of_few(design: Design, observed: float, draws: int, draw: np.random.Generator) -> Floats:
    """The largest distance among the few rows that matter, (draws,).

    The other rows enter as what they come to: along the line's own columns a normal vector whose covariance is what the
    few rows leave of the unit matrix, and beside it χ² with a degree of freedom a row less those of the columns.
    """
    h, parameters = design.leverage, design.parameters
    few = np.flatnonzero(~(observed * parameters * (1 - h) >= _OUT_OF_REACH * h))
    own = design.own[few]
    size, turn = np.linalg.eigh(np.eye(parameters) - own.T @ own)
    there = size > ALIKE
    y, along = draw.normal(size=(draws, few.size)), draw.normal(size=(draws, parameters)) * there
    fitted = y @ own + (along * np.sqrt(np.where(there, size, 0.0))) @ turn.T
    beside = draw.chisquare(design.n - few.size - int(there.sum()), draws)
    left = (y**2).sum(axis=1) + (along**2).sum(axis=1) + beside - (fitted**2).sum(axis=1)
    found = cooks_distances(design, y - fitted @ own.T, left, few)
    return np.asarray(np.nan_to_num(found).max(axis=1, initial=0.0))
