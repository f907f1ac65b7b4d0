"""What the step Look says: form, direction, tightness, gaps, far-out points, groups."""

from __future__ import annotations

import numpy as np

from bright_tether.core.shape.form import Form
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Marking, Names, Reading, names_of, there
from bright_tether.words.readings.groups import (
    clump_story,
    group_story,
    hidden_groups,
    populations,
    tells_opposite,
    tint_name,
)
from bright_tether.words.readings.refused import refused

#: Residuals this wide beside the spread of y: a tight band below the first, a loose one above the second.
_TIGHT, _LOOSE = 0.35, 0.75
_NAMED_ROWS = 4
_COUNTS = {2: "Two", 3: "Three", 4: "Four", 5: "Five", 6: "Six"}


def look_reading(findings: Findings) -> Reading:
    """The scatter in words, each from a stated measure."""
    if findings.refusal:
        return refused(findings)
    names = names_of(findings.x_column, findings.y_column)
    if findings.fit.y.constant:
        return Reading(headline=f"{names.y} is the same in every pair: there is nothing to see in it.")
    form = findings.form
    return Reading(
        headline=_headline(findings, form),
        sentences=(
            _straightness(findings, form, names),
            _order(findings, names),
            *_clumped(form),
            *_gap(form, names, findings.rules.digits),
            *_far_out(findings, form),
            *group_story(findings),
            *clump_story(findings),
            *_mutual(findings, names),
        ),
        figures=_figures(findings, form, names),
        beware=(
            *hidden_groups(findings),
            *populations(findings),
            *built_in(findings, names),
            *_few(findings),
        ),
        markings=_markings(findings, form),
    )


def direction(findings: Findings) -> int:
    """+1 rising, −1 falling, 0 where ρ does not reach its critical value."""
    rho = findings.spearman
    if rho.rho is None or abs(rho.rho) < there(rho.critical):
        return 0
    return 1 if rho.rho > 0 else -1


def _headline(findings: Findings, form: Form) -> str:
    if tells_opposite(findings, findings.within_groups):
        return f"The groups of {tint_name(findings)} tell the opposite of the whole."
    if form.clumps.count:
        count = _COUNTS.get(form.clumps.count, str(form.clumps.count))
        return f"{count} separate clumps rather than one band."
    way = {1: "rising", -1: "falling", 0: ""}[direction(findings)]
    if form.bent and form.turns_at is not None:
        return "A band that turns round."
    if form.bent:
        return f"A {way} band that bends.".replace("  ", " ")
    if not way:
        return "No direction to be seen."
    tight = form.tightness
    width = "" if tight is None else "tight " if tight < _TIGHT else "loose " if tight > _LOOSE else ""
    return f"A {width}{way} band, straight as far as can be seen."


def _straightness(findings: Findings, form: Form, names: Names) -> str:
    bend, digits = findings.curvature, findings.rules.digits
    if bend.p is None or bend.share is None:
        return "There are too few different values to tell a bend from a straight line."
    basis = f"a squared term takes up {d.percent(bend.share)} of what the line leaves over"
    if form.bent:
        turn = ""
        if form.turns_at is not None:
            turn = f", turning near {names.in_x(d.figure(form.turns_at, digits))}"
        return f"Bent{turn}: {basis} ({d.p_value(bend.p)})."
    return f"No sign of a bend: {basis} ({d.p_value(bend.p)})."


def _order(findings: Findings, names: Names) -> str:
    tau, n = findings.kendall, findings.pairs.n
    total = n * (n - 1) // 2
    tied = total - tau.concordant - tau.discordant
    ties = f"; {d.grouped(tied)} are tied" if tied else ""
    return (
        f"Of {d.grouped(total)} comparisons between rows, {names.y} is higher where {names.x} is higher "
        f"in {d.grouped(tau.concordant)} and lower in {d.grouped(tau.discordant)}{ties}."
    )


def _clumped(form: Form) -> tuple[str, ...]:
    found = form.clumps
    if not found.count:
        return ()
    apart = d.figure(found.apart, 2)
    return (
        f"The points fall into {found.count} separate clumps: the links between them are {apart} times as "
        "long as those inside.",
    )


def _gap(form: Form, names: Names, digits: int) -> tuple[str, ...]:
    if form.gap is None:
        return ()
    low, high = (d.figure(end, digits) for end in form.gap)
    return (
        f"Nothing was measured between {names.x} {low} and {names.in_x(high)}: "
        f"{d.percent(form.gap_share, 0)} of the range is empty.",
    )


