"""Where a tether stands, in one line."""

from __future__ import annotations

from bright_tether.claims.standing import StandingClaim
from bright_tether.claims.stories import ClumpsClaim, StoryClaim
from bright_tether.claims.tether import claims_of
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.readings.decision import null_in_words
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.unanswered import FIGURE_NAMES
from bright_tether.words.said import Said, listed

_REMEDIES = {"weights": "weights", "origin": "through the origin", "log": "a log tied", "root": "a root tied"}


def standing_sentence(findings: Findings) -> Said:
    """Decision, story, doubts in force, remedies taken, rows out. Raises Refusal where there is no line."""
    claim = claims_of(findings).standing
    parts = [_decision(claim), *_story(claim.forbidding)]
    if claim.origin is not None and not claim.origin.together:
        parts.append("left free, the other way" if claim.origin.other_way else "left free, not shown")
    if claim.rests is not None:
        parts.append(f"rests on {rows_in_words(claim.rests.rows)}")
    if claim.doubts:
        parts.append(f"doubts: {listed(FIGURE_NAMES[name] for name in claim.doubts)}")
    if claim.remedies:
        parts.append(listed(_remedy(name) for name in claim.remedies))
    if claim.set_aside:
        parts.append(f"{d.count(claim.set_aside, 'row')} set aside")
    if claim.filtered_out:
        parts.append(f"{d.count(claim.filtered_out, 'row')} filtered out")
    return Said(" · ".join(parts), claim, claim.decision)


def _remedy(name: str) -> str:
    return _REMEDIES.get(name) or f"{ERROR_NAMES[name]} errors"


def _decision(claim: StandingClaim) -> str:
    found = claim.decision
    if found.outcome == "no test":
        return "no test"
    return f"{null_in_words(found)}: {found.outcome} ({d.p_value(found.p)})"


def _story(claim: StoryClaim | ClumpsClaim | None) -> tuple[str, ...]:
    if claim is None:
        return ()
    if isinstance(claim, ClumpsClaim):
        return (f"{claim.k} clumps",)
    if claim.crossing:
        return (f"opposite ways inside {claim.by}",)
    return ({
        "opposite": f"turns round inside {claim.by}",
        "none inside": f"not shown inside {claim.by}",
    }.get(claim.verdict, f"hidden by {claim.by}"),)  # fmt: skip
