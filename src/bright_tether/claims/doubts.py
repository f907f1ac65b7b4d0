"""The six doubts, what is in force of them, and what answers them."""

from __future__ import annotations

from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim, NamedRow
from bright_tether.claims.rows import named_rows
from bright_tether.core.doubts.verdicts import Doubt, Verdict, counts
from bright_tether.core.results import Alternative, Cause, Decider
from bright_tether.live.findings import Findings
from bright_tether.live.longer import LongerFindings

#: A doubt that explains another: a bend makes neighbours alike along x, and sets rows off.
_EXPLAINS = {"bend": ("order",)}


class DoubtClaim(Claim, frozen=True, kw_only=True):
    """One doubt. p : of the check p_from, both null where none was computed. size : in its own measure.

    short_of : what keeps a p of at most α from being a sign: its size, or the other five checks.
    could_see : the chances of noticing a mild, a strong and an extreme departure, where they were asked for.
    answer : what answers it. explained_by : another doubt with a sign that brings this one about.
    without : the few rows that stand out by themselves (see rests), without which its p, p_without, passes α no more.
    groups_of : a column with a line for each of whose groups its p, p_in_groups, passes α no more.
    """

    kind: ClassVar[str] = "doubt"
    name: str
    verdict: str
    p: float | None
    p_from: str | None
    size: float | None
    rows: tuple[NamedRow, ...]
    could_see: tuple[float, float, float] | None
    cause: Cause | None
    answer: str | None
    explained_by: str | None
    short_of: Literal["size", "the family"] | None
    without: tuple[NamedRow, ...] = ()
    p_without: float | None = None
    groups_of: str = ""
    p_in_groups: float | None = None

    @property
    def sign(self) -> bool:
        """Whether there is a sign, clear or not."""
        return self.verdict in (Verdict.SOME, Verdict.CLEAR)


class DoubtsClaim(Claim, frozen=True, kw_only=True):
    """The head of the six. expected_by_luck : the share of true lines of this n and x with at least one sign.

    bound : whether that is the rule's bound rather than counted on simulated lines.
    """

    kind: ClassVar[str] = "doubts"
    signs: tuple[str, ...]
    clear: tuple[str, ...]
    few: tuple[str, ...]
    not_judged: tuple[str, ...]
    expected_by_luck: float
    bound: bool
    exact: bool


class DoubtsInForceClaim(Claim, frozen=True, kw_only=True):
    """Clear signs that nothing answers, and those that a choice or a reason answers."""

    kind: ClassVar[str] = "doubts_in_force"
    names: tuple[str, ...]
    remedied: tuple[str, ...]


class CarriedClaim(Claim, frozen=True, kw_only=True):
    """Rows that carry the line by their x alone.

    slope, low, high : of the line without them, at the level in force; None where what is left has none.
    """

    kind: ClassVar[str] = "carried"
    rows: tuple[NamedRow, ...]
    leverage: float
    slope: float | None
    low: float | None
    high: float | None


class RestsClaim(Claim, frozen=True, kw_only=True):
    """Rows that the decision rests on: without them no relationship is not rejected, or on the other side; or it is
    rejected where, with them, it is not.

    rejected : with them.
    They are named by a doubt about single rows, carry the line, or lie far out in x, three at most; of these as few as
    it takes, the most influential first.
    statistic, p : of the deciding test without them; None where a column is left that does not vary.
    """

    kind: ClassVar[str] = "rests"
    rows: tuple[NamedRow, ...]
    rejected: bool
    test: Decider
    statistic: float | None
    p: float | None
    alternative: Alternative
    alpha: float


class LineupClaim(Claim, frozen=True, kw_only=True):
    """How often the real picture was picked among those of true lines."""

    kind: ClassVar[str] = "lineup"
    found: int
    tries: int
    by_luck: float


def doubt_claims(findings: Findings) -> tuple[DoubtClaim, ...]:
    """All six, in their order."""
    signs = {one.name for one in findings.doubts if one.sign}
    return tuple(_claim(findings, one, signs) for one in findings.doubts)


