"""What was changed after results were seen, in words."""

from __future__ import annotations

from bright_tether.claims.rows import ChoiceClaim
from bright_tether.live.findings import Findings
from bright_tether.study.trail import LaterChange
from bright_tether.words import digits as d
from bright_tether.words.said import Said

_RULES = {
    "alpha": "α",
    "level": "the interval level",
    "alternative": "the alternative",
    "decide": "the deciding test",
}
DECIDERS = {"pearson": "r", "spearman": "ρ", "kendall": "τ", "slope": "the slope"}


def trail_lines(findings: Findings) -> tuple[str, ...]:
    """Each change made with results in view that bears on this tether, oldest first."""
    own = findings.tether.id
    return tuple(_in_words(one) for one in findings.study.trail if one.tether in (None, own))


def trail_sentence(findings: Findings) -> tuple[Said, ...]:
    """The trail in one sentence, or none."""
    lines = trail_lines(findings)
    if not lines:
        return ()
    more = f" (and {len(lines) - 3} earlier)" if len(lines) > 3 else ""
    claim = ChoiceClaim(what="changed_later", value=str(len(lines)))
    return (Said(f"Changed after results were seen: {'; '.join(lines[-3:])}{more}.", claim),)


def _in_words(one: LaterChange) -> str:
    before, after = (DECIDERS.get(text, text) for text in (one.before, one.after))
    if one.what in _RULES:
        what = f"{_RULES[one.what]} from {before} to {after}"
    elif one.what in ("set aside", "brought back"):
        what = f"{d.count(int(before), 'row')} {one.what} (“{after}”)"
    elif one.what == "filter":
        what = "the row filter"
    else:
        what = "which columns are x and y"
    return f"{what}, {one.when.replace('T', ' ')}"
