"""``bright-tether analyse``: one tether of one file, as text or JSON."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from bright_tether.account.record import Wanted, record
from bright_tether.account.text import text_account
from bright_tether.command.clock import add_clock, clock_of, dated, places
from bright_tether.command.engines import add_engine, findings_by_engine, share_table
from bright_tether.command.entries import BadCall, number, numbers, points, positive, seed, share, whole
from bright_tether.core.line.errors import KINDS
from bright_tether.core.line.weights import PATTERNS
from bright_tether.core.rehearse.kinds import MOST_DRAWS
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings, NotNumbers
from bright_tether.study.choices import CompareChoice, ForecastChoice, HeldChoice, LineChoice, OtherwiseChoice
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.tables.read_plan import guess_plan, read_content, read_file
from bright_tether.tables.table import Table
from bright_tether.words.causes import refusal, unreadable


def add_analyse(commands: argparse._SubParsersAction[Any]) -> None:
    """Add the command and its options."""
    parser = commands.add_parser("analyse", help="analyse one pairing of a file")
    parser.add_argument("file", metavar="FILE", help="a CSV file, or - for standard input")
    parser.add_argument("--x", required=True, metavar="COL", help="the explanatory column")
    parser.add_argument("--y", required=True, metavar="COL", help="the response column")
    parser.add_argument("--alternative", choices=("two-sided", "greater", "less"), default="two-sided")
    parser.add_argument("--alpha", type=share, default=0.05, metavar="A")
    parser.add_argument("--level", type=share, metavar="L", help="interval level; 1 − α when not given")
    parser.add_argument(
        "--at", type=points, default=(), metavar="X,X,…", help="forecast at these x, or dates"
    )
    add_clock(parser)
    parser.add_argument("--mean-of", type=whole, default=1, metavar="M")
    parser.add_argument("--decide", choices=("pearson", "spearman", "kendall", "slope"), default="pearson")
    parser.add_argument("--slope-0", type=number, default=0.0, metavar="B")
    parser.add_argument("--intercept-0", type=number, default=0.0, metavar="B")
    parser.add_argument("--group", metavar="COL", help="r inside, and lines of, the groups of this column")
    parser.add_argument("--second-response", metavar="COL", help="a second line over the same x")
    parser.add_argument("--rows-are", choices=("cases", "settings"), help="with --second-response")
    held = "hold these columns too, and see what becomes of the slope"
    parser.add_argument("--with", dest="held", default="", metavar="COL,COL,…", help=held)
    parser.add_argument("--along", metavar="COL", help="of --with, a column along which the slope may differ")
    parser.add_argument("--choices", action="store_true", help="add every other way to make the analysis")
    compared = "--choices of this"
    parser.add_argument("--choices-of", choices=("slope", "coefficient"), metavar="WHAT", help=compared)
    parser.add_argument("--margin", type=positive, metavar="D", help="slopes within ± D count as equivalent")
    parser.add_argument("--order", metavar="COL", help="the order of the rows, for checks of neighbours")
    parser.add_argument("--weights", metavar="COL", help="weights of the rows, 0 or more")
    parser.add_argument("--weight-pattern", choices=PATTERNS, help="weights by a rule instead of a column")
    parser.add_argument("--new-weight", type=positive, metavar="W", help="the weight of a new case")
    parser.add_argument("--no-intercept", action="store_true", help="a line through the origin")
    parser.add_argument("--errors", choices=KINDS, default="classical", help="the errors in force")
    parser.add_argument("--cluster", metavar="COL", help="rows of one case, for --errors clustered")
    parser.add_argument("--error-ratio", type=positive, default=1.0, metavar="R", help="for the Deming line")
    parser.add_argument("--inverse-at", type=numbers, default=(), metavar="Y,Y,…", help="x for these y")
    by = "how the interval for one case is found: by the spread about the line, or the ranks of residuals"
    parser.add_argument("--width", choices=("spread", "ranks"), default="spread", help=by)
    held = "add how wide the interval for one case is by each way to find it, and how often each holds"
    parser.add_argument("--widths", action="store_true", help=held)
    smooth = "add a smooth beside the line, of local lines within H of x; without H one is looked for"
    parser.add_argument("--local", type=positive, nargs="?", const=0.0, metavar="H", help=smooth)
    parser.add_argument("--agreement", action="store_true", help="agreement of two columns in one unit")
    parser.add_argument("--resample", type=whole, default=0, metavar="N", help="bootstrap and permutation")
    parser.add_argument("--seed", type=seed, default=0, metavar="K")
    parser.add_argument("--rows", action="store_true", help="add the line row by row")
    add_engine(parser)
    parser.add_argument("--readings", action="store_true", help="add what every step says, claim by claim")
    parser.add_argument("--format", choices=("text", "json"), default="text")
    parser.set_defaults(run=analyse)


def analyse(options: argparse.Namespace) -> int:
    """Print the analysis; 0, or 2 with one line on standard error."""
    try:
        with np.errstate(all="ignore"):  # what leaves float64 is told as such where it is told
            text = _told(options)
    except UnreadableFile as found:
        raise BadCall(unreadable(found)) from None
    except Refusal as found:
        raise BadCall(refusal(found, options.x, options.y)) from None
    sys.stdout.write(text)
    return 0


def _told(options: argparse.Namespace) -> str:
    _fits(options.resample)
    findings = _findings(options)
    wanted = Wanted(
        at=findings.tether.forecast.at,
        inverse_at=options.inverse_at,
        mean_of=options.mean_of,
        rows=options.rows,
        agreement=options.agreement,
        resample=options.resample,
        seed=options.seed,
        readings=options.readings,
        choices=options.choices or options.choices_of is not None,
        widths=options.widths,
    )
    if options.format == "json":
        return json.dumps(record(findings, wanted), ensure_ascii=False, allow_nan=False, indent=1) + "\n"
    return text_account(findings, wanted)


def _findings(options: argparse.Namespace) -> Findings:
    """The results of all rows in memory, of a share of rows, or of sums over all rows."""
    if options.share:
        return findings_of(options, share_table(options))
    return (
        findings_of(options, read_table(options.file))
        if options.engine == "memory"
        else findings_by_engine(options, findings_of)
    )


def held_columns(table: Table, text: str, tied: tuple[str | None, str | None]) -> tuple[str, ...]:
    """The columns to hold; a name with a comma in it is taken whole where there is one."""
    names = [text] if table.named(text) else [one.strip() for one in text.split(",") if one.strip()]
    found = tuple(dict.fromkeys(column_named(table, name).id for name in names))
    if set(found) & set(tied):
        raise BadCall("--with takes further columns, beside x and y")
    return found


def findings_of(options: argparse.Namespace, table: Table) -> Findings:
    """The results of the tether that a call asks for."""
    _sound(options)
    table = dated(table, options)
    for name in filter(None, (options.x, options.y, options.second_response, options.weights)):
        table = table.with_column(numbers_of(table, name))
    ids = {
        key: column_named(table, name).id if name else None
        for key in ("x", "y", "group", "second_response", "order", "weights", "cluster")
        for name in [getattr(options, key)]
    }
    if ids["group"]:
        table = table.with_column(table.column(ids["group"]).of_kind("category", table.row_ids))
    tether = Tether(
        id="k1",
        table=table.id,
        x=ids["x"],
        y=ids["y"],
        tint=ids["group"],
        chosen=True,
        clock=clock_of(table.column(ids["x"] or ""), options),
        line=LineChoice(
            weights=ids["weights"],
            weight_pattern=options.weight_pattern,
            new_weight=options.new_weight,
            origin=options.no_intercept,
            errors=options.errors,
            order=ids["order"],
            cluster=ids["cluster"],
            error_ratio=options.error_ratio,
            slope_0=options.slope_0,
            intercept_0=options.intercept_0,
        ),
        held=_held_choice(table, options, (ids["x"], ids["y"])),
        otherwise=OtherwiseChoice(what=options.choices_of or "slope"),
        compare=CompareChoice(
            group=ids["group"],
            second=ids["second_response"],
            rows_are=options.rows_are,
            margin=options.margin,
        ),
        forecast=ForecastChoice(
            back=options.inverse_at,
            mean_of=options.mean_of,
            width=options.width,
            local=options.local is not None,
            bandwidth=options.local or None,
        ),
    )
    at = places(options.at, tether.clock, options.x)
    tether = msgspec.structs.replace(tether, forecast=msgspec.structs.replace(tether.forecast, at=at))
    rules = RuleChoices(
        alpha=options.alpha, level=options.level, alternative=options.alternative, decide=options.decide
    )
    if ids["second_response"] and not table.column(ids["second_response"]).numeric:
        raise NotNumbers(options.second_response)
    if ids["weights"] and not table.column(ids["weights"]).numeric:
        raise NotNumbers(options.weights)
    needed = tuple(filter(None, (ids["group"], ids["second_response"])))
    return Findings(Study(tables=(table,), tethers=(tether,), rules=rules), tether, needed=needed)


def _held_choice(
    table: Table, options: argparse.Namespace, tied: tuple[str | None, str | None]
) -> HeldChoice:
    """What is held, and along which of it the slope may differ."""
    columns = held_columns(table, options.held, tied)
    along = column_named(table, options.along).id if options.along else ""
    if along and along not in columns:
        raise BadCall(f"--along “{options.along}” has to be held too: name it in --with.")
    return HeldChoice(columns=columns, along=along)


def _sound(options: argparse.Namespace) -> None:
    """Refuse what does not go together."""
    compared = options.group or options.second_response
    weighted = options.weights or options.weight_pattern
    if options.weights and options.weight_pattern:
        raise BadCall("Choose --weights or --weight-pattern: the rows have one weight.")
    if options.new_weight is not None and not weighted:
        raise BadCall(
            "--new-weight goes with --weights or --weight-pattern: without them every row weighs 1."
        )
    if options.group and options.second_response:
        raise BadCall("Choose --group or --second-response: one comparison at a time.")
    if compared and (weighted or options.no_intercept):
        raise BadCall(
            "A comparison takes plain lines: leave out weights and --no-intercept, or what it compares."
        )
    if weighted and options.no_intercept:
        raise BadCall(
            "Choose weights or --no-intercept: a weighted line through the origin is not defined here."
        )
    if options.errors == "clustered" and not options.cluster:
        raise BadCall("--errors clustered needs --cluster COL: the column that says which rows are one case.")


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
    """The named column as numbers; one of words stays what it is, one with nothing in it is all missing."""
    column = column_named(table, name)
    if column.kind == "date":
        return column
    as_numbers = column.of_kind("number", table.row_ids)
    return as_numbers if np.isfinite(as_numbers.cells).any() or not as_numbers.strays else column


def _fits(draws: int) -> None:
    """Refuse more draws than the memory of a common machine holds."""
    if draws > MOST_DRAWS:
        raise BadCall(f"{draws} draws do not fit: up to {MOST_DRAWS} do.")
