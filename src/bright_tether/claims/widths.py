"""What may be said of the ways to find an interval for one case."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from bright_tether.claims.claim import Claim
from bright_tether.core.widths import WidthKind, Widths
from bright_tether.live.findings import Findings

WidthVerdict = Literal["keeps", "misses", "not shown", "unknown"]
#: How far the share of drawn cases may be from the level before that is called missing it.
APART = 0.02


class WidthToldClaim(Claim, frozen=True, kw_only=True):
    """One way to find the interval for one case. held : rows inside and rows, each left out, by part of x.

    low, high : at the first x asked for, in the columns' own units. simulated : shares of new cases inside.
    """

    kind: ClassVar[str] = "width_told"
    way: WidthKind
    power: float | None
    low: float | None
    high: float | None
    held: tuple[tuple[int, int], ...]
    simulated: tuple[float, ...]


class WidthsClaim(Claim, frozen=True, kw_only=True):
    """Whether one spread everywhere keeps its level in each part of x. verdict : by cases drawn with the spread that
    the likelihood takes for best, where that power is told from 0 (p ≤ alpha): keeps within 0.02 in every part, else
    misses; not shown where it is not told; unknown where nothing was drawn. narrow, wide : parts, from 0, in which
    fewer or more than the level are held. whole : whether the look came to its end.
    """

    kind: ClassVar[str] = "widths"
    level: float
    n: int
    parts: int
    lots: int
    samples: int
    truth: WidthKind
    power: float | None
    p: float | None
    alpha: float
    narrow: tuple[int, ...]
    wide: tuple[int, ...]
    whole: bool
    verdict: WidthVerdict


def width_told_claims(findings: Findings, found: Widths) -> tuple[WidthToldClaim, ...]:
    """One a way; its interval carried back to the column that y was worked out from."""
    claims = []
    for one in found.ways:
        ends = one.at[0] if one.at else None
        low, high = (None, None) if ends is None else np.sort(findings.y_way.back(np.array(ends))).tolist()
        claims.append(
            WidthToldClaim(way=one.kind, power=one.power, low=low, high=high, held=one.held,
                           simulated=tuple(share for share, _ in one.simulated))
        )  # fmt: skip
    return tuple(claims)


def widths_claim(findings: Findings, found: Widths) -> WidthsClaim:
    """By the cases that were drawn."""
    alpha, even = findings.rules.alpha, found.way("even")
    shares = () if even is None else tuple(share for share, _ in even.simulated)
    off = [share - found.level for share in shares]
    narrow = tuple(part for part in range(len(off)) if off[part] < -APART)
    wide = tuple(part for part in range(len(off)) if off[part] > APART)
    shown = found.truth_p is not None and found.truth_p <= alpha
    verdict: WidthVerdict = "misses" if narrow or wide else "keeps"
    if not shares:
        verdict = "unknown"
    elif not shown:
        verdict = "not shown"
    return WidthsClaim(
        level=found.level, n=found.n, parts=len(found.parts), lots=found.lots, samples=found.samples, truth=found.truth,
        power=found.truth_power, p=found.truth_p, alpha=alpha, narrow=narrow if shown else (),
        wide=wide if shown else (), whole=found.whole, verdict=verdict,
    )  # fmt: skip
