"""What is said of all rows of a table of which a share is at hand."""

from __future__ import annotations

from bright_tether.claims.all_rows import (
    AllRowsClaim,
    AllRowsStrengthClaim,
    ShareOfRowsClaim,
    all_rows_claim,
    all_rows_strength_claim,
    share_of_rows_claim,
)
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.core.results import Interval, Refusal
from bright_tether.far.through import EngineName
from bright_tether.live.all_rows import AllHere, AllRows
from bright_tether.live.findings import Findings
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.words import digits as d
from bright_tether.words.causes import refusal, unreadable
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.reading import Figure, Names, Reading, names_of
from bright_tether.words.said import Said

#: Who goes through all rows, as the method tells it.
_GONE_THROUGH: dict[EngineName, str] = {
    "duckdb": "All rows were gone through where they are, by DuckDB.",
    "dask": "All rows were gone through where they are, by the workers of a Dask cluster.",
    "memory": "The pairs of all rows were taken into memory and gone through there.",
}


def gone_through_sentence(findings: Findings) -> str:
    """Who went through all rows."""
    return _GONE_THROUGH[findings.through.engine]


def all_rows_reading(findings: Findings, found: AllRows | None) -> Reading:
    """The slope of all rows beside that of the share; before that is known, that it is not."""
    if found is None:
        said = "All rows of the whole table are being gone through."
        return Reading(headline=Said(said, ChoiceClaim(what="all_rows", value="not worked out")))
    claim = all_rows_claim(findings, found)
    if claim is None:
        return Reading(headline=Said(_nothing(findings, found), ChoiceClaim(what="all_rows", value="none")))
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    strength = all_rows_strength_claim(findings, found)
    sentences = [_of_share(claim, digits)]
    if strength is not None:
        sentences.append(_strength(strength, digits))
    if claim.size_counts:
        said = "With so many rows a slope too small to matter differs clearly from 0 too: look at its size."
        sentences.append(Said(said, claim))
    return Reading(
        headline=Said(_headline(claim, names, digits), claim),
        sentences=tuple(sentences),
        figures=_figures(claim, strength, found, digits),
        beware=_beware(share_of_rows_claim(findings, found)),
    )


def _nothing(findings: Findings, found: AllRows) -> str:
    x, y = findings.x_column.short, findings.y_column.short
    if not found.whole:
        return "The way through all rows was stopped before its end."
    if isinstance(found.refused, UnreadableFile):
        return unreadable(found.refused)
    return refusal(found.refused if isinstance(found.refused, Refusal) else AllHere(), x, y)


def _headline(claim: AllRowsClaim, names: Names, digits: int) -> str:
    slope, interval = slope_in_words(claim.slope, claim.interval, digits)
    level = d.level_in_words(claim.level)
    known = f" ({level} interval {interval}, {ERROR_NAMES[claim.errors]} errors)" if claim.interval else ""
    return (
        f"Over all {d.grouped(claim.n)} pairs {names.y} changes by {names.in_y(slope)} for every "
        f"{names.step_of_x(1)}{known}."
    )


def _of_share(claim: AllRowsClaim, digits: int) -> Said:
    if claim.share_slope is None:
        return Said("The share by itself gives no line to hold beside it.", claim)
    slope, interval = slope_in_words(claim.share_slope, claim.share_interval, digits)
    said = f"The share of {d.grouped(claim.share_n)} pairs gives {slope}"
    if claim.held is None:
        return Said(f"{said}." if claim.share_interval is None else f"{said} ({interval}).", claim)
    miss = d.percent(1 - claim.level, 0 if round(100 * (1 - claim.level)) else 1)
    said += f" ({interval}); its interval "
    said += (
        "holds the slope of all rows."
        if claim.held == "holds"
        else f"misses the slope of all rows: where the errors suit the data, at most about {miss} of shares do."
    )
    return Said(said, claim)


def _strength(claim: AllRowsStrengthClaim, digits: int) -> Said:
    return Said(
        f"r is {d.figure(claim.r, digits)} over all, {d.figure(claim.share_r, digits)} in the share.", claim
    )


def slope_in_words(slope: float | None, interval: Interval | None, digits: int) -> tuple[str, str]:
    """A slope and its interval, as finely as the interval allows."""
    decimals = d.decimals_of(interval, digits, slope)
    return d.fixed(slope, decimals), d.between(interval, decimals)


def _figures(
    claim: AllRowsClaim, strength: AllRowsStrengthClaim | None, found: AllRows, digits: int
) -> tuple[Figure, ...]:
    shown = [Figure("slope of all rows", *slope_in_words(claim.slope, claim.interval, digits))]
    if strength is not None:
        shown.append(Figure("r of all rows", d.figure(strength.r, digits + 1)))
    out = (
        (claim.missing, "with a value missing"), (claim.filtered_out, "filtered out"), (claim.set_aside, "set aside"),
    )  # fmt: skip
    left = ", ".join(f"{d.grouped(many)} {why}" for many, why in out if many)
    return (
        *shown,
        Figure(
            "pairs of all rows", d.grouped(claim.n), f"of {d.grouped(claim.rows)}; {left}" if left else ""
        ),
    )


def _beware(claim: ShareOfRowsClaim) -> tuple[str, ...]:
    warnings = []
    if claim.rows < claim.of:
        warnings.append(
            f"All outside this view rests on a share of {d.grouped(claim.rows)} of {d.grouped(claim.of)} rows, drawn "
            "by chance: where the errors suit the data, its intervals tell how far chance may take it from all rows."
        )
    if claim.errors is not None:
        needed = "who belongs to which case" if claim.errors == "clustered" else "the order of all rows"
        warnings.append(
            f"The {ERROR_NAMES[claim.errors]} errors in force need {needed}: here robust (HC3) errors stand for them, "
            "which take the rows for independent and may be too small."
        )
    if claim.mends:
        warnings.append(
            f"{d.count(claim.mends, 'cell')} changed here {'is' if claim.mends == 1 else 'are'} as the file has "
            f"{'it' if claim.mends == 1 else 'them'} among all rows."
        )
    if not claim.plain:
        warnings.append(
            "All rows are summed for the plain line: weights, the origin and columns held are left out there."
        )
    return tuple(Said(one, claim) for one in warnings)
