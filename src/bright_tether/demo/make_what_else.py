"""Make the third study of the Tarrow: what else could explain it, all of it invented.

Run as ``python -m bright_tether.demo.make_what_else FOLDER``; the same seed gives the same files.
"""

from __future__ import annotations

import datetime
import sys
from pathlib import Path

import numpy as np

from bright_tether.demo.make_survey import SEED, write_rows

RAIN, REACHES = "tarrow_rain.csv", "tarrow_reaches.csv"
_DAYS, _REACHES = 56, 16
#: The reach that was surveyed after the flood.
_FLOODED = 11


def rain() -> list[list[str]]:
    """Sediment against stage: rain of the day before takes half of the slope away, warmth takes none."""
    draw = np.random.default_rng(SEED + 21)
    wet = np.round(draw.gamma(1.3, 6.0, _DAYS), 1)
    stage = np.round(0.45 + 0.022 * wet + draw.normal(0, 0.13, _DAYS), 2).clip(0.2)
    warm = np.round(draw.normal(11.0, 3.5, _DAYS), 1)
    sediment = 12 + 62 * stage + 2.1 * wet + 0.2 * warm + draw.normal(0, 9, _DAYS)
    start = datetime.date(2022, 3, 2)
    rows = [["date", "stage (m)", "sediment (mg/L)", "rain the day before (mm)", "water temperature (°C)"]]
    for at in range(_DAYS):
        day = (start + datetime.timedelta(days=4 * at)).isoformat()
        rows.append(
            [day, f"{stage[at]:.2f}", f"{max(sediment[at], 3):.1f}", f"{wet[at]:.1f}", f"{warm[at]:.1f}"]
        )
    return rows


def reaches() -> list[list[str]]:
    """Gravel against gradient: the decision turns with the one reach that was surveyed after the flood."""
    draw = np.random.default_rng(SEED + 22)
    gradient = np.round(draw.uniform(2, 19, _REACHES), 1)
    gravel = 24 + 0.55 * gradient + draw.normal(0, 5.2, _REACHES)
    gradient[_FLOODED], gravel[_FLOODED] = 18.4, 13.5
    rows = [["reach", "gradient (‰)", "gravel (mm)", "note"]]
    for at in range(_REACHES):
        note = "after the flood" if at == _FLOODED else ""
        rows.append([f"R{at + 1}", f"{gradient[at]:.1f}", f"{gravel[at]:.1f}", note])
    return rows


def write_files(folder: Path) -> None:
    """Write both files."""
    for name, rows in ((RAIN, rain()), (REACHES, reaches())):
        write_rows(folder / name, rows)


if __name__ == "__main__":
    write_files(Path(sys.argv[1]))
