"""Comparisons and forecasts, held against the road."""

import numpy as np
from scipy import stats

from tests.truth import by_case
from tests.truth.checks import check, near


@check("difference")
def _difference(facts, road, case):
    if facts["p"] is not None and facts["outcome"] != (
        "rejected" if facts["p"] <= road.alpha else "not rejected"
    ):
        yield "the outcome is wrong"
    if road.second is not None:
        heads = case.options["heads"]
        if heads["y"].split("(")[1] != heads["z"].split("(")[1] and facts["estimate"] is not None:
            yield "slopes in different units are subtracted"
        return
    together = road.kind == "clustered" and facts["test"] in ("parallel", "by_case")
    if (facts["cases"] is not None) != together:
        yield "cases are taken together, or are not"
    if together and facts["test"] == "parallel" and facts["p"] is not None:
        lined = [one for one in dict.fromkeys(road.groups) if np.ptp(road.x[road.groups == one]) > 0]
        p = by_case.common_p(road, lined)
        if not near(facts["p"], p, 1e-5, 1e-10):
            yield "its p by case is wrong"
    if road.groups is None or facts["a"] not in road.groups or facts["estimate"] is None:
        return
    if road.kind == "clustered":
        slopes, both, df = by_case.differences(road, (facts["a"], facts["b"]))
        t = (slopes[0] - slopes[1]) / np.sqrt(both[0, 0] + both[1, 1] - 2 * both[0, 1])
        if not near(facts["estimate"], slopes[0] - slopes[1], 1e-6) or facts["df"] != df:
            yield "the difference by case is wrong"
        if not near(facts["p"], 2 * stats.t.sf(abs(t), df), 1e-5, 1e-10):
            yield "its p by case is wrong"
        return
    slopes, squares, dfs = [], [], []
    for name in (facts["a"], facts["b"]):
        mine = road.groups == name
        fit = road.line(road.x[mine], road.y[mine])
        slopes.append(fit["slope"])
        squares.append(road.covariance(fit)[-1, -1])
        dfs.append(fit["df"])
    if not near(facts["estimate"], slopes[0] - slopes[1], 1e-6):
        yield "the difference is wrong"
    t = (slopes[0] - slopes[1]) / np.sqrt(sum(squares))
    if facts["p"] is not None and not near(facts["p"], 2 * stats.t.sf(abs(t), sum(dfs)), 1e-5, 1e-10):
        yield "its p is wrong"


@check("rungs")
def _rungs(facts, road, case):
    if (facts["p"] <= road.alpha) != (facts["verdict"] == "a line each"):
        yield "the rung is wrong"


@check("spreads")
def _spreads(facts, road, case):
    found = {}
    for name in dict.fromkeys(road.groups):
        mine = road.groups == name
        if np.count_nonzero(mine) > 2 and np.ptp(road.x[mine]) > 0:
            fit = road.line(road.x[mine], road.y[mine])
            found[name] = (fit["e"] @ fit["e"] / fit["df"], fit["df"])
    variances, df = np.array(list(found.values())).T
    whole = df.sum()
    few = (np.sum(1 / df) - 1 / whole) / (3 * (df.size - 1))
    chi2 = (whole * np.log(df @ variances / whole) - df @ np.log(variances)) / (1 + few)
    if not near(facts["p"], stats.chi2.sf(chi2, df.size - 1), 1e-5, 1e-10) or not facts["p"] <= road.alpha:
        yield "Bartlett's p is wrong"
    for name, s in ((facts["narrow"], facts["s_narrow"]), (facts["wide"], facts["s_wide"])):
        if name in found and not near(s * s, found[name][0], 1e-6):
            yield f"s of {name} is wrong"
    if not near(facts["s_wide"] ** 2, variances.max(), 1e-6):
        yield "another line scatters most"


@check("equivalence")
def _equivalence(facts, road, case):
    ends = [
        one["facts"] for one in road.beside if one["kind"] == "difference" and one["facts"]["low"] is not None
    ]
    beyond = any(one["low"] > facts["margin"] or one["high"] < -facts["margin"] for one in ends)
    if facts["beyond"] != beyond:
        yield "whether they lie farther apart than the margin is wrong"
    if facts["shown"] != (facts["p"] <= road.alpha):
        yield "what is shown is wrong"


@check("forecast")
def _forecast(facts, road, case):
    x0 = facts["x"]
    if facts["inside"] != bool(road.x.min() <= x0 <= road.x.max()):
        yield "inside is wrong"
    if facts["in_gap"] != any(low < x0 < high for low, high in road.gaps()):
        yield "in_gap is wrong"
    if "at" not in case.options and facts["in_gap"]:
        yield "the default x lies in a gap"
    if (facts["of"] == "mean of m") != (facts["m"] > 1) and facts["of"] != "mean":
        yield "of whom is wrong"
    if not near(facts["level"], road.level):
        yield "the level is not the one in force"
    value, mean, one = road.forecast(x0, facts["m"])
    if not near(facts["value"], value, 1e-6, 1e-8):
        yield f"the value is {value}"
    half = mean if facts["of"] == "mean" else one
    if "weights" in case.options and facts["of"] != "mean":
        if facts["low"] is not None:
            yield "an interval for a case of no stated weight"
        return
    if facts["low"] is not None and not road.exact and not near(facts["high"], value + half, 1e-5, 1e-8):
        yield f"it ends at {value + half}"


