"""Make the Tarrow survey: an invented stream, gauged at two invented stations.

Run as ``python -m bright_tether.demo.make_survey FOLDER``; the same seed gives the same files. With
``FILE ROWS`` it writes one long table instead.
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
    """Survey visits: sediment rises with turbidity, its residuals grow, two probes were fouled."""
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


def rating() -> list[list[str]]:
    """Stage and discharge: a clear bend that taking logarithms of both straightens."""
    draw = np.random.default_rng(SEED + 1)
    stage = np.round(np.sort(draw.uniform(0.22, 2.1, 40)), 2)
    discharge = 9.4 * stage**1.92 * np.exp(draw.normal(0, 0.055, 40))
    return [
        ["stage (m)", "discharge (m3/s)"],
        *([f"{a:.2f}", f"{b:.2f}"] for a, b in zip(stage, discharge, strict=True)),
    ]


def grades() -> list[list[str]]:
    """Fifteen reaches graded for bank erosion: A and B differ by ties and a reversed run, C by two steps."""
    a = [1, 2, 2, 3, 4, 5, 6, 7, 8, 9, 10, 10, 11, 12, 13]
    b = [1, 2, 3, 3, 4, 9, 8, 7, 6, 5, 10, 11, 11, 12, 13]
    c = [grade + 2 for grade in a]
    head = ["reach", "surveyor A (grade)", "surveyor B (grade)", "surveyor C (grade)"]
    return [
        head,
        *([f"R{i + 1:02d}", str(p), str(q), str(r)] for i, (p, q, r) in enumerate(zip(a, b, c, strict=True))),
    ]


def springs() -> list[list[str]]:
    """Springs of three rock types: conductance rises with calcium all together and falls inside each rock."""
    draw = np.random.default_rng(SEED + 3)
    rows = [["spring", "rock", "calcium (mg/L)", "conductance (uS/cm)"]]
    centres = {"shale": (22, 160), "sandstone": (48, 330), "limestone": (82, 520)}
    for rock, (x0, y0) in centres.items():
        x = draw.normal(0, 5, 14)
        y = y0 - 4.2 * x + draw.normal(0, 9, 14)
        rows += [[f"S{len(rows) + i:02d}", rock, f"{x0 + x[i]:.1f}", f"{y[i]:.0f}"] for i in range(14)]
    return rows


def traps() -> list[list[str]]:
    """Six sediment traps: a strong r that six rows can hardly carry."""
    rows = [["trap", "days out (d)", "catch (g)"]]
    pairs = ((3, 41), (6, 77), (8, 55), (11, 96), (13, 80), (17, 118))
    return rows + [[f"T{i + 1}", str(days), str(catch)] for i, (days, catch) in enumerate(pairs)]


def logger() -> list[list[str]]:
    """An hourly logger against a reference, with drift: neighbours are alike."""
    draw = np.random.default_rng(SEED + 5)
    hours, noise = np.arange(96), np.zeros(96)
    for hour in range(1, 96):
        noise[hour] = 0.86 * noise[hour - 1] + draw.normal(0, 0.055)
    reference = 11 + 2.2 * np.sin(hours / 24 * 2 * np.pi) + draw.normal(0, 0.25, 96)
    logged = 0.35 + 0.98 * reference + noise
    return [["hour (h)", "reference (°C)", "logger (°C)"],
            *([str(h), f"{a:.2f}", f"{b:.2f}"]
              for h, a, b in zip(hours, reference, logged, strict=True))]  # fmt: skip


def bottles() -> list[list[str]]:
    """Two laboratory methods on the same bottles: one reads higher, and their residuals go together."""
    draw = np.random.default_rng(SEED + 6)
    true = np.exp(draw.normal(3.4, 0.5, 28))
    shared = draw.normal(0, 2.2, 28)
    filtered = true * 1.02 + shared + draw.normal(0, 0.8, 28)
    dried = true * 1.09 + 1.5 + shared + draw.normal(0, 0.9, 28)
    dose = np.round(true + draw.normal(0, 0.4, 28), 1)
    return [["bottle", "added sediment (mg/L)", "filtering (mg/L)", "drying (mg/L)"],
            *([f"B{i + 1:02d}", f"{dose[i]:.1f}", f"{filtered[i]:.1f}", f"{dried[i]:.1f}"]
              for i in range(28))]  # fmt: skip


def million(file: Path, rows: int = 1_000_000) -> None:
    """A table of any length for trying speed: six columns, two of them tied."""
    import pyarrow as pa
    from pyarrow import csv as fast

    draw = np.random.default_rng(SEED + 7)
    x = draw.lognormal(4, 0.6, rows)
    columns = {
        "visit": np.arange(rows), "turbidity (NTU)": np.round(x, 2),
        "sediment (mg/L)": np.round(2 + 1.4 * x + draw.normal(0, 1, rows) * (3 + 0.1 * x), 3),
        "stage (m)": np.round(draw.gamma(4, 0.2, rows), 3), "flow (m3/s)": draw.gamma(2, 3, rows),
        "temperature (°C)": np.round(draw.normal(11, 3, rows), 1),
    }  # fmt: skip
    fast.write_csv(pa.table(columns), file)


TABLES = {
    VISITS: visits, "tarrow_rating.csv": rating, "tarrow_grades.csv": grades, "tarrow_springs.csv": springs,
    "tarrow_traps.csv": traps, "tarrow_logger.csv": logger, "tarrow_bottles.csv": bottles,
}  # fmt: skip


def write_survey(folder: Path) -> None:
    """Write every table of the survey as CSV."""
    for name, make in TABLES.items():
        write_rows(folder / name, make())


def write_rows(file: Path, rows: list[list[str]]) -> None:
    """Write one table as CSV."""
    with file.open("w", newline="", encoding="utf-8") as out:
        csv.writer(out, lineterminator="\n").writerows(rows)


if __name__ == "__main__":
    if len(sys.argv) > 2:
        million(Path(sys.argv[1]), int(sys.argv[2]))
    else:
        write_survey(Path(sys.argv[1]))
