"""Write-up: the pins, and the page as it will be handed in."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step
from bright_tether.words.reading import Reading


def _reading(findings: Findings, view: str, run: object) -> Reading:
    """The page itself is the reading."""
    return Reading(headline=findings.study.title)


STEP = Step(
    id="write-up",
    title="Write-up",
    gist="Pins of every step in order, with method, rows and exclusions written by themselves.",
    reading=_reading,
    parts=frozenset(),
    results=False,
    claims=False,
    lined=False,
)
