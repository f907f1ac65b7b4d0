"""All results as plain data, each under its public key."""

from __future__ import annotations

from functools import partial
from typing import Any

import msgspec
import numpy as np

from bright_tether.account.checks import checks_record
from bright_tether.account.comparison import comparison_record
from bright_tether.account.held import held_record
from bright_tether.account.other_choices import other_choices_record
from bright_tether.account.readings import readings_record
from bright_tether.account.values import blank, cause_of, entries, plain, some
from bright_tether.account.widths import local_record, widths_record
from bright_tether.claims.rows import rows_claim
from bright_tether.core.centred import unscaled
from bright_tether.core.compare.ladder import CommonSlope
from bright_tether.core.decision import Decision, undecided
from bright_tether.core.forecast import Forecasts
from bright_tether.core.inverse import Inverse
from bright_tether.core.line.coefficients import Coefficients
from bright_tether.core.line.deming import Deming
from bright_tether.core.line.errors import lag_for
from bright_tether.core.line.figures import Line
from bright_tether.core.line.robust_errors import KINDS as ROBUST
from bright_tether.core.line.row_by_row import EACH_ROW, RowByRow
from bright_tether.core.line.spread_power import SpreadPower
from bright_tether.core.line.theil_sen import TheilSen
from bright_tether.core.resampling.bootstrap import Resampled
from bright_tether.core.resampling.permutation import Permutation
from bright_tether.core.results import (
    Refusal,
    kept_in_range,
)
from bright_tether.core.strength.agreement import Agreement
from bright_tether.core.strength.bent import Bent
from bright_tether.core.strength.by_case import CoefficientsByCase
from bright_tether.core.strength.cases import CaseStory
from bright_tether.core.strength.kendall import Kendall
from bright_tether.core.strength.pearson import Covariance, critical_r, no_pearson
from bright_tether.core.strength.spearman import no_spearman
from bright_tether.core.summary import ColumnSummary, summarise
from bright_tether.live.findings import Findings
from bright_tether.study.memory import attempt
from bright_tether.tables.column import Column
from bright_tether.words.readings.decision import hypotheses
from bright_tether.words.readings.rows import rows_sentence, share_in_words


class Wanted(msgspec.Struct, frozen=True, kw_only=True):
    """What is told beside the sections that always are. comparison : the chosen one, where there is one."""

    comparison: bool = True
    at: tuple[float, ...] = ()
    inverse_at: tuple[float, ...] = ()
    mean_of: int = 1
    rows: bool = False
    agreement: bool = False
    resample: int = 0
    seed: int = 0
    readings: bool = False
    choices: bool = False
    widths: bool = False


_EVERYTHING = Wanted()


def record(findings: Findings, wanted: Wanted = _EVERYTHING) -> dict[str, Any]:
    """Every section of the analysis; a value that does not exist is None with its reason under "why".

    Data that allow little leave little, never nothing. Raises Refusal only for what no data mend: a column of
    words, a negative weight, a comparison that is not defined.
    """
    nothing = summarise(np.zeros(0))
    x, y = findings.x_column, findings.y_column
    results: dict[str, Any] = {
        "pairs": _pairs(findings),
        "x": _column(x, findings.x_summary if findings.pairs.n else nothing, findings.without_number(x))
        | _clock(findings),
        "y": _column(y, findings.y_summary if findings.pairs.n else nothing, findings.without_number(y)),
        "correlation": _correlation(findings),
        "decision": decision_record(findings),
        "line": _line(findings),
        "checks": checks_record(findings),
    }
    if wanted.rows:
        results["rows"] = _rows(findings)
    if wanted.agreement:
        results["agreement"] = some(Agreement, lambda: findings.agreement)
    compared = findings.tether.compare
    if wanted.comparison and (compared.group or compared.second):
        results["comparison"] = comparison_record(findings)
    if findings.tether.held.columns:
        results["with"] = held_record(findings)
    if wanted.choices:
        results["other_choices"] = other_choices_record(findings)
    if wanted.widths:
        results["widths"] = widths_record(findings)
    if findings.tether.forecast.local:
        results["local"] = local_record(findings)
    results["predictions"] = _predictions(findings, wanted)
    kind = findings.tether.line.errors
    for key, many in (("inverse", wanted.mean_of), ("inverse_mean", None)):
        results[key] = [
            {"y": y} | some(Inverse, partial(findings.inverse, y, many), y=y) | {"errors": kind}
            for y in wanted.inverse_at
        ]
    shares = [f"These rows are {one}." for one in share_in_words(findings)]
    if wanted.resample:
        results["resampling"] = _resampling(findings, wanted.resample, wanted.seed)
    if wanted.readings:
        results["readings"] = readings_record(
            findings, ahead=bool(wanted.at or wanted.inverse_at), choices=wanted.choices, widths=wanted.widths
        )
    results["notes"] = [str(rows_sentence(rows_claim(findings))), *shares, *_notes(findings)]
    return results


