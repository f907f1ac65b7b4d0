"""Writes the completion of the command anew: python packaging/completion.py."""

import argparse
from pathlib import Path

import shtab

from bright_tether.command.parser import command_parser

PLACE = Path(__file__).parents[1] / "src/bright_tether/freedesktop/bright-tether.bash"


def completion() -> str:
    """What bash needs to complete the command."""
    parser = command_parser()
    parser.add_argument("--demo", action="store_true")
    for one in all_parsers(parser):
        for action in one._actions:
            if action.metavar in ("FILE", "STUDY"):
                action.complete = shtab.FILE
    lines = shtab.complete(parser, "bash").splitlines()
    script = "\n".join(line for line in lines if not line.startswith("#"))
    # what no command completes is a file to open
    return script.replace("complete -o bashdefault", "complete -o bashdefault -o default").strip() + "\n"


def all_parsers(parser):
    yield parser
    for action in parser._actions:
        if isinstance(action, argparse._SubParsersAction):
            for one in action.choices.values():
                yield from all_parsers(one)


if __name__ == "__main__":
    PLACE.write_text(completion(), encoding="utf-8")
