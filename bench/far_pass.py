"""Print how long one file of pairs takes, and the peak of memory beyond that of the modules, in megabytes."""

import sys
import time
from pathlib import Path

import duckdb  # noqa: F401
import pyarrow.lib  # noqa: F401

from bright_tether.core.checks.together import checks
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.figures import line
from bright_tether.core.line.plain import fit_line
from bright_tether.core.strength.pearson import pearson
from bright_tether.core.sums.summed import summed_pairs
from bright_tether.far.duck import DuckEngine
from bright_tether.far.place import Place
from bright_tether.far.question import Question


def peak() -> float:
    """The most memory so far."""
    status = Path("/proc/self/status").read_text(encoding="utf-8").splitlines()
    return next(float(line.split()[1]) for line in status if line.startswith("VmHWM")) / 1024


before, began = peak(), time.perf_counter()
engine, question = DuckEngine(Place(Path(sys.argv[1])), memory="128MB"), Question(x="x", y="y")
found = engine.overview(question)
fit = fit_line(summed_pairs(engine.rows(question), found.extent, found.counted))
_ = line(fit, Hypotheses()), pearson(fit, alpha=0.05, alternative="two-sided", level=0.95), checks(fit)
print(time.perf_counter() - began, peak() - before)
