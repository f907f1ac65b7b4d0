"""``bright-tether differences``: what differs between two studies, without a window."""

from __future__ import annotations

import argparse
import sys
from typing import Any

from bright_tether.command.studies import study_named


def add_differences(commands: argparse._SubParsersAction[Any]) -> None:
    """Add the command."""
    parser = commands.add_parser("differences", help="what differs between two studies, or two states of one")
    parser.add_argument("before", metavar="STUDY", help="the earlier one, a file or demo")
    parser.add_argument("after", metavar="STUDY", help="the later one, a file or demo")
    parser.set_defaults(run=differences)


def differences(options: argparse.Namespace) -> int:
    """Print them, each table with tabs between its cells; 0, or 2 with one line on standard error."""
    from bright_tether.study.two_states import two_states
    from bright_tether.words.grids.two_states import difference_grids, difference_sentence

    states = two_states(study_named(options.before), study_named(options.after))
    parts = [difference_sentence(states)]
    for grid in difference_grids(states):
        if grid.rows:
            parts += ["", f"{grid.title}", *("\t".join(row) for row in (grid.heads, *grid.rows))]
    sys.stdout.write("\n".join(parts) + "\n")
    return 0
