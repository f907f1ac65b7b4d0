"""The studies that a call names."""

from __future__ import annotations

from pathlib import Path

from bright_tether.command.entries import BadCall
from bright_tether.study.package import open_study
from bright_tether.study.study import Study
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.words.causes import unreadable


def study_named(name: str) -> Study:
    """The study of a file, or the one that ships along for ``demo``. Raises BadCall."""
    if name == "demo":
        from bright_tether.demo.study import demo_study

        return demo_study()
    try:
        return open_study(Path(name))
    except UnreadableFile as found:
        raise BadCall(unreadable(found)) from None
