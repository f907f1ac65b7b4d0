"""The write-up as plain data: pins in order, with what writes itself around them."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace

import msgspec

from bright_tether.study.pins import Block, Drawing, Figures, Grid, PageStyle, Pin, Steps
from bright_tether.words.references import Reference

#: What pieces with a caption are counted as.
_COUNTED: dict[type, str] = {Drawing: "Figure", Grid: "Table", Figures: "Table", Steps: "Table"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One pin as it stands on the page. frozen : when it was, "" for a live one; since : what changed."""

    pin: Pin
    blocks: tuple[Block, ...]
    frozen: str = ""
    since: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Chapter:
    """Pins of one tether in a row, under its name, its method and its rows. name : "" without a tether."""

    name: str
    method: tuple[str, ...]
    entries: tuple[Entry, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rows:
    """The rows of one tether: every one counted, every exclusion with its reason, the trail."""

    name: str
    sentences: tuple[str, ...]
    grids: tuple[Grid, ...]
    trail: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Page:
    """A whole write-up. proposed : whether its pins were not chosen but proposed."""

    title: str
    written: str
    version: str
    style: PageStyle
    proposed: bool
    chapters: tuple[Chapter, ...]
    rows: tuple[Rows, ...]
    references: tuple[Reference, ...] = ()

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
    """The same page with its figures and tables counted in their captions, in the order in which they stand."""
    counts: Counter[str] = Counter()

    def captioned(block: Block) -> Block:
        kind = _COUNTED.get(type(block))
        if kind is None:
            return block
        counts[kind] += 1
        return msgspec.structs.replace(block, title=f"{kind} {counts[kind]}. {block.title}")

    chapters = tuple(
        replace(
            one,
            entries=tuple(
                replace(entry, blocks=tuple(map(captioned, entry.blocks))) for entry in one.entries
            ),
        )
        for one in page.chapters
    )
    rows = tuple(replace(one, grids=tuple(map(captioned, one.grids))) for one in page.rows)  # type: ignore[arg-type]
    return replace(page, chapters=chapters, rows=rows)
