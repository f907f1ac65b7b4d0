"""``bright-tether report``: the write-up of a study, without a window."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

from bright_tether.account.composing import page_of
from bright_tether.account.export import UnknownKind, export
from bright_tether.account.page import Page
from bright_tether.account.pieces import AllFindings
from bright_tether.account.press import Press
from bright_tether.command.engines import add_through, through
from bright_tether.command.entries import BadCall
from bright_tether.command.studies import study_named
from bright_tether.study.study import Study
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.words.causes import unreadable


def add_report(commands: argparse._SubParsersAction[Any], press: Callable[[], Press]) -> None:
    """Add the command. press : makes what draws, when it is needed."""
    parser = commands.add_parser("report", help="write the account of a study")
    parser.add_argument("study", metavar="STUDY", help="a study file, or demo for the study that ships along")
    parser.add_argument(
        "-o", "--output", required=True, metavar="FILE", help="ends in .html, .pdf, .docx, .odt or .md"
    )
    parser.add_argument("--style", choices=("plain", "compact"), help="in place of the study's own")
    beside = "also write pairs, tables, results, pictures and a script that checks them"
    parser.add_argument("--evidence", action="store_true", help=beside)
    add_through(parser, "duckdb")
    parser.set_defaults(run=lambda options: report(options, press()))


def report(options: argparse.Namespace, press: Press) -> int:
    """Write the account and say what was written; 0, or 2 with one line on standard error."""

    def write(study: Study, page: Page, everything: AllFindings) -> None:
        place, evidence = Path(options.output), options.evidence
        for path in export(page, study, place, press, evidence=evidence, everything=everything):
            sys.stdout.write(f"{path}\n")

    return _made(options, press, write)


def add_hand_over(commands: argparse._SubParsersAction[Any], press: Callable[[], Press]) -> None:
    """Add the command. press : makes what draws, when it is needed."""
    words = "put study, data, account, tables, pictures and script in one place"
    parser = commands.add_parser("hand-over", help=words)
    parser.add_argument("study", metavar="STUDY", help="a study file, or demo for the study that ships along")
    where = "a new folder, or a file that ends in .zip"
    parser.add_argument("-o", "--output", required=True, metavar="PLACE", help=where)
    add_through(parser, "duckdb")
    parser.set_defaults(run=lambda options: handed_over(options, press()), style=None)


def handed_over(options: argparse.Namespace, press: Press) -> int:
    """Put everything in one place and say what did not go along; 0, or 2 with one line on standard error."""

    def write(study: Study, page: Page, everything: AllFindings) -> None:
        from bright_tether.account.handing_over import hand_over
        from bright_tether.words.handing_over import left_behind

        missing = hand_over(page, study, Path(options.output), press, everything=everything)
        sys.stdout.write(f"{options.output}\n")
        if missing:
            sys.stderr.write(f"bright-tether:{left_behind(missing)}\n")

    return _made(options, press, write)


def _made(
    options: argparse.Namespace, press: Press, write: Callable[[Study, Page, AllFindings], None]
) -> int:
    import msgspec

    try:
        study = study_named(options.study)
        if options.style:
            study = msgspec.structs.replace(study, style=options.style)
        everything = AllFindings(study, through(options))
        write(study, page_of(study, press, today=date.today(), everything=everything), everything)
    except UnreadableFile as found:
        raise BadCall(unreadable(found)) from None
    except UnknownKind as found:
        raise BadCall(str(found)) from None
    except OSError as error:
        raise BadCall(f"“{options.output}” could not be written: {error.strerror or error}") from None
    return 0
