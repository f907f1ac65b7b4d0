"""The trail: what was changed after results were seen."""

from __future__ import annotations

from typing import Literal

import msgspec

from bright_tether.study.rules import GroundRules
from bright_tether.study.tether import Tether

Changed = Literal["alpha", "level", "alternative", "decide", "set aside", "brought back", "filter", "axes"]
#: Ground rules whose later change is kept.
_TRACED: tuple[Changed, ...] = ("alpha", "level", "alternative", "decide")


class LaterChange(msgspec.Struct, frozen=True, kw_only=True):
    """One change made with results in view.

    tether : whose, None for the whole study. before, after : as text. when : ISO date and minute.
    """

    what: Changed
    before: str
    after: str
    when: str
    tether: str | None = None


def later_rules(
    old: GroundRules, new: GroundRules, when: str, tether: str | None = None
) -> list[LaterChange]:
    """What a change of the rules in force leaves in the trail. tether : whose own, None for the study."""
    changes = []
    for name in _TRACED:
        was, now = getattr(old, name), getattr(new, name)
        follows = name == "level" and old.origin_of(name) == new.origin_of(name) == "default"
        if was != now and not follows:
            changes.append(
                LaterChange(what=name, before=_shown(was), after=_shown(now), when=when, tether=tether)
            )
    return changes


def later_rows(before: Tether, after: Tether, when: str) -> list[LaterChange]:
    """What a change of a tether's rows or columns leaves in the trail."""
    changes = []

    def note(what: Changed, was: str, now: str) -> None:
        changes.append(LaterChange(what=what, before=was, after=now, when=when, tether=after.id))

    if before.asides is not after.asides:
        if out := after.asides.less(before.asides.row_ids):
            note("set aside", str(len(out)), "; ".join(out.reasons))
        if back := before.asides.less(after.asides.row_ids):
            note("brought back", str(len(back)), "; ".join(back.reasons))
    if before.conditions != after.conditions:
        note("filter", str(len(before.conditions)), str(len(after.conditions)))
    if (before.x, before.y) != (after.x, after.y):
        note("axes", f"{before.x} {before.y}", f"{after.x} {after.y}")
    return changes


def _shown(value: object) -> str:
    return f"{value:.12g}" if isinstance(value, float) else str(value)
