"""What may be said of values that recur: a response of few values, a pile at an end, pairs that are copies."""

from __future__ import annotations

from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.live.findings import Findings

#: With fewer rows two values of y may be no more than coarse figures.
LEAST_OF_TWO = 8


class TwoValuesClaim(Claim, frozen=True, kw_only=True):
    """y takes two values only, in 8 rows or more. at_high : rows of n that have the larger."""

    kind: ClassVar[str] = "two_values"
    low: float
    high: float
    at_high: int
    n: int


class FewValuesClaim(Claim, frozen=True, kw_only=True):
    """y takes three to five values only, in four rows or more of each on average."""

    kind: ClassVar[str] = "few_values"
    values: tuple[float, ...]
    n: int


class PileClaim(Claim, frozen=True, kw_only=True):
    """So many rows stand at the lowest, or the highest, value of a column that it may be a limit.

    At least 4, a tenth of all, and three times those at any value between the ends; of 8 different values or more.
    """

    kind: ClassVar[str] = "pile"
    of: Literal["x", "y"]
    value: float
    rows: int
    lowest: bool
    n: int


class CopiesClaim(Claim, frozen=True, kw_only=True):
    """So many pairs repeat both values of another that stands before them, where rounding does not explain it.

    Of two pairs with the same x four in five have the same y, of others at most one in twenty; they lie on no one line.
    """

    kind: ClassVar[str] = "copies"
    copies: int
    n: int


RecurringClaim = TwoValuesClaim | FewValuesClaim | PileClaim | CopiesClaim


def recurring_claims(findings: Findings) -> tuple[RecurringClaim, ...]:
    """Everything that recurs in the two columns, as they were measured or as a scale has them."""
    n, two, found = findings.pairs.n, findings.pairs.two_y, findings.recurring
    said: list[RecurringClaim] = []
    if two is not None and n >= LEAST_OF_TWO:
        said.append(
            TwoValuesClaim(low=two[0], high=two[1], at_high=int((findings.pairs.y == two[1]).sum()), n=n)
        )
    if found is None:
        return tuple(said)
    if found.levels:
        said.append(FewValuesClaim(values=found.levels, n=n))
    columns: tuple[Literal["x", "y"], ...] = ("x", "y")
    for of in columns:
        piles, column = (found.x, findings.x_column) if of == "x" else (found.y, findings.y_column)
        if column.clock is not None:  # a moment is no limit of what can be measured
            continue
        said += [PileClaim(of=of, value=one.value, rows=one.rows, lowest=one.lowest, n=n) for one in piles]
    if found.copies and not findings.fit.exact:
        said.append(CopiesClaim(copies=found.copies, n=n))
    return tuple(said)
