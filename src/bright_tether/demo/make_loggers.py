"""Make the second study of the Tarrow: files that keep coming, all of them invented.

Run as ``python -m bright_tether.demo.make_loggers FOLDER``; the same seed gives the same files.
"""

from __future__ import annotations

import datetime
import sys
from pathlib import Path

import numpy as np

from bright_tether.demo.make_survey import SEED, write_rows

MONTHS = ("January", "February", "March", "April", "May", "June")
#: Hours between two readings; the month, and the days of it, without readings; the month with another name.
_EVERY, _GAP, _GAP_DAYS, _RENAMED = 6, 3, range(9, 15), 4
_SITES, _STATIONS = 12, ("Weir", "Ford", "Mill", "Bridge")


def month_file(month: int) -> str:
    """What the logger calls a month's file."""
    return f"tarrow_level_2022_{month:02}.csv"


def months() -> dict[str, list[list[str]]]:
    """A level logger, one file a month: a gap in March, and in April one column with another name."""
    draw = np.random.default_rng(SEED + 11)
    files: dict[str, list[list[str]]] = {}
    level = 0.8
    for month in range(1, 7):
        head = "murk (NTU)" if month == _RENAMED else "turbidity (NTU)"
        rows = [["time", "level (m)", head]]
        at = datetime.datetime(2022, month, 1)
        while at.month == month:
            season = 0.35 * np.cos((at.timetuple().tm_yday - 20) / 365.25 * 2 * np.pi)
            level = 0.85 * level + 0.15 * (0.8 + season) + draw.normal(0, 0.03)
            murk = 18 + 55 * level + draw.normal(0, 4)
            if not (month == _GAP and at.day in _GAP_DAYS):
                rows.append([f"{at:%d/%m/%Y %H:%M}", f"{level:.3f}", f"{murk:.1f}"])
            at += datetime.timedelta(hours=_EVERY)
        files[month_file(month)] = rows
    return files


def stations() -> list[list[str]]:
    """A list of stations to join: one of them twice, one that nobody sampled."""
    return [
        ["station", "height (m)", "rock"],
        ["Weir", "212", "shale"], ["Ford", "188", "sandstone"], ["Mill", "151", "limestone"],
        ["Mill", "154", "limestone"], ["Source", "402", "shale"],
    ]  # fmt: skip


def samples() -> list[list[str]]:
    """Repeated samples of twelve sites: steeper between sites than within them."""
    draw = np.random.default_rng(SEED + 12)
    rows = [["site", "station", "date", "turbidity (NTU)", "sediment (mg/L)"]]
    start = datetime.date(2022, 2, 3)
    for site in range(_SITES):
        station = _STATIONS[site % len(_STATIONS)]
        usual = draw.normal(60, 18)
        height = 1.6 * usual + draw.normal(0, 14)
        for visit in range(3 + site % 4):
            day = start + datetime.timedelta(days=14 * visit + site % 5)
            murk = usual + draw.normal(0, 9)
            load = height + 0.7 * (murk - usual) + draw.normal(0, 4)
            rows.append([f"T{site + 1:02}", station, day.isoformat(), f"{murk:.1f}", f"{load:.1f}"])
    return rows


def rounds() -> tuple[list[list[str]], list[list[str]]]:
    """Visits that grow: as they were after the first round, and after the second, with rows before and a correction."""
    draw = np.random.default_rng(SEED + 13)
    head = ["visit", "stage (m)", "discharge (m3/s)"]
    stage = np.round(draw.uniform(0.3, 1.6, 22), 2)
    flow = np.round(1.2 + 4.1 * stage + draw.normal(0, 0.25, 22), 2)
    rows = [[f"V{at + 1:02}", f"{stage[at]:.2f}", f"{flow[at]:.2f}"] for at in range(22)]
    first = [rows[at] for at in range(4, 18)]
    second = [row for row in rows if row[0] not in ("V07",)]
    corrected = [[row[0], row[1], "3.33"] if row[0] == "V10" else row for row in second]
    return [head, *first], [head, *corrected]


def files() -> dict[str, list[list[str]]]:
    """Every file by its name."""
    first, second = rounds()
    return months() | {
        "tarrow_stations.csv": stations(), "tarrow_samples.csv": samples(),
        "tarrow_round_1.csv": first, "tarrow_round_2.csv": second,
    }  # fmt: skip


def write_files(folder: Path) -> list[str]:
    """Write every file into a folder; their names. Raises OSError."""
    rows_by_name = files()
    for name, rows in rows_by_name.items():
        write_rows(folder / name, rows)
    return list(rows_by_name)


if __name__ == "__main__":
    write_files(Path(sys.argv[1]))
