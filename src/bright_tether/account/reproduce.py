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
#: Of tests, in which differences of sums cost digits.
ROUGH = 1e-5
#: Rows up to which every two of them are gone through.
MOST = 2000
_TO_EIGHT = ("n", "slope", "se_slope", "slope_low", "slope_high", "t_slope", "s", "intercept", "se_intercept", "r",
             "rho", "tau_b")  # fmt: skip


def read_pairs(path: Path) -> tuple[Array, Array, Array, list[str], Array, list[str], Array]:
    """The rows in play: x, y, and the weight, cluster, place, group and second response of each."""
    with path.open(encoding="utf-8", newline="") as file:
        rows = [row for row in csv.DictReader(file) if row["state"] == "in play"]
    x, y = (np.array([float(row[name]) for row in rows]) for name in ("x", "y"))
    weight = np.array([float(row["weight"] or 1) for row in rows])
    place = np.array([float(row["place"] or at) for at, row in enumerate(rows)])
    return (
        x,
        y,
        weight,
        [row["cluster"] for row in rows],
        place,
        [row["group"] for row in rows],
        np.array([float(row["second"] or "nan") for row in rows]),
    )


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


def p_of(t: float, df: float, side: str = "two-sided") -> float:
    """The p of a t by the alternative."""
    if side == "two-sided":
        return float(2 * stats.t.sf(abs(t), df))
    return float(stats.t.sf(t if side == "greater" else -t, df))


def coefficients(x: Array, y: Array, side: str, level: float) -> dict[str, float | None]:
    """r, rho and tau with their p and intervals."""
    n, z = x.size, float(stats.norm.ppf((1 + level) / 2))
    values = {"r": float(stats.pearsonr(x, y).statistic), "rho": float(stats.spearmanr(x, y).statistic),
              "tau_b": float(stats.kendalltau(x, y).statistic)}  # fmt: skip
    found: dict[str, float | None] = {}
    centred, beside = x - x.mean(), y - y.mean()
    apart = beside - centred * (centred @ beside) / (centred @ centred)
    # 1 − r² from what the line leaves: by subtraction a tight line keeps no digit of it
    unshared = {name: (1 - value) * (1 + value) for name, value in values.items()}
    unshared["r"] = float(apart @ apart / (beside @ beside))
    for name, value in values.items():
        found[name] = value
        if name == "tau_b":
            asked: Any = {"alternative": side, "method": "asymptotic"}
            found["p_tau_b"] = float(stats.kendalltau(x, y, **asked).pvalue)
        elif unshared[name] and n > 2:
            found[f"p_{name}"] = p_of(value * math.sqrt((n - 2) / unshared[name]), n - 2, side)
        least = 4 if name == "tau_b" else 3
        if not unshared[name] or n <= least:
            continue
        wide = {"r": 1.0, "rho": 1 + value * value / 2, "tau_b": 0.437}[name]
        spread = math.sqrt(wide / (n - least))
        turned = math.copysign(math.log1p(abs(value)) - math.log(unshared[name]) / 2, value)
        ends = [math.tanh(turned + one * z * spread) for one in (-1, 1)]
        found |= {f"{name}_low": ends[0], f"{name}_high": ends[1]}
    return found


def left_after(design: Array, y: Array) -> float:
    """The sum of squares that a design leaves."""
    beta, *_ = np.linalg.lstsq(design, y, rcond=None)
    e = y - design @ beta
    return float(e @ e)


