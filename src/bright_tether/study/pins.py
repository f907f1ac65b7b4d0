"""What is kept for the write-up: pins, live or frozen, and the pieces that they show."""

from __future__ import annotations

from typing import Any, Literal

import msgspec

PageStyle = Literal["plain", "compact"]
Part = Literal["reading", "figures", "table", "picture", "working", "lineup", "lines", "heading", "note"]


class Passage(msgspec.Struct, frozen=True, kw_only=True, tag="passage"):
    """Sentences under a headline, with what to beware of."""

    title: str
    sentences: tuple[str, ...] = ()
    beware: tuple[str, ...] = ()


class Figures(msgspec.Struct, frozen=True, kw_only=True, tag="figures"):
    """Figures: name, value, what stands beside."""

    title: str
    rows: tuple[tuple[str, str, str], ...]


class Grid(msgspec.Struct, frozen=True, kw_only=True, tag="table"):
    """A table as it is read. strong : the row in force, from 0; below 0 for none."""

    title: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    strong: int = -1


class Drawing(msgspec.Struct, frozen=True, kw_only=True, tag="picture"):
    """A picture as SVG, with its size in pixels and what it shows in words."""

    title: str
    words: str
    svg: str
    width: int
    height: int


class Steps(msgspec.Struct, frozen=True, kw_only=True, tag="working"):
    """A working: what, how, result."""

    title: str
    rows: tuple[tuple[str, str, str], ...]


Block = Passage | Figures | Grid | Drawing | Steps


class KeptNumbers(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """The numbers of a frozen text in full. block, row, column : where it stands; names : of each, as it has them."""

    block: int
    row: int
    column: int
    numbers: tuple[float, ...]
    names: tuple[str, ...] = ()


class KeptClaim(msgspec.Struct, frozen=True, kw_only=True):
    """What a frozen sentence claims. at : which sentence of its block, the headline being 0."""

    block: int
    at: int
    kind: str
    facts: dict[str, Any]


class Frozen(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What a pin showed when it was frozen, and when that was (ISO date and minute).

    numbers, claims : of its blocks, for whoever takes the account as data; none in studies of earlier versions.
    """

    when: str
    blocks: tuple[Block, ...]
    numbers: tuple[KeptNumbers, ...] = ()
    claims: tuple[KeptClaim, ...] = ()


class Pin(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """One piece of the write-up.

    tether : whose, None for a heading or a note. view : of the step, where it has several.
    text : the heading or note itself; below any other pin, what the analyst adds to it. columns : of a table of
    lines, one a tether, or one a group of the tether it is of.
    """

    id: str
    part: Part
    tether: str | None = None
    step: str = ""
    view: str = ""
    text: str = ""
    columns: tuple[str, ...] = ()
    frozen: Frozen | None = None
