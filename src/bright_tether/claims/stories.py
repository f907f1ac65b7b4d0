"""Stories that forbid a headline: what groups, clumps and gaps tell beside the whole."""

from __future__ import annotations

from typing import ClassVar, Literal

import msgspec
import numpy as np

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Cause, Ints
from bright_tether.core.strength.within import LEAST_ROWS, GroupCorrelation, WithinGroups, heights_apart
from bright_tether.core.tails import t_both
from bright_tether.live.findings import Findings
from bright_tether.tables.column import Column

StoryVerdict = Literal["opposite", "none inside", "weaker", "same", "masked", "nothing", "cannot tell"]
#: Where the groups tell this, what they tell takes the headline.
FORBIDS: tuple[StoryVerdict, ...] = ("opposite", "none inside", "masked")
#: A column's spread is wholly between groups but for this share: they are another name for its levels.
_WHOLLY = 1e-9
#: From this share of a column's spread on between groups, the groups are populations of their own.
_APART = 0.75


class GroupPart(msgspec.Struct, frozen=True, kw_only=True):
    """One group: its name, rows, and r where it has one.

    shown : which way it goes, 1 or −1, where its own two-sided test shows that among so many groups (Bonferroni), else
    0; not told where cases decide.
    """

    name: str
    n: int
    r: float | None
    shown: Literal[-1, 0, 1] = 0


class StoryClaim(Claim, frozen=True, kw_only=True):
    """What r of all rows and r pooled within the groups of a column tell, two-sided at α.

    all, within : r with p_all, p_within; df : of within. groups : r of each, and which way it is shown to go.
    stronger : of the same story, whether |within| lies beyond the upper end of the interval of |all|. p_heights : of
    one line for all against one for each group, all of one slope; not told where cases decide.
    """

    kind: ClassVar[str] = "story"
    by: str
    all: float | None
    p_all: float | None
    within: float | None
    p_within: float | None
    df: int
    alpha: float
    groups: tuple[GroupPart, ...]
    verdict: StoryVerdict
    stronger: bool = False
    p_heights: float | None = None

    @property
    def set_apart(self) -> bool:
        """Whether the groups are shown to stand at heights of their own."""
        return self.p_heights is not None and self.p_heights <= self.alpha

    @property
    def matters(self) -> bool:
        """Whether the groups themselves are shown to have a part in it; where cases decide, that is not asked."""
        return self.verdict == "opposite" or self.p_heights is None or self.set_apart

    @property
    def forbids(self) -> bool:
        """Whether what the groups tell takes the headline."""
        return self.verdict in FORBIDS or (self.verdict == "nothing" and self.crossing)

    @property
    def crossing(self) -> bool:
        """Whether one group is shown to rise and another to fall, which a pooled r hides."""
        return {one.shown for one in self.groups} >= {-1, 1}


class ClumpsClaim(Claim, frozen=True, kw_only=True):
    """Separate clumps of points. within_r : pooled inside them, with its two-sided p; across : r of all.

    apart : links between over links inside. by : a category column that sets them apart.
    """

    kind: ClassVar[str] = "clumps"
    k: int
    n_each: tuple[int, ...]
    within_r: float | None
    within_p: float | None
    across: float | None
    alpha: float
    apart: float
    by: str | None


class GapClaim(Claim, frozen=True, kw_only=True):
    """An empty stretch of x wider than a quarter of its range."""

    kind: ClassVar[str] = "gap"
    low: float
    high: float
    share: float


class PopulationsClaim(Claim, frozen=True, kw_only=True):
    """Groups that are populations of their own: columns most of whose spread lies between them, with that share."""

    kind: ClassVar[str] = "populations"
    by: str
    apart: tuple[tuple[str, float], ...]


def story_claim(findings: Findings, column: Column | None, within: WithinGroups | None) -> StoryClaim | None:
    """The story of one category column."""
    if column is None or within is None:
        return None
    alpha = findings.rules.alpha
    whole = findings.pearson.r
    p_all, p_within = p_of_all(findings), p_inside(within)
    return StoryClaim(
        by=column.short, all=whole, p_all=p_all, within=within.r, p_within=p_within, df=within.df, alpha=alpha,
        groups=tuple(_part(findings, one, len(within.groups)) for one in within.groups),
        verdict=(verdict := _verdict(findings, within, p_all, p_within)),
        stronger=verdict == "same" and abs(within.r or 0.0) > _ends(findings)[1],
        p_heights=None if findings.by_case is not None or whole is None else heights_apart(within, whole),
    )  # fmt: skip


def _part(findings: Findings, one: GroupCorrelation, many: int) -> GroupPart:
    p = None if findings.by_case is not None else p_of(one.r, one.n - 2)
    shown = one.r is not None and p is not None and p <= findings.rules.alpha / many
    way: Literal[-1, 0, 1] = 0 if not shown or one.r is None else 1 if one.r > 0 else -1
    return GroupPart(name=one.name or "(blank)", n=one.n, r=one.r, shown=way)


