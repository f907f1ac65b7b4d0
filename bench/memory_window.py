"""Print the memory of the whole process once a file is open in the window, and the size of its columns."""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from bench.window import Watched

watched = Watched()
session = watched.window.session
session.show_step("line")
watched.stop_of(lambda: session.open_file(Path(sys.argv[1])))
status = Path("/proc/self/status").read_text().splitlines()
held = next(float(line.split()[1]) for line in status if line.startswith("VmRSS")) / 1024
print(held, sum(column.cells.nbytes for column in session.table.columns) / 2**20)
watched.window.close()
