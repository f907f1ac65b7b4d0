"""``bright-tether analyse``: one tether of one file, as text or JSON."""

from __future__ import annotations

import argparse
import json
import math
import sys
from pathlib import Path

import numpy as np

from bright_tether.account.record import record
from bright_tether.account.text import text_account
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.tables.reading import guess_plan, read_content, read_file
from bright_tether.tables.table import Table
from bright_tether.words.causes import refusal, unreadable


class BadCall(Exception):
    """A call that cannot be carried out; its text is the one line for the user."""


def add_analyse(commands: argparse._SubParsersAction) -> None:
    """Add the command and its options."""
    parser = commands.add_parser("analyse", help="analyse one pairing of a file")
    parser.add_argument("file", metavar="FILE", help="a CSV file, or - for standard input")
    parser.add_argument("--x", required=True, metavar="COL", help="the explanatory column")
    parser.add_argument("--y", required=True, metavar="COL", help="the response column")
    parser.add_argument("--alternative", choices=("two-sided", "greater", "less"), default="two-sided")
    parser.add_argument("--alpha", type=share, default=0.05, metavar="A")
    parser.add_argument("--level", type=share, metavar="L", help="interval level; 1 − α when not given")
    parser.add_argument("--at", type=numbers, default=(), metavar="X,X,…", help="forecast at these x")
    parser.add_argument("--mean-of", type=whole, default=1, metavar="M")
    parser.add_argument("--decide", choices=("pearson", "spearman", "kendall", "slope"), default="pearson")
    parser.add_argument("--slope-0", type=number, default=0.0, metavar="B")
    parser.add_argument("--intercept-0", type=number, default=0.0, metavar="B")
    parser.add_argument("--group", metavar="COL", help="r inside the groups of this column")
    parser.add_argument("--agreement", action="store_true", help="agreement of two columns in one unit")
    parser.add_argument("--resample", type=whole, default=0, metavar="N", help="bootstrap and permutation")
    parser.add_argument("--seed", type=seed, default=0, metavar="K")
    parser.add_argument("--rows", action="store_true", help="add the line row by row")
    parser.add_argument("--format", choices=("text", "json"), default="text")
    parser.set_defaults(run=analyse)


def analyse(options: argparse.Namespace) -> int:
    """Print the analysis; 0, or 2 with one line on standard error."""
    try:
        table = read_table(options.file)
        for name in (options.x, options.y):
            table = table.with_column(numbers_of(table, name))
        x, y = (column_named(table, name).id for name in (options.x, options.y))
        group = column_named(table, options.group).id if options.group else None
        if group:
            table = table.with_column(table.column(group).of_kind("category", table.row_ids))
        tether = Tether(id="k1", table=table.id, x=x, y=y, tint=group, chosen=True)
        rules = RuleChoices(
            alpha=options.alpha,
            level=options.level,
            alternative=options.alternative,
            decide=options.decide,
        )
        study = Study(tables=(table,), tethers=(tether,), rules=rules)
        findings = Findings(
            study, tether, slope_0=options.slope_0, intercept_0=options.intercept_0, needed=group
        )
        wanted = {"at": options.at, "mean_of": options.mean_of, "rows": options.rows}
        wanted |= {"agreement": options.agreement, "resample": options.resample, "seed": options.seed}
        if options.format == "json":
            told = (
                json.dumps(record(findings, **wanted), ensure_ascii=False, allow_nan=False, indent=1) + "\n"
            )
        else:
            told = text_account(findings, **wanted)
    except UnreadableFile as found:
        raise BadCall(unreadable(found)) from None
    except Refusal as found:
        raise BadCall(refusal(found, options.x, options.y)) from None
    sys.stdout.write(told)
    return 0


def read_table(file: str) -> Table:
    """The table in a file, or on standard input for ``-``."""
    if file != "-":
        return read_file(Path(file))
    content, name = sys.stdin.buffer.read(), "standard input"
    return read_content(content, name, "t1", guess_plan(content, name))


def column_named(table: Table, name: str) -> Column:
    """The column with this header, or a BadCall that lists those there are."""
    column = table.named(name)
    if column is None:
        known = ", ".join(column.name for column in table.columns)
        raise BadCall(f"There is no column “{name}”: the file has {known}.")
    return column


def numbers_of(table: Table, name: str) -> Column:
    """The named column as numbers; where it holds none it stays what it is."""
    column = column_named(table, name)
    as_numbers = column.of_kind("number", table.row_ids)
    return as_numbers if np.isfinite(as_numbers.cells).any() else column


def number(text: str) -> float:
    """A finite number."""
    value = float(text)
    if not math.isfinite(value):
        raise argparse.ArgumentTypeError(f"{text} is not a finite number")
    return value


def share(text: str) -> float:
    """A number between 0 and 1."""
    value = number(text)
    if not 0 < value < 1:
        raise argparse.ArgumentTypeError(f"{text} does not lie between 0 and 1")
    return value


def whole(text: str) -> int:
    """A whole number of at least 1."""
    value = int(text)
    if value < 1:
        raise argparse.ArgumentTypeError(f"{text} is not at least 1")
    return value


def seed(text: str) -> int:
    """A whole number of at least 0."""
    value = int(text)
    if value < 0:
        raise argparse.ArgumentTypeError(f"{text} is below 0")
    return value


def numbers(text: str) -> tuple[float, ...]:
    """Numbers set apart by commas."""
    return tuple(number(part) for part in text.split(",") if part.strip())
