"""What a typed or read cell means."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from random import Random
from typing import TypeVar

import msgspec

from bright_tether.tables.writing import printable

Cell = float | str | None
T = TypeVar("T")

_NUMBER = re.compile(r"[+\-−]?(\d+([.,]\d*)?|[.,]\d+)([eE][+\-−]?\d+)?%?")
#: What people write where a number is missing.
MISSING_WORDS = frozenset({"", "na", "n/a", "nan", "null", "none", ".", "-", "–", "—", "?", "missing"})
#: From so many different words on, so many drawn by chance tell at once that they are no numbers, or no dates.
_VERY_MANY, _DRAWN = 20_000, 1000
_LONGEST_MISSING = max(map(len, MISSING_WORDS))


class NumberStyle(msgspec.Struct, frozen=True):
    """How numbers are written: the decimal mark, and the mark between thousands ("" for none).

    With no decimal mark stated, point and comma are both understood.
    """

    decimal: str = ""
    thousands: str = ""


EITHER = NumberStyle()
_SPACES = "\u00a0\u202f\u2009 "


def as_number(text: str, style: NumberStyle = EITHER) -> float | None:
    """The number a text stands for, or None."""
    text = text.strip()
    if style.thousands and (whole := re.match(r"[+\-−]?\d{1,3}(?:\D\d{3})+(?!\d)", text)):
        marks = _SPACES if style.thousands == " " else style.thousands
        if all(mark in marks for mark in re.findall(r"\D", whole.group().lstrip("+-−"))):
            text = re.sub(f"[{re.escape(marks)}]", "", whole.group()) + text[whole.end() :]
    if style.decimal and ((style.decimal == "." and "," in text) or (style.decimal == "," and "." in text)):
        return None
    if not _NUMBER.fullmatch(text) or text.endswith("%"):
        return None
    value = float(text.replace("−", "-").replace(",", "."))
    return value if math.isfinite(value) else None


def as_numbers(text: str, style: NumberStyle = EITHER) -> tuple[float, ...] | None:
    """The numbers of a list, or None. They stand apart by blanks, semicolons, and commas that are no decimal mark."""
    apart = r"[;\s]+" if style.decimal == "," else r"[;,\s]+"
    found = [as_number(part, style) for part in re.split(apart, text.strip()) if part]
    return None if any(one is None for one in found) else tuple(one for one in found if one is not None)


def is_missing(text: str) -> bool:
    """Whether a text says that there is no value."""
    text = text.strip()
    return len(text) <= _LONGEST_MISSING and text.lower() in MISSING_WORDS


def guess_number_style(texts: list[str], separator: str = "") -> NumberStyle:
    """How the numbers among these cells are written.

    A comma before exactly three digits everywhere, and nowhere else, parts thousands.
    """
    numbers = [
        t
        for text in texts
        if (t := text.strip()) and re.fullmatch(r"[+\-−]?\d[\d.,'\s]*([eE][+\-−]?\d+)?", t)
    ]
    both = [t for t in numbers if "," in t and "." in t]
    if both:
        decimal = "," if sum(t.rfind(",") > t.rfind(".") for t in both) * 2 > len(both) else "."
        return NumberStyle(decimal, "." if decimal == "," else ",")
    commas = [t for t in numbers if "," in t]
    parted = re.compile(r"[+\-−]?[1-9]\d{0,2}(,\d{3})+")
    if commas and not any("." in t for t in numbers):
        if separator != ";" and len(commas) > 1 and all(map(parted.fullmatch, commas)):
            return NumberStyle(".", ",")
        return NumberStyle(",", " " if any(re.search(r"\d\s\d{3}", t) for t in numbers) else "")
    for mark, pattern in ((" ", r"\s"), ("'", "'")):
        parted = re.compile(r"[+\-−]?\d{1,3}(" + pattern + r"\d{3})+([.]\d+)?")
        if any(map(parted.fullmatch, numbers)):
            return NumberStyle(".", mark)
    return NumberStyle("," if commas and not any("." in t for t in numbers) else ".", "")


def kept_text(text: str) -> str:
    """A typed text as it is kept: without the blanks around it, and without halves of characters."""
    return printable(text.strip())


def number_cell(text: str, style: NumberStyle = EITHER) -> Cell:
    """A cell of a number column: a number, None where missing, else the text itself."""
    number = as_number(text, style)
    if number is not None:
        return number
    return None if is_missing(text) else kept_text(text)


def hardly_any(words: Sequence[T], are: Callable[[T], bool]) -> bool:
    """Whether of very many words fewer than half of a thousand drawn by chance are such: four in five are not, then."""
    if len(words) < _VERY_MANY:
        return False
    drawn = Random(_DRAWN).sample(range(len(words)), _DRAWN)
    return 2 * sum(are(words[at]) for at in drawn) < _DRAWN
