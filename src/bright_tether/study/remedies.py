"""What could be done about a doubt, each as one change that can be undone."""

from __future__ import annotations

from collections.abc import Set

import msgspec

from bright_tether.core.line.weights import WeightPattern
from bright_tether.study import changes
from bright_tether.study.column_changes import add_formula
from bright_tether.study.edits import ChangeTether, Edit, Several, SingleEdit
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.computed import expression
from bright_tether.tables.table import Table


class Remedy(msgspec.Struct, frozen=True):
    """A change that may answer a doubt. words : what it does."""

    words: str
    edit: Edit


def remedies(study: Study, tether: Tether, doubt: str, rows: Set[int]) -> tuple[Remedy, ...]:
    """What may answer this doubt. rows : row ids concerned. Logs and roots are offered where they exist.

    Only what leaves the intervals for the mean and for one case at their level on data with that fault is offered
    (docs/doubts.md): robust errors leave the interval for one case as it is, and errors for alike neighbours
    reach their level in long tables alone. Both can be put in force among the settings of the line.
    """
    tried: list[Remedy | None] = []
    if doubt == "bend":
        tried += [_with_intercept(tether)]
        tried += [_transformed(study, tether, name) for name in ("log both", "log x", "log y", "root of y")]
    elif doubt == "spread":
        tried += [_weighted(study, tether, power) for power in (1, 2)]
        tried += [_by_power(study, tether, *one) for one in _POWERS]
        tried += [_transformed(study, tether, name) for name in ("log both", "log y", "root of y")]
    elif doubt == "shape":
        tried += [_transformed(study, tether, name) for name in ("log y", "log both", "root of y")]
    elif doubt in ("far-out", "pull") and rows:
        reason = "far from the line" if doubt == "far-out" else "pulls the line"
        out = changes.set_aside(study, tether, rows, reason)
        tried += [Remedy(f"Set {len(rows)} row{'s' if len(rows) > 1 else ''} aside", out) if out else None]
    return tuple(one for one in tried if one is not None)


def _with_intercept(tether: Tether) -> Remedy | None:
    """Let a line go that is held through the origin: what it misses may be no more than its height there."""
    if not tether.line.origin:
        return None
    words = "With an intercept"
    after = msgspec.structs.replace(tether, line=msgspec.structs.replace(tether.line, origin=False))
    return Remedy(words, ChangeTether(label=words, before=tether, after=after))


def _weighted(study: Study, tether: Tether, power: int) -> Remedy | None:
    """Weights that fall as x rises: the variance of the errors grows with a power of x."""
    table = study.table(tether.table)
    x = table.column(tether.x or "")
    if tether.line.origin or not _above_zero(table, x.id):
        return None
    name = f"1/{x.short}" if power == 1 else f"1/{x.short}²"
    changed, column_id, edits = _column(study, tether, name, f"1/{_quoted(x.short)}**{power}")
    before = changed.tether(tether.id)
    after = msgspec.structs.replace(
        before, line=msgspec.structs.replace(before.line, weights=column_id, errors="classical")
    )
    label = f"Weights {name}"
    return Remedy(
        label, Several(label=label, edits=(*edits, ChangeTether(label=label, before=before, after=after)))
    )


_POWERS: tuple[tuple[WeightPattern, str], ...] = (
    ("power-x", "Weights by a fitted power of x"), ("power-fitted", "Weights by a fitted power of the fitted value"),
)  # fmt: skip


def _by_power(study: Study, tether: Tether, pattern: WeightPattern, words: str) -> Remedy | None:
    """Weights whose power is fitted by likelihood: the spread is let follow x, or the fitted value, as it does."""
    table, chosen = study.table(tether.table), tether.line
    of = table.column((tether.x if pattern == "power-x" else tether.y) or "")
    dated = of.kind == "date"  # a date has no beginning of its own
    if chosen.origin or chosen.weight_pattern == pattern or dated or not _above_zero(table, of.id):
        return None
    line = msgspec.structs.replace(
        chosen, weights=None, weight_pattern=pattern, new_weight=None, errors="classical"
    )
    after = msgspec.structs.replace(tether, line=line)
    return Remedy(words, ChangeTether(label=words, before=tether, after=after))


_TRANSFORMS = {
    "log both": ("Log of both", "log10", "log10"),
    "log x": ("Log of x", "log10", ""),
    "log y": ("Log of y", "", "log10"),
    "root of y": ("Square root of y", "", "sqrt"),
}


def _transformed(study: Study, tether: Tether, name: str) -> Remedy | None:
    """Tie the transformed columns instead: new columns, worked out and live."""
    words, for_x, for_y = _TRANSFORMS[name]
    present = study
    edits: list[SingleEdit] = []
    ids = {"x": tether.x, "y": tether.y}
    for axis, form in (("x", for_x), ("y", for_y)):
        if not form:
            continue
        table = present.table(tether.table)
        column = table.column(ids[axis] or "")
        if (column.formula is not None and "log" in column.short) or not _above_zero(table, column.id):
            return None
        named = f"{form} {column.short}"
        present, ids[axis], more = _column(present, tether, named, f"{form}({_quoted(column.short)})")
        edits += more
    before = present.tether(tether.id)
    plain = msgspec.structs.replace(before.line, slope_0=0.0, intercept_0=0.0, matters=None)
    after = msgspec.structs.replace(
        before, x=ids["x"], y=ids["y"], chosen=True, line=plain, view=type(before.view)()
    )
    edits.append(ChangeTether(label=words, before=before, after=after))
    return Remedy(words, Several(label=words, edits=tuple(edits)))


def _column(study: Study, tether: Tether, name: str, text: str) -> tuple[Study, str, list[SingleEdit]]:
    """A worked-out column, taken from the table where it already stands."""
    table = study.table(tether.table)
    formula = expression(text, table)
    for column in table.columns:
        if column.formula == formula:
            return study, column.id, []
    edit = add_formula(study, tether.table, name, formula)
    after = edit.apply(study)
    return after, after.table(tether.table).columns[-1].id, [edit]


def _above_zero(table: Table, column_id: str) -> bool:
    column = table.column(column_id)
    cells = column.numbers
    return column.numeric and bool((cells[cells == cells] > 0).all())


def _quoted(name: str) -> str:
    return f'"{name}"'
