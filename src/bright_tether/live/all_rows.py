"""All rows of the table that a share was drawn of, in sums, beside what the share gives."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.line.errors import ErrorKind
from bright_tether.core.results import Floats, Ints, Refusal
from bright_tether.core.sums.partial import NO_ENDS, Partial
from bright_tether.far.engine import Engine, Stopped
from bright_tether.far.place import Place
from bright_tether.far.question import FarKind, Question
from bright_tether.far.share import Share, place_of, share_of
from bright_tether.far.through import Through
from bright_tether.live.far import FarAsked, FarFindings, far_findings
from bright_tether.live.findings import Findings
from bright_tether.study.choices import CompareChoice, ForecastChoice, LineChoice
from bright_tether.study.declared import Task
from bright_tether.tables.delimited import UnreadableFile

#: Cells that all points are counted in, across and up.
WIDE, TALL = 240, 150
#: Errors that are sums over the rows.
SUMMED: tuple[ErrorKind, ...] = ("classical", "HC0", "HC1", "HC2", "HC3")


class NotInWhole(Refusal):
    """A column that the share has and the whole table has not: worked out or renamed here. name : its header."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name


class AllHere(Refusal):
    """The table is no share: all its rows are in every figure."""


class AllRows(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What there is of all rows. far : their results, made already; refused : why there are none.

    counts : points in cells, (TALL, WIDE) from the lowest row, over the ends of x and y. whole : whether it was not
    stopped before its end.
    """

    share: Share
    far: FarFindings | None = None
    refused: Refusal | UnreadableFile | None = None
    counts: Ints | None = None
    ends: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    whole: bool = True


class Closer(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """All pairs between some ends of x and y, in cells. refused : why they could not be counted."""

    counts: Ints | None
    ends: tuple[float, float, float, float]
    whole: bool = True
    refused: UnreadableFile | None = None


class _Cells(msgspec.Struct, frozen=True, eq=False):
    """How many pairs lie in each cell. ends : of x and y."""

    ends: tuple[float, float, float, float]

    def __call__(self, x: Floats, y: Floats) -> Partial:
        """Of one block."""
        left, right, low, high = self.ends
        across = np.clip(((x - left) * (WIDE / ((right - left) or 1.0))).astype(np.int64), 0, WIDE - 1)
        up = np.clip(((y - low) * (TALL / ((high - low) or 1.0))).astype(np.int64), 0, TALL - 1)
        found = np.bincount(up * WIDE + across, minlength=WIDE * TALL).astype(float)
        return Partial(found, np.zeros_like(found), *NO_ENDS)


def is_share(findings: Findings) -> bool:
    """Whether the table is a share of one that stays where it is."""
    return share_of(findings.table) is not None


def all_rows(findings: Findings) -> Task[AllRows]:
    """The run over all rows, made from what is asked of them and nothing else."""
    share, place = share_of(findings.table), place_of(findings.table)
    if share is None or place is None:
        return Task((findings.owner, "all_rows"), (), findings.memory, _all_here, _whole)
    inputs = share, place, _asked(findings, share), findings.through
    return Task((findings.owner, "all_rows"), inputs, findings.memory, _make, _whole)


def closer_look(findings: Findings, ends: tuple[float, float, float, float]) -> Task[Closer]:
    """The run over the pairs between these ends, counted in as many cells as all of them are."""
    share, place = share_of(findings.table), place_of(findings.table)
    assert share is not None
    assert place is not None
    inputs = share, place, replace(_asked(findings, share).question, view=ends), findings.through
    return Task((findings.owner, "closer_look"), inputs, findings.memory, _look_closer, _whole)


def errors_of_all(findings: Findings) -> ErrorKind:
    """The errors in force where they are sums over rows; else HC3, which takes nothing of the spread."""
    chosen = findings.tether.line.errors
    return chosen if chosen in SUMMED else "HC3"


def _asked(findings: Findings, share: Share) -> FarAsked:
    table, tether = findings.table, findings.tether
    conditions = tuple(
        msgspec.structs.replace(one, column=table.column(one.column).name) for one in findings.conditions
    )
    group = tether.compare.group
    question = Question(
        x=table.column(tether.x or "").name,
        y=table.column(tether.y or "").name,
        clock=findings.clock,
        conditions=conditions,
        numeric=frozenset(
            table.column(one.column).name for one in findings.conditions if table.column(one.column).numeric
        ),
        group=table.column(group).name if group and table.has(group) else "",
        rows_aside=tuple(row for row in findings.aside_rows.tolist() if row < share.of),
    )
    order = tether.line.order
    if order and table.has(order):
        column = table.column(order)
        kind: FarKind = "number" if column.numeric else "date" if column.kind == "date" else "text"
        question = replace(question, order=column.name, order_kind=kind)
    line = LineChoice(
        errors=errors_of_all(findings), slope_0=findings.slope_0, intercept_0=findings.intercept_0
    )
    return FarAsked(name=table.name, question=question, line=line, compare=CompareChoice(),
                    forecast=ForecastChoice(), rules=findings.study.rules)  # fmt: skip


def _all_here(progress: Callable[[Any], bool]) -> AllRows:
    raise AllHere


def _look_closer(
    share: Share, place: Place, question: Question, through: Through, progress: Callable[[Any], bool]
) -> Closer:
    assert question.view is not None
    try:
        engine = through.of(place, lambda done: progress((min(done, share.of), share.of)))
        n = engine.overview(question).extent.n
        counts = _counted(engine, question, question.view) if n else np.zeros((TALL, WIDE), np.int64)
        return Closer(counts=counts, ends=question.view)
    except Stopped:
        return Closer(counts=None, ends=question.view, whole=False)
    except UnreadableFile as refused:
        return Closer(counts=None, ends=question.view, refused=refused)


def _counted(engine: Engine, question: Question, ends: tuple[float, float, float, float]) -> Ints:
    """Pairs in cells, (TALL, WIDE) from the lowest row."""
    return engine.rows(question).total(_Cells(ends)).high.astype(np.int64).reshape(TALL, WIDE)


def _whole(value: AllRows | Closer, *_: object) -> bool:
    return value.whole


def _make(
    share: Share, place: Place, asked: FarAsked, through: Through, progress: Callable[[Any], bool]
) -> AllRows:
    """Go through all rows: sums, residuals, neighbours, residuals along x, cells."""
    passed, last, whole = 0, 0, 5 * share.of

    def told(done: int) -> bool:
        nonlocal passed, last
        passed, last = passed + (done < last), done
        return progress((min(passed * share.of + done, whole), whole))

    try:
        engine = through.of(place, told)
        known = {one.name for one in engine.columns()}
        question = asked.question
        for name in (
            question.x,
            question.y,
            question.group,
            question.order,
            *(one.column for one in question.conditions),
        ):
            if name and name not in known:
                raise NotInWhole(name)
        far = far_findings(engine, asked)
        extent = far.overview.extent
        _ = far.line, far.coefficients, far.pearson, far.band, far.checks
        ends = (*extent.x, *extent.y)
        counts = _counted(engine, question, ends)
        if question.group:
            _ = far.comparison
    except Stopped:
        return AllRows(share=share, whole=False)
    except (Refusal, UnreadableFile) as refused:
        return AllRows(share=share, refused=refused)
    return AllRows(share=share, far=far, counts=counts, ends=ends)
