"""The edits an analyst makes, built from what was pointed at."""

from __future__ import annotations

from collections.abc import Collection
from typing import Literal

import msgspec

from bright_tether.core.line.weights import POWERS
from bright_tether.core.widths import WidthKind
from bright_tether.study.axes import clock_for, without_entries
from bright_tether.study.edits import (
    ChangeColumn,
    ChangeRules,
    ChangeTether,
    Edit,
    PutTether,
    Rename,
    Several,
)
from bright_tether.study.names import tether_name
from bright_tether.study.pin_changes import drop_pins
from bright_tether.study.rules import words_in_text
from bright_tether.study.study import Study
from bright_tether.study.tether import Answer, Picked, Tether, View
from bright_tether.tables.filters import Condition

ChoicePart = Literal["view", "line", "compare", "held", "otherwise", "forecast", "rehearse"]


def set_aside(study: Study, tether: Tether, rows: Collection[int], reason: str) -> Edit | None:
    """Keep rows out of the line, with a reason."""
    label = f"Set {_rows_in_words(study, tether, rows)} aside: {reason}"
    return _tether_edit(study, tether, tether.with_asides(rows, reason), label)


def take_back(study: Study, tether: Tether, rows: Collection[int]) -> Edit | None:
    """Bring rows that were set aside back into play."""
    label = f"Bring {_rows_in_words(study, tether, rows)} back"
    return _tether_edit(study, tether, tether.without_asides(rows), label)


def filter_rows(study: Study, tether: Tether, conditions: tuple[Condition, ...]) -> Edit | None:
    """Look only at rows that meet every condition."""
    after = msgspec.structs.replace(tether, conditions=conditions)
    return _tether_edit(study, tether, after, "Filter the rows" if conditions else "Look at every row")


def say_one_row(study: Study, tether: Tether, words: str) -> Edit | None:
    """Say what one row is: one bottle, the mean of 5 bottles."""
    after = msgspec.structs.replace(tether, one_row=" ".join(words.split()))
    return _tether_edit(study, tether, after, f"One row is {after.one_row or 'not said'}")


def tint_by(study: Study, tether: Tether, column: str | None) -> Edit | None:
    """Tint the points by a category column, or by none."""
    after = msgspec.structs.replace(tether, tint=column)
    name = study.table(tether.table).column(column).short if column else "nothing"
    return _tether_edit(study, tether, after, f"Tint by {name}")


def change_choice(
    study: Study, tether: Tether, part: ChoicePart, label: str, **fields: object
) -> Edit | None:
    """Choose otherwise in one part of a tether: how it is shown, fitted, compared, forecast or rehearsed."""
    chosen = msgspec.structs.replace(getattr(tether, part), **fields)
    return _tether_edit(study, tether, msgspec.structs.replace(tether, **{part: chosen}), label)


def take_width(study: Study, tether: Tether, kind: WidthKind) -> Edit | None:
    """Find intervals for one case by another way: one spread everywhere, a fitted power of it, or ranks."""
    line = tether.line
    if kind in POWERS:
        line = msgspec.structs.replace(
            line, weights=None, weight_pattern=kind, new_weight=None, errors="classical"
        )
    elif kind == "even":
        line = msgspec.structs.replace(line, weights=None, weight_pattern=None, new_weight=None)
    elif line.weight_pattern in POWERS:
        line = msgspec.structs.replace(line, weight_pattern=None)
    ahead = msgspec.structs.replace(tether.forecast, width="ranks" if kind == "ranks" else "spread")
    label = "Intervals for one case by another way"
    return _tether_edit(study, tether, msgspec.structs.replace(tether, line=line, forecast=ahead), label)


def bin_by_hand(study: Study, tether: Tether, key: str, bins: tuple[float, float, int] | None) -> Edit | None:
    """Keep bins of a column, or of the residuals; None goes back to the rule."""
    held = {one: there for one, there in tether.view.bins.items() if one != key}
    if bins is not None:
        held[key] = bins
    label = "Bins by hand" if bins is not None else "Bins by rule"
    return change_choice(study, tether, "view", label, bins=held)


def answer_doubt(study: Study, tether: Tether, doubt: str, reason: str) -> Edit | None:
    """Let a doubt stand, with a reason; an empty one takes the answer back."""
    kept = tuple(one for one in tether.answers if one.doubt != doubt)
    after = (*kept, Answer(doubt, reason)) if reason else kept
    label = f"Let the doubt about {doubt} stand" if reason else f"Take up the doubt about {doubt} again"
    return _tether_edit(study, tether, msgspec.structs.replace(tether, answers=after), label)


