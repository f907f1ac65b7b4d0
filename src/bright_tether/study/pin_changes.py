"""The edits of the write-up: pins put in, moved, written on, frozen."""

from __future__ import annotations

import msgspec

from bright_tether.study.edits import ChangePin, ChangeStyle, Edit, MovePin, PutPin
from bright_tether.study.pins import Frozen, PageStyle, Part, Pin
from bright_tether.study.study import Study


def put_pin(
    study: Study, part: Part, label: str, *, tether: str | None = None, step: str = "", view: str = "", text: str = "",
    at: int | None = None, columns: tuple[str, ...] = (),
) -> PutPin:  # fmt: skip
    """Keep a piece for the write-up, at a place or at the end."""
    pin = Pin(id=study.fresh_id("p"), part=part, tether=tether, step=step, view=view, text=text,
              columns=columns)  # fmt: skip
    place = len(study.pins) if at is None else at
    return PutPin(label=label, at=place, pin=pin)


def take_off(study: Study, pin: Pin) -> PutPin:
    """Leave a piece out of the write-up."""
    at = study.pins.index(pin)
    return PutPin(label=f"Take a pin off: {pin.part}", at=at, pin=pin, put_in=False)


def move_pin(study: Study, pin: Pin, to: int) -> Edit | None:
    """Put a pin in another place, counted without itself."""
    before, to = study.pins.index(pin), max(0, min(to, len(study.pins) - 1))
    return None if before == to else MovePin(label="Move a pin", before=before, after=to)


def write_on(study: Study, pin: Pin, text: str) -> Edit | None:
    """Change the words of a heading or a note, or what is added to a pin."""
    if text == pin.text:
        return None
    after = msgspec.structs.replace(pin, text=text)
    return ChangePin(label="Write in the write-up", before=pin, after=after)


def choose_columns(study: Study, pin: Pin, tether: str | None, columns: tuple[str, ...]) -> Edit | None:
    """Another table of lines in the place of one. tether : whose groups, None for the tethers themselves."""
    if (tether, columns) == (pin.tether, pin.columns):
        return None
    after = msgspec.structs.replace(pin, tether=tether, columns=columns)
    return ChangePin(label="Change a table of lines", before=pin, after=after)


def freeze(study: Study, pin: Pin, frozen: Frozen) -> ChangePin:
    """Keep what a pin shows now, whatever changes later."""
    after = msgspec.structs.replace(pin, frozen=frozen)
    return ChangePin(label=f"Freeze a pin: {pin.part}", before=pin, after=after)


def thaw(study: Study, pin: Pin) -> ChangePin:
    """Let a pin follow the study again."""
    after = msgspec.structs.replace(pin, frozen=None)
    return ChangePin(label=f"Let a pin follow again: {pin.part}", before=pin, after=after)


def choose_style(study: Study, style: PageStyle) -> Edit | None:
    """Lay the write-up out in another style."""
    if style == study.style:
        return None
    return ChangeStyle(label=f"Write-up in the style {style}", before=study.style, after=style)


def drop_pins(study: Study, tether: str, label: str) -> tuple[PutPin | ChangePin, ...]:
    """Take off the live pins of a tether that goes, the last first; frozen ones stay by themselves."""
    alone = [
        ChangePin(label=label, before=pin, after=msgspec.structs.replace(pin, tether=None))
        for pin in study.pins
        if pin.tether == tether and pin.frozen is not None
    ]
    gone = [
        PutPin(label=label, at=at, pin=pin, put_in=False)
        for at, pin in reversed(tuple(enumerate(study.pins)))
        if pin.tether == tether and pin.frozen is None
    ]
    return (*alone, *gone)
