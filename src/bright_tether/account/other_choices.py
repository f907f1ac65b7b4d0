"""Every other way to make the analysis, as plain data under its public keys."""

from __future__ import annotations

from typing import Any

from bright_tether.live.findings import Findings
from bright_tether.words.ways import option_name


def other_choices_record(findings: Findings) -> dict[str, Any] | None:
    """All ways, smallest value first; None where the pairs allow no line."""
    if findings.refusal is not None:
        return None
    found = findings.other_choices.outcome
    present = None if found.present is None else found.ways[found.present]
    return {
        "what": "change of y" if found.what == "change" else found.what,
        "between": [found.first, found.last] if found.what == "change" else None,
        "level": found.level,
        "more": found.more,
        "ways": [
            {
                **{axis: option_name(findings, axis, way.takes(axis)) for axis, _ in found.axes},
                "n": way.n, "value": way.value, "ci": None if way.ci is None else list(way.ci),
                "present": way is present,
            }
            for way in found.ways
        ],
    }  # fmt: skip
