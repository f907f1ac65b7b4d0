"""What may be said of a smooth beside the line."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Cause, Interval
from bright_tether.core.shape.local import LocalBand
from bright_tether.live.findings import Findings


class LocalClaim(Claim, frozen=True, kw_only=True):
    """A smooth beside the line. stretches : of x in which the line lies outside the band for the local mean.

    farthest : x at which it lies farthest outside, by how much of y; above : whether the line lies above there.
    verdict : inside everywhere, or outside somewhere; none without a smooth, for why.
    """

    kind: ClassVar[str] = "local_band"
    bandwidth: float | None
    found: bool
    n: int
    drawn: bool
    level: float
    stretches: tuple[Interval, ...]
    farthest: float | None
    by: float | None
    above: bool | None
    verdict: Literal["inside", "outside", "none"]
    why: Cause | None


def local_claim(findings: Findings) -> LocalClaim | None:
    """Where the line lies outside the band of the smooth; None where none is asked for."""
    if findings.refusal is not None or not findings.tether.forecast.local:
        return None
    found, level = findings.local_band, findings.rules.level
    n = findings.pairs.n
    if not isinstance(found, LocalBand):
        return LocalClaim(bandwidth=None, found=False, n=n, drawn=False, level=level, stretches=(), farthest=None,
                          by=None, above=None, verdict="none", why=found)  # fmt: skip
    heights = findings.by_spread(tuple(found.x.tolist())).fitted
    out = found.apart(heights)
    over = np.where(out, np.maximum(heights - found.ci[:, 1], found.ci[:, 0] - heights), -np.inf)
    at = int(np.argmax(over)) if out.any() else None
    return LocalClaim(
        bandwidth=found.bandwidth, found=found.found, n=n, drawn=found.drawn, level=level,
        stretches=_stretches(found.x, out), farthest=None if at is None else float(found.x[at]),
        by=None if at is None else float(abs(heights[at] - found.mean[at])),
        above=None if at is None else bool(heights[at] > found.mean[at]),
        verdict="outside" if out.any() else "inside", why=None,
    )  # fmt: skip


def _stretches(x: np.ndarray, out: np.ndarray) -> tuple[Interval, ...]:
    edges = np.flatnonzero(np.diff(np.r_[False, out, False].astype(int)))
    return tuple((float(x[first]), float(x[last - 1])) for first, last in edges.reshape(-1, 2).tolist())
