"""What a call says of a table that stays where it is, and who goes through it."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path

import msgspec
import numpy as np

from bright_tether.command.clock import places
from bright_tether.command.entries import BadCall, whole
from bright_tether.far.duck import DuckEngine
from bright_tether.far.engine import Engine, FarColumn
from bright_tether.far.place import Place
from bright_tether.far.question import Question
from bright_tether.far.share import draw_share
from bright_tether.far.through import ENGINES, EngineName, Through
from bright_tether.live.far import FarAsked, far_findings
from bright_tether.live.findings import Findings
from bright_tether.study.choices import CompareChoice, ForecastChoice, LineChoice
from bright_tether.study.rules import RuleChoices
from bright_tether.tables.clock import Clock, usual_clock
from bright_tether.tables.column import blank_column
from bright_tether.tables.read_plan import read_file
from bright_tether.tables.table import Source, Table
from bright_tether.tables.writing import path_text

#: What needs rows one by one, or columns that no pass sums yet: by the name of its option.
_ROWS_NEEDED = (
    "rows", "readings", "resample", "agreement", "choices", "choices_of", "widths", "local", "held", "along",
    "second_response", "cluster", "weights", "weight_pattern", "no_intercept",
)  # fmt: skip

#: Cells up to which a table is taken in whoever is asked to go through it, so that nothing has to be left out.
AT_HAND = 1 << 22


def add_through(parser: argparse.ArgumentParser, usual: EngineName) -> None:
    """Add the options that say who goes through a table. usual : who does where nothing is said."""
    who = (
        "who goes through a table: memory takes it in; duckdb leaves it where it is, however large; dask has "
    )
    who += f"the workers of a cluster go through its Parquet files; {usual} if nothing is said"
    parser.add_argument("--engine", choices=ENGINES, default=usual, help=who)
    where = "of --engine dask, the address of the scheduler, such as tcp://localhost:8786"
    parser.add_argument("--scheduler", default="", metavar="ADDRESS", help=where)
    parser.add_argument(
        "--memory", default="", metavar="SIZE", help="what the engine may hold at a time: 512MB"
    )


def through(options: argparse.Namespace) -> Through:
    """What they say. Raises BadCall."""
    if options.engine == "dask" and not options.scheduler:
        raise BadCall("--engine dask needs --scheduler ADDRESS: where the scheduler of the cluster listens.")
    return Through(options.engine, options.scheduler, options.memory)


def add_engine(parser: argparse.ArgumentParser) -> None:
    """Add the options."""
    add_through(parser, "memory")
    some = "with --engine duckdb, take so many rows drawn by chance (--seed) instead of sums over all of them"
    parser.add_argument("--share", type=whole, default=0, metavar="ROWS", help=some)
    parser.add_argument("--table", default="", metavar="NAME", help="of a DuckDB file, the table")


def findings_by_engine(
    options: argparse.Namespace, in_memory: Callable[[argparse.Namespace, Table], Findings]
) -> Findings:
    """The results of a pairing by an engine. Raises BadCall, UnreadableFile.

    in_memory : makes those of a table that is small enough to be taken in.
    """
    place = _place(options)
    engine = through(options).of(place)
    columns = engine.columns()
    large = place.path.is_file() and place.too_large  # to count its rows may take as long as to sum them
    if not large and engine.count() * len(columns) <= AT_HAND:
        return in_memory(options, _taken_in(place))
    asked = [name for name in _ROWS_NEEDED if getattr(options, name) not in (None, False, 0, "", ())]
    if options.errors in ("newey_west", "clustered"):
        asked.append("errors")
    if options.order and options.engine == "dask":  # no worker has all rows to put in order
        asked.append("order")
    if options.width == "ranks":
        asked.append("width")
    if asked:
        listed = ", ".join(f"--{'with' if name == 'held' else name.replace('_', '-')}" for name in asked)
        raise BadCall(
            f"With --engine {options.engine} only sums over the rows are at hand: leave out {listed}, "
            "or take rows drawn by chance with --share ROWS."
        )
    x, y = (_named(columns, name) for name in (options.x, options.y))
    for one in (x, y):
        if one.kind == "text" or (one is y and one.kind == "date"):
            raise BadCall(
                f"The column “{one.name}” holds no numbers: choose a column of numbers for each axis."
            )
    group = _named(columns, options.group).name if options.group else ""
    order = _named(columns, options.order) if options.order else None
    clock = _clock(engine, x, options)
    question = Question(x=x.name, y=y.name, clock=clock, beside=(group,) if group else (), group=group,
                        order=order.name if order else "", order_kind=order.kind if order else "number")  # fmt: skip
    return far_findings(engine, FarAsked(
        name=Path(options.file).name, question=question,
        line=LineChoice(errors=options.errors, error_ratio=options.error_ratio, slope_0=options.slope_0,
                        intercept_0=options.intercept_0),
        compare=CompareChoice(margin=options.margin),
        forecast=ForecastChoice(at=places(options.at, clock, options.x), back=options.inverse_at,
                                mean_of=options.mean_of),
        rules=RuleChoices(alpha=options.alpha, level=options.level, alternative=options.alternative,
                          decide=options.decide),
    ))  # fmt: skip


def _taken_in(place: Place) -> Table:
    """All rows of a small table."""
    if not place.database and not place.path.is_dir():
        return read_file(place.path)
    every = draw_share(place, AT_HAND, 1)
    return msgspec.structs.replace(every, source=Source(path=path_text(place.path)))


def share_table(options: argparse.Namespace) -> Table:
    """Rows of a table that stays where it is, drawn by chance. Raises BadCall, UnreadableFile."""
    if options.engine != "duckdb":
        raise BadCall("--share goes with --engine duckdb: it draws rows of a table that stays where it is.")
    return draw_share(_place(options), options.share, options.seed)


def _place(options: argparse.Namespace) -> Place:
    """Where the table is; the one table of a DuckDB file needs no name."""
    place = Place(Path(options.file), options.table)
    tables = DuckEngine(place, memory=options.memory).tables()
    if not tables or options.table in tables:
        return place
    if options.table or len(tables) > 1:
        raise BadCall(f"Say which table with --table: “{place.name}” has {', '.join(tables)}.")
    return Place(place.path, tables[0])


def _named(columns: tuple[FarColumn, ...], name: str) -> FarColumn:
    """The column with this header, or with this header less its unit."""
    for one in columns:
        if one.name == name:
            return one
    for one in columns:
        if blank_column("c1", one.name, "number", 0).short == name:
            return one
    raise BadCall(f"There is no column “{name}”: the file has {', '.join(one.name for one in columns)}.")


def _clock(engine: Engine, x: FarColumn, options: argparse.Namespace) -> Clock | None:
    """How x is measured where it is a date."""
    if x.kind != "date":
        if options.per or options.since:
            raise BadCall(f"--per and --since go with a date as x: “{x.name}” is none.")
        return None
    first, last, whole = engine.moments(x.name)
    usual = usual_clock(np.array([first, last] if whole else [first, first + 1, last]))
    usual = usual or Clock("days", "2000-01-01")
    return Clock(options.per or usual.unit, options.since or usual.since)
