"""The ways to find an interval for one case, and the smooth beside the line, as plain data under their public keys."""

from __future__ import annotations

import math
from typing import Any

from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.words.causes import cause


def widths_record(findings: Findings) -> dict[str, Any] | None:
    """Every way, its interval at each x asked for, and what it holds; None where there is no spread."""
    if findings.refusal is not None or findings.plain.exact:
        return None
    found = findings.widths.outcome
    return {
        "level": found.level, "n": found.n, "left_out": found.lots, "samples": found.samples, "at": list(found.x),
        "parts": list(found.parts), "places": list(found.places),
        "drawn_by": {"way": found.truth, "power": found.truth_power, "p": found.truth_p},
        "ways": [
            {
                "way": one.kind, "power": one.power, "pi": [None if ends is None else list(ends) for ends in one.at],
                "held": [{"inside": inside, "rows": rows} for inside, rows in one.held],
                "drawn": [{"inside": share, "error": error} for share, error in one.simulated],
            }
            for one in found.ways
        ],
    }  # fmt: skip


def local_record(findings: Findings) -> dict[str, Any] | None:
    """The smooth across x with both bands; None where there is no line."""
    if findings.refusal is not None:
        return None
    found = findings.local_band
    if isinstance(found, Cause):
        return {"bandwidth": None, "why": {"bandwidth": cause(found)}}
    across = [
        {"x": x, "mean": _there(mean), "ci": [_there(end) for end in ci], "pi": [_there(end) for end in pi]}
        for x, mean, ci, pi in zip(found.x.tolist(), found.mean.tolist(), found.ci.tolist(), found.pi.tolist(),
                                   strict=True)
    ]  # fmt: skip
    return {"bandwidth": found.bandwidth, "found": found.found, "df": found.df, "s": found.s, "drawn": found.drawn,
            "across": across}  # fmt: skip


def _there(value: float) -> float | None:
    return value if math.isfinite(value) else None
