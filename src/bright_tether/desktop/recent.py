"""Studies opened or saved lately."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

import msgspec

from bright_tether.study.journal import state_folder
from bright_tether.tables.writing import path_text, put_whole, text_path

_MOST = 8


def recent_studies() -> list[Path]:
    """Studies opened or saved lately that are still there, newest first."""
    try:
        names = msgspec.json.decode((state_folder() / "recent.json").read_bytes(), type=list[str])
        return [path for path in map(text_path, names) if path.exists()]
    except (OSError, ValueError, msgspec.MsgspecError):
        return []


def remember_recent(path: Path) -> None:
    """Put a study at the head of the recent ones; a state folder that cannot be used changes nothing."""
    names = [path_text(path)]
    names += [one for one in map(path_text, recent_studies()) if one not in names]
    with suppress(OSError):
        state_folder().mkdir(parents=True, exist_ok=True)
        put_whole(state_folder() / "recent.json", msgspec.json.encode(names[:_MOST]))
