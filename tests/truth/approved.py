"""What was read and approved: every figure and every sentence of a few sets, kept to be held against.

``python -m tests.truth.approved`` keeps them anew; the difference is to be read before it is committed.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from tests.truth.families import case
from tests.truth.study import said

FOLDER = Path(__file__).parent / "approved"
#: Families whose figures are kept, each with a seed; together they reach every section of the record.
KEPT = (
    ("small_range", 1), ("springs", 2), ("second_response", 4), ("pattern", 2), ("origin", 3), ("errors_in_force", 1),
    ("ties", 3), ("one_unit", 2), ("exact", 1), ("two_groups", 3), ("outlier", 2), ("tiny", 4),
)  # fmt: skip


def record_of(family, seed):
    """All that the command tells of a case, numbers with their digits."""
    one = case(family, seed)
    if family in ("small_range", "outlier"):
        one.options["resample"] = 40
    return said(one, "--rows", "--agreement")


def demo_words():
    """Every reading, table and working of the demo study, as text."""
    study, lines = demo_study(), []
    for tether in study.tethers:
        findings = Findings(study, tether)
        for step in STEPS:
            for view in step.views if step.id != "write-up" else ():
                reading = step.reading(findings, view.id, None)
                lines.append(f"## {tether.id} {step.id} {view.id}")
                lines += [reading.headline, *reading.sentences, reading.caption]
                lines += [f"! {one}" for one in reading.beware]
                lines += [f"{one.name} | {one.value} | {one.beside}" for one in reading.figures]
                if step.id != "rehearse":
                    lines += [
                        " | ".join(row) for grid in view.grids(findings) for row in (grid.heads, *grid.rows)
                    ]
                for working in step.workings(findings, view.id) if step.workings else ():
                    lines += [
                        f"{working.title}: {one.what} | {one.how} | {one.result}" for one in working.steps
                    ]
    # what several views say alike is kept once
    return "\n".join(dict.fromkeys(line for line in lines if line)) + "\n"


def differences(kept, now, path=""):
    """Where two records part, numbers to nine digits."""
    if isinstance(kept, dict) and isinstance(now, dict):
        for key in kept.keys() | now.keys():
            yield from differences(kept.get(key, "nothing"), now.get(key, "nothing"), f"{path}.{key}")
    elif isinstance(kept, list) and isinstance(now, list) and len(kept) == len(now):
        for at, (one, other) in enumerate(zip(kept, now, strict=True)):
            yield from differences(one, other, f"{path}[{at}]")
    elif isinstance(kept, float) and isinstance(now, int | float):
        if not math.isclose(kept, now, rel_tol=1e-7, abs_tol=1e-11):
            yield path, kept, now
    elif kept != now:
        yield path, kept, now


def main():
    """Keep all anew."""
    FOLDER.mkdir(exist_ok=True)
    for family, seed in KEPT:
        text = json.dumps(record_of(family, seed), ensure_ascii=False, separators=(",", ":"))
        (FOLDER / f"{family}.json").write_text(text.replace('},{"', '},\n{"') + "\n", encoding="utf-8")
    (FOLDER / "demo.txt").write_text(demo_words(), encoding="utf-8")


if __name__ == "__main__":
    main()
