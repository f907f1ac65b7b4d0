"""The invented survey's files as tables."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

import msgspec

from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.tables.table import Table


@cache
def demo_table(file: str, table_id: str, name: str) -> Table:
    """One file, read once: a table is never changed in place. file : its name among the survey's, with its ending."""
    content = files("bright_tether.demo").joinpath(file).read_bytes()
    return msgspec.structs.replace(
        read_content(content, file, table_id, guess_plan(content, file)), name=name
    )
