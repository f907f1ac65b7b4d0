"""Results as plain data: dictionaries, lists, numbers and None, each None with its reason."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from enum import Enum
from typing import Any

import numpy as np

from bright_tether.core.forecast import Forecasts
from bright_tether.core.line.errors import NoErrors
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.results import (
    Cause,
    ConstantColumn,
    EveryRow,
    OutOfRange,
    Refusal,
    TooFewPairs,
    names_of,
)
from bright_tether.live.basis import BeyondPictures
from bright_tether.study.memory import attempt
from bright_tether.words.causes import cause


def some(kind: type, make: Callable[[], Any], **known: Any) -> dict[str, Any]:
    """A result as plain data; where the pairs allow none, all its names without a value, and why."""
    found = attempt(make)
    return blank(kind, cause_of(found), **known) if isinstance(found, Refusal) else plain(found)


def blank(kind: type, code: Cause, **known: Any) -> dict[str, Any]:
    """The names of a result without values, for one cause. known : those that there are all the same."""
    names = [name for name in names_of(kind) if name != "why" and name not in known]
    return {**known, **dict.fromkeys(names), "why": dict.fromkeys(names, cause(code))}


def cause_of(refusal: Refusal) -> Cause:
    """A refusal as the cause of each value that is missing by it. What no data mend is raised again."""
    if isinstance(refusal, TooFewPairs):
        return Cause.TOO_FEW_PAIRS if refusal.found else Cause.NO_PAIRS
    if isinstance(refusal, EveryRow):
        return Cause.EVERY_ROW
    if isinstance(refusal, ConstantColumn):
        return Cause.CONSTANT_X
    if isinstance(refusal, OutOfRange | BeyondPictures):
        return Cause.OUT_OF_RANGE
    if isinstance(refusal, NoErrors):
        return refusal.cause
    raise refusal


def plain(result: Any) -> Any:
    """A result as dictionaries, lists, numbers and None; reasons become sentences."""
    if names := names_of(result):
        values = {name: plain(getattr(result, name)) for name in names}
        if not values.get("why", True):
            del values["why"]
        return values
    if isinstance(result, Enum):
        return cause(result)  # type: ignore[arg-type]
    if isinstance(result, Mapping):
        return {key: plain(value) for key, value in result.items()}
    if isinstance(result, tuple | list):
        return [plain(value) for value in result]
    if isinstance(result, np.ndarray):
        return plain(result.tolist())
    if isinstance(result, float) and not math.isfinite(result):
        return None
    return result


def entries(result: RowByRow | Forecasts) -> list[dict[str, Any]]:
    """A result of arrays as one entry a row; a missing value carries its reason in the entry."""
    columns = {name: plain(getattr(result, name)) for name in names_of(result) if name != "why"}
    why = {key: cause(code) for key, code in getattr(result, "why", {}).items()}
    listed = []
    for values in zip(*columns.values(), strict=True):
        entry: dict[str, Any] = dict(zip(columns, values, strict=True))
        absent = {
            key: why.get(key, cause(Cause.OUT_OF_RANGE))
            for key, value in entry.items()
            if value is None or (isinstance(value, list) and None in value)
        }
        entry |= dict.fromkeys(absent)
        if absent:
            entry["why"] = absent
        listed.append(entry)
    return listed
