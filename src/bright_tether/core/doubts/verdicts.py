"""The verdict on each doubt, by rules that never rest on a p alone."""

from __future__ import annotations

import math
from enum import StrEnum
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple

import msgspec
import numpy as np

from bright_tether.core.checks.together import Checks
from bright_tether.core.doubts.power import Seen, could_see
from bright_tether.core.doubts.pull import pulls_by_luck
from bright_tether.core.doubts.statistics import DOUBTS, Design
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.results import Cause, Ints

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

#: Any clear sign among the six comes up on at most α of true lines, any sign at all on at most this times α.
ANY_SIGN = 3.0
#: Sizes from which a sign counts; below, it is none however small its p.
SIZES: Mapping[str, float] = {
    "bend": 0.05,  # share of the residuals that a squared term takes up
    "spread": 1.5,  # ratio of spreads, either way
    "order": 0.15,  # likeness of neighbours, either way
    "shape": 0.0,
    "far-out": 0.0,
    "pull": 0.3,  # Cook's distance
}
#: Below this chance of noticing a strong departure there are too few rows to tell.
LEAST_CHANCE = 0.5
#: Up to this many rows the chance is simulated before a verdict is given.
FEW_ROWS = 60
#: A shape matters less the more rows there are: above this many, skewness and tails decide.
MANY_ROWS = 300


#: Below this many residual degrees of freedom the order of residuals is settled by arithmetic.
LEAST_DF_OF_ORDER = 4
#: With so few rows residuals have no shape: three of one line always have the same, up to its side.
NO_SHAPE = 3
#: Causes that further rows would lift.
_FEW = (Cause.TOO_FEW_PAIRS, Cause.NO_DEGREES_OF_FREEDOM, Cause.SIZE_OUTSIDE)


class Verdict(StrEnum):
    """What comes of a doubt. NONE : it cannot be judged on these data, however many rows they had."""

    NO = "no sign"
    SOME = "some sign"
    CLEAR = "clear sign"
    FEW = "too few to tell"
    NONE = "not judged"


