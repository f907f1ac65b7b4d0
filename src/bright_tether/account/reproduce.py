"""Works the figures of results.json out again from the pairs beside it, and says whether they agree.

Needs Python 3.10 or newer with NumPy and SciPy: python reproduce.py
Exit 0 where every figure agrees, 1 where one does not.
"""

import csv
import io
import json
import math
import sys
from pathlib import Path
from typing import Any

import numpy as np
from scipy import stats

Array = np.ndarray
HERE = Path(__file__).parent
CLOSE = 1e-8


def read_pairs(path: Path) -> tuple[Array, Array, Array, list[str], Array]:
    """The rows in play: x, y, and the weight, cluster and place of each."""
    with path.open(encoding="utf-8", newline="") as file:
        rows = [row for row in csv.DictReader(file) if row["state"] == "in play"]
    x, y = (np.array([float(row[name]) for row in rows]) for name in ("x", "y"))
    weight = np.array([float(row["weight"] or 1) for row in rows])
    place = np.array([float(row["place"] or at) for at, row in enumerate(rows)])
    return x, y, weight, [row["cluster"] for row in rows], place


def bread_and_fit(
    x: Array, y: Array, weight: Array, origin: bool
) -> tuple[Array, Array, Array, Array, Array]:
    """Design, coefficients and residuals, each row times the root of its weight."""
    root = np.sqrt(weight)
    design = x[:, None] if origin else np.stack((np.ones(x.size), x), axis=1)
    design, y = design * root[:, None], y * root
    # x from its mean keeps the digits where x is large and hardly varies
    middle = 0.0 if origin else float(np.average(x, weights=weight))
    if not origin:
        design[:, 1] = (x - middle) * root
    beta, *_ = np.linalg.lstsq(design, y, rcond=None)
    residuals = y - design @ beta
    back = np.eye(1) if origin else np.array([[1.0, -middle], [0.0, 1.0]])
    return design, beta, residuals, np.linalg.inv(design.T @ design), back


def covariance(
    kind: str, design: Array, residuals: Array, bread: Array, df: int, clusters: list[str], place: Array
) -> tuple[Array, int]:
    """The covariance of the coefficients by one kind of errors, and its degrees of freedom."""
    n = residuals.size
    if kind == "classical":
        return bread * (residuals @ residuals) / df, df
    scores = design * residuals[:, None]
    if kind in ("HC0", "HC1", "HC2", "HC3"):
        leverage = np.einsum("ij,jk,ik->i", design, bread, design)
        power = {"HC0": 0, "HC1": 0, "HC2": 1, "HC3": 2}[kind]
        scores = scores / np.sqrt(1 - leverage)[:, None] ** power
        meat = scores.T @ scores * (n / df if kind == "HC1" else 1)
        return bread @ meat @ bread, df
    if kind == "newey_west":
        scores = scores[np.argsort(place, kind="stable")]
        lag = min(int(4 * (n / 100) ** (2 / 9)), n - 1)
        meat = scores.T @ scores
        for back in range(1, lag + 1):
            one = scores[back:].T @ scores[:-back]
            meat = meat + (1 - back / (lag + 1)) * (one + one.T)
        return bread @ meat @ bread, df
    names = sorted(set(clusters))
    summed = np.array([scores[[one == name for one in clusters]].sum(axis=0) for name in names])
    factor = len(names) / (len(names) - 1) * (n - 1) / df
    return bread @ (summed.T @ summed * factor) @ bread, len(names) - 1


def again(tether: dict[str, Any]) -> dict[str, float | None]:
    """Every figure of one tether, under the names of results.json."""
    choice = tether["choices"]
    x, y, weight, clusters, place = read_pairs(HERE / tether["pairs"])
    n, level, origin = x.size, choice["level"], choice["origin"]
    design, beta, residuals, bread, back = bread_and_fit(x, y, weight, origin)
    df = n - design.shape[1]
    cov, t_df = covariance(choice["errors"], design, residuals, bread, df, clusters, place)
    beta, cov = back @ beta, back @ cov @ back.T
    slope, se = float(beta[-1]), math.sqrt(cov[-1, -1])
    reach = stats.t.ppf((1 + level) / 2, t_df)
    figures: dict[str, float | None] = {
        "n": n,
        "slope": slope,
        "se_slope": se,
        "s": math.sqrt(residuals @ residuals / df),
    }
    figures |= {"slope_low": slope - reach * se, "slope_high": slope + reach * se}
    figures["t_slope"] = (slope - choice["slope_0"]) / se if se else None
    if not origin:
        figures["intercept"], figures["se_intercept"] = float(beta[0]), math.sqrt(cov[0, 0])
    if np.ptp(y):
        figures["r"] = stats.pearsonr(x, y).statistic
        figures["rho"] = stats.spearmanr(x, y).statistic
        figures["tau_b"] = stats.kendalltau(x, y).statistic
    s2 = residuals @ residuals / df
    for at, one in enumerate(choice["at"]):
        row = np.array([one]) if origin else np.array([1.0, one])
        mean = math.sqrt(max(row @ cov @ row, 0.0))
        case = math.sqrt(s2 / choice["mean_of"] + mean**2)
        fitted = float(row @ beta)
        figures |= {f"fitted[{at}]": fitted, f"mean_low[{at}]": fitted - reach * mean,
                 f"mean_high[{at}]": fitted + reach * mean, f"case_low[{at}]": fitted - reach * case,
                 f"case_high[{at}]": fitted + reach * case}  # fmt: skip
    return figures


def main() -> int:
    """Compare every figure; say each that does not agree."""
    results = json.loads((HERE / "results.json").read_text(encoding="utf-8"))
    wrong = 0
    for tether in results["tethers"]:
        if tether["figures"] is None:
            print(f"{tether['name']}: no line")
            continue
        found = again(tether)
        print(tether["name"])
        for name, written in tether["figures"].items():
            if written is None:
                continue
            value = found.get(name)
            value = None if value is None else float(value)
            agrees = value is not None and math.isclose(value, written, rel_tol=CLOSE, abs_tol=CLOSE * 1e-3)
            wrong += not agrees
            print(f"  {name:<14} {written!r:>24} {value!r:>24} {'agrees' if agrees else 'DIFFERS'}")
    print("every figure agrees" if not wrong else f"{wrong} figures differ")
    return 1 if wrong else 0


if __name__ == "__main__":
    if isinstance(sys.stdout, io.TextIOWrapper):
        sys.stdout.reconfigure(errors="backslashreplace")
    sys.exit(main())