def decision_record(findings: Findings) -> dict[str, Any]:
    """Section 2c under its public keys."""
    decision = decision_of(findings)
    figures: dict[str, Any] = plain(decision)
    del figures["null"]
    null, other = hypotheses(decision.test, decision.alternative, decision.null)
    return {"test": figures.pop("test"), "h0": null, "h1": other, **figures}


def decision_of(findings: Findings) -> Decision:
    """The decision, or its hypotheses where the deciding test has no value."""
    found = attempt(lambda: findings.decision)
    if not isinstance(found, Refusal):
        return found
    rules, test = findings.rules, findings.decider
    n = findings.pairs.n
    critical = None if test in ("slope", "kendall") else critical_r(n - 2, rules.alpha, rules.alternative)
    return undecided(
        test, cause_of(found), slope_0=findings.tether.line.slope_0, alpha=rules.alpha,
        alternative=rules.alternative, critical=critical,
        instead_of=None if test == rules.decide else rules.decide,
    )  # fmt: skip


def _line(findings: Findings) -> dict[str, Any]:
    figures = some(Line, lambda: findings.line)
    why = figures.setdefault("why", {})
    if figures["slope"] is None and figures["robust"] is None:
        against = findings.against
        figures |= {"slope_0": against.slope_0, "intercept_0": against.intercept_0, "level": against.level,
                 "alternative": against.alternative}  # fmt: skip
        for key in [key for key in why if figures[key] is not None]:
            del why[key]
        if findings.pairs.n and not findings.tether.line.origin:
            y = findings.pairs.centred_y
            figures["ss_total"] = unscaled(y.sum_squares, 2 * y.exponent)
            if figures["ss_total"] is not None:
                del why["ss_total"]
        refused = attempt(lambda: findings.line)
        assert isinstance(refused, Refusal)
        code = cause_of(refused)
        why.pop("robust", None)
        figures["robust"] = {name: blank(Coefficients, code) for name in ROBUST}
    figures["errors"] = findings.tether.line.errors
    power = attempt(lambda: findings.spread_power)
    if isinstance(power, SpreadPower):
        figures["spread_power"] = plain(power)
    shared = {"slope": figures["slope"], "intercept": figures["intercept"]}
    figures["theil_sen"] = some(TheilSen, lambda: findings.theil_sen)
    ratio = findings.tether.line.error_ratio
    figures["deming"] = some(Deming, lambda: findings.deming, error_ratio=ratio)
    figures["newey_west"] = shared | some(Coefficients, lambda: findings.coefficients_by("newey_west"))
    figures["newey_west"]["lag"] = lag_for(findings.pairs.n) if findings.pairs.n else None
    if findings.clusters is not None:
        figures["clustered"] = shared | some(Coefficients, lambda: findings.coefficients_by("clustered"))
    for name in ("newey_west", "clustered"):
        for key in ("slope", "intercept"):
            if name in figures and figures[key] is None:
                figures[name].setdefault("why", {})[key] = why[key]
    if findings.common_groups is not None:
        figures["common_slope"] = some(CommonSlope, lambda: findings.common_slope)
    if not why:
        del figures["why"]
    return figures


