"""``bright-tether differences``: what differs between two studies, without a window."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import Any

from bright_tether.command.entries import BadCall
from bright_tether.study.package import open_study
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.words.causes import unreadable


def add_differences(commands: argparse._SubParsersAction[Any]) -> None:
    """Add the command."""
    parser = commands.add_parser("differences", help="what differs between two studies, or two states of one")
    parser.add_argument("before", metavar="STUDY", help="the earlier one")
    parser.add_argument("after", metavar="STUDY", help="the later one")
    parser.set_defaults(run=differences)


def differences(options: argparse.Namespace) -> int:
    """Print them, each table with tabs between its cells; 0, or 2 with one line on standard error."""
    from bright_tether.study.two_states import two_states
    from bright_tether.words.grids.two_states import difference_grids, difference_sentence

    try:
        before, after = (open_study(Path(one)) for one in (options.before, options.after))
    except UnreadableFile as found:
        raise BadCall(unreadable(found)) from None
    states = two_states(before, after)
    parts = [difference_sentence(states)]
    for grid in difference_grids(states):
        if grid.rows:
            parts += ["", f"{grid.title}", *("\t".join(row) for row in (grid.heads, *grid.rows))]
    sys.stdout.write("\n".join(parts) + "\n")
    return 0