def checks(x: Array, y: Array, e: Array, place: Array) -> dict[str, float | None]:
    """The checks of the residuals of a plain line."""
    n = x.size
    x = (x - x.mean()) / x.std()
    line, sse, found = np.stack((np.ones(n), x), axis=1), float(e @ e), dict[str, float | None]()
    bent = np.column_stack((line, x * x))
    if n > 3 and np.unique(x).size > 2:
        beta = np.linalg.lstsq(bent, y, rcond=None)[0]
        mse = left_after(bent, y) / (n - 3)
        t = beta[2] / math.sqrt(mse * np.linalg.inv(bent.T @ bent)[2, 2])
        found |= {"check curvature t": t, "check curvature p": p_of(t, n - 3)}
    if n > 4 and np.unique(x).size > 3:
        f = (sse - left_after(np.column_stack((line, x**2, x**3)), y)) / 2
        f /= left_after(np.column_stack((line, x**2, x**3)), y) / (n - 4)
        found |= {"check RESET F": f, "check RESET p": stats.f.sf(f, 2, n - 4)}
    square = e * e
    spread = float(((square - square.mean()) ** 2).sum())
    for name, design, df in (("Breusch-Pagan", line, 1), ("White", bent, np.linalg.matrix_rank(bent) - 1)):
        if spread and n > (2 if name == "Breusch-Pagan" else 3):
            lm = n * (1 - left_after(design, square) / spread)
            found |= {f"check {name}": lm, f"check {name} p": stats.chi2.sf(lm, df)}
    along = e[np.argsort(place, kind="stable")]
    found["check Durbin-Watson d"] = float(np.diff(along) @ np.diff(along)) / sse
    found["check lag 1"] = float(along[1:] @ along[:-1]) / sse
    found["check skewness"], found["check excess kurtosis"] = float(stats.skew(e)), float(stats.kurtosis(e))
    found["check Jarque-Bera p"] = float(stats.jarque_bera(e).pvalue)
    if 3 <= n <= 5000:
        found["check Shapiro-Wilk W"] = float(stats.shapiro(e).statistic)
    return found


def compared(
    x: Array, y: Array, groups: list[str], errors: str, clusters: list[str], place: Array
) -> dict[str, float | None]:
    """A line a group, their difference where there are two, and the rungs from one line for all to a line each."""
    names = [one for one in dict.fromkeys(groups) if one]
    of = np.array(groups)
    names = [one for one in names if np.unique(x[of == one]).size > 1]
    found: dict[str, float | None] = {}
    told, own = [], 0.0
    for at, name in enumerate(names):
        mine = of == name
        design, beta, e, bread, _ = bread_and_fit(x[mine], y[mine], np.ones(mine.sum()), False)
        found |= {f"group {at} n": int(mine.sum()), f"group {at} slope": float(beta[1])}
        own += float(e @ e)
        if mine.sum() > 2:
            kept = [one for one, inside in zip(clusters, mine, strict=True) if inside]
            cov, df = covariance(errors, design, e, bread, int(mine.sum()) - 2, kept, place[mine])
            found[f"group {at} se"] = math.sqrt(cov[1, 1])
            told.append((float(beta[1]), cov[1, 1], df))
    if len(told) == len(names) == 2:
        gap, df = told[0][0] - told[1][0], told[0][2] + told[1][2]
        t = gap / math.sqrt(told[0][1] + told[1][1])
        found |= {"slopes difference": gap, "slopes t": t, "slopes df": df, "slopes p": p_of(t, df)}
    k, inside = len(names), np.isin(of, names)
    n, centre = int(inside.sum()), x[inside] - x[inside].mean()
    if k > 1:
        each = (of[inside][:, None] == np.array(names)).astype(float)
        common = left_after(np.column_stack((each, centre)), y[inside])
        one = left_after(np.column_stack((np.ones(n), centre)), y[inside])
        for name, gained, df1, left, df2 in (
            ("parallel", common - own, k - 1, own, n - 2 * k), ("same height", one - common, k - 1, common, n - k - 1),
            ("coincident", one - own, 2 * (k - 1), own, n - 2 * k),
        ):  # fmt: skip
            if left and df2 > 0:
                f = gained / df1 / (left / df2)
                found |= {f"{name} F": f, f"{name} p": stats.f.sf(f, df1, df2)}
    return found


def nearest(x: Array, y: Array, ratio: float) -> float:
    """The slope of the line where both columns err, their variances in this ratio."""
    sxx, syy, sxy = (float(a @ b) for a, b in ((x, x), (y, y), (x, y)))
    gap = syy - ratio * sxx
    root = math.hypot(gap, 2 * math.sqrt(ratio) * sxy)
    return (gap + root) / (2 * sxy) if gap > 0 else 2 * ratio * sxy / (root - gap)


