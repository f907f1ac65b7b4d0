"""What every step says, as plain data: each claim with its facts and the sentence that words it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from bright_tether.claims.claim import Claim
from bright_tether.claims.decision import DecisionClaim
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS, step_of
from bright_tether.words.causes import cause
from bright_tether.words.reading import Reading
from bright_tether.words.readings.decision import hypotheses
from bright_tether.words.readings.standing import standing_sentence
from bright_tether.words.said import Said

#: Steps that say something without being asked for anything of their own.
_ALWAYS = ("gather", "look", "strength", "line", "doubts")


def readings_record(
    findings: Findings, *, ahead: bool = False, choices: bool = False, widths: bool = False
) -> list[dict[str, Any]]:
    """Every claim that the steps make, in their order. ahead, choices, widths : what was asked for."""
    choice = findings.tether.compare
    compared = bool(choice.group or choice.second or choice.other)
    asked = (*_ALWAYS, *(("compare",) if compared else ()), *(("forecast",) if ahead else ()))
    found = []
    if findings.refusal is None:
        found += list(_entries("Standing", "headline", standing_sentence(findings)))
    for step in STEPS:
        if step.id in asked:
            for view in step.views[: None if step.id == "doubts" else 1]:
                found += list(_reading(step.title, step_of(step.id).reading_of(findings, view.id)))
            if step.id == "line" and findings.tether.held.columns:
                found += list(_reading(step.title, step.reading_of(findings, "held")))
            if step.id == "line" and choices:
                found += list(_reading(step.title, step.reading_of(findings, "other-choices")))
            if step.id == "forecast" and widths:
                found += list(_reading(step.title, step.reading_of(findings, "widths")))
    return found


def _reading(step: str, reading: Reading) -> Iterator[dict[str, Any]]:
    yield from _entries(step, "headline", reading.headline)
    for sentence in (*reading.sentences, *((reading.caption,) if reading.caption else ())):
        yield from _entries(step, "sentence", sentence)
    for sentence in reading.beware:
        yield from _entries(step, "beware", sentence)


def _entries(step: str, place: str, said: str) -> Iterator[dict[str, Any]]:
    claims = said.claims if isinstance(said, Said) else ()
    for claim in claims:
        yield {"step": step, "place": place, "kind": claim.kind, "says": str(said), "facts": facts_of(claim)}


def facts_of(claim: Claim) -> dict[str, Any]:
    """The facts of a claim under their public names; causes as sentences, hypotheses as they are tested."""
    facts = {name: _told(value) for name, value in claim.facts().items()}
    if isinstance(claim, DecisionClaim):
        h0, h1 = hypotheses(claim.test, claim.alternative, claim.null)
        facts = {"test": facts.pop("test"), "h0": h0, "h1": h1, **facts}
    return facts


def _told(value: Any) -> Any:
    if isinstance(value, Cause):
        return cause(value)
    if isinstance(value, dict):
        return {name: _told(one) for name, one in value.items()}
    return [_told(one) for one in value] if isinstance(value, list) else value
