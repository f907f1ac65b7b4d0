"""Make the Tarrow survey: an invented stream, gauged at two invented stations.

Run as ``python -m bright_tether.demo.make_survey FOLDER``; the same seed gives the same files.
"""

from __future__ import annotations

import csv
import datetime
import sys
from pathlib import Path

import numpy as np

SEED = 20210884
VISITS = "tarrow_visits.csv"
_ROWS = 71


def visits() -> list[list[str]]:
    """Survey visits: sediment rises with turbidity, its misses grow, two probes were fouled."""
    draw = np.random.default_rng(SEED)
    start = datetime.date(2021, 3, 4)
    days = np.cumsum(draw.integers(8, 22, _ROWS))
    weir = draw.permutation(np.arange(_ROWS) % 2 == 0)
    turbidity = np.round(np.clip(draw.lognormal(4.25, 0.62, _ROWS), 14, 262), 0)
    slope = np.where(weir, 1.36, 1.50)
    sediment = 2.0 + slope * turbidity + draw.normal(0, 1, _ROWS) * (2.5 + 0.115 * turbidity)
    stage = np.round(0.32 + 0.0042 * turbidity + draw.normal(0, 0.09, _ROWS), 2).clip(0.18)
    discharge = np.round(9.4 * stage**1.9 * np.exp(draw.normal(0, 0.06, _ROWS)), 2)
    season = np.cos((days - 140) / 365.25 * 2 * np.pi)
    temperature = np.round(10.5 + 6 * season + draw.normal(0, 1.1, _ROWS), 1)
    fouled, blank_turbidity, blank_sediment = _spread_out(draw)
    head = ["date", "station", "turbidity (NTU)", "sediment (mg/L)", "stage (m)", "discharge (m3/s)",
            "water temperature (°C)", "probe note"]  # fmt: skip
    rows = [head]
    for i in range(_ROWS):
        murk, load, note = f"{turbidity[i]:.0f}", f"{max(sediment[i], 4):.1f}", "ok"
        if i in fouled:
            murk, note = f"{min(turbidity[i] * 0.2 + 190 + 30 * (i % 2), 250):.0f}", "fouled"
            load = f"{58.0 + 21.5 * (i % 2):.1f}"
        if i in blank_turbidity:
            murk, note = "", "not read"
        if i in blank_sediment:
            load = ""
        date = (start + datetime.timedelta(days=int(days[i]))).isoformat()
        station = "Weir" if weir[i] else "Ford"
        rows.append([date, station, murk, load, f"{stage[i]:.2f}", f"{discharge[i]:.2f}",
                     f"{temperature[i]:.1f}", note])  # fmt: skip
    return rows


def _spread_out(draw: np.random.Generator) -> tuple[set[int], set[int], set[int]]:
    chosen = draw.permutation(_ROWS)[:7].tolist()
    return set(chosen[:2]), set(chosen[2:5]), set(chosen[5:7])


def write_survey(folder: Path) -> None:
    """Write every table of the survey as CSV."""
    with (folder / VISITS).open("w", newline="", encoding="utf-8") as file:
        csv.writer(file, lineterminator="\n").writerows(visits())


if __name__ == "__main__":
    write_survey(Path(sys.argv[1]))
