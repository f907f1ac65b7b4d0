"""``bright-tether install-desktop``: entry, icon, file type and metadata into the user's folders."""

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

_PLACES = {
    "bright-tether.desktop": "applications",
    "bright-tether.svg": "icons/hicolor/scalable/apps",
    "bright-tether.xml": "mime/packages",
    "bright-tether.metainfo.xml": "metainfo",
}
_REFRESH = (("update-desktop-database", "applications"), ("update-mime-database", "mime"))


def add_install_desktop(commands: argparse._SubParsersAction[Any]) -> None:
    """Add the command."""
    parser = commands.add_parser(
        "install-desktop", help="tell the desktop of this program and of *.tether files"
    )
    parser.set_defaults(run=install_desktop)


def install_desktop(options: argparse.Namespace) -> int:
    """Put the four files in their places and have the desktop look again; says where they went."""
    home = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    program = Path(sys.executable).with_name("bright-tether")
    for name, place in _PLACES.items():
        text = files("bright_tether.freedesktop").joinpath(name).read_text(encoding="utf-8")
        if name.endswith(".desktop") and shutil.which("bright-tether") is None:
            text = text.replace("Exec=bright-tether", f'Exec="{program}"')
        folder = home / place
        folder.mkdir(parents=True, exist_ok=True)
        put_whole(folder / name, text.encode())
        sys.stdout.write(f"{folder / name}\n")
    for tool, place in _REFRESH:
        if shutil.which(tool):
            subprocess.run([tool, str(home / place)], check=False, capture_output=True)
    return 0
