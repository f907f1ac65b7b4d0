"""Where the program starts: a command, or the window."""

from __future__ import annotations

import sys


def main() -> int:
    """Carry out what the command line says."""
    from bright_tether.command.parser import run

    return run(sys.argv[1:], _open_window)


def _open_window(files: list[str]) -> int:
    from bright_tether.desktop.start import start

    return start(files)


if __name__ == "__main__":
    sys.exit(main())
