"""Every result of a tether in short: each number, and of each array its size, sum, weighed sum and ends."""

from __future__ import annotations

import math
import zlib
from fractions import Fraction

import numpy as np

from bright_tether.core.results import Refusal, names_of
from bright_tether.live.findings import Findings
from bright_tether.live.sketches import MODES
from bright_tether.study.declared import Result
from bright_tether.tables.texts import Texts

#: What families are asked for.
ERRORS = ("classical", "HC0", "HC1", "HC2", "HC3", "newey_west", "clustered")
_DEEP = 6
#: Where what is asked comes from, which is no result.
_ASKED = ("bright_tether.tables", "bright_tether.study")


def short(value, depth=0):
    """A value as plain data that can be compared; what is no figure, no word and no array is left out."""
    if value is None or isinstance(value, bool | np.bool_):
        return None if value is None else bool(value)
    if isinstance(value, str):
        return str(value)
    if isinstance(value, int | float | np.number | Fraction):
        number = float(value)
        return float(f"{number:.11g}") if math.isfinite(number) else str(number)
    if isinstance(value, np.ndarray | Texts):
        return _array(value)
    if depth > _DEEP:
        return "…"
    if (
        (names := names_of(value))
        and not isinstance(value, type)
        and not type(value).__module__.startswith(_ASKED)
    ):
        # a line is told by its own results; here it would stand in each of them
        left = ("fit", "pairs", "basis") if depth else ()
        return {name: short(getattr(value, name), depth + 1) for name in names if name not in left}
    if isinstance(value, dict):
        return {str(key): short(one, depth + 1) for key, one in value.items()}
    if isinstance(value, tuple | list):
        return [short(one, depth + 1) for one in value[:40]]
    return type(value).__name__


def _array(values):
    if values.dtype == object:
        return [values.size, *map(str, values[:3].tolist())]
    if values.dtype == bool:
        return [values.size, int(values.sum()), np.flatnonzero(values)[:5].tolist()]
    flat = values.astype(float).ravel()
    there = np.isfinite(flat)
    held = np.where(there, flat, 0.0)
    weight = np.cos(np.arange(held.size))  # tells an array from the same one in another order
    size = float(np.abs(held).sum())
    sums = [
        one if abs(one) > 1e-9 * size else 0.0 for one in (held.sum(), held @ weight)
    ]  # else rounding alone
    ends = flat[[0, -1]].tolist() if flat.size else []
    return [list(values.shape), int(there.sum()), *map(short, (*sums, *ends))]


def _told(ask):
    try:
        with np.errstate(all="ignore"):  # of some sets more is asked here than any view asks
            return short(ask())
    except Refusal as refusal:
        return f"refused: {type(refusal).__name__}"


def print_of(value):
    """A fingerprint of plain data: its words, and its numbers in one sum."""
    words, numbers = [], []

    def take(one):
        if isinstance(one, dict):
            for key, each in one.items():
                words.append(key)
                take(each)
        elif isinstance(one, list):
            for each in one:
                take(each)
        elif isinstance(one, float):
            numbers.append(one)
        else:
            words.append(str(one))

    take(value)
    held = np.arcsinh(1e3 * np.array(numbers))  # small and large ones weigh about alike, and rounding nothing
    return [
        zlib.crc32("|".join(words).encode()),
        round(float(np.dot(held, np.cos(np.arange(held.size)))), 6),
    ]


def results_of(findings):
    """Each declared result by name, and some members of each family."""
    names = sorted(name for name in dir(Findings) if isinstance(getattr(Findings, name), Result))
    found = {name: _told(lambda name=name: getattr(findings, name)) for name in names}
    found |= {f"errors {kind}": _told(lambda kind=kind: findings.errors_by(kind)) for kind in ERRORS}
    found |= {
        f"coefficients {kind}": _told(lambda kind=kind: findings.coefficients_by(kind)) for kind in ERRORS
    }
    for modes in MODES.values():
        for mode in modes:
            found[f"sketch {mode}"] = _told(
                lambda mode=mode: findings.sketch(mode, standardised=mode.startswith("res"))
            )
            found[f"points of {mode}"] = _told(lambda mode=mode: findings.points_of(findings.sketch(mode)))
    for name in ("without", "lineup"):
        ask = {
            "without": lambda: findings.without(np.array([0, 2])[: max(findings.pairs.n - 2, 0)]),
            "lineup": lambda: findings.lineup((3, 5)).outcome,
        }[name]
        found[name] = _told(ask)
    for name in (
        "expected",
        "backwards",
        "actual",
        "x_way",
        "y_way",
        "placed_x",
        "reached_x",
        "away",
        "stated",
    ):
        found[name] = _told(lambda name=name: getattr(findings, name))
    return found
