"""Words that no reading of the demo reaches, kept to be held against what was read: axes, labels, refusals, samples."""

from __future__ import annotations

from itertools import product

import msgspec
import numpy as np

from bright_tether.claims.rows import NamedRow
from bright_tether.claims.timing import TimingClaim
from bright_tether.core.line.errors import NoErrors
from bright_tether.core.rehearse.kinds import PURPOSES
from bright_tether.core.results import (
    Cause,
    ConstantColumn,
    NegativeWeight,
    OutOfRange,
    TooFewPairs,
)
from bright_tether.core.strength.row_by_row import TooManyPairs
from bright_tether.demo.loggers import loggers_study
from bright_tether.demo.study import demo_study
from bright_tether.live.basis import BeyondPictures, NothingTied, NotNumbers
from bright_tether.live.comparison import NoOtherLine, NotCombined, NothingCompared
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS, step_of
from bright_tether.study import axes as axes_of_study
from bright_tether.study import cases, changes, column_changes, row_changes
from bright_tether.study.asides import NO_ASIDES
from bright_tether.study.choices import CompareChoice, ForecastChoice, HeldChoice, LineChoice, RehearseChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.edits import Several
from bright_tether.study.making import one_row_a_case
from bright_tether.study.remedies import remedies
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.table_changes import bring_in
from bright_tether.study.tether import Answer
from bright_tether.study.trail import LaterChange
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.made import matches
from bright_tether.tables.matching import columns_in, lines_of
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.tables.table import Join
from bright_tether.words.axes import MODE_TITLES, even_places, sketch_axes
from bright_tether.words.causes import cause, refusal, unreadable
from bright_tether.words.grids.lines import COLUMNS, groups_grid_for_paper, tethers_grid
from bright_tether.words.readings.line import equation_to_copy
from bright_tether.words.readings.local import local_sentences
from bright_tether.words.readings.method import method_sentences
from bright_tether.words.readings.remedy import remedy_sentence
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.timing import duration_words, timing_sentence
from bright_tether.words.readings.trail import trail_lines, trail_sentence
from bright_tether.words.stacking import (
    column_words,
    date_question,
    join_words,
    line_words,
    mixed_words,
    one_words,
    stack_name,
    stack_words,
)

DOUBTS = ("bend", "spread", "order", "shape", "far-out", "pull")
_REFUSALS = (
    TooFewPairs(0), TooFewPairs(1), TooFewPairs(2), ConstantColumn(5, 4.25), NotNumbers("rock"),
    BeyondPictures("level", 1.23456e300), NothingTied(), TooManyPairs(12_345, 5_000),
    NoErrors(Cause.LEVERAGE_ONE), NothingCompared(), NoOtherLine("a ⟶ b", TooFewPairs(1)), NotCombined(),
    NegativeWeight(7, -2.5), OutOfRange(),
)  # fmt: skip


def spoken():
    """Every line, each once."""
    lines = [
        *loggers(),
        *by_case(),
        *widths(),
        *held_samples(),
        *samples(),
        *axes(),
        *labels(),
        *refusals(),
        *trails(),
        *remedied(),
        *plans(),
        *lengths(),
        *beside_a_smooth(),
        *possible_ranges(),
        *per_case(),
        *lines_for_paper(),
        *stacked(),
        *rows_named(),
        *places(),
    ]
    return "\n".join(dict.fromkeys(line for line in lines if line)) + "\n"


def told(reading):
    """A reading as lines."""
    yield from (reading.headline, *reading.sentences, reading.caption)
    yield from (f"! {one}" for one in reading.beware)
    yield from (f"{one.name} | {one.value} | {one.beside}" for one in reading.figures)


def worked(step, findings, view):
    """Every working of a view as lines."""
    for working in step.workings(findings, view) if step.workings else ():
        yield from (f"{working.title}: {one.what} | {one.how} | {one.result}" for one in working.steps)