def other_lines(x: Array, y: Array, level: float, ratio: float) -> dict[str, float | None]:
    """The slopes of the lines beside the fitted one: resistant, with errors in both, through the origin."""
    n, found = x.size, dict[str, float | None]()
    if n <= MOST:
        first, other = np.triu_indices(n, 1)
        run = x[other] - x[first]
        slopes = np.sort((y[other] - y[first])[run != 0] / run[run != 0])
        spread = n * (n - 1) * (2 * n + 5)
        for column in (x, y):
            counts = np.unique(column, return_counts=True)[1]
            spread -= int((counts * (counts - 1) * (2 * counts + 5)).sum())
        reach = min(
            float(stats.norm.ppf((1 + level) / 2)) * math.sqrt(max(spread, 0) / 18), float(slopes.size)
        )
        high = min(round((slopes.size + reach) / 2), slopes.size - 1)
        found |= {"resistant slope": float(np.median(slopes)), "resistant high": float(slopes[high]),
                  "resistant low": float(slopes[max(round((slopes.size - reach) / 2) - 1, 0)])}  # fmt: skip
    centred, beside = x - x.mean(), y - y.mean()
    if centred @ beside and n <= MOST:
        found["both-error slope"] = nearest(centred, beside, ratio)
        without = []
        for at in range(n if n > 2 else 0):
            kept = np.arange(n) != at
            without.append(nearest(x[kept] - x[kept].mean(), y[kept] - y[kept].mean(), ratio))
        if without:
            apart = np.array(without) - np.mean(without)
            found["both-error se"] = math.sqrt((n - 1) / n * float(apart @ apart))
    return found


def paired(
    x: Array, y: Array, second: Array, errors: str, clusters: list[str], place: Array
) -> dict[str, float | None]:
    """Two columns of the same rows: their mean difference, and the line of the difference of two responses."""
    n, gaps = x.size, y - x
    found: dict[str, float | None] = {"paired mean": float(gaps.mean())}
    if n > 1 and gaps.std():
        t = float(gaps.mean()) / (float(gaps.std(ddof=1)) / math.sqrt(n))
        found |= {"paired sd": float(gaps.std(ddof=1)), "paired t": t, "paired p": p_of(t, n - 1)}
    if np.isfinite(second).all() and n > 2:
        design, beta, e, bread, _ = bread_and_fit(x, y - second, np.ones(n), False)
        cov, df = covariance(errors, design, e, bread, n - 2, clusters, place)
        found["same rows slope"] = float(beta[1])
        if cov[1, 1]:
            t = float(beta[1]) / math.sqrt(cov[1, 1])
            found |= {"same rows t": t, "same rows p": p_of(t, df)}
    return found


