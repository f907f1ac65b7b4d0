"""The claims that the steps of one tether share: each is made once, so that no two steps can contradict each other."""

from __future__ import annotations

from weakref import WeakKeyDictionary, ref

from bright_tether.claims import decision as decided
from bright_tether.claims import doubts as doubted
from bright_tether.claims import look as looked
from bright_tether.claims import stories
from bright_tether.claims.decision import ChangeClaim, DecisionClaim, DirectionClaim, StrengthClaim
from bright_tether.claims.doubts import (
    DoubtClaim,
    DoubtsClaim,
    DoubtsInForceClaim,
    RestsClaim,
)
from bright_tether.claims.look import FarRowsClaim
from bright_tether.claims.origin import OriginClaim, origin_claim
from bright_tether.claims.rows import row_ids
from bright_tether.claims.standing import StandingClaim, standing_claim
from bright_tether.claims.stories import ClumpsClaim, StoryClaim
from bright_tether.claims.values import RecurringClaim, recurring_claims
from bright_tether.core.once import once
from bright_tether.live.findings import Findings
from bright_tether.tables.row_ids import RowIds


class TetherClaims:
    """What may be said of one tether in every step. Claims raise Refusal where there is no line."""

    def __init__(self, findings: Findings) -> None:
        # not held: else neither would ever go, nor the results of a million rows with them
        self._of = ref(findings)

    @property
    def _findings(self) -> Findings:
        """Whoever asks for the claims holds them."""
        findings = self._of()
        assert findings is not None
        return findings

    @once
    def decision(self) -> DecisionClaim:
        """The one decision."""
        return decided.decision_claim(self._findings)

    @once
    def direction(self) -> DirectionClaim | None:
        """The direction that the decision carries."""
        return decided.direction_claim(self._findings, self.decision)

    @once
    def strength(self) -> StrengthClaim | None:
        """The word for the strength, where no story forbids it."""
        if self.forbidding:
            return None
        return decided.strength_claim(self._findings, self.decision, self.direction)

    @once
    def change(self) -> ChangeClaim | None:
        """What y does for a step of x."""
        return decided.change_claim(self._findings)

    @once
    def origin(self) -> OriginClaim | None:
        """What holding the line through the origin comes to."""
        slope = self._findings.line.slope or 0.0
        return origin_claim(self._findings, together=decided.goes_together(self._findings, slope))

    @property
    def seen(self) -> TetherClaims:
        """What is said of the data rather than of a line held through the origin: the claims of the line left free."""
        free = self._findings.left_free
        return self if free is None else claims_of(free)

    @once
    def story(self) -> StoryClaim | None:
        """What the groups of the tint, or of the comparison, tell beside the whole."""
        found = self._findings
        return stories.story_claim(found, found.grouping, found.within_groups)

    @once
    def clumps(self) -> ClumpsClaim | None:
        """Separate clumps of points."""
        return stories.clumps_claim(self._findings)

    @property
    def forbidding(self) -> StoryClaim | ClumpsClaim | None:
        """What takes the headline from the whole: the groups' story, else clumps."""
        return self.story if self.story is not None and self.story.forbids else self.clumps

    @once
    def six(self) -> tuple[DoubtClaim, ...]:
        """The six doubts."""
        return doubted.doubt_claims(self._findings)

    def doubt(self, name: str) -> DoubtClaim:
        """One of the six."""
        return next(one for one in self.six if one.name == name)

    @once
    def doubts(self) -> DoubtsClaim:
        """The head of the six."""
        return doubted.doubts_claim(self._findings, self.six)

    @once
    def far_rows(self) -> FarRowsClaim:
        """The rows far from the line, and far out in a column."""
        return looked.far_rows(self._findings, self.seen.doubt("far-out"))

    @once
    def far_ids(self) -> RowIds:
        """The ids of all of them."""
        return row_ids(self._findings, looked.far_places(self._findings, self.seen.doubt("far-out")))

    @once
    def rests(self) -> RestsClaim | None:
        """Rows that the decision rests on, where no story takes the headline from it."""
        return None if self.forbidding else doubted.rests_claim(self._findings)

    @once
    def recurring(self) -> tuple[RecurringClaim, ...]:
        """Values that recur in a way that the line does not know of."""
        return recurring_claims(self._findings)

    @once
    def in_force(self) -> DoubtsInForceClaim:
        """Clear signs, unanswered and answered."""
        return doubted.doubts_in_force(self.six)

    @once
    def standing(self) -> StandingClaim:
        """Where the tether stands."""
        return standing_claim(
            self._findings, self.decision, self.forbidding, self.rests, self.in_force, self.origin
        )


_KEPT: WeakKeyDictionary[Findings, TetherClaims] = WeakKeyDictionary()


def claims_of(findings: Findings) -> TetherClaims:
    """The claims of these findings; the same object whoever asks."""
    found = _KEPT.get(findings)
    return found if found is not None else _KEPT.setdefault(findings, TetherClaims(findings))
