"""The line with other columns held, looked at as the line alone is: what Doubts shows where that is chosen."""

from __future__ import annotations

from bright_tether.core.line.plain import Fit
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Interval, Ints, Refusal
from bright_tether.live.findings import Findings
from bright_tether.live.resting import Resting
from bright_tether.study.declared import given


class LongerFindings(Findings):
    """The same tether with its held columns in the line. base : as it is without them."""

    def __init__(self, base: Findings) -> None:
        super().__init__(base.study, base.tether, base.memory)
        self.owner, self.base = f"{base.owner} held", base

    @given
    def pairs(self) -> Pairs:
        """Those that have a value in every held column. Raises Refusal."""
        return self.base.longer.pairs

    @given
    def plain(self) -> Fit:
        """The line with the columns held. Raises Refusal."""
        return self.base.longer

    @given
    def fit(self) -> Fit:
        """The line with the columns held. Raises Refusal."""
        return self.base.longer

    @once
    def usable(self) -> bool:
        """Its errors are those of the slope held, which are looked at there."""
        return True

    @given
    def resting(self) -> Resting | None:
        """The decision is that of the line alone, and is told of there."""
        return None

    def _slope_basis(self) -> tuple[object, ...]:
        return (self.base.held_line,)

    def _slope_told(self) -> tuple[float | None, Interval | None]:
        held = self.base.held_line.held.held
        return held.slope, held.ci_slope

    def _less(self, places: Ints) -> Findings:
        """The same without these places among the pairs. Raises Refusal."""
        return longer_of(super()._less(places))

    def answer_to(self, name: str) -> str | None:
        """What is in force; the analyst's reasons are about the line alone."""
        return self.base.errors_answer(name)


def longer_of(findings: Findings) -> LongerFindings:
    """The same tether with its columns held in the line. Raises Refusal where they cannot be."""
    if isinstance(findings, LongerFindings):
        return findings
    _ = findings.longer
    found: LongerFindings | None = findings.__dict__.get("longer_of")
    if found is None:
        found = findings.__dict__["longer_of"] = LongerFindings(findings)
    return found


def doubted(findings: Findings) -> Findings:
    """What Doubts looks at: the line alone, or with its columns held where that is chosen and can be."""
    if not findings.tether.held.doubted or not findings.held_cells:
        return findings
    try:
        return longer_of(findings)
    except Refusal:
        return findings
