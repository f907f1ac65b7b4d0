"""Tables on their way out: as they read, or as numbers that another program can work with."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal

import msgspec

from bright_tether.study.pins import Figures, Grid
from bright_tether.words.digits import NONE
from bright_tether.words.shown import Shown

#: As words; as numbers with the digits shown; as numbers with every digit.
Content = Literal["words", "shown", "all"]
_NUMBER = re.compile(r"([−+-]?)(\d[\d\u202f]*(?:\.\d+)?)(?:·10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+))?")
_RAISED = str.maketrans("⁻⁰¹²³⁴⁵⁶⁷⁸⁹", "-0123456789")
#: What stands where there is no number.
_NOTHING = (NONE, f"p {NONE}")


class Number(msgspec.Struct, frozen=True):
    """A number in a cell. text : as it is written, with a plain minus and a point."""

    value: float
    text: str


Cell = str | Number


class Outward(msgspec.Struct, frozen=True):
    """A table of cells; strong : the row in force, below 0 for none."""

    title: str
    heads: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    strong: int = -1


def outward(grid: Grid | Figures, content: Content) -> Outward:
    """A table as it leaves. In numbers the two ends of an interval stand in columns of their own."""
    heads, strong = (
        (grid.heads, grid.strong) if isinstance(grid, Grid) else (("figure", "value", "beside"), -1)
    )
    if content == "words":
        return Outward(grid.title, heads, grid.rows, strong)
    if isinstance(grid, Figures):
        rows = tuple((name, *_figure(value, beside, content)) for name, value, beside in grid.rows)
        return Outward(grid.title, ("figure", "value", "low", "high", "beside"), rows)
    columns = [_column(head, [row[at] for row in grid.rows], content) for at, head in enumerate(heads)]
    new_heads = tuple(head for many, _ in columns for head in many)
    cells = tuple(tuple(cell for _, told in columns for cell in told[at]) for at in range(len(grid.rows)))
    return Outward(grid.title, new_heads, cells, strong)


def _column(
    head: str, texts: Sequence[str], content: Content
) -> tuple[tuple[str, ...], list[tuple[Cell, ...]]]:
    """The heads and cells that a column becomes: two where it holds intervals."""
    head = " ".join(head.split())
    wide = max((len(one.numbers) for one in texts if isinstance(one, Shown)), default=0)
    if not wide:
        return (head,), [("" if text in _NOTHING else text,) for text in texts]
    per_cent = all(text.endswith("%") for text in texts if isinstance(text, Shown))
    head = f"{head} (%)" if per_cent else head
    names = next(one.names for one in texts if isinstance(one, Shown) and len(one.numbers) == wide)
    heads = (head,) if wide == 1 else tuple(named(head, one) for one in names or (", low", ", high"))
    return heads, [_cells(text, wide, content) for text in texts]


def _beside(text: str, content: Content) -> tuple[Cell, ...]:
    """What stands beside a figure: the ends of its interval, or words."""
    if isinstance(text, Shown) and len(text.numbers) == 2 and not text.names:
        return (*_cells(text, 2, content), "")
    return ("", "", "" if text in _NOTHING else str(text))


def _figure(value: str, beside: str, content: Content) -> tuple[Cell, ...]:
    """Value, both ends and what stands beside; a figure that is an interval itself has its ends alone."""
    if not isinstance(value, Shown) or len(value.numbers) == 1:
        return (*_cells(value, 1, content), *_beside(beside, content))
    if len(value.numbers) == 2 and not value.names:
        return ("", *_cells(value, 2, content), "" if beside in _NOTHING else str(beside))
    return (str(value), *_beside(beside, content))


def named(head: str, name: str) -> str:
    return head + name if not name or name[0] in ", " else name


def _cells(text: str, wide: int, content: Content) -> tuple[Cell, ...]:
    if not isinstance(text, Shown):
        return ("" if text in _NOTHING else text, *[""] * (wide - 1))
    numbers = [repr(float(one)) for one in text.numbers] if content == "all" else digits_of(text)
    cells = tuple(Number(float(one), plain) for one, plain in zip(text.numbers, numbers, strict=True))
    return (*cells, *[""] * (wide - len(cells)))


def digits_of(text: Shown) -> list[str]:
    """Its numbers with the digits that are shown, as any program reads them."""
    found = _NUMBER.findall(text)
    if (
        len(found) != len(text.numbers)
        or text.lstrip("p ")[:1] in ("<", ">")
        or text.startswith(("less", "more"))
    ):
        return [
            f"{one:.3g}" if abs(one) < 0.5 else f"{one:.6g}" for one in text.numbers
        ]  # a bound: p < 0.001
    return [
        ("-" if sign in "−-" and sign else "") + digits.replace("\u202f", "")
        + (f"e{power.translate(_RAISED)}" if power else "")
        for sign, digits, power in found
    ]  # fmt: skip