def _rows(findings: Findings) -> list[dict[str, Any]]:
    found = attempt(lambda: findings.rows)
    if not isinstance(found, Refusal):
        found.together(*EACH_ROW)
        return entries(found)
    pairs, code = findings.pairs, cause_of(found)
    return [
        blank(RowByRow, code, row=at + 1, x=x, y=y)
        for at, x, y in zip(pairs.at.tolist(), pairs.x.tolist(), pairs.y.tolist(), strict=True)
    ]


def _predictions(findings: Findings, wanted: Wanted) -> list[dict[str, Any]]:
    if not wanted.at:
        return []
    found, kind = attempt(lambda: findings.forecasts(wanted.at, wanted.mean_of)), findings.tether.line.errors
    if not isinstance(found, Refusal):
        width = {"width": "ranks"} if findings.by_ranks else {}
        return [entry | {"errors": kind} | width for entry in entries(found)]
    predictions = []
    for at in wanted.at:
        known = {"x": at}
        if findings.pairs.n:
            low, high = findings.pairs.ends_x
            known["outside"] = not low <= at <= high
        predictions.append(blank(Forecasts, cause_of(found), **known) | {"errors": kind})
    return predictions


def _notes(findings: Findings) -> list[str]:
    notes = []
    if findings.tether.line.errors != "classical":
        notes.append(
            f"Errors in force: {findings.tether.line.errors}. They judge the slope where it decides, "
            "separate comparisons and forecasts; pooled comparisons rest on one common spread."
        )
    made_by = findings.tether.line.weight_pattern
    if made_by is not None and findings.pairs.zero_weight:
        notes.append(f"Rows to which the pattern {made_by} gives no weight count as rows of weight 0.")
    if findings.decider != findings.rules.decide:
        notes.append(f"The slope decides instead of {findings.rules.decide}, which cannot judge this line.")
    return notes


def _correlation(findings: Findings) -> dict[str, Any]:
    rules, n = findings.rules, findings.pairs.n
    figures = some(Covariance, lambda: findings.covariance)
    for name, none in (("pearson", no_pearson), ("spearman", no_spearman)):
        found = attempt(lambda name=name: getattr(findings, name))
        if isinstance(found, Refusal):
            found = none(n, cause_of(found), alpha=rules.alpha, alternative=rules.alternative)
        figures[name] = plain(found)
    counts = {"concordant": 0, "discordant": 0, "tied_x": 0, "tied_y": 0, "tied_both": 0}
    figures["kendall"] = some(Kendall, lambda: findings.kendall, **counts)
    within = findings.within_groups
    figures |= {} if within is None else {"within_groups": plain(within)}
    story = attempt(lambda: findings.case_story)
    if isinstance(story, CaseStory):
        by_case = attempt(lambda: findings.by_case)
        judged = {"by_case": plain(by_case)} if isinstance(by_case, CoefficientsByCase) else {}
        figures["cases"] = plain(story) | judged
    return figures


def _resampling(findings: Findings, draws: int, seed: int) -> dict[str, Any]:
    found = attempt(lambda: findings.bootstrap(draws, seed))
    figures: dict[str, Any] = {"draws": draws, "seed": seed, "redrawn": 0}
    if isinstance(found, Refusal):
        figures |= {name: blank(Resampled, cause_of(found)) for name in ("slope", "intercept", "r")}
    else:
        figures |= {"draws": found.draws, "redrawn": found.redrawn}
        figures |= {name: plain(kept_in_range(getattr(found, name))) for name in ("slope", "intercept", "r")}
    for name in ("slope", "intercept", "r"):
        del figures[name]["draws"]
        figures[name].get("why", {}).pop("draws", None)
    luck = some(Permutation, lambda: findings.permutation(draws, seed).outcome)
    figures["bent"] = some(Bent, lambda: findings.bent)
    figures["permutation"] = {key: luck[key] for key in ("p", "reached", "p_error", "why") if key in luck}
    return figures


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


def _clock(findings: Findings) -> dict[str, Any]:
    """A date as x: its own header, and the day it is counted from in its unit."""
    head = findings.table.column(findings.tether.x or "").name
    return {"name": head, "since": findings.clock.since} if findings.clock else {}


def _column(column: Column, summary: ColumnSummary, missing: int) -> dict[str, Any]:
    return {"name": column.name, "unit": column.unit, "missing": missing, **plain(summary)}
