"""What every step says where there is no line."""

from __future__ import annotations

from bright_tether.claims.rows import RefusalClaim, rows_claim
from bright_tether.core.results import OutOfRange
from bright_tether.live.findings import Findings
from bright_tether.words.causes import refusal
from bright_tether.words.reading import Reading
from bright_tether.words.readings.rows import rows_sentence
from bright_tether.words.said import Said


def refused(findings: Findings) -> Reading:
    """The reading where no line can be fitted: why, and the rows in play."""
    found = findings.refusal
    assert found is not None
    x, y = (findings.x_column.short, findings.y_column.short) if findings.tied else ("x", "y")
    rows = () if not findings.tied or not _numeric(findings) else (rows_sentence(rows_claim(findings)),)
    claim = RefusalClaim(what=type(found).__name__)
    return Reading(headline=Said("No line yet.", claim), sentences=(Said(refusal(found, x, y), claim), *rows))


def beyond(findings: Findings) -> Reading:
    """The reading where a value that it alone needs lies beyond float64."""
    x, y = findings.x_column.short, findings.y_column.short
    claim = RefusalClaim(what="OutOfRange")
    return Reading(
        headline=Said("Beyond what can be shown.", claim),
        sentences=(Said(refusal(OutOfRange(), x, y), claim),),
    )


def _numeric(findings: Findings) -> bool:
    return findings.x_column.numeric and findings.y_column.numeric
