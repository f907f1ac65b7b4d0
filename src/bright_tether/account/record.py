"""All results as plain data, each under its public key."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any

import numpy as np

from bright_tether.core.column import ColumnSummary
from bright_tether.core.forecast import Forecasts
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.live.findings import Findings
from bright_tether.tables.column import Column
from bright_tether.words.causes import cause
from bright_tether.words.readings.rows import rows_sentence


def record(
    findings: Findings,
    *,
    at: tuple[float, ...] = (),
    mean_of: int = 1,
    rows: bool = False,
    agreement: bool = False,
    resample: int = 0,
    seed: int = 0,
) -> dict[str, Any]:
    """Every section of the analysis; a value that does not exist is None with its reason under "why".

    Raises Refusal where there is no line.
    """
    line = findings.line
    told: dict[str, Any] = {
        "pairs": _pairs(findings),
        "x": _column(findings.x_column, findings.x_summary),
        "y": _column(findings.y_column, findings.y_summary),
        "correlation": _correlation(findings),
        "decision": plain(findings.decision),
        "line": plain(line),
    }
    if rows:
        told["rows"] = entries(findings.rows)
    if agreement:
        told["agreement"] = plain(findings.agreement)
    told["predictions"] = entries(findings.forecasts(at, mean_of)) if at else []
    if resample:
        told["resampling"] = _resampling(findings, resample, seed)
    told["notes"] = [rows_sentence(findings.pairs)]
    return told


def _correlation(findings: Findings) -> dict[str, Any]:
    told = {**plain(findings.covariance)}
    for name in ("pearson", "spearman", "kendall"):
        told[name] = plain(getattr(findings, name))
    within = findings.within_groups
    return told if within is None else told | {"within_groups": plain(within)}


def _resampling(findings: Findings, draws: int, seed: int) -> dict[str, Any]:
    made = findings.bootstrap(draws, seed)
    told: dict[str, Any] = {"draws": made.draws, "seed": seed, "redrawn": made.redrawn}
    for name in ("slope", "intercept", "r"):
        told[name] = {key: value for key, value in plain(getattr(made, name)).items() if key != "draws"}
    luck = plain(findings.permutation(draws, seed))
    told["permutation"] = {key: luck[key] for key in ("p", "reached", "p_error", "why") if key in luck}
    return told


def plain(result: Any) -> Any:
    """A result as dictionaries, lists, numbers and None; reasons become sentences."""
    if is_dataclass(result):
        told = {field.name: plain(getattr(result, field.name)) for field in fields(result)}
        if not told.get("why", True):
            del told["why"]
        return told
    if isinstance(result, Enum):
        return cause(result)  # type: ignore[arg-type]
    if isinstance(result, Mapping):
        return {key: plain(value) for key, value in result.items()}
    if isinstance(result, tuple | list):
        return [plain(value) for value in result]
    if isinstance(result, np.ndarray):
        return plain(result.tolist())
    if isinstance(result, float) and result != result:
        return None
    return result


def entries(result: RowByRow | Forecasts) -> list[dict[str, Any]]:
    """A result of arrays as one entry a row; a missing value carries its reason in the entry."""
    told = {f.name: plain(getattr(result, f.name)) for f in fields(result) if f.name != "why"}
    why = {key: cause(code) for key, code in getattr(result, "why", {}).items()}
    listed = []
    for values in zip(*told.values(), strict=True):
        entry: dict[str, Any] = dict(zip(told, values, strict=True))
        absent = {key: why[key] for key, value in entry.items() if value is None and key in why}
        if absent:
            entry["why"] = absent
        listed.append(entry)
    return listed


def _pairs(findings: Findings) -> dict[str, int]:
    pairs = findings.pairs
    return {
        "n": pairs.n,
        "rows": pairs.rows,
        "missing": pairs.missing,
        "set_aside": pairs.set_aside,
        "filtered_out": pairs.filtered_out,
    }


def _column(column: Column, summary: ColumnSummary) -> dict[str, Any]:
    missing = int(np.count_nonzero(~np.isfinite(column.numbers)))
    return {"name": column.name, "unit": column.unit, "missing": missing, **plain(summary)}
