"""The slope with other columns held, as plain data under its public keys."""

from __future__ import annotations

from typing import Any

from bright_tether.account.checks import checks_record
from bright_tether.account.values import plain
from bright_tether.claims.along import along_of
from bright_tether.claims.held_forecast import held_forecasts_of
from bright_tether.core.line.held import Held, HeldSlope
from bright_tether.core.results import Refusal, names_of
from bright_tether.live.findings import Findings
from bright_tether.live.longer import longer_of
from bright_tether.study.memory import attempt
from bright_tether.words.readings.held import not_held

#: Fields that are told under other keys, or not at all.
_APART = ("why", "x_left", "y_left", "kind", "slope_alone", "df_alone")


def held_record(findings: Findings) -> dict[str, Any]:
    """The keys of quantities-with; where the columns cannot be held every value is None, with one reason."""
    found = attempt(lambda: findings.held_line)
    if isinstance(found, Refusal):
        why = not_held(findings, found)
        slope = dict.fromkeys((*_names(HeldSlope), "why")) | {"why": why}
        return dict.fromkeys(_names(Held)) | {
            "unseen": None,
            "checks": None,
            "doubts": None,
            "along": None,
            "forecasts": None,
            "alone": None,
            "held": slope,
            "terms": [],
            "why": why,
        }
    record: dict[str, Any] = plain(found.held)
    record["lost"] = findings.pairs.n - found.held.n
    alone = record.pop("alone")
    record["alone"] = {"slope": record.pop("slope_alone"), "df": record.pop("df_alone")} | {
        name: alone[name] for name in ("se_slope", "t_slope", "p_slope", "ci_slope")
    }
    record["errors"] = record.pop("kind")
    record["terms"] = [
        {"column": term.name, "level": term.level or None, "reference": term.reference or None, **slope}
        for term, slope in zip(found.terms, record["terms"], strict=True)
    ]
    for name in ("x_left", "y_left"):
        del record[name]
    ahead = held_forecasts_of(findings)
    record["forecasts"] = (
        None if ahead is None else {"at": dict(ahead.at), "of": [plain(one) for one in ahead.forecasts]}
    )
    along = along_of(findings)
    record["along"] = None if along is None else {
        "column": along.short, **plain(along.along),
        "places": [{"level": name, **plain(one)} for name, one in
                   zip(along.levels or [None] * len(along.along.places), along.along.places, strict=True)],
    }  # fmt: skip
    longer = longer_of(findings)
    record["checks"] = checks_record(longer)
    record["doubts"] = [
        {"doubt": one.name, "verdict": one.verdict.value, "p": one.p, "p_from": one.p_from, "size": one.size}
        for one in longer.doubts
    ]
    unseen = findings.unseen_line
    record["unseen"] = None if unseen is None else {
        name: getattr(unseen.unseen, name) for name in ("share", "to_nothing", "to_doubt", "alpha", "df")
    } | {"like": [{"column": name, **plain(one)} for name, one in unseen.yardsticks]}  # fmt: skip
    return record


def _names(kind: type) -> list[str]:
    return [name for name in names_of(kind) if name not in _APART]