def far_out_places(form: Form) -> np.ndarray:
    """Every place that lies far from the line or far out in a column."""
    return np.unique(np.concatenate((form.far_line, form.far_x, form.far_y)))


def rows_at(findings: Findings, places: np.ndarray) -> frozenset[int]:
    """The row ids of these places among the pairs."""
    return frozenset(findings.table.row_ids[findings.pairs.at[places]].tolist())


def rows_named(findings: Findings, places: np.ndarray) -> str:
    """Rows as the analyst knows them: row 7 (B03), row 9."""
    label = findings.table.label_column
    told = [
        f"row {at + 1}" + (f" ({label.cells[at]})" if label else "")
        for at in findings.pairs.at[places[:_NAMED_ROWS]].tolist()
    ]
    more = len(places) - _NAMED_ROWS
    return ", ".join(told) + (f" and {more} more" if more > 0 else "")


def _far_out(findings: Findings, form: Form) -> tuple[str, ...]:
    told = []
    if form.far_line.size:
        told.append(f"far from the straight line lies {rows_named(findings, form.far_line)}")
    apart = np.unique(np.concatenate((form.far_x, form.far_y)))
    if apart.size:
        told.append(f"far out in a column lies {rows_named(findings, apart)}")
    if not told:
        return ("No row lies far from the rest.",)
    said = "; ".join(told)
    return (said[0].upper() + said[1:] + ".",)


def _markings(findings: Findings, form: Form) -> tuple[Marking, ...]:
    places = far_out_places(form)
    if not places.size:
        return ()
    return (Marking(f"Mark {d.count(len(places), 'far-out row')}", rows_at(findings, places)),)


def _mutual(findings: Findings, names: Names) -> tuple[str, ...]:
    if not findings.tether.mutual:
        return ()
    return (
        f"Neither column explains the other, so both lines are drawn: {names.y} on {names.x} in full, "
        f"{names.x} on {names.y} dashed; r belongs to both.",
    )


def built_in(findings: Findings, names: Names) -> tuple[str, ...]:
    """Strength that comes from how the columns were made."""
    told, x, y = [], findings.x_column, findings.y_column
    for whole, part in ((x, y), (y, x)):
        made_from = getattr(whole.formula, "columns", {})
        drawn_from = getattr(whole.formula, "x", None)
        if part.id in made_from.values() or drawn_from == part.id:
            told.append(f"{whole.short} is worked out from {part.short}: some of their strength is built in.")
    pairs = findings.pairs
    if pairs.n >= 8 and _running(pairs.x) and _running(pairs.y):
        told.append(
            f"{names.x} and {names.y} both rise at every row. If they are running totals, they go together "
            "whatever they count: their changes from row to row say more."
        )
    words = findings.tether.one_row.lower()
    if any(word in words for word in ("mean of", "average", "median of")):
        told.append(
            f"Each pair is {findings.tether.one_row}: averages go together more tightly than single cases do."
        )
    return tuple(told)


def _running(values: np.ndarray) -> bool:
    """Whether values grow at every step, as a total that keeps running does."""
    return bool(np.all(np.diff(values) > 0))


def _few(findings: Findings) -> tuple[str, ...]:
    n = findings.pairs.n
    if n > 10:
        return ()
    return (f"With {n} pairs only a marked bend, clump or stray row would stand out.",)


def _figures(findings: Findings, form: Form, names: Names) -> tuple[Figure, ...]:
    digits, y = findings.rules.digits, findings.y_summary
    share = findings.curvature.share
    return (
        Figure("r, all together", d.coefficient(findings.pearson.r, digits), f"n = {findings.pairs.n}"),
        *_group_figures(findings),
        Figure("ρ, by order", d.coefficient(findings.spearman.rho, digits)),
        Figure("bend takes up", d.percent(share), d.p_value(findings.curvature.p)),
        Figure(
            "typical residual",
            d.figure(findings.plain_s, digits),
            f"sd of {names.y} {d.figure(y.sd, digits)}",
        ),
        Figure("widest gap in x", d.percent(form.gap_share, 0), "of the range"),
    )


def _group_figures(findings: Findings) -> tuple[Figure, ...]:
    within = findings.within_groups
    if within is None or len(within.groups) < 2:
        return ()
    digits = findings.rules.digits
    each = [
        Figure(f"r, {g.name or '(blank)'}", d.coefficient(g.r, digits), f"n = {g.n}") for g in within.groups
    ]
    return (*each[:6], Figure("r, within groups", d.coefficient(within.r, digits), f"{within.df} df"))
