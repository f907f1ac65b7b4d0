"""All results as plain data, each under its public key."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, is_dataclass
from enum import Enum
from typing import Any

import numpy as np

from bright_tether.core.column import ColumnSummary
from bright_tether.core.compare.groups import Group
from bright_tether.core.forecast import Forecasts
from bright_tether.core.line.deming import deming
from bright_tether.core.line.errors import NoErrors, coefficients_by, errors_of
from bright_tether.core.line.figures import Line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.theil_sen import theil_sen
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.tables.column import Column
from bright_tether.words.causes import cause
from bright_tether.words.readings.rows import rows_sentence


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """What is told beside the sections that always are."""

    at: tuple[float, ...] = ()
    inverse_at: tuple[float, ...] = ()
    mean_of: int = 1
    rows: bool = False
    agreement: bool = False
    resample: int = 0
    seed: int = 0


def record(findings: Findings, wanted: Wanted = Wanted()) -> dict[str, Any]:
    """Every section of the analysis; a value that does not exist is None with its reason under "why".

    Raises Refusal where there is no line.
    """
    told: dict[str, Any] = {
        "pairs": _pairs(findings),
        "x": _column(findings.x_column, findings.x_summary),
        "y": _column(findings.y_column, findings.y_summary),
        "correlation": _correlation(findings),
        "decision": plain(findings.decision),
        "line": _line(findings),
        "checks": _checks(findings),
    }
    if wanted.rows:
        told["rows"] = entries(findings.rows)
    if wanted.agreement:
        told["agreement"] = plain(findings.agreement)
    compared = findings.tether.compare
    if compared.group or compared.second:
        told["comparison"] = comparison_record(findings)
    kind = findings.tether.line.errors
    told["predictions"] = (
        [entry | {"errors": kind} for entry in entries(findings.forecasts(wanted.at, wanted.mean_of))]
        if wanted.at
        else []
    )
    for key, many in (("inverse", wanted.mean_of), ("inverse_mean", None)):
        told[key] = [plain(findings.inverse(y, many)) | {"errors": kind} for y in wanted.inverse_at]
    if wanted.resample:
        told["resampling"] = _resampling(findings, wanted.resample, wanted.seed)
    told["notes"] = [rows_sentence(findings.pairs), *_notes(findings)]
    return told


def _line(findings: Findings) -> dict[str, Any]:
    told, line = plain(findings.line), findings.line
    told["errors"] = findings.tether.line.errors
    shared = {"slope": line.slope, "intercept": line.intercept}
    told["theil_sen"], told["deming"] = plain(findings.theil_sen), plain(findings.deming)
    told["newey_west"] = {**shared, **plain(findings.coefficients_by("newey_west")), "lag": findings.lag}
    if findings.clusters is not None:
        try:
            told["clustered"] = {**shared, **plain(findings.coefficients_by("clustered"))}
        except NoErrors as none:
            told["clustered"] = {**shared, "ci_slope": None, "why": {"ci_slope": cause(none.cause)}}
    return told


def _checks(findings: Findings) -> dict[str, Any]:
    told = plain(findings.checks)
    for key in ("skewness", "excess_kurtosis"):
        told["jarque_bera"].pop(key)
    told["fences"]["rows"] = list(findings.checks.fences.rows)
    return told


def _notes(findings: Findings) -> list[str]:
    told = []
    if findings.tether.line.errors != "classical":
        told.append(
            f"Errors in force: {findings.tether.line.errors}. They judge the slope where it decides, "
            "separate comparisons and forecasts; pooled comparisons rest on one common spread."
        )
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


def comparison_record(findings: Findings) -> dict[str, Any]:
    """Section 6 under its public keys."""
    made = findings.comparison
    two = None if made.slopes else cause(Cause.NOT_TWO_GROUPS)
    told: dict[str, Any] = {
        "source": made.source,
        "errors": findings.tether.line.errors,
        "groups": [_group(group, findings) for group in made.groups],
        "slopes": plain(made.slopes),
        "intercepts": plain(made.intercepts),
        "heights": None if made.heights is None else {"x": made.height_at, **plain(made.heights)},
        "parallel": plain(made.ladder.parallel),
        "same_height": plain(made.ladder.same_height),
        "coincident": plain(made.ladder.coincident),
        "pairwise": [plain(pair) for pair in made.pairwise] if made.pairwise_cause is None else None,
        "equivalence": plain(made.equivalence),
        "correlations": plain(made.correlations),
    }
    if made.dependent is not None and told["correlations"] is not None:
        told["correlations"]["dependent"] = plain(made.dependent)
    if made.same_rows is not None:
        told["same_rows"] = {
            **plain(made.same_rows.slope),
            "intercept": plain(made.same_rows.intercept),
            "equivalence": plain(made.equivalence_same_rows),
        }
        told["rows_are"], told["decides"] = made.rows_are, made.decides
    why = {key: two for key in ("slopes", "intercepts", "heights", "correlations") if two}
    if made.pairwise_cause:
        why["pairwise"] = cause(made.pairwise_cause)
    return told | ({"why": why} if why else {})


def _group(group: Group, findings: Findings) -> dict[str, Any]:
    told: dict[str, Any] = {"name": group.name, "n": group.n}
    if group.line is not None and group.fit is not None:
        level, shared = findings.rules.level, {"slope": group.line.slope, "intercept": group.line.intercept}
        order = None
        if findings.order is not None and findings.tether.compare.group:
            order = np.argsort(np.argsort(findings.order)[group.places], kind="stable")
        alike = errors_of(group.fit, "newey_west", order=order)
        return told | {
            **plain(group.line),
            "theil_sen": plain(theil_sen(group.pairs, level=level)),
            "deming": plain(deming(group.fit, error_ratio=findings.tether.line.error_ratio, level=level)),
            "newey_west": {**shared, **plain(coefficients_by(group.fit, alike, findings.against))},
        }
    names = [field.name for field in fields(Line) if field.name != "why"]
    assert group.cause is not None
    return told | dict.fromkeys(names) | {"why": dict.fromkeys(names, cause(group.cause))}


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
        "zero_weight": pairs.zero_weight,
    }


def _column(column: Column, summary: ColumnSummary) -> dict[str, Any]:
    missing = int(np.count_nonzero(~np.isfinite(column.numbers)))
    return {"name": column.name, "unit": column.unit, "missing": missing, **plain(summary)}
