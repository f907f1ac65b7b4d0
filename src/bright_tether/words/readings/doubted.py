"""What is said of whose residuals the doubts are about."""

from __future__ import annotations

from bright_tether.claims.doubted import DoubtedClaim, doubted_claim
from bright_tether.claims.held import not_held_claim
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.live.longer import longer_of
from bright_tether.words import digits as d
from bright_tether.words.readings.held import not_held
from bright_tether.words.readings.unanswered import FIGURE_NAMES
from bright_tether.words.said import Said, listed


def doubted_sentences(findings: Findings) -> tuple[Said, ...]:
    """Whose residuals these are, and which signs come or go with the columns held; nothing of the line alone."""
    if findings.refusal is not None or not findings.tether.held.doubted or not findings.held_cells:
        return ()
    try:
        claim = doubted_claim(longer_of(findings))
    except Refusal as found:
        return (
            Said(
                f"These are the residuals of the line alone. {not_held(findings, found)}",
                not_held_claim(found),
            ),
        )
    assert claim is not None
    return (
        Said(f"These are the residuals with {listed(claim.names)} held{_on(claim)}. {signs(claim)}", claim),
    )


def _on(claim: DoubtedClaim) -> str:
    if not claim.lost:
        return ""
    lack = "has" if claim.lost == 1 else "have"
    return f", on {d.count(claim.n, 'pair')}; {d.grouped(claim.lost)} more {lack} no value in it"


def signs(claim: DoubtedClaim) -> str:
    """Which signs come, go, or grow clear or fainter with the columns held."""
    gone = [FIGURE_NAMES[one] for one in claim.alone if one not in claim.held]
    come = [FIGURE_NAMES[one] for one in claim.held if one not in claim.alone]
    both = [one for one in claim.held if one in claim.alone]
    clear = [FIGURE_NAMES[one] for one in both if one in claim.clear_held and one not in claim.clear_alone]
    faint = [FIGURE_NAMES[one] for one in both if one in claim.clear_alone and one not in claim.clear_held]
    if not gone and not come and not clear and not faint:
        return (
            "The line alone shows the same signs." if claim.alone else "The line alone shows no sign either."
        )
    said = [f"the {_sign(gone)} gone"] if gone else []
    said += [f"{'a ' if len(come) == 1 else ''}{_sign(come)} new"] if come else []
    said += [f"the {_sign(clear)} clear now"] if clear else []
    said += [f"the {_sign(faint)} clear no more"] if faint else []
    return f"Against the line alone, {listed(said)}."


def _sign(names: list[str]) -> str:
    return f"sign about {names[0]} is" if len(names) == 1 else f"signs about {listed(names)} are"