def keep_lineup(study: Study, tether: Tether, picked: Picked) -> Edit | None:
    """Keep what was picked in a lineup as evidence."""
    after = msgspec.structs.replace(tether, lineups=(*tether.lineups, picked))
    return _tether_edit(study, tether, after, "Keep a lineup")


def say_mutual(study: Study, tether: Tether, mutual: bool) -> Edit | None:
    """Say whether neither column explains the other."""
    after = msgspec.structs.replace(tether, mutual=mutual)
    label = "Neither column explains the other" if mutual else "One column explains the other"
    return _tether_edit(study, tether, after, label)


def change_rule(study: Study, name: str, value: object) -> Edit | None:
    """Choose a ground rule; None goes back to the default."""
    after = msgspec.structs.replace(study.rules, **{name: value})
    if after == study.rules:
        return None
    said = "its default" if value is None else words_in_text(value) if isinstance(value, tuple) else value
    return ChangeRules(label=f"Ground rule {name}: {said}", before=study.rules, after=after)


def change_own_rule(study: Study, tether: Tether, name: str, value: object) -> Edit | None:
    """Choose a ground rule for one tether; None goes back to the study's."""
    after = msgspec.structs.replace(tether, rules=msgspec.structs.replace(tether.rules, **{name: value}))
    said = "as in the study" if value is None else words_in_text(value) if isinstance(value, tuple) else value
    return _tether_edit(study, tether, after, f"Ground rule {name} of this tether: {said}")


def rename_study(study: Study, title: str) -> Edit | None:
    """Give the study another title."""
    title = title.strip()
    if not title or title == study.title:
        return None
    return Rename(label=f"Call the study {title}", before=study.title, after=title)


def rename_column(study: Study, table_id: str, column_id: str, name: str) -> Edit | None:
    """Give a column another header."""
    before = study.table(table_id).column(column_id)
    name = name.strip()
    if not name or name == before.name:
        return None
    after = msgspec.structs.replace(before, name=name)
    return ChangeColumn(label=f"Rename {before.short} to {name}", table=table_id, before=before, after=after)


def add_tether(study: Study, table_id: str) -> tuple[Edit, str]:
    """One more tether on a table; the edit and the tether's id."""
    tether = Tether(id=study.fresh_id("k"), table=table_id)
    return PutTether(label="Tie a new tether", at=len(study.tethers), tether=tether), tether.id


def tie(study: Study, like: Tether, *, x: str, y: str, among: int = 0) -> tuple[Edit, str]:
    """One more tether on the table of another, with its rows in play; the edit and the tether's id.

    among : how many pairs of columns were looked at to find it.
    """
    own = msgspec.structs.replace(
        like, id=study.fresh_id("k"), name="", x=x, y=y, chosen=bool(among), view=View(), among=among,
        clock=clock_for(study.table(like.table), x),
    )  # fmt: skip
    tether = without_entries(own, x=x != like.x, y=y != like.y)
    label = f"Tie {tether_name(study, tether)}"
    return PutTether(label=label, at=len(study.tethers), tether=tether), tether.id


def rename_tether(study: Study, tether: Tether, name: str) -> Edit | None:
    """Call a tether something of its own; nothing goes back to the names of its columns."""
    after = msgspec.structs.replace(tether, name=" ".join(name.split()))
    return _tether_edit(study, tether, after, f"Call the tether {tether_name(study, after)}")


def drop_tether(study: Study, tether: Tether) -> Edit:
    """Let a tether go, and its live pins with it; its table stays."""
    label = "Let the tether go"
    out = PutTether(label=label, at=study.tethers.index(tether), tether=tether, put_in=False)
    pins = drop_pins(study, tether.id, label)
    return Several(label=label, edits=(*pins, out)) if pins else out


def _tether_edit(study: Study, before: Tether, after: Tether, label: str = "") -> Edit | None:
    if after == before:
        return None
    return ChangeTether(label=label or f"Tie {tether_name(study, after)}", before=before, after=after)


def _rows_in_words(study: Study, tether: Tether, rows: Collection[int]) -> str:
    at = study.table(tether.table).places(rows)
    return f"row {at[0] + 1}" if at.size == 1 else f"{at.size} rows"
