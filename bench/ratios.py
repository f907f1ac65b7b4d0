"""How a ratio is taken: interleaved repeats after a warm-up, so that the machine's drift cancels."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Ratio:
    """One measured ratio with its aim and both median times."""

    name: str
    ratio: float
    aim: float
    ours_s: float
    theirs_s: float


def compare(
    name: str, aim: float, ours: Callable[[], object], theirs: Callable[[], object], repeats: int
) -> Ratio:
    """Median of ours over median of theirs. A callable may return its own seconds as a float."""
    times: tuple[list[float], list[float]] = ([], [])
    for turn in range(repeats + 1):
        for kept, run in zip(times, (ours, theirs), strict=True):
            start = time.perf_counter()
            said = run()
            spent = said if isinstance(said, float) else time.perf_counter() - start
            if turn:
                kept.append(spent)
    a, b = map(statistics.median, times)
    return Ratio(name, a / b, aim, a, b)
