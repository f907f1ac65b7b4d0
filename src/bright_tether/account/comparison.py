"""A comparison as plain data, under its public keys."""

from __future__ import annotations

from typing import Any

import numpy as np

from bright_tether.account.values import blank, cause_of, plain, some
from bright_tether.core.compare.differences import Differences
from bright_tether.core.compare.groups import Group
from bright_tether.core.line.coefficients import Coefficients
from bright_tether.core.line.deming import Deming, deming
from bright_tether.core.line.errors import coefficients_by, errors_of
from bright_tether.core.line.figures import Line
from bright_tether.core.line.theil_sen import TheilSen, theil_sen
from bright_tether.core.results import (
    Cause,
    Refusal,
    kept_in_range,
)
from bright_tether.live.findings import Findings
from bright_tether.study.memory import attempt
from bright_tether.words.causes import cause


def comparison_record(findings: Findings) -> dict[str, Any]:
    """Section 6 under its public keys."""
    found = attempt(lambda: findings.comparison)
    if isinstance(found, Refusal):
        names = ("groups", "slopes", "intercepts", "heights", "parallel", "same_height", "coincident",
                 "pairwise", "equivalence", "correlations")  # fmt: skip
        return dict.fromkeys(names) | {"why": dict.fromkeys(names, cause(cause_of(found)))}
    record: dict[str, Any] = {
        "source": found.source,
        "errors": findings.tether.line.errors,
        "groups": [_group(group, findings) for group in found.groups],
        "slopes": _differences(found.slopes),
        "intercepts": _differences(found.intercepts),
        "heights": None if found.heights is None else {"x": found.height_at, **_differences(found.heights)},  # type: ignore[dict-item]
        "parallel": plain(found.ladder.parallel),
        "same_height": plain(found.ladder.same_height),
        "coincident": plain(found.ladder.coincident),
        "pairwise": [plain(pair) for pair in found.pairwise] if found.pairwise_cause is None else None,
        "equivalence": plain(found.equivalence),
        "correlations": _without(plain(found.correlations), "t", "df"),
    }
    if found.dependent is not None and record["correlations"] is not None:
        record["correlations"]["dependent"] = _without(plain(found.dependent), "z")
    if found.same_rows is not None:
        record["same_rows"] = {**plain(found.same_rows.slope), "intercept": plain(found.same_rows.intercept)}
    if found.source == "responses":
        record["rows_are"], record["decides"] = found.rows_are, found.decides
    if found.by_case is not None:
        record["by_case"], record["decides"] = plain(found.by_case), found.decides
        record["by_case"]["correlations"] = _without(record["by_case"]["correlations"], "z")
    why: dict[str, str] = {}
    if found.units_differ:
        lost = ("slopes", "intercepts", "heights", "parallel", "same_height", "coincident", "equivalence",
                "pairwise", *(("same_rows",) if found.source == "responses" else ()))  # fmt: skip
        record |= dict.fromkeys(lost)
        why = dict.fromkeys(lost, cause(Cause.UNITS_DIFFER))
    elif found.slopes is None:
        why = dict.fromkeys(("slopes", "intercepts", "heights", "correlations"), cause(Cause.NOT_TWO_GROUPS))
    if found.pairwise_cause:
        why["pairwise"] = cause(found.pairwise_cause)
    return record | ({"why": why} if why else {})


def _without(record: dict[str, Any] | None, *names: str) -> dict[str, Any] | None:
    return None if record is None else {key: value for key, value in record.items() if key not in names}


def _differences(found: Differences | None) -> dict[str, Any] | None:
    record = None if found is None else plain(found)
    if record is not None and record["pooled"] is None:
        record["why"] = {"pooled": cause(Cause.NOT_POOLED)}
    return record


def _group(group: Group, findings: Findings) -> dict[str, Any]:
    record: dict[str, Any] = {"name": group.name, "n": group.n}
    fit = group.fit
    if group.line is not None and fit is not None:
        level, shared = findings.rules.level, {"slope": group.line.slope, "intercept": group.line.intercept}
        order = None
        if findings.order is not None and findings.tether.compare.group:
            order = np.argsort(np.argsort(findings.order)[group.places], kind="stable")
        ratio = findings.tether.line.error_ratio
        return record | {
            **plain(kept_in_range(group.line)),
            "theil_sen": some(TheilSen, lambda: theil_sen(group.pairs, level=level)),
            "deming": some(Deming, lambda: deming(fit, error_ratio=ratio, level=level), error_ratio=ratio),
            "newey_west": shared
            | some(
                Coefficients,
                lambda: coefficients_by(fit, errors_of(fit, "newey_west", order=order), findings.against),
            ),
        }
    assert group.cause is not None
    return record | blank(Line, group.cause)
