"""What was read and approved: every figure and every sentence of a few sets, kept to be held against.

``python -m tests.truth.approved`` keeps them anew; the difference is to be read before it is committed.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import msgspec

from bright_tether.command.analyse import findings_of
from bright_tether.command.parser import command_parser, with_negatives
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from bright_tether.study.choices import CompareChoice, ForecastChoice, HeldChoice, LineChoice, OtherwiseChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.rules import RuleChoices
from bright_tether.study.tether import Answer, Picked
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.words.readings.method import method_sentences
from tests.truth.families import FAMILIES, case, odd
from tests.truth.results import print_of, results_of, short
from tests.truth.spoken import spoken
from tests.truth.study import said

FOLDER = Path(__file__).parent / "approved"
#: Families whose figures are kept, each with a seed; together they reach every section of the record.
KEPT = (
    ("small_range", 1), ("springs", 2), ("second_response", 4), ("pattern", 2), ("origin", 3), ("errors_in_force", 1),
    ("ties", 3), ("one_unit", 2), ("exact", 1), ("two_groups", 3), ("outlier", 2), ("tiny", 4),
    ("constant", 1), ("two_values", 2), ("missing", 1), ("bend", 3), ("other_side", 2), ("alone_at_its_x", 1),
    ("fan", 2), ("alternating", 1), ("far_x", 1), ("skewed", 2), ("weighted", 1), ("stated_slope", 1),
)  # fmt: skip
#: Odd sets whose words are kept.
ODD = 20


def record_of(family, seed):
    """All that the command tells of a case, numbers with their digits."""
    one = case(family, seed)
    if family in ("small_range", "outlier"):
        one.options["resample"] = 40
    return said(one, "--rows", "--agreement")


def tethers_of(study):
    """The demo's tethers as they are, and some with much chosen."""
    yield from study.tethers
    first, second = study.tethers[:2]
    station = study.table(first.table).named("station").id
    place = study.table(first.table).label_column
    replace = msgspec.structs.replace
    yield replace(
        first,
        compare=CompareChoice(group=station, margin=0.3, height_at=100.0),
        forecast=ForecastChoice(at=(50.0, 400.0), back=(100.0,), levels=(0.8,), mean_of=3, band=True,
                                cases=((50.0, 200.0),)),
        line=LineChoice(errors="HC3", matters=1.0, order=first.y, slope_first=True),
        answers=(Answer("spread", "known"),),
        lineups=(Picked(picked=1, real=1, of=9, seed=1, when=""),),
        mutual=True,
    )  # fmt: skip
    yield replace(first, compare=CompareChoice(other="k2"), chosen=False, one_row="the mean of 5 bottles")
    yield replace(first, line=LineChoice(weight_pattern="inverse-x2", slope_0=1.5), tint=None)
    yield replace(first, line=LineChoice(origin=True))
    yield replace(
        second, compare=CompareChoice(other="k3"), rules=RuleChoices(alternative="less", decide="kendall")
    )
    yield replace(first, x=None)
    yield replace(first, x=station)
    yield replace(first, x=place.id if place else None, y=station)
    visits, springs = study.table(first.table), study.tether("k4")
    stage, warmth = (visits.named(name).id for name in ("stage (m)", "water temperature (°C)"))
    yield replace(first, held=HeldChoice(columns=(station,)))
    yield replace(first, held=HeldChoice(columns=(stage, warmth)), line=LineChoice(errors="HC3"))
    yield replace(springs, held=HeldChoice(columns=(springs.tint or "",)))
    yield replace(first, held=HeldChoice(columns=(stage,)), line=LineChoice(origin=True))
    yield replace(
        first,
        line=LineChoice(weight_pattern="power-x"),
        forecast=ForecastChoice(at=(50.0, 200.0), back=(90.0,)),
    )
    yield replace(
        first, line=LineChoice(weight_pattern="power-fitted"), held=HeldChoice(columns=(stage,), along=stage)
    )


