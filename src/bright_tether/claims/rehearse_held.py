"""What simulation shows of the slope held, and of the slope alone on the same samples."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

import numpy as np

from bright_tether.claims.claim import Claim
from bright_tether.live.findings import Findings

if TYPE_CHECKING:
    from bright_tether.core.rehearse.held import HeldDraws


class AloneBesideClaim(Claim, frozen=True, kw_only=True):
    """The slope alone on samples of the line with columns held. mean, sd, error : over the samples, and of the mean.

    aims : what it comes to without errors; held : the slope held. by_rows : whether the rows themselves were drawn.
    """

    kind: ClassVar[str] = "alone_beside"
    names: tuple[str, ...]
    mean: float
    sd: float
    error: float
    aims: float
    held: float
    by_rows: bool


def alone_beside_claim(findings: Findings, drawn: HeldDraws) -> AloneBesideClaim:
    """Of two samples at least."""
    sd = float(np.std(drawn.alone, ddof=1))
    return AloneBesideClaim(
        names=tuple(one.short for one in findings.held_cells), mean=float(drawn.alone.mean()), sd=sd,
        error=sd / float(np.sqrt(drawn.done)), aims=drawn.alone_truth, held=drawn.truth, by_rows=drawn.by_rows,
    )  # fmt: skip
