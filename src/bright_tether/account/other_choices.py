"""Every other way to make the analysis, as plain data under its public keys."""

from __future__ import annotations

from typing import Any

from bright_tether.live.findings import Findings
from bright_tether.live.ways import AXES
from bright_tether.words.ways import option_name


def other_choices_record(findings: Findings) -> dict[str, Any] | None:
    """All ways, smallest value first; None where the pairs allow no line."""
    if findings.refusal is not None:
        return None
    found = findings.other_choices.outcome
    present = None if found.present is None else found.ways[found.present]
    return {
        "what": "slope" if found.in_slopes else "change of y",
        "between": None if found.in_slopes else [found.first, found.last],
        "level": found.level,
        "more": found.more,
        "ways": [
            {
                **{axis: option_name(findings, axis, one) for axis, one in zip(AXES, way.options, strict=True)},
                "n": way.n, "value": way.value, "ci": None if way.ci is None else list(way.ci),
                "present": way is present,
            }
            for way in found.ways
        ],
    }  # fmt: skip
