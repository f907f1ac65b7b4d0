"""What can be chosen for a line, as it is called in sentences."""

from __future__ import annotations

PATTERNS = {"inverse-x": "1/|x|", "inverse-x2": "1/x²", "inverse-fitted2": "1/fitted²",
            "power-x": "a fitted power of |x|", "power-fitted": "a fitted power of |fitted|"}  # fmt: skip
#: What a column of a table that stays where it is holds.
FAR_KINDS = {"number": "numbers", "date": "dates", "text": "texts"}
ERROR_NAMES = {
    "classical": "classical",
    "HC0": "robust (HC0)",
    "HC1": "robust (HC1)",
    "HC2": "robust (HC2)",
    "HC3": "robust (HC3)",
    "newey_west": "alike-neighbours",
    "clustered": "repeated-cases",
}
#: Ways to find an interval for one case.
WIDTHS = {"even": "one spread everywhere", "power-x": "a power of x",
          "power-fitted": "a power of the fitted value", "ranks": "ranks of residuals"}  # fmt: skip
