"""Which other ways there were to make an analysis, and the rows and lines that they start from.

Each way takes one option of every axis. Rows: those in play, every row, those without the rows that a rule takes out,
and, where rows were set aside for several reasons, the states on the way there. A rule takes its rows out once, by the
plain line of every row on the scale of the way. Rows that come out the same are one option. What has no ratios stands
as no logarithm: dates, and degrees of warmth. Weights, a line through the origin and held columns go with least
squares; weights and the origin with columns as they are, held columns with y as it is. Resistant lines and lines with
errors in both take neither, and have intervals of their own. Where cases decide, errors are by case, and lines whose
intervals count rows are left away.

Coefficients are compared likewise. Ranks are the same on every scale, so ρ and τ stand once; held columns go with r;
none is weighted. Where cases decide, intervals are by case, without held columns and without r of columns bent.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import replace
from itertools import product
from typing import Literal, NamedTuple, cast

import msgspec
import numpy as np

from bright_tether.core.line.change import Scale
from bright_tether.core.line.errors import ErrorKind
from bright_tether.core.line.held import HeldFit
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.terms import line_of
from bright_tether.core.line.weights import POWERS, WeightPattern
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Bools, Floats, Ints
from bright_tether.core.shape.fences import fences
from bright_tether.core.strength.bent import MOST as MOST_BENT
from bright_tether.live.alternatives import MOST_PAIRS
from bright_tether.live.held import HeldCells, HeldPart, make_fit, make_part
from bright_tether.live.line import LineResults
from bright_tether.tables.column import Cells

#: What is compared.
Compared = Literal["slope", "coefficient"]
#: What can be chosen otherwise, in the order in which a way is told.
AXES: dict[Compared, tuple[str, ...]] = {
    "slope": ("rows", "scale", "line", "weights", "held", "errors"),
    "coefficient": ("rows", "scale", "coefficient", "held"),
}
#: Rules that take rows out: a studentised residual beyond this, Cook's distance beyond this over n.
FAR, PULL = 3.0, 4.0
#: The fewest pairs that a way may have.
FEWEST = 3
#: Scales by whether x and y stand as logarithms.
SCALES: dict[Scale, tuple[bool, bool]] = {
    "plain": (False, False), "log-x": (True, False), "log-y": (False, True), "log-both": (True, True),
}  # fmt: skip
#: Units of which 0 is no beginning, so that a ratio of two values says nothing.
NO_RATIOS = ("°C", "°F", "C", "F", "degC", "degF")
#: Of rows by a state on the way to those in play: what stands before how many reasons there were by then.
AFTER = "after "


class Options(NamedTuple):
    """One option of each axis; of an axis that what is compared does not have, none."""

    rows: str
    scale: Scale
    line: str = "none"
    weights: str = "none"
    held: str = "none"
    errors: str = "none"
    coefficient: str = "none"


class TakenFrom(msgspec.Struct, frozen=True, eq=False):
    """What the rows of all ways are taken from. asides : the rows set aside, by reason."""

    x: Floats
    y: Floats
    row_ids: Ints
    asides: tuple[tuple[str, Ints], ...]
    kept: Bools | None
    beside: tuple[Cells, ...]
    weights: Floats | None
    pattern: WeightPattern | None


class Asked(msgspec.Struct, frozen=True, eq=False):
    """What all ways rest on: the columns and rows, and what is in force.

    coefficient : the one in force, where coefficients are compared; None where slopes are.
    """

    taken: TakenFrom
    origin: bool
    kind: ErrorKind
    ratio: float
    order: Cells | None
    clusters: Cells | None
    held: tuple[HeldCells, ...]
    level: float
    scales: tuple[Scale, ...]
    coefficient: str | None

    @property
    def asides(self) -> tuple[tuple[str, Ints], ...]:
        """The rows set aside, by reason."""
        return self.taken.asides

    @property
    def what(self) -> Compared:
        """What is compared."""
        return "slope" if self.coefficient is None else "coefficient"

    @property
    def weighted(self) -> bool:
        """Whether the line in force has weights."""
        return self.taken.weights is not None or self.taken.pattern is not None

    @property
    def by_case(self) -> bool:
        """Whether cases decide rather than rows."""
        return self.kind == "clustered"


class Rows:
    """The pairs and lines of each way of taking rows; those of the rows looked at last are kept, and of every row."""

    def __init__(self, asked: Asked) -> None:
        self._asked = asked
        self._pairs: dict[tuple[str, str, bool], Pairs | None] = {}
        self._fits: dict[tuple[str, str, bool], Fit] = {}
        self._held: dict[tuple[str, str, str], tuple[HeldPart, HeldFit]] = {}

    def pairs(self, rows: str, scale: Scale, *, weighted: bool = False) -> Pairs | None:
        """None where there are none on this scale."""
        key = (rows, scale, weighted)
        if key not in self._pairs:
            self._let_go(rows)
            self._pairs[key] = self._taken(rows, scale, weighted=weighted)
        return self._pairs[key]

    def fit(self, rows: str, scale: Scale, *, weighted: bool = False) -> Fit:
        """The line of these rows, which there are. Raises Refusal."""
        key = (rows, scale, weighted)
        if key not in self._fits:
            pairs = self.pairs(rows, scale, weighted=weighted)
            assert pairs is not None
            self._fits[key] = line_of(pairs) if weighted else fit_line(pairs)
        return self._fits[key]

    def held(self, rows: str, scale: Scale, held: str) -> tuple[HeldPart, HeldFit]:
        """The line of these rows, which there are, with columns held. Raises Refusal."""
        key = (rows, scale, held)
        if key not in self._held:
            pairs, asked = self.pairs(rows, scale), self._asked
            assert pairs is not None
            columns = (
                asked.held
                if held == all_held(asked)
                else tuple(one for one in asked.held if one.short == held)
            )
            part = make_part(False, pairs, columns)
            self._held = {kept: one for kept, one in self._held.items() if kept[:2] == key[:2]}
            self._held[key] = part, make_fit(part)
        return self._held[key]

    def _let_go(self, rows: str) -> None:
        """Of a million rows not every way is held at once."""
        self._pairs = {key: one for key, one in self._pairs.items() if key[0] in (rows, "every")}
        self._fits = {key: one for key, one in self._fits.items() if key[0] in (rows, "every")}

    def _taken(self, rows: str, scale: Scale, *, weighted: bool) -> Pairs | None:
        asked = self._asked.taken
        out = np.zeros(0, np.int64)
        if rows == "taken" or rows.startswith(AFTER):
            many = len(asked.asides) if rows == "taken" else int(rows.removeprefix(AFTER))
            out = np.concatenate([out, *(some for _, some in asked.asides[:many])])
        elif rows != "every":
            every = self.pairs("every", scale)
            found = None if every is None or every.n < FEWEST else _by_rule(rows, self.fit("every", scale))
            if every is None or found is None or not found.any():
                return None
            out = asked.row_ids[every.at[found]]
        weights, pattern = (asked.weights, asked.pattern) if weighted else (None, None)
        plain = LineResults.unweighted.make(asked.x, asked.y, asked.row_ids, out, asked.kept, asked.beside)
        power = None
        if pattern in POWERS:
            power = LineResults.spread_power.make(plain, pattern, self._asked.level)
        pairs = LineResults.pairs.make(plain, asked.x, weights, pattern, power)
        return pairs if scale == "plain" else _on(pairs, scale)


def _by_rule(rule: str, fit: Fit) -> Bools | None:
    """Which pairs a rule takes out, (n,); None where it says nothing of these."""
    if fit.exact or fit.residual_df < 2:
        return None
    rows = RowByRow(fit)
    if rule == "fences":
        box = fences(rows.residual)
        return np.asarray((rows.residual < box.lower) | (rows.residual > box.upper))
    with np.errstate(invalid="ignore"):
        return np.abs(rows.studentised) > FAR if rule == "studentised" else rows.cooks_d > PULL / fit.n


def _on(pairs: Pairs, scale: Scale) -> Pairs | None:
    """The pairs with a column or both as logarithms; None where one of them is not above 0."""
    x, y = pairs.x, pairs.y
    for_x, for_y = SCALES[scale]
    if not pairs.n or (for_x and float(x.min()) <= 0) or (for_y and float(y.min()) <= 0):
        return None
    return replace(pairs, x=np.log10(x) if for_x else x, y=np.log10(y) if for_y else y)


def options_of(asked: Asked, n: int) -> dict[str, tuple[str, ...]]:
    """The options of each axis, the present one first. n : pairs of every row."""
    taken = ["taken", *(["every"] if asked.asides else [])]
    taken += [f"{AFTER}{at}" for at in range(1, len(asked.asides))]
    both = {"rows": (*taken, "fences", "studentised", "cook"), "scale": asked.scales}
    held = ["none", *(one.short for one in asked.held)]
    held += [all_held(asked)] if len(asked.held) > 1 else []
    if asked.coefficient is not None:
        kinds = [asked.coefficient, "pearson", "spearman", "kendall"]
        kinds += [] if asked.by_case or n > MOST_BENT else ["bent"]
        held = ["none"] if asked.by_case else held
        return both | {"coefficient": tuple(dict.fromkeys(kinds)), "held": tuple(dict.fromkeys(held))}
    lines = ["origin", "least-squares"] if asked.origin else ["least-squares"]
    lines += [] if asked.by_case or n > MOST_PAIRS else ["theil-sen", "mm"]
    lines += [] if asked.by_case else ["deming"]
    errors = ["clustered"] if asked.by_case else list(dict.fromkeys((asked.kind, "classical", "HC3")))
    return both | {
        "line": tuple(lines), "weights": ("in-force", "none") if asked.weighted else ("none",),
        "held": tuple(dict.fromkeys(held)), "errors": (*errors, "own"),
    }  # fmt: skip


def all_held(asked: Asked) -> str:
    """What holding every column at once is called."""
    return " + ".join(one.short for one in asked.held)


def _goes(options: Options) -> bool:
    """Whether these options can be taken together, by the rules above."""
    if options.coefficient in ("spearman", "kendall"):
        return options.scale == "plain" and options.held == "none"
    if options.coefficient != "none":
        return options.held == "none" or options.coefficient == "pearson"
    least = options.line in ("least-squares", "origin")
    plainly = options.scale == "plain" and options.held == "none"
    if (options.errors == "own") is least:
        return False
    if options.weights != "none" and not (options.line == "least-squares" and plainly):
        return False
    if options.line == "origin" and not plainly:
        return False
    if options.scale in ("log-y", "log-both") and not (least and options.held == "none"):
        return False
    return options.held == "none" or options.line == "least-squares"


def ways_of(asked: Asked, rows: Rows, left_out: tuple[str, ...]) -> Iterator[Options]:
    """Every way that there is, those of the same rows together; of rows that come out the same, the first."""
    every = rows.pairs("every", "plain")
    options = options_of(asked, 0 if every is None else every.n)
    kept = {axis: [one for one in some if f"{axis}={one}" not in left_out] for axis, some in options.items()}
    seen: set[tuple[str, bytes]] = set()
    for choice in kept["rows"]:
        for scale in cast("list[Scale]", kept["scale"]):
            pairs = rows.pairs(choice, scale)
            if pairs is None or pairs.n < FEWEST:
                continue
            key = (scale, hashlib.blake2b(pairs.at.tobytes()).digest())
            if key in seen:
                continue
            seen.add(key)
            axes = AXES[asked.what][2:]
            for rest in product(*(kept[axis] for axis in axes)):
                way = Options(choice, scale, **dict(zip(axes, rest, strict=True)))
                if _goes(way):
                    yield way


def present_way(asked: Asked, rows: str = "taken", coefficient: str | None = None) -> Options:
    """The way in force, on these rows, or by another coefficient where coefficients are compared."""
    if asked.coefficient is not None:
        return Options(rows, "plain", coefficient=coefficient or asked.coefficient)
    line = "origin" if asked.origin else "least-squares"
    return Options(rows, "plain", line, "in-force" if asked.weighted else "none", "none", asked.kind)
