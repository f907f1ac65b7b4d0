"""What the step Gather says."""

from __future__ import annotations

from bright_tether.claims.first_choice import first_choice
from bright_tether.claims.rows import ChoiceClaim, RefusalClaim, rows_claim
from bright_tether.core.results import NegativeWeight
from bright_tether.core.summary import ColumnSummary
from bright_tether.live.findings import Findings
from bright_tether.tables.column import Column
from bright_tether.words import digits as d
from bright_tether.words.causes import refusal
from bright_tether.words.reading import Figure, Names, Reading, names_of
from bright_tether.words.readings.first_choice import first_choice_sentence
from bright_tether.words.readings.rows import rows_sentence
from bright_tether.words.said import Said


def gather_reading(findings: Findings, *, brief: bool = False) -> Reading:
    """Which column explains which, how many rows that leaves, and both columns in figures.

    brief : mean and sd alone, where the rest stands beside.
    """
    found = findings.refusal
    why = RefusalClaim(what=type(found).__name__)
    if not findings.tied:
        said = (Said(refusal(found), why),) if found else ()
        return Reading(headline=Said("What goes with what?", ChoiceClaim(what="tied")), sentences=said)
    if not findings.table.rows:
        empty = ChoiceClaim(what="no_rows")
        said = (Said("The first two columns are tied as x and y; a pasted header row names them.", empty),)
        return Reading(headline=Said("Type, paste or open pairs.", empty), sentences=said)
    names = names_of(findings.x_column, findings.y_column)
    headline = tied_headline(findings, names)
    if not (findings.x_column.numeric and findings.y_column.numeric):
        assert found is not None
        return Reading(headline=headline, sentences=(Said(refusal(found), why),))
    sentences = [rows_sentence(rows_claim(findings))]
    if found:
        sentences.append(Said(refusal(found, names.x, names.y), why))
    if not findings.counted.n or isinstance(found, NegativeWeight):
        return Reading(headline=headline, sentences=tuple(sentences))
    return Reading(
        headline=headline,
        sentences=tuple(sentences),
        figures=tuple(
            figure
            for column, summary in (
                (findings.x_column, findings.x_summary),
                (findings.y_column, findings.y_summary),
            )
            for figure in column_figures(column, summary, findings.rules.digits)[: 1 if brief else None]
        ),
        beware=first_choice_sentence(first_choice(findings)),
    )


def tied_headline(findings: Findings, names: Names) -> Said:
    """Which column explains which."""
    mutual = findings.tether.mutual
    claim = ChoiceClaim(what="tied", value="mutual" if mutual else "explains")
    if mutual:
        return Said(f"{names.x} and {names.y}: neither explains the other.", claim)
    return Said(f"{names.x} explains, {names.y} responds.", claim)


def place_in_words(column: Column, value: float | None, digits: int) -> str:
    """A value of a column; of a date its day."""
    day = names_of(column, column).day_of(value) if value is not None else ""
    return day or d.figure(value, digits)


def column_figures(column: Column, summary: ColumnSummary, digits: int) -> tuple[Figure, ...]:
    """One column's pairs in figures."""
    mean, median = (place_in_words(column, value, digits) for value in (summary.mean, summary.median))
    sd = d.figure(summary.sd, digits)
    low, high = (place_in_words(column, value, digits) for value in (summary.min, summary.max))
    q1, q3 = (place_in_words(column, value, digits) for value in (summary.q1, summary.q3))
    return (
        Figure(
            f"{column.short}, mean",
            mean,
            d.worded(f"sd {sd} {column.unit or ''}".rstrip(), sd, names=("sd",)),
        ),
        Figure("median", median, d.worded(f"quartiles {q1} … {q3}", q1, q3, names=("q1", "q3"))),
        Figure("range", d.worded(f"{low} … {high}", low, high, names=("min", "max"))),
    )
