"""Columns worked out from others: parsed safely, kept right whenever what they rest on changes."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator, Mapping
from typing import Any

import msgspec
import numpy as np

from bright_tether.tables.clock import Floats, duration, moment
from bright_tether.tables.column import Column
from bright_tether.tables.formula import ELSEWHERE, Draw, Expression, Formula
from bright_tether.tables.functions import FUNCTIONS, Argument
from bright_tether.tables.table import Table

_LONGEST = 400
_DEEPEST = 40


class BadFormula(Exception):
    """An expression that cannot be used; its text is the sentence for the analyst."""


_OPERATORS: dict[type, Callable[..., Any]] = {
    ast.Add: np.add,
    ast.Sub: np.subtract,
    ast.Mult: np.multiply,
    ast.Div: np.divide,
    ast.Pow: np.power,
}


def expression(text: str, table: Table) -> Expression:
    """Check an expression and tie its names to columns.

    Column names stand bare where they are one word, else in quotes. Raises BadFormula.
    """
    used: dict[str, str] = {}
    for name, wanted in _names(_parsed(text).body):
        column = table.named(name)
        if column is None:
            known = ", ".join(c.short for c in table.columns if c.numeric)
            raise BadFormula(f"There is no column “{name}”: the number columns are {known}.")
        if wanted == "date" and column.kind != "date":
            raise BadFormula(f"The column “{name}” holds no dates.")
        if wanted == "numbers" and column.kind == "date":
            raise BadFormula(
                f"“{name}” is a date: take days(“{name}”), month(“{name}”) or hour(“{name}”) of it."
            )
        if wanted == "numbers" and not column.numeric:
            raise BadFormula(f"The column “{name}” holds no numbers.")
        used[name] = column.id
    if not used:
        raise BadFormula("Name at least one column: an expression works on columns.")
    return Expression(text=text.strip(), columns=used)


#: Under what name a column keeps the row ids and the columns that its cells were made of.
_MADE_OF = "made of"


def recomputed(table: Table, before: Table | None = None) -> Table:
    """The table with its computed columns right; those whose inputs are the same objects are kept."""
    if not any(column.formula for column in table.columns):
        return table
    old = {column.id: column for column in before.columns} if before is not None else {}
    done: dict[str, Column] = {}
    # What a line says of its rows, and what comes from other tables, the study works out.
    waiting = {
        column.id for column in table.columns if column.formula and not isinstance(column.formula, ELSEWHERE)
    }

    def right(column_id: str, above: frozenset[str]) -> Column | None:
        if column_id in done:
            return done[column_id]
        if column_id in above or not table.has(column_id):
            return None
        column = table.column(column_id)
        if column_id not in waiting:
            return column
        inputs = {i: right(i, above | {column_id}) for i in inputs_of(column.formula)}
        same = _rests_on(column, inputs, table.row_ids) or (
            column_id in old
            and old[column_id].formula == column.formula
            and column.cells is old[column_id].cells
            and column.cells.size == table.rows
            and all(
                c is not None and i in old and c.cells is old[i].cells and c.kind == old[i].kind
                for i, c in inputs.items()
            )
        )
        if not same:
            column = worked_out(column, inputs, table.row_ids)
        done[column_id] = column
        return column

    for column_id in waiting:
        right(column_id, frozenset())
    columns = tuple(done.get(column.id, column) for column in table.columns)
    return msgspec.structs.replace(table, columns=columns)


def worked_out(column: Column, inputs: Mapping[str, Column | None], row_ids: np.ndarray) -> Column:
    """The column with the cells that its formula gives, which knows what they were made of."""
    cells = evaluated(column.formula, inputs, row_ids)
    made = msgspec.structs.replace(column, cells=cells, strays={})
    made.__dict__[_MADE_OF] = row_ids, dict(inputs)
    return made


def _rests_on(column: Column, inputs: Mapping[str, Column | None], row_ids: np.ndarray) -> bool:
    """Whether its cells were made of these very ones: it was worked out before it was put in, or comes back by undo."""
    ids, held = column.__dict__.get(_MADE_OF, (None, None))
    return ids is row_ids and all(
        one is not None and held[at] is not None and one.cells is held[at].cells and one.kind == held[at].kind
        for at, one in inputs.items()
    )


def inputs_of(formula: Formula | None) -> set[str]:
    """The ids of the columns a formula rests on."""
    if isinstance(formula, Expression):
        return set(formula.columns.values())
    return {formula.x} if isinstance(formula, Draw) and formula.x else set()


def evaluated(
    formula: Formula | None, inputs: Mapping[str, Column | None], row_ids: np.ndarray
) -> np.ndarray:
    """The cells a formula gives, (rows,); NaN where it has no value or an input column is gone.

    What is drawn belongs to the row with its id: it follows the row wherever that stands.
    """
    rows = row_ids.size
    held = {
        i: column.along if column.kind == "date" else column.numbers for i, column in inputs.items() if column
    }
    if len(held) < len(inputs) or formula is None or isinstance(formula, ELSEWHERE):
        return np.full(rows, np.nan)
    if isinstance(formula, Draw) and formula.kind == "category":
        names: np.ndarray = np.array(formula.names or ("",), dtype=object)
        return np.take(names, _drawn(formula, held, row_ids).astype(int))
    with np.errstate(all="ignore"):
        if isinstance(formula, Draw):
            cells = _drawn(formula, held, row_ids)
        else:
            named = {name: held[i] for name, i in formula.columns.items()}
            cells = np.asarray(_value(_parsed(formula.text).body, named), float)
    cells = np.broadcast_to(cells, rows).astype(float)
    cells[~np.isfinite(cells)] = np.nan
    return cells


def _drawn(formula: Draw, held: dict[str, np.ndarray], row_ids: np.ndarray) -> np.ndarray:
    draw, a, b, rows = np.random.Generator(np.random.PCG64(formula.seed)), formula.a, formula.b, row_ids.size
    age = np.empty(rows, np.int64)  # the place of each row among all by the order in which they came
    age[np.argsort(row_ids, kind="stable")] = np.arange(rows)
    # A row's own number decides, so that no other row's going changes it; sparse numbers count as one run.
    most = int(row_ids.max(initial=-1)) + 1
    own, many = (row_ids, most) if row_ids.min(initial=0) >= 0 and most <= 4 * rows + 1000 else (age, rows)
    match formula.kind:
        case "uniform":
            return (a + (b - a) * draw.random(many))[own]
        case "normal":
            return draw.normal(a, abs(b), many)[own]
        case "whole":
            return draw.integers(int(min(a, b)), int(max(a, b)) + 1, many).astype(float)[own]
        case "evenly":
            return draw.permutation(np.linspace(a, b, rows))[age]
        case "steps":  # a, a + b, a + 2·b, …, each so many times
            return a + b * (age // max(int(formula.c), 1))
        case "running":
            return np.cumsum(draw.normal(a, abs(b), rows))[age]
        case "line":
            return a + b * held[formula.x or ""] + draw.normal(0, abs(formula.c), many)[own]
        case "category":
            return draw.integers(0, max(len(formula.names), 1), many).astype(float)[own]


def _parsed(text: str) -> ast.Expression:
    if len(text) > _LONGEST:
        raise BadFormula(f"The expression is longer than {_LONGEST} characters: work it out in two columns.")
    try:
        tree = ast.parse(text.strip().replace("−", "-").replace("·", "*"), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        raise BadFormula(
            "This is not an expression such as log10(stage) − 0.5: check its brackets."
        ) from None
    _check(tree.body, 0)
    return tree


def _check(node: ast.AST, depth: int) -> None:
    if depth > _DEEPEST:
        raise BadFormula("The expression is nested too deeply: work it out in two columns.")
    below: list[ast.AST] = []
    match node:
        case ast.BinOp(left=left, op=op, right=right) if type(op) in _OPERATORS:
            below = [left, right]
        case ast.UnaryOp(op=ast.USub() | ast.UAdd(), operand=operand):
            below = [operand]
        case ast.Call(func=ast.Name(id=name), args=given, keywords=[]) if name in FUNCTIONS and (
            FUNCTIONS[name].least <= len(given) <= len(FUNCTIONS[name].takes)
        ):
            for part, kind in zip(given, FUNCTIONS[name].takes, strict=False):
                if kind in ("numbers", "date"):
                    below.append(part)
                else:
                    _setting(part, kind)
        case ast.Call(func=ast.Name(id=name)):
            known = ", ".join(FUNCTIONS)
            takes = (
                f"{name}({', '.join(_ASKED[one] for one in FUNCTIONS[name].takes)})"
                if name in FUNCTIONS
                else ""
            )
            raise BadFormula(
                f"“{name}” is used so here: {takes}." if takes
                else f"“{name}” is not known here: the functions are {known}."
            )  # fmt: skip
        case ast.Constant(value=value) if isinstance(value, int | float | str) and not isinstance(
            value, bool
        ):
            pass
        case ast.Name():
            pass
        case _:
            raise BadFormula(
                "Only + − * / **, brackets, numbers, column names and the listed functions are understood."
            )
    for one in below:
        _check(one, depth + 1)


def _names(node: ast.AST, wanted: Argument = "numbers") -> Iterator[tuple[str, Argument]]:
    """The columns named in a checked expression, each with what it has to hold."""
    match node:
        case ast.Name(id=name) | ast.Constant(value=str(name)):
            yield name, wanted
        case ast.Call(func=ast.Name(id=name), args=given):
            for part, kind in zip(given, FUNCTIONS[name].takes, strict=False):
                if kind in ("numbers", "date"):
                    yield from _names(part, kind)
        case _:
            for below in ast.iter_child_nodes(node):
                yield from _names(below)


#: How an argument is asked for.
_ASKED: dict[Argument, str] = {
    "numbers": "column", "date": "date column", "count": "rows", "duration": '"1 hour"', "day": '"2021-03-04"',
}  # fmt: skip


def _setting(node: ast.AST, kind: Argument) -> float:
    """An argument that is no column: so many rows, so long, or a day as its moment. Raises BadFormula."""
    value = node.value if isinstance(node, ast.Constant) else None
    if kind == "count" and isinstance(value, int) and not isinstance(value, bool) and 1 <= value <= 10**9:
        return value
    read = {"duration": duration, "day": moment}.get(kind)
    found = read(value) if read is not None and isinstance(value, str) else None
    if found is None:
        wanted = {"count": "a whole number of rows", "duration": "a time such as “1 hour” or “5 minutes”"}
        raise BadFormula(f"{wanted.get(kind, 'A day such as “2021-03-04”').capitalize()} is needed there.")
    return found


def _value(node: ast.AST, held: dict[str, Floats]) -> Floats | float:
    match node:
        case ast.Constant(value=str(name)) | ast.Name(id=name):
            return held[name]
        case ast.Constant(value=number):
            try:
                return float(number)  # type: ignore[arg-type]  # the parser lets numbers alone through
            except OverflowError:
                return np.inf
        case ast.UnaryOp(op=op, operand=operand):
            value = _value(operand, held)
            return -value if isinstance(op, ast.USub) else value
        case ast.BinOp(left=left, op=op, right=right):
            joined: np.ndarray | float = _OPERATORS[type(op)](_value(left, held), _value(right, held))
            return joined
        case ast.Call(func=ast.Name(id=name), args=given):
            function = FUNCTIONS[name]
            return function.run(*(
                np.atleast_1d(_value(part, held)) if kind in ("numbers", "date") else _setting(part, kind)
                for part, kind in zip(given, function.takes, strict=False)
            ))  # fmt: skip
    raise BadFormula("This expression cannot be worked out.")
