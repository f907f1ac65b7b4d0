"""Where the program starts: a command, or the window."""

from __future__ import annotations

import os
import sys
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from bright_tether.account.press import Press


def main() -> int:
    """Carry out what the command line says."""
    leave_other_cores_alone()
    from bright_tether.command.parser import run

    return run(sys.argv[1:], open_window, _make_press)


def leave_other_cores_alone() -> None:
    """Before NumPy is loaded: its products keep to the core of the thread that asks for them.

    Sums over blocks in the cache are over before another core has woken, which then spins for the next; that core has
    the window to serve, or the engine that scans ahead.
    """
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")


def open_window(files: list[str]) -> int:
    """Open the window on these files, and stay until it is closed."""
    import gc

    # Nothing of a program that is being loaded is garbage, and what is loaded stays: the window looks for garbage later
    # (desktop.collecting), and not among these.
    gc.disable()
    from bright_tether.desktop.start import start

    gc.freeze()
    return start(files)


def _make_press() -> Press:
    """What draws, with no window and where there is no display."""
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from bright_tether.pictures.press import press_alone

    return press_alone()


if __name__ == "__main__":
    sys.exit(main())
