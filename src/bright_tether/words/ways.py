"""What the choices that could have been made otherwise are called."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices, Way
from bright_tether.live.ways import AFTER, FAR, PULL
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.said import listed

AXIS_NAMES = {"rows": "rows", "scale": "scale", "line": "line", "weights": "weights", "held": "held",
              "errors": "errors", "coefficient": "coefficient"}  # fmt: skip
_ROWS = {
    "taken": "rows in play", "every": "every row", "fences": "residuals within their fences",
    "studentised": f"no |studentised| beyond {FAR:g}", "cook": f"no Cook’s distance beyond {PULL:g}/n",
}  # fmt: skip
_LINES = {"least-squares": "least squares", "origin": "through the origin", "theil-sen": "resistant (Theil–Sen)",
          "mm": "resistant (MM)", "deming": "errors in both"}  # fmt: skip
_COEFFICIENTS = {"pearson": "r (Pearson)", "spearman": "ρ (Spearman)", "kendall": "τ (Kendall)",
                 "bent": "r, far values bent"}  # fmt: skip
_WEIGHTS = {"none": "no weights", "in-force": "weights in force"}


def option_name(findings: Findings, axis: str, option: str) -> str:
    """An option as it stands beside others of its axis."""
    if axis == "rows":
        if not option.startswith(AFTER):
            return _ROWS[option]
        reasons = [reason for reason, _ in findings.asides_by_reason[: int(option.removeprefix(AFTER))]]
        return f"without “{listed(reasons)}”"
    if axis == "scale":
        x, y = findings.x_column.short, findings.y_column.short
        return {"plain": "as they are", "log-x": f"log {x}", "log-y": f"log {y}", "log-both": "log of both"}[
            option
        ]
    if axis == "held":
        return "nothing held" if option == "none" else f"{option} held"
    if axis == "errors":
        return "its own" if option == "own" else ERROR_NAMES[option]
    return {"line": _LINES, "weights": _WEIGHTS, "coefficient": _COEFFICIENTS}[axis][option]


def way_in_words(findings: Findings, found: OtherChoices, way: Way) -> str:
    """A way in one line, told by what it takes of each axis that has a choice."""
    names = [option_name(findings, axis, way.takes(axis)) for axis, _ in found.axes]
    left = {"no weights", "nothing held", "its own"}
    return " · ".join(one for one in names if one not in left)
