"""What differs between two studies, as tables: the data, what was chosen, what comes of it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from bright_tether.live.findings import Findings
from bright_tether.study.memory import Memory
from bright_tether.study.names import tether_name
from bright_tether.study.pins import Grid
from bright_tether.study.study import Study
from bright_tether.study.tether import Answer, Tether
from bright_tether.study.two_states import ChoiceChange, TableChange, TwoStates
from bright_tether.tables.column import shown
from bright_tether.tables.filters import Condition
from bright_tether.tables.table import Table
from bright_tether.words import digits as d
from bright_tether.words.choices import ERROR_NAMES, PATTERNS
from bright_tether.words.columns import formula_words
from bright_tether.words.grids.reread import MOST_LISTED, RESULT_HEADS, case_words, cells_words, results_row
from bright_tether.words.readings.trail import DECIDERS
from bright_tether.words.slips import condition_sentence

_FIELDS = {
    "title": "title of the study", "rules.alpha": "α", "rules.level": "level of intervals",
    "rules.alternative": "alternative", "rules.decide": "what decides", "rules.digits": "digits shown",
    "rules.words": "words for the size of a coefficient", "name": "name", "x": "x", "y": "y", "tint": "tint",
    "conditions": "row filter", "one_row": "what one row is", "mutual": "neither column explains the other",
    "clock": "how the date is measured", "among": "columns looked at before", "answers": "answers to doubts",
    "line.weights": "weights", "line.origin": "through the origin", "line.errors": "errors",
    "line.order": "order of the rows", "line.cluster": "repeated cases of", "line.error_ratio": "ratio of errors",
    "line.slope_0": "slope asked for", "line.intercept_0": "intercept asked for",
    "line.matters": "smallest change that matters", "line.slope_first": "order of the terms",
    "line.weight_pattern": "pattern of weights", "line.new_weight": "weight of a new case",
    "compare.group": "compared groups", "compare.second": "second response", "compare.other": "compared with",
    "compare.rows_are": "what rows share", "compare.margin": "margin of equivalence",
    "compare.height_at": "heights compared at", "held.columns": "columns held", "held.reference": "levels held against",
    "forecast.at": "forecast at", "forecast.back": "ways back from",
    "forecast.mean_of": "mean of how many", "forecast.levels": "further levels", "forecast.band": "whole line",
    "forecast.cases": "actual cases", "forecast.case": "case forecast",
}  # fmt: skip
_COLUMNS = {"x", "y", "tint", "line.weights", "line.order", "line.cluster", "compare.group", "compare.second"}


def difference_grids(states: TwoStates) -> tuple[Grid, Grid, Grid]:
    """Data, choices and results."""
    return _data(states), _choices(states), _results(states)


def difference_sentence(states: TwoStates) -> str:
    """How much differs, in one sentence."""
    cells = sum(column.many for table in states.tables for column in table.columns)
    rows = sum(len(table.new) + len(table.gone) for table in states.tables)
    counts = (
        (len(states.new_tables) + len(states.gone_tables), "table"), (rows, "row"), (cells, "cell"),
        (len(states.choices), "choice"), (len(states.new_tethers) + len(states.gone_tethers), "tether"),
    )  # fmt: skip
    parts = [d.count(many, what) for many, what in counts if many]
    columns = any(
        table.new_columns or table.gone_columns or any(one.renamed or one.formula for one in table.columns)
        for table in states.tables
    )
    parts += ["columns"] if columns else []
    if not parts:
        return "Nothing differs in the data or in what results rest on."
    return f"What differs: {', '.join(parts)}."


def _data(states: TwoStates) -> Grid:
    rows: list[tuple[str, ...]] = [
        *((one.name, "table gone", "", d.count(one.rows, "row"), "") for one in states.gone_tables),
        *((one.name, "table new", "", "", d.count(one.rows, "row")) for one in states.new_tables),
    ]
    rows += (row for change in states.tables for row in _of_table(states, change))
    more = len(rows) - MOST_LISTED
    if more > 0:
        rows = [*rows[:MOST_LISTED], ("", f"and {d.grouped(more)} more", "", "", "")]
    heads = ("table", "what", "where", "was", "is")
    return Grid(title="What differs in the data", heads=heads, rows=tuple(rows))


def _of_table(states: TwoStates, change: TableChange) -> Iterator[tuple[str, ...]]:
    name = change.after.name
    for column in change.gone_columns:
        yield name, "column gone", "", column, ""
    for column in change.new_columns:
        yield name, "column new", "", "", column
    for one in change.columns:
        if one.renamed:
            yield name, "column renamed", "", one.renamed, one.column.name
        if one.formula:
            was = next((c for c in change.before.columns if c.name in (one.renamed, one.column.name)), None)
            rule = "measured" if was is None or was.formula is None else formula_words(was, states.before)
            yield (
                name,
                one.column.name,
                "how it comes about",
                rule,
                formula_words(one.column, states.after) or "measured",
            )
        for cell in one.cells:
            yield (
                name,
                one.column.name,
                case_words(change.after, cell.row, ""),
                shown(cell.before),
                shown(cell.after),
            )
        more = one.many - len(one.cells)
        if more:
            yield name, one.column.name, f"and {d.count(more, 'more cell')}", "", ""
    for at in change.gone[:MOST_LISTED]:
        yield name, "row gone", case_words(change.before, at, ""), cells_words(change.before, at), ""
    for at in change.new[:MOST_LISTED]:
        yield name, "row new", case_words(change.after, at, ""), "", cells_words(change.after, at)


def _choices(states: TwoStates) -> Grid:
    earlier = {after.id: before for before, after in states.tethers}
    rows: list[tuple[str, ...]] = [
        *((tether_name(states.before, one), "tether gone", "", "") for one in states.gone_tethers),
        *((tether_name(states.after, one), "tether new", "", "") for one in states.new_tethers),
        *(_choice(states, one, earlier) for one in states.choices),
    ]
    return Grid(title="What differs in what was chosen", heads=("of", "what", "was", "is"), rows=tuple(rows))


def _choice(states: TwoStates, one: ChoiceChange, earlier: dict[str, Tether]) -> tuple[str, ...]:
    if one.tether is None:
        return ("the study", _FIELDS[one.field], _value(one, one.before, None), _value(one, one.after, None))
    of, was = tether_name(states.after, one.tether), earlier[one.tether.id]
    if one.field.startswith("aside "):
        row = int(one.field.split()[1])
        table = states.after.table(one.tether.table)
        if row not in table.row_ids:
            table = states.before.table(was.table)
        words = [
            f"set aside: “{reason}”" if reason is not None else "in play"
            for reason in (one.before, one.after)
        ]
        return (of, case_words(table, int(table.places([row])[0]), ""), *words)
    what = _FIELDS.get(one.field, one.field.replace("rehearse.", "rehearsal, ").replace("_", " "))
    return (
        of,
        what,
        _value(one, one.before, (states.before, was)),
        _value(one, one.after, (states.after, one.tether)),
    )


def _value(one: ChoiceChange, value: Any, of: tuple[Study, Tether] | None) -> str:
    """A value that was chosen, in words. of : the study and tether that it belongs to."""
    if value is None or value == () or value == "":
        default = "the default" if one.tether is None else "as in the study"
        return default if one.field.startswith("rules.") else d.NONE
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | int):
        return d.entered(float(value))
    if of is not None:
        study, tether = of
        table: Table = study.table(tether.table)
        if one.field in _COLUMNS:
            return table.column(value).name if table.has(value) else "a column that is gone"
        if one.field == "held.columns":
            return ", ".join(table.column(each).name for each in value if table.has(each))
        if one.field == "compare.other":
            return next(
                (tether_name(study, t) for t in study.tethers if t.id == value), "a tether that is gone"
            )
        if one.field == "conditions":
            return "; ".join(condition_sentence(each, table) for each in value if isinstance(each, Condition))
        if one.field == "answers":
            return "; ".join(f"{each.doubt}: {each.reason}" for each in value if isinstance(each, Answer))
    if isinstance(value, dict):
        return ", ".join(map(str, value.values()))
    if one.field == "clock":
        return f"{value.unit} since {value.since}"
    if isinstance(value, tuple):
        return ", ".join(d.entered(each) if isinstance(each, float) else _plain(each) for each in value)
    return ERROR_NAMES.get(value) or PATTERNS.get(value) or DECIDERS.get(value) or str(value)


def _plain(value: Any) -> str:
    if isinstance(value, tuple):
        return "(" + ", ".join(d.entered(one) if isinstance(one, float) else str(one) for one in value) + ")"
    return str(value)


def _results(states: TwoStates) -> Grid:
    rows: list[tuple[str, ...]] = []
    for was, now in states.tethers:
        pair = [
            results_row(Findings(study, tether, Memory()))
            for study, tether in ((states.before, was), (states.after, now))
        ]
        name = tether_name(states.after, now)
        if pair[0] == pair[1]:
            rows.append((name, "as before", *pair[1]))
        else:
            rows += [(name, "before", *pair[0]), ("", "now", *pair[1])]
    for words, study, tethers in (
        ("gone", states.before, states.gone_tethers), ("new", states.after, states.new_tethers),
    ):  # fmt: skip
        rows += [
            (tether_name(study, one), words, *results_row(Findings(study, one, Memory()))) for one in tethers
        ]
    return Grid(title="What comes of it", heads=RESULT_HEADS, rows=tuple(rows))
