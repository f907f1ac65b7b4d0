"""The checks of the residuals, as plain data under their public keys."""

from __future__ import annotations

from typing import Any

from bright_tether.account.values import blank, cause_of, plain
from bright_tether.core.checks.added import FTest
from bright_tether.core.checks.bend import Curvature
from bright_tether.core.checks.order import DurbinWatson, Runs
from bright_tether.core.checks.shape import AndersonDarling, JarqueBera, ShapiroWilk
from bright_tether.core.checks.spread import SpreadTest
from bright_tether.core.checks.together import ResidualFences
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.study.memory import attempt
from bright_tether.words.causes import cause


def checks_record(findings: Findings) -> dict[str, Any]:
    """Every check of the residuals; each None where there is no line."""
    found = attempt(lambda: findings.checks)
    if isinstance(found, Refusal):
        code = cause_of(found)
        kinds = {
            "curvature": Curvature, "reset": FTest, "lack_of_fit": FTest, "breusch_pagan": SpreadTest,
            "white": SpreadTest, "durbin_watson": DurbinWatson, "runs": Runs, "shapiro_wilk": ShapiroWilk,
            "anderson_darling": AndersonDarling, "jarque_bera": JarqueBera, "fences": ResidualFences,
        }  # fmt: skip
        figures: dict[str, Any] = {key: blank(kind, code) for key, kind in kinds.items()}
        figures |= dict.fromkeys(("spread_ratio", "skewness", "excess_kurtosis"))
        figures["fences"]["rows"] = []
        figures["why"] = dict.fromkeys(("spread_ratio", "skewness", "excess_kurtosis"), cause(code))
    else:
        figures = plain(found)
        figures["fences"]["rows"] = list(found.fences.rows)
    for key in ("skewness", "excess_kurtosis"):
        figures["jarque_bera"].pop(key)
    return figures
