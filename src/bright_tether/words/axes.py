"""What the axes of the residuals' pictures are called, and each way of showing them."""

from __future__ import annotations

import math

from bright_tether.live.findings import Findings

MODE_TITLES = {
    "residual-on-x": "Residual on x",
    "residual-on-fitted": "Residual on fitted",
    "size-on-x": "Size on x",
    "size-on-fitted": "Size on fitted",
    "residual-in-order": "Residual in order",
    "residual-on-previous": "Residual on the one before",
    "histogram": "Histogram",
    "normal-quantiles": "Normal quantiles",
    "box-and-dots": "Box and dots",
    "studentised-in-order": "Studentised in order",
    "studentised-on-x": "Studentised on x",
    "studentised-on-leverage": "Standardised on leverage",
    "cook-in-order": "Cook in order",
}


def sketch_axes(findings: Findings, mode: str, standardised: bool = False) -> tuple[str, str]:
    """The names of both axes of one way of showing the residuals."""
    residual = "residual" if findings.fit.weights is None else "residual × √weight"
    residual = "standardised residual" if standardised else residual
    across = _across(findings, mode)
    if mode == "histogram":
        return residual, "rows"
    if mode == "box-and-dots":
        return residual, "dots, and the box"
    if mode == "normal-quantiles":
        return "normal quantile", "residual / s"
    if mode == "residual-on-previous":
        return f"{residual} before", residual
    up = {"studentised": "studentised residual", "cook": "Cook’s distance", "size": f"size of {residual}"}
    if mode == "studentised-on-leverage":
        return across, "standardised residual"
    return across, up.get(mode.split("-")[0], residual)


def _across(findings: Findings, mode: str) -> str:
    if mode.endswith("-in-order"):
        chosen = findings.tether.line.order
        known = chosen is not None and findings.table.has(chosen)
        return f"place by {findings.table.column(chosen).short if chosen and known else 'row'}"
    if mode.endswith("-leverage"):
        return "leverage"
    return "fitted value" if mode.endswith("-fitted") else findings.x_column.short


def even_places(low: float, high: float, most: int = 5) -> tuple[tuple[float, int], ...]:
    """Up to so many readable places between two ends, each with the decimals that show it.

    Steps are 1, 2 or 5 times a power of ten.
    """
    if not (math.isfinite(low) and math.isfinite(high) and high > low):
        return ()
    rough = (high - low) / most
    power = 10.0 ** math.floor(math.log10(rough))
    step = next((part * power for part in (1, 2, 5) if part * power >= rough), 10 * power)
    decimals = max(0, -math.floor(math.log10(step) + 1e-9))
    first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
    return tuple((at * step, decimals) for at in range(first, last + 1))
