"""``bright-tether install-desktop`` and ``remove-desktop``: what the desktop and the shell know of the program."""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
from importlib.resources import files
from pathlib import Path
from typing import Any

from bright_tether.tables.writing import put_whole

#: What ships along, and where it goes under which name.
_PLACES = {
    "bright-tether.desktop": ("applications", "bright-tether.desktop"),
    "bright-tether.svg": ("icons/hicolor/scalable/apps", "bright-tether.svg"),
    "bright-tether.xml": ("mime/packages", "bright-tether.xml"),
    "bright-tether.metainfo.xml": ("metainfo", "bright-tether.metainfo.xml"),
    "bright-tether.1": ("man/man1", "bright-tether.1"),
    "bright-tether.bash": ("bash-completion/completions", "bright-tether"),
}
_REFRESH = (("update-desktop-database", "applications"), ("update-mime-database", "mime"))


def add_desktop(commands: argparse._SubParsersAction[Any]) -> None:
    """Add both commands."""
    parser = commands.add_parser(
        "install-desktop", help="tell the desktop of this program and of *.tether files"
    )
    parser.set_defaults(run=install_desktop)
    parser = commands.add_parser("remove-desktop", help="take away what install-desktop put there")
    parser.set_defaults(run=remove_desktop)


def install_desktop(options: argparse.Namespace) -> int:
    """Put the files in their places and have the desktop look again; says where they went."""
    program = Path(sys.executable).with_name("bright-tether")
    for name, (place, wanted) in _PLACES.items():
        text = files("bright_tether.freedesktop").joinpath(name).read_text(encoding="utf-8")
        if name.endswith(".desktop") and shutil.which("bright-tether") is None:
            text = text.replace("Exec=bright-tether", f'Exec="{program}"')
        folder = _home() / place
        folder.mkdir(parents=True, exist_ok=True)
        put_whole(folder / wanted, text.encode())
        sys.stdout.write(f"{folder / wanted}\n")
    _refresh()
    return 0


def remove_desktop(options: argparse.Namespace) -> int:
    """Take those files away, and have the desktop look again; says which went."""
    for place, name in _PLACES.values():
        path = _home() / place / name
        if path.exists():
            path.unlink()
            sys.stdout.write(f"{path}\n")
    _refresh()
    return 0


def _home() -> Path:
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def _refresh() -> None:
    for tool, place in _REFRESH:
        if shutil.which(tool) and (_home() / place).is_dir():
            subprocess.run([tool, str(_home() / place)], check=False, capture_output=True)
