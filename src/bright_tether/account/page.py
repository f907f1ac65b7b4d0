"""The write-up as plain data: pins in order, with what writes itself around them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from bright_tether.account.pieces import NO_PRESS, Press, Shelf, blocks_of
from bright_tether.account.since import changed_since
from bright_tether.study.changes import tether_name
from bright_tether.study.pins import Block, Drawing, Grid, PageStyle, Pin
from bright_tether.study.study import Study
from bright_tether.words.readings.method import (
    asides_grid,
    filter_sentences,
    method_sentences,
    rows_grid,
)
from bright_tether.words.readings.trail import trail_lines


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


def page_of(study: Study, press: Press = NO_PRESS, *, today: date, shelf: Shelf | None = None) -> Page:
    """The write-up of a study; without pins, one is proposed."""
    shelf = shelf or Shelf(study)
    pins = study.pins or proposed_pins(study, shelf)
    chapters: list[Chapter] = []
    told: set[str] = set()
    for group in _in_a_row(pins):
        tether = next((pin.tether for pin in group if pin.tether), None)
        entries = tuple(entry_of(pin, shelf, press) for pin in group)
        name, method = "", ()
        if tether is not None:
            name = tether_name(study, study.tether(tether))
            method = () if tether in told else method_sentences(shelf.findings(tether))
            told.add(tether)
        chapters.append(Chapter(name=name, method=method, entries=entries))
    used = [one for one in study.tethers if one.id in told]
    return Page(
        title=study.title,
        written=today.strftime("%-d %B %Y"),
        style=study.style,
        proposed=not study.pins,
        chapters=tuple(chapters),
        rows=tuple(_rows(study, one.id, shelf) for one in used),
    )


def proposed_pins(study: Study, shelf: Shelf) -> tuple[Pin, ...]:
    """A first write-up: the line of each tether with its picture, and its doubts."""
    pins = []
    for tether in study.tethers:
        if not shelf.findings(tether.id).tied:
            continue
        for step, part in (
            ("Line", "reading"),
            ("Line", "figures"),
            ("Line", "picture"),
            ("Doubts", "table"),
        ):
            if part != "reading" and shelf.findings(tether.id).refusal is not None:
                continue
            pins.append(Pin(id=f"proposed{len(pins)}", part=part, tether=tether.id, step=step))  # type: ignore[arg-type]
    return tuple(pins)


def entry_of(pin: Pin, shelf: Shelf, press: Press) -> Entry:
    """A pin with what it shows: as the study is, or as it was when it was frozen."""
    if pin.tether is None:
        return Entry(pin=pin, blocks=pin.frozen.blocks if pin.frozen else (),
                     frozen=pin.frozen.when.replace("T", " ") if pin.frozen else "",
                     since=("the tether it came from is gone",) if pin.frozen else ())  # fmt: skip
    if pin.frozen is None:
        return Entry(pin=pin, blocks=blocks_of(pin, shelf.findings(pin.tether), press))
    live = blocks_of(pin, shelf.findings(pin.tether), press)
    return Entry(pin=pin, blocks=pin.frozen.blocks, frozen=pin.frozen.when.replace("T", " "),
                 since=changed_since(pin.frozen.blocks, live))  # fmt: skip


def _in_a_row(pins: tuple[Pin, ...]) -> list[list[Pin]]:
    """Pins of one tether together; a heading begins anew, and a note stays where it is."""
    groups: list[list[Pin]] = []
    present: str | None = None
    for pin in pins:
        other = pin.tether is not None and pin.tether != present
        waiting = bool(groups) and other and all(one.tether is None for one in groups[-1])
        if not groups or (other and not waiting) or pin.part == "heading":
            groups.append([])
        groups[-1].append(pin)
        present = pin.tether if pin.tether is not None else None if pin.part == "heading" else present
    return groups


def _rows(study: Study, tether: str, shelf: Shelf) -> Rows:
    findings = shelf.findings(tether)
    counted = findings.tied and findings.x_column.numeric and findings.y_column.numeric
    grids = [rows_grid(findings)] if counted else []
    aside = asides_grid(findings)
    return Rows(
        name=tether_name(study, findings.tether),
        sentences=filter_sentences(findings),
        grids=(*grids, *([aside] if aside is not None else [])),
        trail=trail_lines(findings),
    )