class Doubt(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One doubt: verdict, deciding p, size in its own measure, rows concerned, what could be seen.

    p_from : the check that gave p; both None where none did. rows : places among the pairs, where there is a
    sign. A row that carries the line by its x alone is no sign: that is no chance of the residuals, see
    ``Design.carried``. seen : None where there are rows enough not to ask. cause : why there is no p.
    """

    name: str
    verdict: Verdict
    p: float | None
    p_from: str | None
    size: float | None
    rows: Ints
    seen: Seen | None
    cause: Cause | None

    @property
    def sign(self) -> bool:
        """Whether there is a sign, clear or not."""
        return self.verdict in (Verdict.SOME, Verdict.CLEAR)


class _Evidence(NamedTuple):
    """What a verdict rests on. counts : whether the size is worth a sign."""

    p: float | None
    p_from: str | None
    size: float | None
    rows: Ints
    cause: Cause | None
    counts: bool = True


def doubts(fit: Fit, checks: Checks, rows: RowByRow, order: Ints | None, alpha: float) -> tuple[Doubt, ...]:
    """Judge the six doubts as one family.

    Six checks are six chances: a sign is clear where its p is rejected at α among the six by Holm 1979, and
    there is some sign where it is rejected so at ANY_SIGN·α; both only where the size counts. Without a
    sign, up to FEW_ROWS rows, the check must have had a chance of LEAST_CHANCE to notice a strong departure,
    else there are too few to tell.
    """
    if fit.exact:
        return tuple(_exact(name, fit.y.constant) for name in DOUBTS)
    design = Design(fit, order)
    found = {name: _evidence(name, fit, checks, rows, design, alpha) for name in DOUBTS}
    weighed = [1.0 if one.p is None or not one.counts else one.p for one in found.values()]
    signs = dict(zip(DOUBTS, _in_family(weighed, alpha), strict=True))
    return tuple(_judged(name, one, signs[name], design, alpha) for name, one in found.items())


def _exact(name: str, level: bool) -> Doubt:
    """Nothing is left over to doubt."""
    return Doubt(name=name, verdict=Verdict.NONE, p=None, p_from=None, size=None, rows=np.zeros(0, np.int64),
                 seen=None, cause=Cause.CONSTANT_Y if level else Cause.EXACT_FIT)  # fmt: skip


def _in_family(p: Sequence[float], alpha: float) -> list[Verdict]:
    """The sign of each p among all of them. Source: Holm 1979."""
    verdicts = [Verdict.NO] * len(p)
    for verdict, level in ((Verdict.SOME, ANY_SIGN * alpha), (Verdict.CLEAR, alpha)):
        for rank, at in enumerate(sorted(range(len(p)), key=p.__getitem__)):
            if p[at] > min(level, 1.0) / (len(p) - rank):
                break
            verdicts[at] = verdict
    return verdicts


def _evidence(name: str, fit: Fit, checks: Checks, rows: RowByRow, design: Design, alpha: float) -> _Evidence:
    none = np.zeros(0, np.int64)
    if name == "bend":
        bend = checks.curvature
        return _weighed(name, design, bend.p, "curvature", bend.share, none, bend.why.get("p"))
    if name == "spread":
        spread = checks.breusch_pagan
        return _weighed(
            name, design, spread.p, "breusch_pagan", checks.spread_ratio, none, spread.why.get("p")
        )
    if name == "order":
        along = checks.durbin_watson
        few = along.p_two_sided is not None and design.df < LEAST_DF_OF_ORDER
        p, cause = (
            (None, Cause.NO_DEGREES_OF_FREEDOM) if few else (along.p_two_sided, along.why.get("p_two_sided"))
        )
        return _weighed(name, design, p, "durbin_watson", along.lag1, none, cause)
    if name == "shape":
        test, named = checks.shapiro_wilk, "shapiro_wilk"
        if design.n <= NO_SHAPE:
            return _weighed(name, design, None, named, None, none, test.why.get("p", Cause.TOO_FEW_PAIRS))
        size = None
        if checks.skewness is not None and checks.excess_kurtosis is not None:
            size = max(abs(checks.skewness), abs(checks.excess_kurtosis) / 2)
        if test.p is None:
            other = checks.anderson_darling
            return _weighed(name, design, other.p, "anderson_darling", size, none, other.why.get("p"))
        return _weighed(name, design, test.p, named, size, none, None)
    if name == "far-out":
        out = rows.standing_out
        if out.largest_t is None:
            return _weighed(name, design, None, "outlier_p", None, none,
                            rows.why.get("outlier_p", Cause.NO_DEGREES_OF_FREEDOM))  # fmt: skip
        least = float(out.far_p.min(initial=1.0))
        return _weighed(name, design, least, "outlier_p", out.largest_t, out.unusual(alpha), None)
    largest = rows.standing_out.cooks_d
    if largest is None:
        cause = rows.why.get("cooks_d", Cause.NO_DEGREES_OF_FREEDOM)
        return _weighed(name, design, None, "simulation", None, none, cause)
    if largest < SIZES["pull"]:
        return _weighed(name, design, None, "simulation", largest, none, None)
    p = pulls_by_luck(design, largest)
    pulled = np.flatnonzero(np.nan_to_num(rows.cooks_d) >= SIZES["pull"])
    return _weighed(name, design, p, "simulation", largest, pulled, None)


def p_of(
    name: str, fit: Fit, checks: Checks, rows: RowByRow, order: Ints | None, alpha: float
) -> float | None:
    """The p that a doubt of a line rests on; None where there is none."""
    return None if fit.exact else _evidence(name, fit, checks, rows, Design(fit, order), alpha).p


def _weighed(
    name: str,
    design: Design,
    p: float | None,
    p_from: str,
    size: float | None,
    rows: Ints,
    cause: Cause | None,
) -> _Evidence:
    if size is not None and not math.isfinite(size):  # against a line that all other rows lie on
        size = None
    return _Evidence(p, None if p is None else p_from, size, rows, cause if p is None else None,
                     counts(name, size, design.n))  # fmt: skip


def _judged(name: str, found: _Evidence, sign: Verdict, design: Design, alpha: float) -> Doubt:
    seen, verdict = None, sign
    if found.cause is not None:
        verdict = Verdict.FEW if found.cause in _FEW else Verdict.NONE
    elif sign is Verdict.NO and design.n <= FEW_ROWS:
        seen = _seen(design, name, alpha)
        verdict = Verdict.FEW if seen.chances[1] < LEAST_CHANCE else Verdict.NO
    rows = found.rows if verdict in (Verdict.SOME, Verdict.CLEAR) else np.zeros(0, np.int64)
    return Doubt(name=name, verdict=verdict, p=found.p, p_from=found.p_from, size=found.size, rows=rows,
                 seen=seen, cause=found.cause)  # fmt: skip


@lru_cache(maxsize=64)
def _seen(design: Design, name: str, alpha: float) -> Seen:
    """Kept by design: dragging a point up or down asks the same again. At the p of a sign that stands alone."""
    return could_see(design, name, min(ANY_SIGN * alpha / len(DOUBTS), 0.5))


def counts(name: str, size: float | None, n: int) -> bool:
    """Whether a size is worth a sign; what has no size counts by its p."""
    if size is None:
        return True
    if name == "spread":
        return size >= SIZES[name] or size <= 1 / SIZES[name]
    if name == "shape":
        return n <= MANY_ROWS or size >= 0.5
    return abs(size) >= SIZES[name]