def loggers():
    """The second demo in every step, and with a case and a date forecast."""
    study = loggers_study()
    third = study.tethers[2]
    known = msgspec.structs.replace(
        third, forecast=msgspec.structs.replace(third.forecast, case="T04", at=(60.0,))
    )
    searched = msgspec.structs.replace(third, among=38)
    for tether in (*study.tethers, known, searched):
        findings = Findings(with_tether(study, tether), tether)
        yield from method_sentences(findings)
        yield equation_to_copy(findings)
        for step in STEPS:
            for view in step.views_of(findings) if step.id not in ("write-up", "rehearse") else ():
                yield from told(step.reading(findings, view.id, None))


def by_case():
    """Lines whose rows share cases, side by side: two seasons of every site, three stations, two responses."""
    lines = ["site,season,part,turbidity (NTU),sediment (mg/L),second (mg/L)"]
    draw = np.random.default_rng(8)
    for site in range(9):
        level, height = draw.normal(40, 12), draw.normal(0, 12)
        for visit in range(4 + site % 3):
            x, y = level + draw.normal(0, 6), height + draw.normal(0, 2)
            lines.append(f"S{site + 1},{('wet', 'dry')[visit % 2]},{('upper', 'middle', 'lower')[visit % 3]},"
                         f"{x:.1f},{20 + y + 1.4 * x:.1f},{18 + y + 1.5 * x + draw.normal(0, 2):.1f}")  # fmt: skip
    content, name = "\n".join(lines).encode(), "seasons.csv"
    edit, _ = bring_in(Study(), read_content(content, name, "t1", guess_plan(content, name)))
    study = edit.apply(Study())
    ids = {column.short: column.id for column in study.tables[0].columns}
    study = axes_of_study.choose_axes(study, study.tethers[0], x=ids["turbidity"], y=ids["sediment"]).apply(
        study
    )
    study = Several(label="", edits=tuple(cases.say_cases(study, "t1", ids["site"]))).apply(study)
    compare = next(step for step in STEPS if step.id == "compare")
    for choice in (CompareChoice(group=ids["season"], margin=0.4), CompareChoice(group=ids["part"]),
                   CompareChoice(second=ids["second"], margin=0.4),
                   CompareChoice(second=ids["second"], rows_are="settings")):  # fmt: skip
        tether = msgspec.structs.replace(study.tethers[0], compare=choice)
        findings = Findings(with_tether(study, tether), tether)
        yield from told(compare.reading(findings, "", None))
        yield from (
            " | ".join(row) for view in compare.views for grid in view.grids(findings)
            for row in ((grid.title,), *grid.rows)
        )  # fmt: skip
        for view in compare.views:
            yield from worked(compare, findings, view.id)


def widths():
    """How wide each interval is, of a line whose spread grows, of one in days, and of few rows."""
    forecast = step_of("forecast")
    for study, at in ((demo_study(), 0), (demo_study(), 2), (loggers_study(), 1)):
        findings = Findings(study, study.tethers[at])
        yield from told(forecast.reading(findings, "widths", findings.widths.outcome))
        yield from (" | ".join(row) for grid in forecast.view("widths").grids(findings) for row in grid.rows)


def held_samples():
    """The slope held over and over, from every source."""
    rehearse = step_of("rehearse")
    study = demo_study()
    springs = study.tether("k4")
    held = HeldChoice(columns=(springs.tint or "",))
    for source in ("line", "residuals", "rows", "truth"):
        chosen = RehearseChoice(source=source, draws=200)
        tether = msgspec.structs.replace(springs, held=held, rehearse=chosen)
        findings = Findings(with_tether(study, tether), tether)
        yield from told(rehearse.reading(findings, "held", findings.held_samples.outcome))


