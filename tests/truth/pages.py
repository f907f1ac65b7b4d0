"""Pages to be read: every sentence once for a grid of names, units, signs and counts; and docs/claims.md."""

from __future__ import annotations

import importlib
import pkgutil
import re
import sys
import tempfile
import textwrap
from collections import defaultdict
from pathlib import Path

import msgspec
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

import bright_tether.claims
from bright_tether.account.readings import readings_record
from bright_tether.claims.claim import Claim
from bright_tether.core.results import names_of
from bright_tether.demo.study import demo_study
from bright_tether.far.place import Place
from bright_tether.far.share import draw_share
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.study.choices import ForecastChoice, RehearseChoice
from bright_tether.study.derived import with_table, with_tether
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from tests.truth.approved import tethers_of
from tests.truth.families import FAMILIES, case
from tests.truth.study import said

DOCS = Path(__file__).parents[2] / "docs/claims.md"
#: Names and units that every family is told of with.
HEADS = (
    {},
    {"x": "time (years)", "y": "share (%)"},
    {"x": "depth (m)", "y": "silt (mg/L)", "g": "station"},
    {"x": "x (°C)", "y": "y (°C)"},
)
_HEAD = """# Claims

Every sentence about the data is a claim of one of these kinds, made in one place (`bright_tether.claims`) from results
and only worded in `words`. `bright-tether analyse … --readings --format json` prints each with its facts. The rule is
what has to hold for the claim to be made; `tests/truth` works every fact out again from the raw pairs. The sentences
are those of the demo study, or of a small set where the demo has none. `tests/truth/pages.py --docs` writes this page.

| kind | rule and facts | a sentence |
| --- | --- | --- |
"""


def kinds() -> dict[str, type[Claim]]:
    """Every kind of claim there is."""
    for module in pkgutil.iter_modules(bright_tether.claims.__path__, "bright_tether.claims."):
        importlib.import_module(module.name)
    return {one.kind: one for one in sorted(Claim.__subclasses__(), key=lambda one: one.kind)}


def sentences(seeds: int = 3):
    """Every template of every kind, numbers left out, with one sentence that follows it."""
    found = defaultdict(dict)
    for family in FAMILIES:
        for at, heads in enumerate(HEADS):
            for seed in range(seeds):
                one = case(family, 100 * at + seed)
                one.options["heads"] = {**heads, **one.options.get("heads", {})}
                for entry in said(one)["readings"]:
                    found[entry["kind"]].setdefault(
                        re.sub(r"[\d.\u202f]+", "#", entry["says"]), entry["says"]
                    )
    return found


def of_the_demo():
    """One sentence of each kind, from the demo where it has one."""
    study, found = demo_study(), {}
    for one in tethers_of(study):
        findings = Findings(with_tether(study, one), one)
        for entry in readings_record(findings, ahead=True):
            found.setdefault(entry["kind"], entry["says"])
    for said_of_runs in (*rehearsed(study), *of_all_rows(study)):
        for claim in said_of_runs.claims:
            found.setdefault(claim.kind, str(said_of_runs))
    for family in FAMILIES:
        for seed in range(3):
            for entry in said(case(family, seed))["readings"]:
                found.setdefault(entry["kind"], entry["says"])
    return found


def rehearsed(study):
    """What Rehearse says of short runs, and Forecast of an x that no double holds."""
    tether = msgspec.structs.replace(
        study.tethers[0], rehearse=RehearseChoice(draws=200, slope=1.3, source="truth")
    )
    limited = msgspec.structs.replace(study.table(tether.table).column(tether.y), low=20.0)
    with_limit = with_table(study, study.table(tether.table).with_column(limited))
    far = msgspec.structs.replace(tether, forecast=ForecastChoice(at=(1e308, 14.0)))
    for findings, step in ((Findings(with_tether(study, tether), tether), "rehearse"),
                           (Findings(with_tether(with_limit, tether), tether), "line"),
                           (Findings(with_tether(study, far), far), "forecast")):  # fmt: skip
        for view in step_of(step).views[: None if step == "rehearse" else 1]:
            reading = step_of(step).reading_of(findings, view.id)
            yield from (reading.headline, *reading.sentences, *reading.beware)


def of_all_rows(study):
    """What Line says of all rows where the demo's pairs are a share of larger ones."""
    table = study.table(study.tethers[0].table)
    cells = {column.name: column.cells for column in table.columns if column.numeric}
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "samples.parquet"
        pq.write_table(pa.table({name: np.tile(values, 2) for name, values in cells.items()}), path)
        share = draw_share(Place(path), 100, 4)
        tether = Tether(id="k1", table=share.id, x=share.named(table.column(study.tethers[0].x).name).id,
                        y=share.named(table.column(study.tethers[0].y).name).id, chosen=True)  # fmt: skip
        findings = Findings(Study(tables=(share,), tethers=(tether,)), tether)
        reading = step_of("line").reading_of(findings, "all-rows")
    yield from (reading.headline, *reading.sentences, *reading.beware)


def table():
    """docs/claims.md anew."""
    examples = of_the_demo()
    rows = []
    for kind, made in kinds().items():
        rule = " ".join(textwrap.dedent(made.__doc__ or "").split())
        facts = ", ".join(f"`{name}`" for name in names_of(made))
        cells = (
            f"`{kind}`",
            f"{rule} Facts: {facts}.",
            examples.get(kind, "—"),
        )
        rows.append("| " + " | ".join(one.replace("|", "\\|") for one in cells) + " |")
    return _HEAD + "\n".join(rows) + "\n"


def main():
    """Print the page; with --docs write docs/claims.md anew instead."""
    if "--docs" in sys.argv:
        DOCS.write_text(table(), encoding="utf-8")
        return
    for kind, templates in sorted(sentences().items()):
        print(f"\n# {kind}: {len(templates)}")
        for sentence in templates.values():
            print(f"- {sentence}")


if __name__ == "__main__":
    main()
