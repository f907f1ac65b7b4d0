"""The table of choices that could have been made otherwise."""

from __future__ import annotations

from bright_tether.claims.other_choices import options_told
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.ways import AXIS_NAMES, option_name

HEADS = ("choice", "option", "ways", "lowest", "middle", "highest", "0 outside")


def other_choices_grid(findings: Findings, found: OtherChoices) -> Grid:
    """Each option: the ways that take it, and what they come to."""
    digits = findings.rules.digits
    rows = [
        (AXIS_NAMES[one.axis], option_name(findings, one.axis, one.option), d.grouped(one.ways),
         *(d.figure(value, digits) for value in (one.lowest, one.middle, one.highest)), d.grouped(one.clear))
        for one in options_told(found)
    ]  # fmt: skip
    return Grid(title="Choices made otherwise", heads=HEADS, rows=tuple(rows))
