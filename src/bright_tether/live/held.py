"""The slope with other columns held: which columns, on which rows, and what comes of it."""

from __future__ import annotations

from typing import NamedTuple

import msgspec
import numpy as np

from bright_tether.core.line.along import SlopeAlong, slope_along, slope_by_level
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import ErrorKind
from bright_tether.core.line.held import (
    Held,
    HeldFit,
    HeldSlope,
    columns_of,
    fit_held,
    held_slope,
    judge_held,
)
from bright_tether.core.line.held_forecast import HeldForecast, held_forecasts
from bright_tether.core.line.longer import longer_line
from bright_tether.core.line.terms import Collinear, Design, fit_terms
from bright_tether.core.line.unseen import Unseen, Yardstick, unseen, yardstick
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Floats, Ints, Refusal
from bright_tether.core.summary import quartiles
from bright_tether.live.compare import CompareResults
from bright_tether.live.line import LineResults
from bright_tether.study.declared import given, result
from bright_tether.tables.column import Cells

#: A category of more levels takes more columns than a reader can follow.
MOST_LEVELS = 40


class NothingHeld(Refusal):
    """No further column is held."""


class NotHeld(Refusal):
    """Columns cannot be held beside this line: it has weights, or goes through the origin."""


class HeldConstant(Refusal):
    """A held column that does not vary in the rows that have every value. name : of it."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name


class HeldMany(Refusal):
    """A category of more levels than can be held. name : of it; found : how many."""

    def __init__(self, name: str, found: int) -> None:
        super().__init__(name, found)
        self.name, self.found = name, found


class HeldTold(Refusal):
    """A column that the others tell entirely. name : of it, "" for x."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name


class HeldCells(NamedTuple):
    """One column that is held. name : its header; short : without the unit; reference : of a category, a level."""

    name: str
    short: str
    cells: Cells
    category: bool
    reference: str = ""
    id: str = ""
    unit: str | None = None