def samples():
    """Rehearsals, whole, over few draws."""
    study = demo_study()
    rehearse = next(step for step in STEPS if step.id == "rehearse")
    for at, source in ((0, "line"), (0, "rows"), (0, "residuals"), (4, "truth"), (4, "line")):
        for statistic in ("slope", "r", "forecast"):
            tether = msgspec.structs.replace(
                study.tethers[at],
                rehearse=RehearseChoice(source=source, draws=60, seed=3, statistic=statistic),
            )
            findings = Findings(with_tether(study, tether), tether)
            for view in rehearse.views:
                run = view.run(findings).outcome if view.run else None
                yield f"## {source} {statistic} {view.id}"
                yield from told(rehearse.reading(findings, view.id, run))
                for grid in view.grids(findings) if view.id == "assumptions" else ():
                    yield from (" | ".join(row) for row in grid.rows)
    sites = loggers_study()
    tether = msgspec.structs.replace(
        sites.tethers[2], rehearse=RehearseChoice(source="rows", draws=60, seed=3)
    )
    findings = Findings(with_tether(sites, tether), tether)
    for view in rehearse.views[:1]:
        yield from told(rehearse.reading(findings, view.id, view.run(findings).outcome))


def axes():
    """The axes of every way of showing the residuals, plain, standardised and weighted."""
    study = demo_study()
    first = study.tethers[0]
    for line in (LineChoice(), LineChoice(weight_pattern="inverse-x")):
        tether = msgspec.structs.replace(first, line=line)
        findings = Findings(with_tether(study, tether), tether)
        for mode in MODE_TITLES:
            for standardised in (False, True):
                across, up = sketch_axes(findings, mode, standardised)
                yield f"{mode} {standardised}: {across} | {up}"


def labels():
    """What changes are called: remedies for every doubt, rows moved and taken out, columns worked out."""
    study = demo_study()
    for tether in study.tethers[:3]:
        rows = frozenset(study.table(tether.table).row_ids[:2].tolist())
        for doubt in DOUBTS:
            for some in (frozenset(), rows, frozenset(list(rows)[:1])):
                for one in remedies(study, tether, doubt, some):
                    yield f"remedy {tether.id} {doubt}: {one.words} | {one.edit.label}"
                    after = one.edit.apply(study)
                    yield from (column.name for column in after.table(tether.table).columns[-2:])
        for many in (1, 2, 3):
            ids = study.table(tether.table).row_ids[:many].tolist()
            for edit in (
                row_changes.move_rows(study, tether.table, ids, 2),
                row_changes.add_rows(study, tether.table, many),
                row_changes.delete_rows(study, tether.table, ids),
                changes.set_aside(study, tether, set(ids), "why"),
            ):
                yield edit.label
        for what in ("residual", "fitted", "leverage", "cooks_d"):
            yield column_changes.keep_figure(study, tether, what).label


def remedied():
    """What every remedy that is offered would change."""
    study = demo_study()
    answered = msgspec.structs.replace(study.tethers[0], answers=(Answer("spread", "known"),))
    for tether in (*study.tethers, answered):
        study = with_tether(study, tether)
        present = Findings(study, tether)
        for doubt in DOUBTS:
            for one in remedies(study, tether, doubt, frozenset()):
                after = one.edit.apply(study)
                there = Findings(after, after.tether(tether.id))
                if there.refusal is None and present.refusal is None:
                    yield f"{tether.id}, {one.words}: {remedy_sentence(present, there)}"


def plans():
    """How many pairs are needed, for every purpose and side, with the working."""
    study, rehearse = demo_study(), step_of("rehearse")
    for at, purpose in product((0, 4), PURPOSES):
        effects = (
            (-1.0, 0.3, 1.0) if purpose == "r power" else (None, -0.4) if "power" in purpose else (None,)
        )
        for effect, side in product(effects, ("two-sided", "greater", "less")):
            tether = msgspec.structs.replace(
                study.tethers[at], rehearse=RehearseChoice(purpose=purpose, effect=effect),
                rules=RuleChoices(alternative=side),
            )  # fmt: skip
            findings = Findings(with_tether(study, tether), tether)
            yield f"## {tether.id} {purpose} {effect} {side}"
            yield from told(rehearse.reading(findings, "pairs", None))
            yield from worked(rehearse, findings, "pairs")
    ranked = msgspec.structs.replace(
        study.tethers[0], forecast=ForecastChoice(at=(50.0, 400.0), width="ranks")
    )
    findings = Findings(with_tether(study, ranked), ranked)
    yield from worked(step_of("forecast"), findings, "")