@check("one_width")
def _one_width(facts, road, case):
    clear = [one for one in road.beside if one["kind"] == "doubt" and one["facts"]["name"] == "spread"]
    if not facts["p"] <= road.alpha or any(one["facts"]["verdict"] != "clear sign" for one in clear):
        yield "there is no clear sign on spread"
    if facts["weighted"] != road.weighted:
        yield "whether weights are in force is wrong"


@check("past_limit")
def _past_limit(facts, road, case):
    value, _, one = road.forecast(facts["x"], 1)
    side = -1 if facts["limit"] == 0 else 1
    if not near(facts["nearest"], road.y.min() if side < 0 else road.y.max()):
        yield "another y is nearest"
    if not side * facts["nearest"] <= side * facts["limit"] < side * facts["end"]:
        yield "the interval does not leave where y lies"
    if not near(facts["end"], value + side * one, 1e-5, 1e-8):
        yield f"the interval ends at {value + side * one}"


@check("correlations")
def _correlations(facts, road, case):
    if road.second is not None:
        ends = [road.r(road.x, road.y), road.r(road.x, road.second)]
        if (facts["test"] == "t") != (case.options["rows_are"] == "cases"):
            yield "the test does not fit the rows"
    else:
        ends = [
            road.r(road.x[road.groups == one], road.y[road.groups == one]) for one in (facts["a"], facts["b"])
        ]
        sizes = [int((road.groups == one).sum()) for one in (facts["a"], facts["b"])]
        z = (np.arctanh(ends[0]) - np.arctanh(ends[1])) / np.sqrt(sum(1 / (size - 3) for size in sizes))
        if facts["by_case"] != (road.kind == "clustered"):
            yield "cases decide, or do not"
        if not facts["by_case"] and not near(facts["p"], 2 * stats.norm.sf(abs(z)), 1e-5):
            yield "p is wrong"
    if not (near(facts["r_a"], ends[0]) and near(facts["r_b"], ends[1])):
        yield "r is wrong"


@check("which_test")
def _which_test(facts, road, case):
    if facts["ratio"] is not None:
        sizes = []
        for one in dict.fromkeys(road.groups):
            fit = road.line(road.x[road.groups == one], road.y[road.groups == one])
            sizes.append(np.sqrt(fit["e"] @ fit["e"] / fit["df"]))
        if len(sizes) == 2 and not near(facts["ratio"], max(sizes) / min(sizes), 1e-5):
            yield "the ratio of scatters is wrong"


@check("near")
def _near(facts, road, case):
    fit = road.line()
    e = fit["e"] / fit["root"]
    if len(facts["rows"]) != len(facts["over"]):
        yield "rows and distances do not go together"
    for row, over in zip(facts["rows"], facts["over"], strict=False):
        at = int(np.flatnonzero(road.places + 1 == row)[0])
        if not near(over, e[at], 1e-5, 1e-8):
            yield f"row {row} lies {e[at]} off"


@check("beyond")
def _beyond(facts, road, case):
    if road.x.min() <= facts["x"] <= road.x.max():
        yield "x was measured"
    away = max(road.x.min() - facts["x"], facts["x"] - road.x.max()) / road.x.std(ddof=1)
    if not road.weighted and not near(facts["distance"], away, 1e-6):
        yield "the distance is wrong"


@check("back")
def _back(facts, road, case):
    fit = road.line()
    height = fit["beta"][0] - fit["slope"] * fit["middle"]
    if facts["x"] is not None and not near(facts["x"], (facts["y"] - height) / fit["slope"], 1e-5):
        yield "x is wrong"
    if facts["inside"] is not (
        None if facts["x"] is None else bool(road.x.min() <= facts["x"] <= road.x.max())
    ):
        yield "whether that x was measured is wrong"
    if facts["in_gap"] != (
        facts["x"] is not None and any(low < facts["x"] < high for low, high in road.gaps())
    ):
        yield "in_gap is wrong"


@check("units_differ")
def _units_differ(facts, road, case):
    heads = case.options["heads"]
    if heads["y"].split("(")[1] == heads["z"].split("(")[1] or (facts["a"], facts["b"]) != ("silt", "sand"):
        yield "the units are the same"


@check("no_line")
def _no_line(facts, road, case):
    mine = road.groups == facts["name"]
    if facts["n"] != mine.sum():
        yield "n is wrong"
    if not facts["line"] and mine.sum() >= 2 and np.ptp(road.x[mine]) > 0:
        yield "it has a line"
