"""How the figures of a tether came about: the method, the rows in play, and every exclusion."""

from __future__ import annotations

from bright_tether.claims.rows import rows_claim
from bright_tether.claims.searched import searched_claim
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.tables.column import Column, shown
from bright_tether.tables.made import sources_of
from bright_tether.tables.table import Join, PerCase, Stack
from bright_tether.words import digits as d
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.reading import names_of
from bright_tether.words.readings.line import weights_named
from bright_tether.words.readings.rows import in_play, one_row_sentence, rows_sentence
from bright_tether.words.readings.searched import searched_sentence
from bright_tether.words.readings.trail import DECIDERS
from bright_tether.words.said import listed
from bright_tether.words.shown import Shown
from bright_tether.words.slips import condition_sentence

_SIDES = {"two-sided": "two-sided", "greater": "one-sided (greater)", "less": "one-sided (less)"}


#: More rows set aside than this are told by reason, with the first of each: a page is to be read.
MOST_LISTED, _FIRST_NAMED = 100, 8


def method_sentences(findings: Findings) -> tuple[str, ...]:
    """What was tied, which rows, which line, which errors, which rules; for a reader who was not there."""
    if not findings.tied:
        return ("No two columns are tied here yet.",)
    x, y = findings.x_column, findings.y_column
    tied = (
        f"{_named(y)} and {_named(x)} were tied; neither explains the other."
        if findings.tether.mutual
        else f"{_named(y)} responds, {_named(x)} explains."
    )
    if not (x.numeric and y.numeric):
        return (tied,)
    sentences = [
        tied, *_clock_sentence(findings), *_made_sentence(findings), rows_sentence(rows_claim(findings)),
        *one_row_sentence(findings), *searched_sentence(searched_claim(findings)),
    ]  # fmt: skip
    if findings.refusal is not None:
        return tuple(sentences)
    return (*sentences, _line_sentence(findings), _rules_sentence(findings))


def _named(column: Column) -> str:
    formula = getattr(column.formula, "text", "")
    return f"{column.name} (worked out: {formula})" if formula else column.name


def _clock_sentence(findings: Findings) -> tuple[str, ...]:
    """How a date on the x axis is measured."""
    clock = findings.clock
    if clock is None:
        return ()
    year = " of 365.25 days" if clock.unit == "years" else ""
    name = findings.table.column(findings.tether.x or "").name
    return (f"“{name}” is measured in {clock.unit}{year} since {clock.since}.",)


def _made_sentence(findings: Findings) -> tuple[str, ...]:
    """What a table that is made of others is made of."""
    table, tables = findings.table, {one.id: one for one in findings.study.tables}
    names = [f"“{tables[one].name}”" for one in sources_of(table.recipe) if one in tables]
    match table.recipe:
        case Stack() if names:
            return (f"The rows are those of {listed(names)}, under each other.",)
        case Join() if len(names) == 2:
            return (
                f"The rows are those of {names[0]}, each with what {names[1]} holds of the same identifier.",
            )
        case PerCase(by=by) if names:
            how = f"by the {by} of its rows" if by in ("mean", "median") else f"by its {by} row"
            return (f"Each row is one case of {names[0]}, {how}.",)
    return ()


def _line_sentence(findings: Findings) -> str:
    chosen, table = findings.tether.line, findings.table
    how = "A straight line was fitted by least squares"
    if findings.fit.weights is not None:
        how += f" with the weights {weights_named(findings)}"
    elif findings.fit.origin:
        how = "A line through the origin was fitted by least squares"
    errors = f"; standard errors are {ERROR_NAMES[chosen.errors]}"
    if chosen.errors == "clustered" and chosen.cluster and table.has(chosen.cluster):
        errors += f" by {table.column(chosen.cluster).name}"
    if chosen.errors == "newey_west":
        order = table.column(chosen.order).name if chosen.order and table.has(chosen.order) else "table order"
        errors += f" (lag {findings.lag}, in {order})"
    return f"{how}{errors}, on {d.grouped(findings.errors.df)} degrees of freedom."


def _rules_sentence(findings: Findings) -> str:
    rules, chosen = findings.rules, findings.tether.line
    decides = DECIDERS[findings.decider]
    against = []
    if chosen.slope_0:
        against.append(f"the slope against {d.entered(chosen.slope_0)}")
    if chosen.intercept_0:
        against.append(f"the intercept against {d.entered(chosen.intercept_0)}")
    tested = f", testing {' and '.join(against)}" if against else ""
    set_by = "the default" if rules.origin_of("decide") == "default" else "as chosen"
    if findings.decider != rules.decide:
        set_by = f"instead of {DECIDERS[rules.decide]}, which cannot judge this line"
    return (
        f"Tests are {_SIDES[rules.alternative]} at α = {rules.alpha:g}{tested}; intervals are "
        f"{d.level_in_words(rules.level)}; {decides} decides ({set_by})."
    )


def rows_grid(findings: Findings) -> Grid:
    """Every row of the table accounted for; the counts add up."""
    pairs = findings.counted
    rows = [("in play", d.grouped(pairs.n))]
    for words, many in (
        ("without a number in a column used", pairs.missing),
        ("set aside, with a reason", pairs.set_aside),
        ("left out by the filter", pairs.filtered_out),
        ("of weight 0", pairs.zero_weight),
    ):
        if many:
            rows.append((words, d.grouped(many)))
    rows.append(("all rows of the table", d.grouped(pairs.rows)))
    return Grid(title=f"Rows: {in_play(pairs)} in play", heads=("rows", "count"), rows=tuple(rows))


def filter_sentences(findings: Findings) -> tuple[str, ...]:
    """The row filter in words, if there is one."""
    conditions = [condition_sentence(one, findings.table) for one in findings.tether.conditions]
    return (f"Only rows where {' and '.join(conditions)} are looked at.",) if conditions else ()


def _asides_by_reason(findings: Findings) -> Grid:
    rows = []
    for reason, ids in findings.tether.asides.by_reason:
        places = findings.table.places(ids)
        first = ", ".join(d.grouped(at + 1) for at in places[:_FIRST_NAMED].tolist())
        more = f" and {d.grouped(places.size - _FIRST_NAMED)} more" if places.size > _FIRST_NAMED else ""
        rows.append((reason, d.grouped(places.size), first + more))
    title = "Rows set aside, by reason; pairs.csv of the evidence has each"
    return Grid(title=title, heads=("reason", "how many", "rows"), rows=tuple(rows))


def asides_grid(findings: Findings) -> Grid | None:
    """Every row set aside, with its values and its reason; of many, how many for each reason. None without any."""
    table, asides = findings.table, findings.tether.asides
    if not asides or not findings.tied:
        return None
    if len(asides) > MOST_LISTED:
        return _asides_by_reason(findings)
    place = {int(table.row_ids[at]): at for at in table.places(asides.row_ids).tolist()}
    label = table.label_column
    rows = []
    for one in sorted(asides, key=lambda aside: place.get(aside.row, -1)):
        if one.row not in place:
            continue
        at = place[one.row]
        name = f"{at + 1}" + (f" ({label.cells[at]})" if label is not None else "")
        cells = [column.cell(at, one.row) for column in (findings.x_column, findings.y_column)]
        values = [Shown(shown(cell), cell) if isinstance(cell, float) else shown(cell) for cell in cells]
        rows.append((name, *(value or "blank" for value in values), one.reason))
    names = names_of(findings.x_column, findings.y_column)
    return Grid(title="Rows set aside", heads=("row", names.x, names.y, "reason"), rows=tuple(rows))
