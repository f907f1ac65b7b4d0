"""``bright-tether rehearse``: samples drawn again and again, with the numbers of the screen."""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any

from bright_tether.account.values import plain
from bright_tether.claims.rehearse_held import alone_beside_claim
from bright_tether.command.analyse import column_named, held_columns, numbers_of, read_table
from bright_tether.command.entries import BadCall, number, positive, seed, share, whole
from bright_tether.core.rehearse.draws import Draws
from bright_tether.core.rehearse.held import HeldDraws
from bright_tether.core.rehearse.kinds import JUDGED, MOST_DRAWS, MOST_PAIRS, STATISTICS
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.study.choices import ForecastChoice, HeldChoice, RehearseChoice
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.tables.table import Table
from bright_tether.words.causes import refusal, unreadable
from bright_tether.words.readings.held import not_held
from bright_tether.words.readings.rehearse import rehearse_reading


def add_rehearse(commands: argparse._SubParsersAction[Any]) -> None:
    """Add the command and its options; what is not stated of a truth is as fitted."""
    parser = commands.add_parser("rehearse", help="what would happen over and over")
    parser.add_argument("file", metavar="FILE", help="a table, or - for standard input")
    parser.add_argument("--x", required=True, metavar="COL")
    parser.add_argument("--y", required=True, metavar="COL")
    parser.add_argument(
        "--from", dest="source", choices=("line", "residuals", "rows", "truth"), default="line"
    )
    parser.add_argument("--count", choices=STATISTICS, default="slope", help="what is piled up")
    held = "hold these columns too: the slope with them, and alone"
    parser.add_argument("--with", dest="held", default="", metavar="COL,COL,…", help=held)
    parser.add_argument("--samples", type=whole, default=2000, metavar="N")
    parser.add_argument("--seed", type=seed, default=1, metavar="K")
    parser.add_argument("--judge", choices=JUDGED, default="classical", help="the errors of the intervals")
    parser.add_argument("--level", type=share, default=0.95, metavar="L")
    parser.add_argument("--at", type=number, metavar="X", help="for --count forecast")
    parser.add_argument("--true-intercept", type=number, metavar="B")
    parser.add_argument("--true-slope", type=number, metavar="B")
    parser.add_argument("--true-sd", type=positive, metavar="S")
    parser.add_argument("--pairs", type=whole, metavar="N")
    parser.add_argument("--shape", choices=("normal", "skewed", "heavy", "own"), default="normal")
    parser.add_argument("--pattern", choices=("even", "fanning"), default="even")
    parser.add_argument("--alike", type=number, default=0.0, metavar="R", help="of neighbours along x")
    parser.add_argument("--design", choices=("kept", "drawn", "even", "normal"), default="kept")
    parser.add_argument("--format", choices=("text", "json"), default="text")
    parser.set_defaults(run=rehearse)


def rehearse(options: argparse.Namespace) -> int:
    """Print what the samples gave; 0, or 2 with one line on standard error."""
    if not -1 < options.alike < 1:
        raise BadCall("--alike lies between −1 and 1.")
    if options.samples < 2 or (options.pairs is not None and options.pairs < 3):
        raise BadCall("It takes two samples or more, of three pairs or more.")
    if options.samples > MOST_DRAWS or (options.pairs or 0) > MOST_PAIRS:
        raise BadCall(f"So many do not fit: up to {MOST_DRAWS} samples of up to {MOST_PAIRS} pairs do.")
    beside_slope = options.count != "slope" or options.true_intercept is not None
    if options.held and (beside_slope or options.pairs is not None or options.design != "kept"):
        raise BadCall("--with rehearses the slope over the rows as they are: leave --count, --true-intercept, --pairs "
                      "and --design out.")  # fmt: skip
    try:
        findings = _findings(options)
        if findings.refusal is not None:
            raise findings.refusal
        if findings.plain.exact:
            raise BadCall("Every pair lies on the line: without scatter each sample would be the same.")
        drawn = _held_drawn(findings) if options.held else findings.samples.outcome
    except UnreadableFile as found:
        raise BadCall(unreadable(found)) from None
    except Refusal as found:
        raise BadCall(refusal(found, options.x, options.y)) from None
    if options.format == "json":
        figures = _figures(findings, drawn) | {"seed": options.seed, "redrawn": drawn.redrawn}
        sys.stdout.write(json.dumps(figures, ensure_ascii=False, allow_nan=False, indent=1) + "\n")
    else:
        reading = rehearse_reading(findings, "held" if options.held else "samples", drawn)
        lines = (reading.headline, *reading.sentences, *(f"Beware: {one}" for one in reading.beware))
        sys.stdout.write("\n".join(lines) + "\n")
    return 0


def _figures(findings: Findings, drawn: Draws | HeldDraws) -> dict[str, Any]:
    """Everything but the values of the samples."""
    one = findings.held_sampled(drawn) if isinstance(drawn, HeldDraws) else findings.sampled(drawn)
    figures = {key: value for key, value in plain(one).items() if key not in ("values", "low", "high")}
    if isinstance(drawn, HeldDraws):
        return figures | {"n": findings.longer.n, "alone": plain(alone_beside_claim(findings, drawn))}
    return figures | {"n": drawn.truth.n}


def _held_drawn(findings: Findings) -> HeldDraws:
    """Samples with the columns held. Raises BadCall where they cannot be."""
    try:
        exact = findings.longer.exact
    except Refusal as found:
        raise BadCall(not_held(findings, found)) from None
    drawn = None if exact else findings.held_samples.outcome
    if drawn is None:
        raise BadCall("With these columns held every pair lies on the line: each sample would be the same.")
    return drawn


def _findings(options: argparse.Namespace) -> Findings:
    table = read_table(options.file)
    for name in (options.x, options.y):
        table = table.with_column(numbers_of(table, name))
    chosen = RehearseChoice(
        source=options.source, draws=options.samples, seed=options.seed, statistic=options.count,
        judged=options.judge, intercept=options.true_intercept, slope=options.true_slope, sd=options.true_sd,
        n=options.pairs, shape=options.shape, pattern=options.pattern, alike=options.alike,
        design=options.design,
    )  # fmt: skip
    tether = Tether(
        id="k1", table=table.id, x=column_named(table, options.x).id, y=column_named(table, options.y).id,
        chosen=True, rehearse=chosen, held=HeldChoice(columns=_held(table, options)),
        forecast=ForecastChoice(at=() if options.at is None else (options.at,)),
    )  # fmt: skip
    study = Study(tables=(table,), tethers=(tether,), rules=RuleChoices(level=options.level))
    return Findings(study, tether)


def _held(table: Table, options: argparse.Namespace) -> tuple[str, ...]:
    if not options.held:
        return ()
    tied = column_named(table, options.x).id, column_named(table, options.y).id
    return held_columns(table, options.held, tied)
