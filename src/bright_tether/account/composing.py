"""A study's pins put together into a page; without pins, one is proposed."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from bright_tether.account.freezing import revived
from bright_tether.account.page import Chapter, Entry, Page, Rows, numbered
from bright_tether.account.pieces import AllFindings, blocks_of
from bright_tether.account.press import NO_PRESS, Press
from bright_tether.account.since import changed_since
from bright_tether.live.all_rows import all_rows, is_share
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS, step_of
from bright_tether.study.names import tether_name
from bright_tether.study.pins import Pin
from bright_tether.study.study import Study
from bright_tether.words.about import own_version
from bright_tether.words.grids.lines import tethers_grid
from bright_tether.words.readings.all_rows import gone_through_sentence
from bright_tether.words.readings.definitions import definition_sentences, source_sentences
from bright_tether.words.readings.method import (
    asides_grid,
    filter_sentences,
    method_sentences,
    rows_grid,
)
from bright_tether.words.readings.standing import standing_sentence
from bright_tether.words.readings.trail import trail_lines
from bright_tether.words.references import REFERENCES


def page_of(
    study: Study, press: Press = NO_PRESS, *, today: date, everything: AllFindings | None = None
) -> Page:
    """The write-up of a study; without pins, one is proposed."""
    everything = everything or AllFindings(study)
    pins = study.pins or proposed_pins(study, everything)
    chapters: list[Chapter] = []
    keys: set[str] = set()
    introduced: set[str] = set()
    for group in _in_a_row(pins):
        tether = next((pin.tether for pin in group if pin.tether), None)
        entries = tuple(entry_of(pin, everything, press) for pin in group)
        name = ""
        method: tuple[str, ...] = ()
        if tether is not None:
            name = tether_name(study, study.tether(tether))
            if tether not in introduced:
                own = [pin for pin in pins if pin.tether == tether]
                method, used_keys = _method(everything.of(tether), own)
                keys |= used_keys
            introduced.add(tether)
        chapters.append(Chapter(name=name, method=method, entries=entries))
    used = [one for one in study.tethers if one.id in introduced]
    page = Page(
        title=study.title,
        written=today.strftime("%-d %B %Y"),
        version=own_version(),
        style=study.style,
        proposed=not study.pins,
        chapters=tuple(chapters),
        rows=tuple(_rows(study, one.id, everything) for one in used),
        references=tuple(one for key, one in sorted(REFERENCES.items()) if key in keys),
    )
    return numbered(page)


def _method(findings: Findings, pins: Sequence[Pin]) -> tuple[tuple[str, ...], set[str]]:
    """How the figures of its pins came about, from which files, and where the tether stands; and what that rests on."""
    method = (*method_sentences(findings), *source_sentences(findings))
    if findings.refusal is not None:
        return method, set()
    whole = all_rows(findings).kept if is_share(findings) else None
    # a way through that came to nothing, or that nobody asked for, is none
    if whole and whole.far and any(step_of(pin.step).view(pin.view).run is all_rows for pin in pins):
        method = (*method, gone_through_sentence(findings))
    defined = definition_sentences(findings, {pin.step for pin in pins})
    words = (*method, *(one for one, _ in defined), f"Where it stands: {standing_sentence(findings)}.")
    return words, {key for _, keys in defined for key in keys}


def proposed_pins(study: Study, everything: AllFindings) -> tuple[Pin, ...]:
    """A first write-up: the line of each tether with its picture, and its doubts."""
    pins: list[Pin] = []
    for tether in study.tethers:
        if not everything.of(tether.id).tied:
            continue
        for step, part in [(one, part) for one in STEPS for part in one.proposed]:
            if part != "reading" and everything.of(tether.id).refusal is not None:
                continue
            pins.append(Pin(id=f"proposed{len(pins)}", part=part, tether=tether.id, step=step.id))
    return tuple(pins)


def entry_of(pin: Pin, everything: AllFindings, press: Press) -> Entry:
    """A pin with what it shows: as the study is, or as it was when it was frozen."""
    if pin.tether is None and pin.part == "lines" and pin.frozen is None:
        return Entry(pin=pin, blocks=(tethers_grid(everything.every(), pin.columns),))
    if pin.tether is None:
        return Entry(pin=pin, blocks=revived(pin.frozen) if pin.frozen else (),
                     frozen=pin.frozen.when.replace("T", " ") if pin.frozen else "",
                     since=("the tether it came from is gone",) if pin.frozen else ())  # fmt: skip
    if pin.frozen is None:
        return Entry(pin=pin, blocks=blocks_of(pin, everything.of(pin.tether), press))
    live = blocks_of(pin, everything.of(pin.tether), press)
    return Entry(pin=pin, blocks=revived(pin.frozen), frozen=pin.frozen.when.replace("T", " "),
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


def _rows(study: Study, tether: str, everything: AllFindings) -> Rows:
    findings = everything.of(tether)
    counted = findings.tied and findings.x_column.numeric and findings.y_column.numeric
    grids = [rows_grid(findings)] if counted else []
    aside = asides_grid(findings)
    return Rows(
        name=tether_name(study, findings.tether),
        sentences=filter_sentences(findings),
        grids=(*grids, *([aside] if aside is not None else [])),
        trail=trail_lines(findings),
    )