def demo_results():
    """Every result of every tether of the demo, by tether."""
    study = demo_study()
    found = {}
    for at, tether in enumerate(tethers_of(study)):
        findings = Findings(with_tether(study, tether), tether)
        found[f"{at} {tether.id}"] = results_of(findings) if findings.tied else {}
    return found


def behind(step, view, findings):
    """Tables and workings of a view, line by line."""
    grids = () if step.id == "rehearse" or view.id == "widths" else view.grids(findings)
    yield from (" | ".join(row) for grid in grids for row in ((grid.title,), grid.heads, *grid.rows))
    for working in step.workings(findings, view.id) if step.workings else ():
        yield from (f"{working.title}: {one.what} | {one.how} | {one.result}" for one in working.steps)


def words_of(name, findings):
    """Every reading, table and working of one tether, line by line."""
    for step in STEPS:
        for view in step.views_of(findings) if step.id != "write-up" else ():
            reading = step.reading(findings, view.id, None)
            yield from (
                f"## {name} {step.id} {view.id}",
                reading.headline,
                *reading.sentences,
                reading.caption,
            )
            yield from (f"! {one}" for one in reading.beware)
            yield from (f"{one.name} | {one.value} | {one.beside}" for one in reading.figures)
            if findings.refusal is None:
                yield from behind(step, view, findings)
    yield from method_sentences(findings)


def once(lines):
    """What several views say alike is kept once."""
    return "\n".join(dict.fromkeys(line for line in lines if line)) + "\n"


def demo_words():
    """Every reading, table and working of the demo study, as text."""
    study = demo_study()
    found = (Findings(with_tether(study, tether), tether) for tether in tethers_of(study))
    return once(line for findings in found for line in words_of(findings.tether.id, findings))


def every_family():
    """Findings on a set of every family, and on some odd ones."""
    parser = command_parser()
    for one in (*(case(family, 7) for family in FAMILIES), *map(odd, range(ODD))):
        content, name = one.csv().encode(), f"{one.family} {one.seed}"
        table = read_content(content, f"{name}.csv", "t1", guess_plan(content, "pairs.csv"))
        options = parser.parse_args(with_negatives(["analyse", "pairs.csv", *one.call()]))
        yield findings_of(options, table)


def families():
    """The words of every family, and fingerprints of its results."""
    lines, found = [], {}
    for at, findings in enumerate(every_family()):
        lines += words_of(findings.table.name, findings)
        told = results_of(findings)
        found[f"{at} {findings.table.name}"] = {name: print_of(one) for name, one in told.items()}
    return once(lines), found


def ways():
    """Fingerprints of other choices in the demo."""
    study, found = demo_study(), {}
    for at, tether in enumerate(list(tethers_of(study))[:17]):
        told = {what: ways_of(study, tether, what) for what in ("slope", "coefficient")}
        found[f"{at}"] = {what: print_of(some) for what, some in told.items() if some}
    return found


def ways_of(study, tether, what):
    """Every other way, each as plain data."""
    chosen = msgspec.structs.replace(tether, otherwise=OtherwiseChoice(what=what))
    findings = Findings(with_tether(study, chosen), chosen)
    if not findings.tied or findings.refusal is not None:
        return []
    found = findings.other_choices.outcome
    told = [short([one.options, one.n, one.value, one.ci]) for one in found.ways]
    return [*told, short([found.axes, found.present, found.path, found.mover, found.first, found.last])]


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
    words, prints = families()
    (FOLDER / "families.txt").write_text(words, encoding="utf-8")
    (FOLDER / "spoken.txt").write_text(spoken(), encoding="utf-8")
    for name, one in (("prints", prints), ("ways", ways())):
        text = json.dumps(one, separators=(",", ":"))
        (FOLDER / f"{name}.json").write_text(text.replace('},"', '},\n"') + "\n", encoding="utf-8")
    text = json.dumps(demo_results(), ensure_ascii=False, separators=(",", ":"))
    (FOLDER / "results.json").write_text(text.replace('},"', '},\n"') + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