def _claim(findings: Findings, one: Doubt, signs: set[str]) -> DoubtClaim:
    explained = next((by for by, others in _EXPLAINS.items() if by in signs and one.name in others), None)
    along_x = findings.tether.line.order is None and findings.pairs.rises
    left = findings.signs_without
    p_left = None if left is None else left.p.get(one.name)
    if p_left is not None and p_left <= findings.rules.alpha:
        p_left = None
    grouping, p_in = findings.grouping, findings.signs_in_groups.get(one.name)
    if grouping is None or (p_in is not None and p_in <= findings.rules.alpha):
        p_in = None
    return DoubtClaim(
        name=one.name, verdict=one.verdict.value, p=one.p, p_from=one.p_from, size=one.size,
        rows=named_rows(findings, one.rows), could_see=one.seen.chances if one.seen else None, cause=one.cause,
        answer=findings.answer_to(one.name) if one.sign else None,
        explained_by=explained if one.sign and along_x else None, short_of=_short_of(findings, one),
        without=() if left is None or p_left is None else named_rows(findings, left.rows), p_without=p_left,
        groups_of="" if grouping is None or p_in is None else grouping.short, p_in_groups=p_in,
    )  # fmt: skip


def _short_of(findings: Findings, one: Doubt) -> Literal["size", "the family"] | None:
    if one.sign or one.p is None or one.p > findings.rules.alpha:
        return None
    return "the family" if counts(one.name, one.size, findings.pairs.n) else "size"


def doubts_claim(findings: Findings, six: tuple[DoubtClaim, ...]) -> DoubtsClaim:
    """What stands out among the six, and how much of that luck alone brings."""
    luck = findings.signs_by_luck

    def with_verdict(*verdicts: Verdict) -> tuple[str, ...]:
        return tuple(one.name for one in six if one.verdict in verdicts)

    return DoubtsClaim(
        signs=with_verdict(Verdict.SOME, Verdict.CLEAR), clear=with_verdict(Verdict.CLEAR),
        few=with_verdict(Verdict.FEW), not_judged=with_verdict(Verdict.NONE), expected_by_luck=luck.share,
        bound=luck.draws == 0, exact=findings.fit.exact,
    )  # fmt: skip


def doubts_in_force(six: tuple[DoubtClaim, ...]) -> DoubtsInForceClaim:
    """The clear signs, with an answer and without."""
    clear = [one for one in six if one.verdict == Verdict.CLEAR]
    signs = [one for one in six if one.sign]
    return DoubtsInForceClaim(
        names=tuple(one.name for one in clear if one.answer is None),
        remedied=tuple(one.name for one in signs if one.answer is not None),
    )


def carried_claim(findings: Findings) -> CarriedClaim | None:
    """Rows whose x alone gives them most of their own fitted value."""
    carried = findings.design.carried
    if not carried.size or findings.fit.exact:
        return None
    found = findings.without_carried
    low, high = (None, None) if found is None else found.ci
    return CarriedClaim(rows=named_rows(findings, carried), leverage=float(findings.design.leverage.max()),
                        slope=None if found is None else found.slope, low=low, high=high)  # fmt: skip


def rests_claim(findings: Findings) -> RestsClaim | None:
    """The rows without which the decision would be another."""
    found = findings.resting
    if found is None:
        return None
    rules, without = findings.rules, found.without
    return RestsClaim(
        rows=named_rows(findings, found.rows), rejected=bool(findings.decision.reject), test=findings.decider,
        statistic=None if without is None else without.statistic, p=None if without is None else without.p,
        alternative=rules.alternative, alpha=rules.alpha,
    )  # fmt: skip


def lineup_claim(findings: Findings) -> LineupClaim | None:
    """What the lineups kept so far say."""
    kept = findings.tether.lineups
    if not kept or isinstance(findings, LongerFindings):  # the lineup is of the line alone
        return None
    return LineupClaim(
        found=sum(one.picked == one.real for one in kept), tries=len(kept), by_luck=1 / kept[-1].of
    )