class HeldTerm(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What a slope beside that of x is of. level : of a category, "" of a column of numbers; reference : beside it."""

    name: str
    short: str
    level: str = ""
    reference: str = ""


class HeldLine(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The slope held, what its terms are, and which pairs have every value: keep (n,) bool of the pairs."""

    held: Held
    terms: tuple[HeldTerm, ...]
    keep: np.ndarray


class HeldPart(msgspec.Struct, frozen=True, eq=False):
    """The pairs that have a value in every held column, which of all they are, and the terms with their cells."""

    pairs: Pairs
    keep: np.ndarray
    terms: list[HeldTerm]
    others: list[Floats]


def make_part(combined: bool, pairs: Pairs, columns: tuple[HeldCells, ...]) -> HeldPart:
    """Take the columns on the pairs that have a value in each of them. Raises Refusal."""
    if not columns:
        raise NothingHeld
    return _part_of(combined, pairs, columns)


def make_fit(part: HeldPart) -> HeldFit:
    """y on x and the columns. Raises Refusal."""
    try:
        return fit_held(part.pairs, part.others)
    except Collinear:
        raise HeldTold(_told_by_others(part)) from None


def make_held(
    part: HeldPart, fit: HeldFit, level: float, kind: ErrorKind, order: Ints | None, clusters: Ints | None
) -> HeldLine:
    """Hold the columns. Raises Refusal.

    Slopes are tested against 0 and on both sides, whatever the line's own hypotheses: that is what is said of them.
    """
    held = judge_held(fit, Hypotheses(level=level), kind=kind, order=_part(order, part.keep),
                      clusters=_codes(clusters, part.keep))  # fmt: skip
    return HeldLine(held=held, terms=tuple(part.terms), keep=part.keep)


def make_held_slope(
    part: HeldPart, fit: HeldFit, level: float, kind: ErrorKind, order: Ints | None, clusters: Ints | None
) -> HeldSlope:
    """The slope held alone, as ``make_held``. Raises Refusal."""
    return held_slope(fit, Hypotheses(level=level), kind=kind, order=_part(order, part.keep),
                      clusters=_codes(clusters, part.keep))  # fmt: skip


def _part_of(combined: bool, pairs: Pairs, columns: tuple[HeldCells, ...]) -> HeldPart:
    if combined:
        raise NotHeld
    keep = np.ones(pairs.n, bool)
    for one in columns:
        cells = one.cells if pairs.n == one.cells.size else one.cells[pairs.at]
        there = [bool(str(cell).strip()) for cell in cells] if one.category else np.isfinite(cells)
        keep &= np.asarray(there, bool)
    part = pairs if keep.all() else _only(pairs, keep)
    terms: list[HeldTerm] = []
    others: list[Floats] = []
    for one in columns:
        if not one.category:
            terms.append(HeldTerm(name=one.name, short=one.short))
            cells = one.cells if part.n == one.cells.size else one.cells[part.at]
            others.append(np.asarray(cells, np.float64))
            continue
        names = [str(cell).strip() for cell in one.cells[part.at]]
        reference = one.reference if one.reference in names else (names[0] if names else "")
        if len(set(names)) > MOST_LEVELS:
            raise HeldMany(one.name, len(set(names)))
        levels, told = columns_of(names, reference)
        if not levels:
            raise HeldConstant(one.name)
        terms += [
            HeldTerm(name=one.name, short=one.short, level=level, reference=reference) for level in levels
        ]
        others += told
    for term, column in zip(terms, others, strict=True):
        if column.size and not np.ptp(column):
            raise HeldConstant(term.name)
    return HeldPart(part, keep, terms, others)


def _told_by_others(part: HeldPart) -> str:
    """The name of a held column that the others tell; "" where it is x that they tell."""
    try:
        fit_terms(Design(terms=tuple(part.others)), part.pairs.x)
    except Collinear as found:
        return part.terms[found.term].name
    return ""


def _only(pairs: Pairs, keep: np.ndarray) -> Pairs:
    return Pairs(x=pairs.x[keep], y=pairs.y[keep], at=pairs.at[keep], rows=pairs.rows,
                 missing=pairs.missing + int(np.count_nonzero(~keep)), set_aside=pairs.set_aside,
                 filtered_out=pairs.filtered_out)  # fmt: skip


def _part(order: Ints | None, keep: np.ndarray) -> Ints | None:
    """The places of the kept pairs among themselves, in the stated order."""
    if order is None or keep.all():
        return order
    place = np.cumsum(keep) - 1
    return np.asarray(place[order[keep[order]]])


def _codes(clusters: Ints | None, keep: np.ndarray) -> Ints | None:
    """The codes of the kept pairs, from 0 without a gap."""
    return None if clusters is None else np.unique(clusters[keep], return_inverse=True)[1]


class UnseenLine(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What an unseen column would have to do; and what one as strong as each held column would, by its short name."""

    unseen: Unseen
    yardsticks: tuple[tuple[str, Yardstick], ...]


def make_unseen(
    combined: bool, pairs: Pairs, columns: tuple[HeldCells, ...], alpha: float
) -> UnseenLine | None:
    """How strong it would have to be; None where a line has no test. Raises Refusal where columns cannot be held."""
    part = _part_of(combined, pairs, columns)
    terms, others = part.terms, part.others
    try:
        fit = fit_terms(Design(terms=(part.pairs.x, *others)), part.pairs.y)
    except Collinear:
        raise HeldTold(_told_by_others(part)) from None
    slope, se = fit.slopes[0], fit.se_slopes()[0]
    if not se or slope is None:
        return None
    names = dict.fromkeys(one.short for one in terms)
    found = []
    for name in names:
        measured = [column for term, column in zip(terms, others, strict=True) if term.short == name]
        rest = [column for term, column in zip(terms, others, strict=True) if term.short != name]
        found.append((name, yardstick(part.pairs.x, part.pairs.y, rest, measured)))
    return UnseenLine(unseen=unseen(slope / se, fit.residual_df, alpha), yardsticks=tuple(found))


class AlongLine(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The slope of x along one of the held columns. levels : of a category, in the order of its places."""

    short: str
    unit: str | None
    levels: tuple[str, ...]
    along: SlopeAlong


class NoAlong(Refusal):
    """No column is chosen along which the slope may differ."""


def make_along(
    held: HeldPart, columns: tuple[HeldCells, ...], along: str, level: float, kind: ErrorKind,
    order: Ints | None, clusters: Ints | None,
) -> AlongLine:  # fmt: skip
    """Let the slope differ along one column while the others are held. Raises Refusal."""
    chosen = next((one for one in columns if one.id == along), None)
    if chosen is None:
        raise NoAlong
    part, keep, terms, others = held.pairs, held.keep, held.terms, held.others
    mine = _turned(terms, chosen)
    rest = [column for at, column in enumerate(others) if at not in mine]
    by = {"kind": kind, "order": _part(order, keep), "clusters": _codes(clusters, keep)}
    try:
        if not chosen.category:
            column = others[mine[0]]
            places = sorted(set(quartiles(np.sort(column))[1:4]))
            found = slope_along(part, column, rest, places, level, **by)  # type: ignore[arg-type]
            return AlongLine(short=chosen.short, unit=chosen.unit, levels=(), along=found)
        own = [others[at] for at in mine]
        levels = [1 - sum(own), *own]
        found = slope_by_level(part, levels, rest, level, **by)  # type: ignore[arg-type]
    except Collinear:
        raise HeldTold("") from None
    names = (terms[mine[0]].reference, *(terms[at].level for at in mine))
    return AlongLine(short=chosen.short, unit=None, levels=names, along=found)


class HeldAt(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Forecasts with columns held. at : what each is held at, by its short name: a value, or a level.

    along : the short name of the one along which the slope differs, "" of none.
    """

    along: str
    at: tuple[tuple[str, float | str], ...]
    forecasts: tuple[HeldForecast, ...]


def make_held_forecasts(
    held: HeldPart, columns: tuple[HeldCells, ...], stated: tuple[tuple[str, float | str], ...],
    places: tuple[float, ...], along: str, level: float, kind: ErrorKind, order: Ints | None, clusters: Ints | None,
) -> HeldAt:  # fmt: skip
    """At these x, or at the quartiles of x where none are stated; held columns at their own. Raises Refusal."""
    part, keep, terms, others = held.pairs, held.keep, held.terms, held.others
    require(part, 1)
    by_id, at, held_at = dict(stated), list[tuple[str, float | str]](), list[float]()
    for one in columns:
        mine = [(term, cells) for term, cells in zip(terms, others, strict=True) if term.name == one.name]
        wish = by_id.get(one.id)
        if not one.category:
            value = float(mine[0][1].mean()) if wish is None or isinstance(wish, str) else wish
            at.append((one.short, value))
            held_at.append(value)
            continue
        levels = [term.level for term, _ in mine]
        level_at = wish if isinstance(wish, str) and wish in levels else mine[0][0].reference
        at.append((one.short, level_at))
        held_at += [float(name == level_at) for name in levels]
    x = places or tuple(sorted(set(quartiles(part.ordered_x)[1:4])))
    chosen = next((one for one in columns if one.id == along), None)
    try:
        found = held_forecasts(part.x, others, part.y, x, held_at, level, kind=kind, order=_part(order, keep),
                               clusters=_codes(clusters, keep),
                               along=_turned(terms, chosen))  # fmt: skip
    except Collinear:
        raise HeldTold(_told_by_others(held)) from None
    return HeldAt(at=tuple(at), forecasts=found, along="" if chosen is None else chosen.short)


def _turned(terms: list[HeldTerm], along: HeldCells | None) -> list[int]:
    """The places of the terms of a column."""
    return [at for at, term in enumerate(terms) if along is not None and term.name == along.name]


class HeldResults(CompareResults):
    """The slope with other columns held."""

    @given
    def held_cells(self) -> tuple[HeldCells, ...]:
        """The columns that are held, less those that are gone or are x or y themselves."""
        choice, found = self.tether.held, []
        for one in choice.columns:
            if not self.table.has(one) or one in (self.tether.x, self.tether.y):
                continue
            column = self.table.column(one)
            column = self.measured(column) if column.kind == "date" else column
            reference = choice.reference.get(one, "")
            found.append(
                HeldCells(
                    column.name, column.short, column.cells, not column.numeric, reference, one, column.unit
                )
            )
        return tuple(found)

    held_part = result(make_part, CompareResults.combined, LineResults.pairs, held_cells)
    held_fit = result(make_fit, held_part)
    held_line = result(make_held, held_part, held_fit, LineResults.level, CompareResults.error_kind,
                       LineResults.order, LineResults.clusters)  # fmt: skip
    longer = result(longer_line, held_fit)

    @given
    def held_along(self) -> str:
        """The held column along which the slope may differ, "" for none."""
        return self.tether.held.along

    @given
    def held_at(self) -> tuple[tuple[str, float | str], ...]:
        """What held columns are forecast at, by id, where it is stated."""
        return tuple(self.tether.held.at.items())

    @given
    def held_places(self) -> tuple[float, ...]:
        """The x that is forecast at, as x is measured, where it is stated."""
        stated = self.tether.held.at.get(self.tether.x or "")
        return () if stated is None or isinstance(stated, str) else (stated,)

    held_forecast = result(make_held_forecasts, held_part, held_cells, held_at, held_places, held_along,
                           LineResults.level, CompareResults.error_kind, LineResults.order,
                           LineResults.clusters)  # fmt: skip
    along_line = result(make_along, held_part, held_cells, held_along, LineResults.level,
                        CompareResults.error_kind, LineResults.order, LineResults.clusters)  # fmt: skip
    unseen_line = result(
        make_unseen, CompareResults.combined, LineResults.pairs, held_cells, LineResults.alpha
    )
