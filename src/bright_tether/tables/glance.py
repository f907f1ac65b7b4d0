"""A first look at a file, before anything of it is taken in."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

import msgspec

from bright_tether.tables.delimited import Trouble, UnreadableFile, file_bytes
from bright_tether.tables.packed import unpacked
from bright_tether.tables.read_plan import WITH_SHEETS, ReadPlan, guess_plan, sheet_names

#: What text that is no UTF-8 is first taken for, to be looked at and corrected.
_USUAL = "cp1252"


class Glance(NamedTuple):
    """What a file holds, unpacked, how it is to be read as far as can be guessed, its sheets or tables, its name."""

    content: bytes
    plan: ReadPlan
    sheets: list[str]
    name: str


def glance(path: Path) -> Glance:
    """Look at a file. Raises UnreadableFile where it cannot be read at all."""
    content, name = unpacked(file_bytes(path), path.name)
    try:
        plan = guess_plan(content, name)
        return Glance(content, plan, sheet_names(content, name) if plan.kind in WITH_SHEETS else [], name)
    except UnreadableFile as found:
        if found.trouble != Trouble.NOT_TEXT or not content:
            raise
        try:
            plan = guess_plan(content.decode(_USUAL).encode(), name)
        except (UnicodeDecodeError, UnreadableFile):
            raise found from None
        return Glance(content, msgspec.structs.replace(plan, encoding=_USUAL), [], name)