def p_of_all(findings: Findings) -> float | None:
    """The two-sided p of r all together: by case where cases decide."""
    if findings.by_case is None:
        return p_of(findings.pearson.r, findings.pearson.df)
    one = findings.by_case.pearson
    return None if one.t is None else t_both(one.t, one.df)


def p_inside(within: WithinGroups) -> float | None:
    """The two-sided p of r within groups; 0 where it is exactly 1 in size."""
    exact = within.why.get("p") is Cause.PERFECT_CORRELATION and within.df >= 1
    return 0.0 if exact else within.p


def p_of(r: float | None, df: int) -> float | None:
    """The two-sided p of r; 0 where r is exactly 1 in size."""
    if r is None or df < 1:
        return None
    left = (1 - r) * (1 + r)
    return t_both(r * (df / left) ** 0.5, df) if left > 0 else 0.0


def _verdict(
    findings: Findings, within: WithinGroups, p_all: float | None, p_within: float | None
) -> StoryVerdict:
    alpha, whole = findings.rules.alpha, findings.pearson.r
    telling = [one for one in within.groups if one.n >= LEAST_ROWS and one.r is not None]
    if (
        len(telling) < 2
        or within.df < 3
        or whole is None
        or within.r is None
        or p_all is None
        or p_within is None
    ):
        return "cannot tell"
    if p_all > alpha:
        return "masked" if p_within <= alpha else "nothing"
    if p_within > alpha:
        return "none inside"
    if within.r * whole < 0:
        return "opposite"
    return "weaker" if abs(within.r) < _ends(findings)[0] else "same"


def _ends(findings: Findings) -> tuple[float, float]:
    """The ends of the interval of |r| all together."""
    ci = findings.in_force("pearson").ci
    if ci is None:
        return abs(findings.pearson.r or 0.0), 1.0
    low, high = sorted(map(abs, ci))
    return (0.0 if ci[0] <= 0 <= ci[1] else low), high


def clumps_claim(findings: Findings) -> ClumpsClaim | None:
    """The clumps of the pairs, where they fall into some."""
    found, inside = findings.clumps, findings.within_clumps
    if not found.count or inside is None:
        return None
    return ClumpsClaim(
        k=found.count, n_each=tuple(np.bincount(found.of[found.of >= 0], minlength=found.count).tolist()),
        within_r=inside.r, within_p=p_inside(inside), across=findings.pearson.r,
        alpha=findings.rules.alpha, apart=found.apart or 0.0, by=_set_apart(findings, found.of),
    )  # fmt: skip


def _set_apart(findings: Findings, of: Ints) -> str | None:
    """A category column each of whose groups lies in one clump, and which tells every two clumps apart."""
    for column in findings.table.columns:
        if column.kind != "category":
            continue
        texts = column.cells[findings.pairs.at].tolist()
        clump_of: dict[str, int] = {}
        inside = [(str(text), clump) for text, clump in zip(texts, of.tolist(), strict=True) if clump >= 0]
        if all(clump_of.setdefault(text, clump) == clump for text, clump in inside) and len(clump_of) < len(
            inside
        ):
            return column.short
    return None


def gap_claims(findings: Findings) -> tuple[GapClaim, ...]:
    """Every gap of x, the widest first."""
    low, high = findings.pairs.ends_x
    return tuple(
        GapClaim(low=start, high=end, share=(end - start) / (high - low))
        for start, end in sorted(findings.gaps.wide, key=lambda one: one[0] - one[1])
    )


def populations_claim(findings: Findings) -> PopulationsClaim | None:
    """The first category column whose groups are populations of their own; stretches of time are none."""
    if findings.clock is not None:
        return None
    for column, within in findings.within_columns:
        if len(within.groups) < 2 or min(group.n for group in within.groups) < LEAST_ROWS:
            continue
        if max(within.between_x, within.between_y) > 1 - _WHOLLY:  # another name for the levels of x, or of y
            continue
        shares = ((findings.x_column.short, within.between_x), (findings.y_column.short, within.between_y))
        apart = tuple((name, share) for name, share in shares if share >= _APART)
        if apart:
            return PopulationsClaim(by=column.short, apart=apart)
    return None


def hidden_stories(findings: Findings) -> tuple[StoryClaim, ...]:
    """Category columns that nobody tinted by, whose groups tell what forbids the headline, or go opposite ways.

    That a relationship is not shown inside groups, or inside them alone, is told where they are shown to stand apart:
    any column takes degrees of freedom, and one that says nothing would be suspected for that in one study of ten.
    """
    chosen = findings.grouping
    found = (
        story_claim(findings, column, within)
        for column, within in findings.within_columns
        if chosen is None or column.id != chosen.id
    )
    return tuple(one for one in found if one is not None and (one.crossing or (one.forbids and one.matters)))
