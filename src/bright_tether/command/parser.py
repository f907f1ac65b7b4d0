"""The command line as a whole."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable, Sequence
from typing import NoReturn

from bright_tether.account.pieces import NO_PRESS, Press
from bright_tether.command.analyse import BadCall, add_analyse
from bright_tether.command.desktop import add_install_desktop
from bright_tether.command.rehearse import add_rehearse
from bright_tether.command.report import add_report


class _OneLineParser(argparse.ArgumentParser):
    """Says what is wrong with a call in one line."""

    def error(self, message: str) -> NoReturn:
        raise BadCall(f"{message}; `{self.prog} --help` lists what can be said")


def run(
    arguments: Sequence[str],
    open_window: Callable[[list[str]], int],
    press: Callable[[], Press] = lambda: NO_PRESS,
) -> int:
    """Carry out one call: a command, or the window with files to open. press : makes what draws."""
    commands = ("analyse", "rehearse", "report", "install-desktop")
    if (
        not arguments
        or (arguments[0] not in commands and not arguments[0].startswith("-"))
        or arguments[0] == "--demo"
    ):
        return open_window(list(arguments))
    parser = _OneLineParser(prog="bright-tether", description="Tie one measurement to another.")
    named = parser.add_subparsers(required=True, metavar="COMMAND", parser_class=_OneLineParser)
    add_analyse(named)
    add_rehearse(named)
    add_report(named, press)
    add_install_desktop(named)
    try:
        options = parser.parse_args(arguments)
        return options.run(options)
    except BadCall as bad:
        sys.stderr.write(f"bright-tether: {' '.join(str(bad).split())}\n")
        return 2
