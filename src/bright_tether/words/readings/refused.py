"""What every step says where there is no line."""

from __future__ import annotations

from bright_tether.core.results import OutOfRange
from bright_tether.live.findings import Findings
from bright_tether.words.causes import refusal
from bright_tether.words.reading import Reading
from bright_tether.words.readings.rows import rows_sentence


def refused(findings: Findings) -> Reading:
    """The reading where no line can be fitted: why, and the rows in play."""
    found = findings.refusal
    assert found is not None
    x, y = (findings.x_column.short, findings.y_column.short) if findings.tied else ("x", "y")
    rows = () if not findings.tied or not _numeric(findings) else (rows_sentence(findings.counted),)
    return Reading(headline="No line yet.", sentences=(refusal(found, x, y), *rows))


def beyond(findings: Findings) -> Reading:
    """The reading where a value that it alone needs lies beyond float64."""
    x, y = findings.x_column.short, findings.y_column.short
    return Reading(headline="Beyond what can be shown.", sentences=(refusal(OutOfRange(), x, y),))


def _numeric(findings: Findings) -> bool:
    return findings.x_column.numeric and findings.y_column.numeric
