"""Columns in words: what stands in their heads, how they can be drawn, what they are worked out from."""

from __future__ import annotations

from collections.abc import Mapping

import msgspec
from msgspec import field

from bright_tether.core.summary import ColumnSummary
from bright_tether.study.names import tether_name
from bright_tether.study.study import Study
from bright_tether.tables.column import Column
from bright_tether.tables.formula import Draw, DrawKind, Expression, FromOthers, OfTether
from bright_tether.words import digits as d
from bright_tether.words.said import listed

#: A mean this many times smaller than the values it is of is rounding.
_DUST = 1e-12
#: Rows of one draw, as of a stated truth.
_MOST_ROWS = 1_000_000


class Way(msgspec.Struct, frozen=True, kw_only=True):
    """One way to draw: its words, and of each number it takes the words and the start.

    fixed : numbers that belong to the way. of_x : whether it builds on another column. named : on names.
    """

    kind: DrawKind
    words: str
    fields: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    fixed: Mapping[str, float] = field(default_factory=dict)
    of_x: bool = False
    named: bool = False


_ENDS = {"a": ("from", "0"), "b": ("to", "1")}
#: Ways to draw, in the order in which they are offered.
DRAWS: dict[str, Way] = {
    "uniform": Way(kind="uniform", words="evenly likely between two ends", fields=_ENDS),
    "normal": Way(kind="normal", words="normal", fields={"a": ("mean", "0"), "b": ("sd", "1")}),
    "whole": Way(kind="whole", words="whole numbers between two ends", fields={"a": ("from", "1"), "b": ("to", "6")}),
    "evenly": Way(kind="evenly", words="even steps between two ends, shuffled", fields=_ENDS),
    "steps": Way(
        kind="steps", words="even steps, each so many times, in order",
        fields={"a": ("from", "5"), "b": ("step", "5"), "c": ("times each", "3")},
    ),
    "running": Way(
        kind="running", words="running total of normal steps", fields={"a": ("mean step", "0"), "b": ("sd", "1")}
    ),
    "line": Way(
        kind="line", words="a line on another column, with noise",
        fields={"a": ("intercept", "0"), "b": ("slope", "1"), "c": ("noise sd", "1")}, of_x=True,
    ),
    "noise": Way(
        kind="line", words="another column plus noise", fields={"c": ("noise sd", "1")},
        fixed={"a": 0.0, "b": 1.0}, of_x=True,
    ),
    "category": Way(kind="category", words="categories, each as likely", named=True),
}  # fmt: skip


def head_words(column: Column, missing: int) -> str:
    """The kind, how the cells came about where they were not measured, and how many are missing."""
    how = ""
    if column.formula is not None:
        how = ", from other tables" if isinstance(column.formula, FromOthers) else ", worked out"
        how = ", drawn" if isinstance(column.formula, Draw) else how
    lost = f" · {d.grouped(missing)} missing" if missing else ""
    return f"{column.kind}{how}{lost}"


def without_dust(value: float | None, column: Column, summary: ColumnSummary) -> float | None:
    """A figure of a column that is worked out, 0 where it is no more than the roundings of its values."""
    if value is None or column.measured or summary.min is None or summary.max is None:
        return value
    return 0.0 if abs(value) <= _DUST * max(abs(summary.min), abs(summary.max)) else value


def formula_words(column: Column, study: Study) -> str:
    """What a column is worked out from."""
    formula = column.formula
    if isinstance(formula, Expression):
        return f"worked out: {formula.text}"
    if isinstance(formula, OfTether):
        tethers = {one.id: one for one in study.tethers}
        if formula.tether not in tethers:
            return "kept from a line that is gone"
        named = tether_name(study, tethers[formula.tether])
        return f"from the line {named}: {formula.what.replace('cooks_d', 'Cook’s distance')}, live"
    if isinstance(formula, FromOthers):
        return _from_words(formula, study)
    if formula is None:
        return ""
    way = DRAWS[formula.kind]
    numbers = [f"{words} {d.entered(getattr(formula, name))}" for name, (words, _) in way.fields.items()]
    numbers += [", ".join(formula.names)] if way.named else []
    return f"drawn at random: {way.words} ({', '.join(numbers)}), seed {formula.seed}"


def _from_words(formula: FromOthers, study: Study) -> str:
    names = [table.name for table in study.tables if table.id in formula.of]
    if not formula.of:
        return "says which table a row comes from"
    return f"from {listed(names)}: change it there" if names else "from a table that is gone"


def draw_trouble(
    kind: str,
    typed: Mapping[str, float | None],
    names: tuple[str, ...],
    x: str | None,
    rows: float | None,
    seeds: Mapping[int, str],
) -> str:
    """Why a column cannot be drawn so; "" where it can. seeds : those in use, with their columns."""  # fmt: skip
    way, seed = DRAWS[kind], typed["seed"]
    for name, (words, _) in way.fields.items():
        if typed[name] is None:
            return f"Give a number for “{words}”."
    if kind == "steps" and ((typed["c"] or 0) < 1 or typed["c"] != int(typed["c"] or 0)):
        return "Give a whole number from 1 for “times each”."
    if way.named and len(names) < 2:
        return "Give two names or more, with commas between them."
    if way.of_x and x is None:
        return "There is no number column yet for this one to build on: make that first."
    if rows is None or rows != int(rows) or not 1 <= rows <= _MOST_ROWS:
        return f"Give a whole number of rows, from 1 to {d.grouped(_MOST_ROWS)}."
    if seed is None or seed < 0 or seed != int(seed):
        return "The seed is a whole number from 0."
    if int(seed) in seeds:
        taken = f"{seeds[int(seed)]} is drawn by the seed {int(seed)} already"
        return f"{taken}, and columns of one seed go together: take another."
    return ""
