"""The command line as a whole."""

from __future__ import annotations

import argparse
import os
import re
import sys
from collections.abc import Callable, Sequence
from contextlib import suppress
from io import TextIOWrapper
from typing import NoReturn

from bright_tether.account.press import NO_PRESS, Press
from bright_tether.command.analyse import add_analyse
from bright_tether.command.desktop import add_desktop
from bright_tether.command.differences import add_differences
from bright_tether.command.entries import BadCall
from bright_tether.command.rehearse import add_rehearse
from bright_tether.command.report import add_hand_over, add_report

COMMANDS = ("analyse", "rehearse", "report", "hand-over", "differences", "install-desktop", "remove-desktop")
_NEGATIVE = re.compile(r"-(\d|\.\d)[\d.eE+,\s-]*")


class _OneLineParser(argparse.ArgumentParser):
    """Says what is wrong with a call in one line."""

    def error(self, message: str) -> NoReturn:
        raise BadCall(f"{message}; `{self.prog} --help` lists what can be said")


class _SayVersion(argparse.Action):
    """Says the version once it is asked for, and not before: looking it up takes a while."""

    def __call__(self, parser: argparse.ArgumentParser, *_: object) -> NoReturn:
        from bright_tether.words.about import version_line

        sys.stdout.write(f"{version_line()}\n")
        parser.exit()


def run(
    arguments: Sequence[str],
    open_window: Callable[[list[str]], int],
    press: Callable[[], Press] = lambda: NO_PRESS,
) -> int:
    """Carry out one call: a command, or the window with files to open. press : makes what draws."""
    if (
        not arguments
        or (arguments[0] not in COMMANDS and not arguments[0].startswith("-"))
        or arguments[0] == "--demo"
    ):
        return open_window(list(arguments))
    _speak_any_letters()
    parser = command_parser(press)
    try:
        options = parser.parse_args(with_negatives(arguments))
        code: int = options.run(options)
        sys.stdout.flush()
        return code
    except BadCall as bad:
        return _one_line(str(bad))
    except BrokenPipeError:
        _drop_output()
        return _one_line("what reads the output went away before all of it was written")
    except OSError as error:
        _drop_output()
        return _one_line(f"the output could not be written: {error.strerror or error}")
    except MemoryError:
        return _one_line("that takes more memory than there is: ask for fewer draws, or use a smaller file")
    except KeyboardInterrupt:
        _drop_output()
        return _one_line("stopped", 130)


def command_parser(press: Callable[[], Press] = lambda: NO_PRESS) -> argparse.ArgumentParser:
    """What the command line understands, but for files to open."""
    parser = _OneLineParser(prog="bright-tether", description="Tie one measurement to another.")
    parser.add_argument("--version", action=_SayVersion, nargs=0, help="version and licence")
    named = parser.add_subparsers(required=True, metavar="COMMAND", parser_class=_OneLineParser)
    add_analyse(named)
    add_rehearse(named)
    add_report(named, press)
    add_hand_over(named, press)
    add_differences(named)
    add_desktop(named)
    return parser


def with_negatives(arguments: Sequence[str]) -> list[str]:
    """The arguments, each value that starts with a minus tied to its option, so that it is none itself."""
    taken: list[str] = []
    for one in arguments:
        before = taken[-1] if taken else ""
        if before.startswith("--") and "=" not in before and _NEGATIVE.fullmatch(one):
            taken[-1] = f"{before}={one}"
        else:
            taken.append(one)
    return taken


def _speak_any_letters() -> None:
    """Put a question mark where the output knows no such letter, rather than end there."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):
            stream.reconfigure(errors="replace")


def _one_line(words: str, code: int = 2) -> int:
    with suppress(OSError, ValueError):
        line = f"bright-tether: {' '.join(words.split())}\n"
        encoding = getattr(sys.stderr, "encoding", None) or "utf-8"
        sys.stderr.write(line.encode(encoding, "replace").decode(encoding))
        sys.stderr.flush()
    return code


def _drop_output() -> None:
    """Let nothing more be written at the end of the program, which would say so a second time."""
    with suppress(OSError, ValueError, AttributeError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
