"""The names of what can be drawn, judged and planned."""

from __future__ import annotations

from typing import Literal

Shape = Literal["normal", "skewed", "heavy", "own"]
Pattern = Literal["even", "fanning"]
Design = Literal["kept", "drawn", "even", "normal"]
Judged = Literal["classical", "HC3", "newey_west"]
Statistic = Literal["slope", "intercept", "r", "r2", "forecast"]
Purpose = Literal["slope half-width", "mean half-width", "case half-width", "slope power", "r power"]

JUDGED: tuple[Judged, ...] = ("classical", "HC3", "newey_west")
STATISTICS: tuple[Statistic, ...] = ("slope", "intercept", "r", "r2", "forecast")
PURPOSES: tuple[Purpose, ...] = (
    "slope half-width",
    "mean half-width",
    "case half-width",
    "slope power",
    "r power",
)
#: Draws and pairs that fit into about 1.5 GB.
MOST_DRAWS, MOST_PAIRS = 10_000_000, 5_000_000
