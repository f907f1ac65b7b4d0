"""Strength that comes from how the two columns were made."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Floats
from bright_tether.live.findings import Findings
from bright_tether.study.derived import rests_on
from bright_tether.tables.formula import OfTether

#: Two shares of one whole make up no more than this together, and at least that in this share of the rows.
_FULL, _NEARLY_FULL, _OFTEN = 100.5, 90.0, 0.25
#: Values that grow at every row are taken for running totals from this many pairs on.
_RUNNING = 8


Why = Literal[
    "running totals", "own part", "of a line", "from the same", "plus", "times", "averages", "repeated cases", "shares"
]  # fmt: skip


class BuiltInClaim(Claim, frozen=True, kw_only=True):
    """Strength that comes from how the columns were made. why : running totals, own part, of a line, from the same,
    plus, times, averages, repeated cases, shares of one whole.

    whole, part : column names, or what a row is, or the column of cases. third : with which, in every row, part makes
    up whole, one of the three being neither x nor y; or from which both are worked out.
    """

    kind: ClassVar[str] = "built_in"
    why: Why
    whole: str
    part: str
    third: str = ""


def built_in_claims(findings: Findings) -> tuple[BuiltInClaim, ...]:
    """What is built into the strength of these two columns."""
    found, x, y = [], findings.x_column, findings.y_column
    found += _worked_out(findings)
    made = findings.made_of
    if made is not None and findings.clock is None:
        names = {"x": x.short, "y": y.short, "third": findings.table.column(made.third).short}
        whole = names.pop(made.whole)
        part, third = names.values()
        found.append(BuiltInClaim(why=made.how, whole=whole, part=part, third=third))
    pairs = findings.pairs
    if findings.clock is None and pairs.n >= _RUNNING and _rises(pairs.x) and _rises(pairs.y):
        found.append(BuiltInClaim(why="running totals", whole=y.short, part=x.short))
    if _shares(findings):
        found.append(BuiltInClaim(why="shares", whole=x.short, part=y.short))
    row = findings.tether.one_row
    if any(word in row.lower() for word in ("mean of", "average", "median of")):
        found.append(BuiltInClaim(why="averages", whole=row, part=""))
    cluster = findings.tether.line.cluster
    if cluster and findings.table.has(cluster) and _repeats(findings):
        named = findings.table.column(cluster).short
        found.append(BuiltInClaim(why="repeated cases", whole=named, part=x.short))
    return tuple(found)


def _worked_out(findings: Findings) -> list[BuiltInClaim]:
    """What formulas tell: one column worked out from the other, or both from a third."""
    x, y, study = findings.x_column, findings.y_column, findings.study
    from_x, from_y = (rests_on(study, findings.table, one) for one in (x, y))
    for whole, part, rests in ((x, y, from_x), (y, x, from_y)):
        if part.id in rests:
            of_line = isinstance(whole.formula, OfTether)
            why: Why = "of a line" if of_line else "own part"
            return [BuiltInClaim(why=why, whole=whole.short, part=part.short)]
    both = [one for one in from_x if one in from_y]
    if not both:
        return []
    third = findings.table.column(both[0]).short
    return [BuiltInClaim(why="from the same", whole=y.short, part=x.short, third=third)]


def _shares(findings: Findings) -> bool:
    """Whether both are shares in per cent that never pass 100 together, and often come near it."""
    pairs = findings.pairs
    if {findings.x_column.unit, findings.y_column.unit} != {"%"} or pairs.n < _RUNNING:
        return False
    together = pairs.x + pairs.y
    whole = min(pairs.x.min(), pairs.y.min()) >= 0 and together.max() <= _FULL
    return bool(whole and np.mean(together >= _NEARLY_FULL) >= _OFTEN)


def _rises(values: Floats) -> bool:
    return bool(np.all(np.diff(values) > 0))


def _repeats(findings: Findings) -> bool:
    """Whether rows share a case, by errors that take each row for one of its own."""
    codes = findings.clusters
    return codes is not None and np.unique(codes).size < codes.size and findings.errors.kind != "clustered"
