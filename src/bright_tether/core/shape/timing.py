"""How moments follow each other: their usual step, gaps, and moments that several rows share."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.results import Floats

#: A step longer than this many usual steps is a gap.
GAP = 1.5


class Timing(msgspec.Struct, frozen=True, kw_only=True):
    """Moments in seconds since 1970.

    moments : different ones; shared : rows that share theirs with another. step : the step that at least half of all
    have, to the second, else None; median : of all steps. alike : steps of that length, of moments − 1. gaps : steps
    above 1.5 usual ones; longest : the longest gap, from and to.
    """

    first: float
    last: float
    moments: int
    shared: int
    step: float | None
    median: float | None
    alike: int
    gaps: int
    longest: tuple[float, float] | None


def timing(times: Floats) -> Timing | None:
    """Describe moments. times : (n,) seconds, NaN where there is none; None where no moment is left."""
    present = times[np.isfinite(times)]
    if not present.size:
        return None
    distinct, counts = np.unique(present, return_counts=True)
    steps = np.round(np.diff(distinct), 0)
    values, often = np.unique(steps, return_counts=True)
    at = int(often.argmax()) if steps.size else 0
    usual = steps.size > 0 and 2 * int(often[at]) >= steps.size
    step = float(values[at]) if usual else None
    long = np.flatnonzero(steps > GAP * step) if step is not None else np.zeros(0, np.int64)
    widest = int(long[steps[long].argmax()]) if long.size else None
    return Timing(
        first=float(distinct[0]),
        last=float(distinct[-1]),
        moments=distinct.size,
        shared=int(counts[counts > 1].sum()),
        step=step,
        median=float(np.median(steps)) if steps.size else None,
        alike=int(often[at]) if usual else 0,
        gaps=long.size,
        longest=None if widest is None else (float(distinct[widest]), float(distinct[widest + 1])),
    )
