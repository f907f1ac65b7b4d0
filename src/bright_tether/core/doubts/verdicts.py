"""The verdict on each doubt, by rules that never rest on a p alone."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from bright_tether.core.checks.together import Checks
from bright_tether.core.doubts.power import Seen, could_see, null_share
from bright_tether.core.doubts.statistics import DOUBTS, Design
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.results import Ints

if TYPE_CHECKING:
    from collections.abc import Mapping

#: A sign is clear when p is at most α over this, and the size counts.
CLEAR = 5.0
#: Sizes from which a sign counts; below, it is none however small its p.
SIZES: Mapping[str, float] = {
    "bend": 0.05,  # share of the residuals that a squared term takes up
    "spread": 1.5,  # ratio of spreads, either way
    "order": 0.15,  # likeness of neighbours, either way
    "shape": 0.0,
    "far-out": 0.0,
    "pull": 0.3,  # Cook's distance
}
#: A row with this share of its own fitted value carries the line, whatever its residual.
CARRIES = 0.8
#: Below this chance of noticing a strong departure there are too few rows to tell.
LEAST_CHANCE = 0.5
#: Up to this many rows the chance is simulated before a verdict is given.
FEW_ROWS = 60
#: A shape matters less the more rows there are: above this many, skewness and tails decide.
MANY_ROWS = 300


class Verdict(StrEnum):
    """The four verdicts."""

    NO = "no sign"
    SOME = "some sign"
    CLEAR = "clear sign"
    FEW = "too few to tell"


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Doubt:
    """One doubt: verdict, deciding p, size in its own measure, rows concerned, what could be seen.

    rows : places among the pairs. seen : None where there are rows enough not to ask.
    """

    name: str
    verdict: Verdict
    p: float | None
    size: float | None
    rows: Ints
    seen: Seen | None


def doubts(fit: Fit, checks: Checks, rows: RowByRow, order: Ints | None, alpha: float) -> tuple[Doubt, ...]:
    """Judge the six doubts.

    A sign needs p ≤ α and a size that counts; a clear one p ≤ α/CLEAR. Without a sign, up to FEW_ROWS
    rows, the check must have had a chance of LEAST_CHANCE to notice a strong departure, else there are
    too few to tell.
    """
    design = Design(fit, order)
    told = []
    for name in DOUBTS:
        p, size, concerned = _evidence(name, fit, checks, rows, design, alpha)
        told.append(_judged(name, p, size, concerned, design, alpha))
    return tuple(told)


def _evidence(
    name: str, fit: Fit, checks: Checks, rows: RowByRow, design: Design, alpha: float
) -> tuple[float | None, float | None, Ints]:
    none = np.zeros(0, np.int64)
    if name == "bend":
        return checks.curvature.p, checks.curvature.share, none
    if name == "spread":
        return checks.breusch_pagan.p, checks.spread_ratio, none
    if name == "order":
        return checks.durbin_watson.p_two_sided, checks.durbin_watson.lag1, none
    if name == "shape":
        test = checks.shapiro_wilk if checks.shapiro_wilk.p is not None else checks.anderson_darling
        size = None
        if checks.skewness is not None and checks.excess_kurtosis is not None:
            size = max(abs(checks.skewness), abs(checks.excess_kurtosis) / 2)
        return test.p, size, none
    if name == "far-out":
        each = rows.outlier_p
        there = np.isfinite(each)
        if not there.any():
            return None, None, none
        return (
            float(np.nanmin(each)),
            float(np.nanmax(np.abs(rows.studentised))),
            np.flatnonzero(there & (each <= alpha)),
        )
    cooks = rows.cooks_d
    if not np.isfinite(cooks).any():
        return None, None, np.flatnonzero(rows.leverage >= CARRIES)
    largest = float(np.nanmax(cooks))
    p = 1.0
    if largest >= SIZES["pull"]:
        p = null_share(design, "pull", largest, draws=999 if design.n <= 2000 else 199)
    return p, largest, np.flatnonzero((cooks >= SIZES["pull"]) | (rows.leverage >= CARRIES))


def _judged(
    name: str, p: float | None, size: float | None, rows: Ints, design: Design, alpha: float
) -> Doubt:
    seen = None
    if p is None:
        verdict = Verdict.FEW
    elif p <= alpha and _counts(name, size, design.n):
        verdict = Verdict.CLEAR if p <= alpha / CLEAR else Verdict.SOME
    elif name == "pull" and rows.size and float(design.leverage.max()) >= CARRIES:
        verdict = Verdict.SOME
    else:
        verdict = Verdict.NO
        if design.n <= FEW_ROWS:
            seen = _seen(design, name, alpha)
            if seen.chances[1] < LEAST_CHANCE:
                verdict = Verdict.FEW
    return Doubt(name=name, verdict=verdict, p=p, size=size, rows=rows, seen=seen)


@lru_cache(maxsize=64)
def _seen(design: Design, name: str, alpha: float) -> Seen:
    """Kept by design: dragging a point up or down asks the same again."""
    return could_see(design, name, alpha)


def _counts(name: str, size: float | None, n: int) -> bool:
    """Whether a size is worth a sign; what has no size counts by its p."""
    if size is None:
        return True
    if name == "spread":
        return size >= SIZES[name] or size <= 1 / SIZES[name]
    if name == "shape":
        return n <= MANY_ROWS or size >= 0.5
    return abs(size) >= SIZES[name]
