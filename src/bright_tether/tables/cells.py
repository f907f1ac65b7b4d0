"""What a typed or read cell means."""

from __future__ import annotations

import math
import re

Cell = float | str | None

_NUMBER = re.compile(r"[+\-−]?(\d+([.,]\d*)?|[.,]\d+)([eE][+\-−]?\d+)?%?")
#: What people write where a number is missing.
MISSING_WORDS = frozenset({"", "na", "n/a", "nan", "null", "none", ".", "-", "–", "—", "?", "missing"})
_DATE = re.compile(r"\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2})?)?")


def as_number(text: str) -> float | None:
    """The number a text stands for, with point or comma as decimal mark, or None."""
    text = text.strip()
    if not _NUMBER.fullmatch(text) or text.endswith("%"):
        return None
    value = float(text.replace("−", "-").replace(",", "."))
    return value if math.isfinite(value) else None


def is_missing(text: str) -> bool:
    """Whether a text says that there is no value."""
    return text.strip().lower() in MISSING_WORDS


def is_date(text: str) -> bool:
    """Whether a text is a calendar date, written year-month-day, with or without a time."""
    return _DATE.fullmatch(text.strip()) is not None


def number_cell(text: str) -> Cell:
    """A cell of a number column: a number, None where missing, else the text itself."""
    number = as_number(text)
    if number is not None:
        return number
    return None if is_missing(text) else text.strip()