def again(tether: dict[str, Any]) -> dict[str, float | None]:
    """Every figure of one tether, under the names of results.json."""
    choice = tether["choices"]
    x, y, weight, clusters, place, groups, second = read_pairs(HERE / tether["pairs"])
    n, level, origin = x.size, choice["level"], choice["origin"]
    design, beta, residuals, bread, back = bread_and_fit(x, y, weight, origin)
    df = n - design.shape[1]
    cov, t_df = covariance(choice["errors"], design, residuals, bread, df, clusters, place)
    middle = 0.0 if origin else -float(back[0, 1])
    centred, spread = beta, cov
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
    side = choice["alternative"]
    if se:
        figures["t_slope"] = t = (slope - choice["slope_0"]) / se
        figures["p_slope"] = p_of(t, t_df, side)
    if not origin:
        figures["intercept"], figures["se_intercept"] = float(beta[0]), math.sqrt(cov[0, 0])
        if cov[0, 0]:
            figures["p_intercept"] = p_of(
                (float(beta[0]) - choice["intercept_0"]) / math.sqrt(cov[0, 0]), t_df
            )
    root = np.sqrt(weight)
    about = 0.0 if origin else float(np.average(y, weights=weight))
    total, left = float(((y - about) * root) @ ((y - about) * root)), float(residuals @ residuals)
    if total and left:
        f = (total - left) / (left / df)
        figures |= {"r2": 1 - left / total, "f": f, "p_f": float(stats.f.sf(f, 1, df))}
    if np.ptp(y):
        figures |= coefficients(x, y, side, level)
    plain = not origin and np.all(weight == 1)
    if plain and left:
        figures |= checks(x, y, residuals, place)
    figures |= paired(x, y, second, choice["errors"], clusters, place)
    if plain and left:
        figures |= other_lines(x, y, level, choice["error_ratio"])
        for kind in ("classical", "HC0", "HC1", "HC2", "HC3", "newey_west"):
            under = covariance(kind, design, residuals, bread, df, clusters, place)[0][-1, -1]
            figures[f"{kind} se"] = math.sqrt(under)
    if any(groups):
        figures |= compared(x, y, groups, choice["errors"], clusters, place)
    s2 = residuals @ residuals / df
    for at, one in enumerate(choice["at"]):
        # from the mean of x, which keeps the digits
        row = np.array([one]) if origin else np.array([1.0, one - middle])
        mean = math.sqrt(max(row @ spread @ row, 0.0))
        share = choice["weights_at"][at]
        case = math.sqrt(s2 / choice["mean_of"] / share + mean**2) if share else math.nan
        fitted = float(row @ centred)
        own_df = choice["df_at"][at]
        reach = stats.t.ppf((1 + level) / 2, own_df) if own_df else math.nan
        low, high = fitted - reach * case, fitted + reach * case
        if choice.get("width") == "ranks":
            low, high = by_ranks(x, y, one, fitted, level)
        figures |= {f"fitted[{at}]": fitted, f"case_low[{at}]": low, f"case_high[{at}]": high,
                    f"mean_low[{at}]": fitted - reach * mean, f"mean_high[{at}]": fitted + reach * mean}  # fmt: skip
    return figures


def by_ranks(x: Array, y: Array, new: float, fitted: float, level: float) -> tuple[float, float]:
    """The interval for one case by ranks: every y that would lie no farther off than the rows give up."""
    n, every = x.size, np.append(x, new)
    design = np.stack((np.ones(n + 1), every - every.mean()), axis=1)
    off = np.eye(n + 1) - design @ np.linalg.pinv(design)
    near = min(max(10, round(n**0.8 / 2)), n) + 1
    rising = np.sort(every)
    among = np.zeros((n + 1, n + 1), bool)
    for row, value in enumerate(every):
        stands = (int(np.sum(every < value)) + int(np.sum(every <= value)) - 1) // 2
        first = min(max(stands - near // 2, 0), n + 1 - near)
        among[row] = (every >= rising[first]) & (every <= rising[first + near - 1])
        among[row, row] = False

    def inside(height: float) -> bool:
        size = np.abs(off @ np.append(y, height))
        score = size / np.maximum(among @ size / among.sum(axis=1), 1e-12 * size.mean())
        return bool(np.sum(score * (1 + 1e-9) >= score[-1]) > (1 - level) * (n + 1) + 1e-9)

    typical, ends = float(np.mean(np.abs(off[:n, :n] @ y))), []
    for sign in (-1.0, 1.0):
        outward = [0.0, *(sign * typical * 2.0 ** (step / 2) for step in range(-6, 25))]
        held = max(at for at, gap in enumerate(outward) if inside(fitted + gap))
        if held == len(outward) - 1:
            return math.nan, math.nan
        low, high = outward[held], outward[held + 1]
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if inside(fitted + middle) else (low, middle)
        ends.append(fitted + low)
    return ends[0], ends[1]


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
            close = CLOSE if name in _TO_EIGHT or "[" in name else ROUGH
            agrees = value is not None and math.isclose(value, written, rel_tol=close, abs_tol=close * 1e-3)
            wrong += not agrees
            print(f"  {name:<24} {written!r:>24} {value!r:>24} {'agrees' if agrees else 'DIFFERS'}")
        for one in tether["left_out"]:
            print(f"  not worked out here: {one}")
    print(
        "every figure agrees"
        if not wrong
        else "1 figure differs"
        if wrong == 1
        else f"{wrong} figures differ"
    )
    return 1 if wrong else 0


if __name__ == "__main__":
    if isinstance(sys.stdout, io.TextIOWrapper):
        sys.stdout.reconfigure(errors="backslashreplace")
    sys.exit(main())
