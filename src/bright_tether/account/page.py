"""The write-up as plain data: pins in order, with what writes itself around them."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping

import msgspec
from msgspec import field
from msgspec.structs import replace

from bright_tether.study.pins import Block, Drawing, Figures, Grid, PageStyle, Pin, Steps
from bright_tether.words.references import Reference

#: From how many tethers on a page begins with what it contains.
_CONTAINED = 3
#: How the analyst's words ask for what the first figure or table of a pin is called.
REFERRED = "[[{}]]"
#: A place in the analyst's words where the number of a pin's figure or table is to stand.
_REFERRED = re.compile(r"\[\[(p\d+)\]\]")
#: What pieces with a caption are counted as.
_COUNTED: dict[type, str] = {Drawing: "Figure", Grid: "Table", Figures: "Table", Steps: "Table"}


class Entry(msgspec.Struct, frozen=True, kw_only=True):
    """One pin as it stands on the page. frozen : when it was, "" for a live one; since : what changed."""

    pin: Pin
    blocks: tuple[Block, ...]
    frozen: str = ""
    since: tuple[str, ...] = ()


class Chapter(msgspec.Struct, frozen=True, kw_only=True):
    """Pins of one tether in a row, under its name, its method and its rows. name : "" without a tether."""

    name: str
    method: tuple[str, ...]
    entries: tuple[Entry, ...]


class Rows(msgspec.Struct, frozen=True, kw_only=True):
    """The rows of one tether: every one counted, every exclusion with its reason, the trail."""

    name: str
    sentences: tuple[str, ...]
    grids: tuple[Grid, ...]
    trail: tuple[str, ...]


class Page(msgspec.Struct, frozen=True, kw_only=True):
    """A whole write-up. proposed : whether its pins were not chosen but proposed.

    called : what the first figure or table of a pin is called, by the id of the pin.
    """

    title: str
    written: str
    version: str
    style: PageStyle
    proposed: bool
    chapters: tuple[Chapter, ...]
    rows: tuple[Rows, ...]
    references: tuple[Reference, ...] = ()
    called: Mapping[str, str] = field(default_factory=dict)

    @property
    def contents(self) -> tuple[str, ...]:
        """The headings of a page that is long enough for a list of them, in order; their ids are s0, s1, …"""
        if len(self.rows) < _CONTAINED:
            return ()
        heads: list[str] = []
        for chapter in self.chapters:
            heads += [chapter.name] if chapter.name else []
            heads += [entry.pin.text for entry in chapter.entries if entry.pin.part == "heading"]
        return (*heads, "Rows and exclusions", *(["References"] if self.references else []))

    @property
    def drawings(self) -> tuple[Drawing, ...]:
        """Every picture, in the order of the page."""
        return tuple(one for one in self.blocks if isinstance(one, Drawing))

    @property
    def blocks(self) -> tuple[Block, ...]:
        """Every block, in the order of the page."""
        entries = [entry for chapter in self.chapters for entry in chapter.entries]
        return tuple(block for entry in entries for block in entry.blocks)


def numbered(page: Page) -> Page:
    """The same page with figures and tables counted in their captions, and so called by words that refer to them."""
    counts: Counter[str] = Counter()
    called: dict[str, str] = {}

    def captioned(block: Block, pin: str = "") -> Block:
        kind = _COUNTED.get(type(block))
        if kind is None:
            return block
        counts[kind] += 1
        name = f"{kind} {counts[kind]}"
        if pin:
            called.setdefault(pin, name)
        return msgspec.structs.replace(block, title=f"{name}. {block.title}")

    def referring(entry: Entry) -> Entry:
        text = _REFERRED.sub(lambda found: called.get(found[1], found[0]), entry.pin.text)
        return replace(entry, pin=msgspec.structs.replace(entry.pin, text=text))

    chapters = page.chapters
    for change in (
        lambda entry: replace(entry, blocks=tuple(captioned(one, entry.pin.id) for one in entry.blocks)),
        referring,
    ):
        chapters = tuple(replace(one, entries=tuple(map(change, one.entries))) for one in chapters)
    rows = tuple(replace(one, grids=tuple(map(captioned, one.grids))) for one in page.rows)
    return replace(page, chapters=chapters, rows=rows, called=called)