def beside_a_smooth():
    """Where a line leaves the band of a smooth, on either side."""
    study = demo_study()
    for tether in study.tethers:
        for bandwidth in (None, 0.5, 30.0):
            chosen = msgspec.structs.replace(tether, forecast=ForecastChoice(local=True, bandwidth=bandwidth))
            findings = Findings(with_tether(study, chosen), chosen)
            yield from local_sentences(findings)


def lengths():
    """Lengths of time, each in the largest unit that it fills."""
    for seconds in (
        0.4,
        1.0,
        2.5,
        59,
        60,
        90,
        600,
        3599,
        3600,
        5400,
        36_000,
        86_399,
        86_400,
        129_600,
        864_000,
        1e7,
    ):
        yield f"{seconds}: {duration_words(seconds)}"
    day = 86_400.0
    kinds = ((1, None, 0, 0, 3), (2, day, 1, 0, 0), (3, day, 2, 0, 2), (9, day, 6, 1, 2), (9, 60.0, 6, 2, 0),
             (9, None, 0, 0, 0))  # fmt: skip
    for moments, step, alike, gaps, shared in kinds:
        claim = TimingClaim(
            column="day", first=0.0, last=9 * day, moments=moments, step=step, median=None if step else 1.5 * day,
            alike=alike, gaps=gaps, longest=(day, 4 * day) if gaps else None, shared=shared,
            zones=("+02:00", "")[: alike // 3],
        )  # fmt: skip
        yield from timing_sentence(claim)


def possible_ranges():
    """Lines that leave what y can be, on either side."""
    study = demo_study()
    tether = study.tethers[0]
    table = study.table(tether.table)
    for low, high in ((0.0, None), (None, 250.0), (None, 378.0), (100.0, 500.0), (-500.0, 5_000.0)):
        columns = tuple(
            msgspec.structs.replace(one, low=low, high=high) if one.id == tether.y else one for one in table.columns
        )  # fmt: skip
        tables = tuple(
            msgspec.structs.replace(table, columns=columns) if one is table else one for one in study.tables
        )
        findings = Findings(msgspec.structs.replace(study, tables=tables), tether)
        yield f"## {low} {high}"
        for step in (step_of("line"), step_of("forecast")):
            yield from told(step.reading(findings, "", None))


def per_case():
    """How a table of one row for each case is told of."""
    study = demo_study()
    for by in ("mean", "median", "first", "last"):
        edit, _ = one_row_a_case(study, "t1", study.table("t1").named("station").id, by)
        after = edit.apply(study)
        made = after.tables[-1]
        names = [one.id for one in made.columns if one.numeric][:2]
        tether = msgspec.structs.replace(after.tethers[0], id="k99", table=made.id, x=names[0], y=names[1],
                                         asides=NO_ASIDES, tint=None, conditions=())  # fmt: skip
        yield from method_sentences(Findings(msgspec.structs.replace(after, tethers=(tether,)), tether))


def lines_for_paper():
    """Every column of the tables of lines, of all tethers and of groups."""
    study = demo_study()
    first = study.tethers[0]
    grouped = msgspec.structs.replace(
        first, compare=CompareChoice(group=study.table(first.table).named("station").id)
    )
    every = [Findings(study, tether) for tether in (*study.tethers, msgspec.structs.replace(first, x=None))]
    groups = groups_grid_for_paper(Findings(with_tether(study, grouped), grouped), tuple(COLUMNS))
    for grid in (tethers_grid(every, tuple(COLUMNS)), groups):
        yield from (" | ".join(row) for row in ((grid.title,), grid.heads, *grid.rows))


def stacked():
    """Tables that are to become one: what is asked of each column, by how far they agree."""
    texts = {
        "May": "site,level (m),note,day\nA,1.5,x,2024-05-01\nB,2.5,y,2024-05-02\n",
        "June": "site,level (cm),remark,day\nC,350,z,03/04/2024\nB,450,w,05/06/2024\n",
        "July": "site,level (m),extra\nD,about 2,7\nE,3.5,\n",
        "August": "site,level (m),extra\nD,2,a\nE,3.5,b\n", "October": "site,level (m)\nD,1\nE,2\n,3\n",
    }  # fmt: skip
    tables = []
    for at, (name, text) in enumerate(texts.items()):
        content = text.encode()
        tables.append(read_content(content, f"{name}.csv", f"t{at}", guess_plan(content, name)))
    for some in (tables[:2], tables[1:3], tables[2:4], tables[:4], tables):
        lines = lines_of(some)
        yield f"{stack_words(some, lines)} | {stack_name([one.name for one in some])}"
        yield one_words(some[0])
        for line in (one for one in lines if len(one.of) < len(some)):
            yield f"{line_words(line, lines, some)} | {mixed_words(line, some)}"
            yield from (column_words(one, line) for one in columns_in(line, some))
        with_day = [one for one in lines if one.name == "day"]
        yield from (date_question(one, some[1:2]) for one in with_day[:1])
    by_id = {table.id: table for table in tables}
    for first, second in ((0, 1), (2, 3), (4, 3), (3, 4)):
        ids = [(tables[at].id, tables[at].named("site").id) for at in (first, second)]
        join = Join(first=ids[0][0], first_key=ids[0][1], second=ids[1][0], second_key=ids[1][1])
        yield join_words(matches(join, by_id), tables[first], tables[second])


def rows_named():
    """Rows in a sentence: one, as many as are named, more."""
    for many in range(1, 9):
        yield rows_in_words(
            tuple(NamedRow(row=row, label="" if row % 2 else f"B{row:02}") for row in range(1, many + 1))
        )


def refusals():
    """Why there is no line, why a file gives no table, why a quantity has no value."""
    for one in _REFUSALS:
        yield refusal(one, "depth", "flow")
    yield cause(None)
    for code in Cause:
        yield f"{code}: {cause(code)}"
    detail = {"line": 3, "found": 5_000, "wanted": 2, "most": 4_000, "column": 7, "said": "locked"}
    for trouble in Trouble:
        yield unreadable(UnreadableFile(trouble, "a file.csv", **detail))


def trails():
    """Changes made with results in view: none to five of them."""
    study, kinds = (
        demo_study(),
        ("alpha", "alternative", "decide", "set aside", "brought back", "filter", "axes"),
    )
    for many in range(8):
        trail = tuple(
            LaterChange(what=kinds[at % 7], before="2" if at > 2 else "0.05", after="why" if at > 2 else "0.01",
                        when=f"2026-01-0{at + 1}T10:00", tether=None)
            for at in range(many)
        )  # fmt: skip
        findings = Findings(msgspec.structs.replace(study, trail=trail), study.tethers[0])
        yield f"{many}: {' / '.join(trail_lines(findings))}"
        yield from trail_sentence(findings)
    grouped = msgspec.structs.replace(study.tethers[3], compare=CompareChoice(
        group=study.table("t4").named("rock").id, height_at=40.0))  # fmt: skip
    findings = Findings(with_tether(study, grouped), grouped)
    yield f"three groups: heights {findings.comparison.heights}, {len(findings.comparison.groups)} lines"


def places():
    """Readable places between two ends."""
    for low, high in (
        (0.0, 1.0),
        (-3.2, 7.9),
        (0.001, 0.0042),
        (10.0, 10.0),
        (-1e6, 4e6),
        (99.5, 100.5),
        (0.0, 5.0),
    ):
        for most in (3, 5, 9):
            yield f"{low} {high} {most}: {even_places(low, high, most)}"
