"""What version 1 of the study file called steps, views and choices, as version 2 calls them.

Version 1 kept titles, as they were read on the screen; since version 2 ids are kept, which no title changes.
"""

from __future__ import annotations

from typing import Any

#: Title of a step: its id, and the ids of its views by their titles.
_STEPS: dict[str, tuple[str, dict[str, str]]] = {
    "Gather": ("gather", {}),
    "Look": ("look", {}),
    "Strength": ("strength", {
        "Products and ranks": "products", "Comparisons": "comparisons", "Agreement": "agreement",
        "Row by row": "row-by-row", "Every pair": "every-pair", "Critical values": "critical",
    }),
    "Line": ("line", {
        "The line": "line", "Errors": "errors", "Variation": "variation", "Other lines": "other-lines",
        "Fitted": "fitted",
    }),
    "Doubts": ("doubts", {}),
    "Compare": ("compare", {
        "Lines": "lines", "Differences": "differences", "Rungs": "rungs", "Every two": "every-two",
    }),
    "Forecast": ("forecast", {}),
    "Rehearse": ("rehearse", {
        "Samples": "samples", "Luck alone": "luck", "Broken assumptions": "assumptions",
        "How many pairs": "pairs",
    }),
    "Write-up": ("write-up", {}),
}  # fmt: skip


def renewed(plain: Any) -> Any:
    """A study or an edit of version 1, as plain JSON, in the names of version 2."""
    if isinstance(plain, list):
        return [renewed(one) for one in plain]
    if not isinstance(plain, dict):
        return plain
    new = {key: renewed(value) for key, value in plain.items()}
    if "part" in new and new.get("step") in _STEPS:
        step, views = _STEPS[new["step"]]
        new["step"] = step
        if "view" in new:
            new["view"] = views.get(new["view"], new["view"])
    choice = new.get("rehearse")
    if isinstance(choice, dict) and choice.get("source") == "misses":
        choice["source"] = "residuals"
    return new
