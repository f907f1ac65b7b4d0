"""Print the peak memory that opening a file adds, and the size of its columns, in megabytes."""

import importlib
import sys
from pathlib import Path

from bright_tether.tables.arrow import arrow
from bright_tether.tables.read_plan import read_file

arrow()
importlib.import_module("pyarrow.csv")  # what is loaded once is not counted


def peak() -> float:
    """The highest resident size since it was last forgotten, in megabytes."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(float(line.split()[1]) for line in lines if line.startswith("VmHWM")) / 1024


Path("/proc/self/clear_refs").write_text("5")
before = peak()
table = read_file(Path(sys.argv[1]))
print(peak() - before, sum(column.cells.nbytes for column in table.columns) / 2**20)
