"""Pages to be read: every sentence once for a grid of names, units, signs and counts; and docs/claims.md."""

from __future__ import annotations

import importlib
import pkgutil
import re
import sys
import textwrap
from collections import defaultdict
from dataclasses import fields
from pathlib import Path

import msgspec

import bright_tether.claims
from bright_tether.account.readings import readings_record
from bright_tether.claims.claim import Claim
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study.choices import CompareChoice, ForecastChoice
from bright_tether.study.derived import with_tether
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
    station = study.table(study.tethers[0].table).named("station").id
    for tether in study.tethers:
        choices = [
            tether,
            msgspec.structs.replace(tether, forecast=ForecastChoice(at=(5000.0,), back=(50.0,))),
        ]
        if tether.id == "k1":
            choices.append(msgspec.structs.replace(tether, compare=CompareChoice(group=station, margin=0.5)))
        for one in choices:
            findings = Findings(with_tether(study, one), one)
            for entry in readings_record(findings, ahead=True):
                found.setdefault(entry["kind"], entry["says"])
    for family in FAMILIES:
        for seed in range(3):
            for entry in said(case(family, seed))["readings"]:
                found.setdefault(entry["kind"], entry["says"])
    return found


def table():
    """docs/claims.md anew."""
    examples = of_the_demo()
    rows = []
    for kind, made in kinds().items():
        rule = " ".join(textwrap.dedent(made.__doc__ or "").split())
        facts = ", ".join(f"`{name}`" for name in (field.name for field in fields(made)))
        cells = (
            f"`{kind}`",
            f"{rule} Facts: {facts}.",
            examples.get(kind, "said in Rehearse or of a single case"),
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
