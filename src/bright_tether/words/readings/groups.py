"""What groups tell beside the whole."""

from __future__ import annotations

from bright_tether.core.strength.within import WithinGroups
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import there

#: Groups named one by one in a sentence.
_NAMED = 4
#: From this share of a column's spread on between groups, the groups are populations of their own.
_APART = 0.75


def tells_opposite(findings: Findings, within: WithinGroups | None) -> bool:
    """Whether the groups tell the opposite of the whole, both beyond the critical value."""
    return opposite(findings, within) is not None


def opposite(findings: Findings, within: WithinGroups | None) -> float | None:
    """r inside the groups where it tells the opposite of the whole, both beyond the critical value."""
    whole = findings.pearson
    if within is None or within.r is None or whole.r is None or len(within.groups) < 2:
        return None
    against = within.r * whole.r < 0 and min(abs(within.r), abs(whole.r)) >= there(whole.critical)
    return within.r if against else None


def tint_name(findings: Findings) -> str:
    """The column that tints the points."""
    return "" if findings.tint_column is None else findings.tint_column.short


def in_each(within: WithinGroups, digits: int) -> str:
    """r of each group: Weir +0.981, Ford +0.987."""
    told = [f"{group.name or '(blank)'} {d.coefficient(group.r, digits)}" for group in within.groups[:_NAMED]]
    more = len(within.groups) - _NAMED
    return ", ".join(told) + (f" and {more} more" if more > 0 else "")


def opposite_stories(findings: Findings) -> tuple[str, ...]:
    """Where the groups of the tint tell the opposite of what all rows together tell."""
    within, digits = findings.within_groups, findings.rules.digits
    if within is None or not tells_opposite(findings, within):
        return ()
    whole, pooled = (d.coefficient(r, digits) for r in (findings.pearson.r, within.r))
    return (
        f"All together r = {whole}, but within {tint_name(findings)} the story turns round: "
        f"r = {pooled} pooled ({in_each(within, digits)}). This line runs across clumps.",
    )


def group_story(findings: Findings) -> tuple[str, ...]:
    """r in the groups of the tint beside r all together, whatever they tell."""
    within, digits = findings.within_groups, findings.rules.digits
    if within is None or within.r is None or len(within.groups) < 2:
        return ()
    whole, pooled = (d.coefficient(r, digits) for r in (findings.pearson.r, within.r))
    each, name = in_each(within, digits), tint_name(findings)
    if tells_opposite(findings, within):
        told = "the groups and the whole tell opposite stories"
    elif findings.pearson.r is not None and within.r * findings.pearson.r > 0:
        told = "the groups and the whole tell the same story"
        if abs(abs(within.r) - abs(findings.pearson.r)) > 0.15:
            weaker = "weaker" if abs(within.r) < abs(findings.pearson.r) else "stronger"
            told = f"the same direction, but {weaker} inside the groups"
    else:
        told = "what the whole shows does not show clearly inside the groups"
    return (f"All together r = {whole}; within {name} r = {pooled} pooled ({each}): {told}.",)


def clump_story(findings: Findings) -> tuple[str, ...]:
    """r inside clumps that no tint names."""
    within, digits = findings.within_clumps, findings.rules.digits
    if within is None or within.r is None or tells_opposite(findings, findings.within_groups):
        return ()
    whole, pooled = (d.coefficient(r, digits) for r in (findings.pearson.r, within.r))
    return (f"Across the clumps r = {whole}; inside them, pooled, r = {pooled}.",)


def hidden_groups(findings: Findings) -> tuple[str, ...]:
    """Category columns other than the tint whose groups tell the opposite story, or stand apart."""
    told = []
    for column, within in findings.within_columns:
        if column.id != findings.tether.tint and tells_opposite(findings, within):
            pooled = d.coefficient(within.r, findings.rules.digits)
            told.append(
                f"Inside the groups of {column.short} the story turns round (r = {pooled} pooled): "
                f"tint by {column.short} to see it."
            )
    return tuple(told)


def populations(findings: Findings) -> tuple[str, ...]:
    """Groups that are populations of their own in x or y."""
    for column, within in findings.within_columns:
        sides = (
            (findings.x_column.short, within.between_x),
            (findings.y_column.short, within.between_y),
        )
        apart = [f"{name} ({d.percent(share, 0)})" for name, share in sides if share >= _APART]
        if apart and min(group.n for group in within.groups) >= 3:
            return (
                f"The groups of {column.short} are populations of their own: most of the spread in "
                f"{' and '.join(apart)} lies between them. Treat them apart before drawing one line for all.",
            )
    return ()
