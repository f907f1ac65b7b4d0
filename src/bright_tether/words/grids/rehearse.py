"""Tables of Rehearse."""

from __future__ import annotations

from bright_tether.core.rehearse.kinds import JUDGED
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import BrokenCase
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.readings.planning import BROKEN_NAMES, plus, share

_SHORT = {"classical": "classical", "HC3": "HC3", "newey_west": "alike"}
#: The shapes that the picture gives them.
_MARKS = {"classical": "●", "HC3": "▲", "newey_west": "■"}


def broken_grid(findings: Findings, cases: tuple[BrokenCase, ...]) -> Grid:
    """One row a case: how the slope really varies, what is claimed, and the share caught."""
    rows = []
    for case in cases:
        plain = case.by["classical"]
        claimed = d.fixed(plain.told, d.decimals_for(plain.sd_error, 3, plain.told))
        caught = [share(one.caught or 0.0, one.caught_error or 0.0) for one in case.by.values()]
        rows.append((BROKEN_NAMES[case.name], plus(plain.sd, plain.sd_error), claimed, *caught))
    level = d.level_in_words(findings.rules.level)
    heads = ("residuals", "sd of slope", "claimed se", *(f"{_MARKS[kind]} {_SHORT[kind]}" for kind in JUDGED))
    return Grid(
        title=f"Broken assumptions: share of {level} intervals of the slope that caught the truth",
        heads=heads,
        rows=tuple(rows),
    )
