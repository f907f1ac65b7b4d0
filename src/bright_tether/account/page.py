"""The write-up as plain data: pins in order, with what writes itself around them."""

from __future__ import annotations

from dataclasses import dataclass

from bright_tether.study.pins import Block, Drawing, Grid, PageStyle, Pin


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
    style: PageStyle
    proposed: bool
    chapters: tuple[Chapter, ...]
    rows: tuple[Rows, ...]

    @property
    def drawings(self) -> tuple[Drawing, ...]:
        """Every picture, in the order of the page."""
        return tuple(one for one in self.blocks if isinstance(one, Drawing))

    @property
    def blocks(self) -> tuple[Block, ...]:
        """Every block, in the order of the page."""
        entries = [entry for chapter in self.chapters for entry in chapter.entries]
        return tuple(block for entry in entries for block in entry.blocks)
