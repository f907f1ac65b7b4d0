"""Decision, direction, strength, coefficients, line and shares, held against the road."""

import numpy as np
from scipy import stats

from tests.truth import by_case
from tests.truth.checks import check, near


@check("decision")
def _decision(facts, road, case):
    test = road.decider()
    if facts["test"] != test:
        yield f"the deciding test is {test}"
        return
    if facts["outcome"] == "no test":
        perfect = test == "spearman" and abs(abs(road.coefficient(test)[0]) - 1) < 1e-12
        if not road.exact and not perfect and np.ptp(road.y) > 0 and road.n > 3:
            yield "there is a test"
        return
    _, statistic, p = road.decision()
    if not near(facts["statistic"], statistic, 1e-6):
        yield f"the statistic is {statistic}"
    if not near(facts["p"], p, 1e-5, 1e-12):
        yield f"p is {p}"
    if abs(p - road.alpha) > 1e-9 and facts["outcome"] != ("rejected" if p <= road.alpha else "not rejected"):
        yield "the outcome is wrong"
    mirrored = road.alternative != "two-sided" and 1 - p <= road.alpha
    if abs(1 - p - road.alpha) > 1e-9 and facts["other_side"] != (mirrored and p > road.alpha):
        yield "the other side is wrong"


@check("direction")
def _direction(facts, road, case):
    _, statistic, p = road.decision()
    if road.decider() == "slope" and road.slope_0:
        found = road.slope_test()
        if found["p0"] > road.alpha or np.sign(found["slope"]) != facts["sign"]:
            yield "no direction is shown against 0"
        return
    if not road.together():
        yield "a slope through the origin shows no direction by itself"
    shown = p <= road.alpha or (road.alternative != "two-sided" and 1 - p <= road.alpha)
    if not shown:
        yield "no direction is shown"
    if np.sign(statistic) != facts["sign"]:
        yield "the sign is wrong"


@check("strength")
def _strength(facts, road, case):
    _, _, p = road.decision()
    value = road.coefficient({"rho": "spearman", "tau_b": "kendall"}.get(facts["coefficient"], "pearson"))[0]
    if not near(facts["value"], value):
        yield f"the coefficient is {value}"
    if p > road.alpha or road.slope_0:
        yield "a word without a rejected decision about 0"
    if road.clumps():
        yield "a word across clumps"
    if road.groups is not None and road.told_apart():
        yield "a word that a story forbids"


@check("origin")
def _origin(facts, road, case):
    free = road.left_free()
    value, p, ends = free.intercept_test()
    found = free.slope_test()
    scale = np.abs(road.y).max()
    if abs(facts["intercept"] - value) > 1e-6 * scale or not near(facts["slope"], found["slope"], 1e-6, 1e-9):
        yield f"left free it is {value} + {found['slope']} x"
    if not near(facts["held_slope"], road.line()["slope"], 1e-6):
        yield "the slope held is another"
    if facts["p"] is not None:
        same = np.allclose((facts["low"], facts["high"]), ends, rtol=1e-5, atol=1e-6 * scale)
        if not same or not near(facts["p"], p, 1e-5, 1e-12):
            yield f"p is {p}, {ends}"
        if (facts["verdict"] == "misses") != (p <= road.alpha):
            yield "the verdict is wrong"
    if facts["p_slope"] is not None and not near(facts["p_slope"], found["p0"], 1e-5, 1e-12):
        yield f"p of the free slope is {found['p0']}"
    if facts["together"] != road.together() and abs(found["p0"] - road.alpha) > 1e-7:
        yield "whether they go together is wrong"
    if facts["bend"] is not None and not near(facts["bend"], free.bend()[1], 1e-5, 1e-12):
        yield f"p of a bend is {free.bend()[1]}"


@check("left_free")
def _left_free(facts, road, case):
    if not road.origin or facts["name"] not in ("bend", "order"):
        yield "no line is left free"
    if facts["name"] == "bend" and facts["p"] is not None:
        p = road.left_free().bend()[1]
        if not near(facts["p"], p, 1e-5, 1e-12):
            yield f"p is {p}"


@check("change")
def _change(facts, road, case):
    if road.exact:
        return
    found = road.slope_test()
    if not near(facts["slope"], found["slope"], 1e-6):
        yield f"the slope is {found['slope']}"
    if not (near(facts["low"], found["low"], 1e-5) and near(facts["high"], found["high"], 1e-5)):
        yield f"the interval is {found['low']} to {found['high']}"
    if abs(found["p0"] - road.alpha) > 1e-7 and facts["shown"] != (found["p0"] <= road.alpha):
        yield "whether it is shown is wrong"
    if facts["step"] > np.ptp(road.x):
        yield "the step is wider than x"


@check("slope_test")
def _slope_test(facts, road, case):
    if not road.exact and not near(facts["p"], road.slope_test()["p"], 1e-5, 1e-12):
        yield "p is wrong"


@check("intercept_test")
def _intercept_test(facts, road, case):
    null = case.options.get("intercept_0", 0.0)
    p = road.intercept_test(null)[1]
    if facts["null"] != null or road.exact:
        return
    if not near(facts["p"], p, 1e-5, 1e-12) or (facts["outcome"] == "rejected") != (p <= road.alpha):
        yield f"p is {p}"


@check("tests_part")
def _tests_part(facts, road, case):
    if (facts["p_first"] <= road.alpha) == (facts["p_second"] <= road.alpha):
        yield "they do not part"


@check("story")
def _story(facts, road, case):
    if road.groups is None or facts["by"] != case.options["group"]:
        return
    found = road.story()
    if facts["verdict"] != found["verdict"]:
        yield f"the verdict is {found['verdict']}"
    elif "within" in found and not (
        near(facts["within"], found["within"]) and near(facts["all"], found["all"])
    ):
        yield "r is wrong"
    if (
        facts["p_heights"] is not None
        and "within" in found
        and not near(facts["p_heights"], road.heights_apart(), 1e-5, 1e-9)
    ):
        yield f"the groups stand apart by {road.heights_apart()}"
    if ({one["shown"] for one in facts["groups"]} >= {-1, 1}) != road.crossing():
        yield "whether groups go opposite ways is wrong"


@check("clumps")
def _clumps(facts, road, case):
    if facts["k"] != road.clumps():
        yield f"there are {road.clumps()} clumps"
    if sum(facts["n_each"]) > road.n:
        yield "more rows in clumps than in play"


@check("gap")
def _gap(facts, road, case):
    if not any(near(low, facts["low"]) and near(high, facts["high"]) for low, high in road.gaps()):
        yield f"the gaps are {road.gaps()}"
    if not facts["share"] > 0.25:
        yield "too narrow for a gap"


@check("interval")
def _interval(facts, road, case):
    if facts["exact"] != road.exact:
        yield "exactness is wrong"
    if not road.exact and facts["low"] is not None:
        found = road.slope_test()
        if not (near(facts["low"], found["low"], 1e-5) and near(facts["high"], found["high"], 1e-5)):
            yield f"it is {found['low']} to {found['high']}"
        if facts["level"] != road.level and not near(facts["level"], road.level):
            yield "the level is wrong"


@check("share")
def _share(facts, road, case):
    of = "Σy²" if road.origin else "the weighted spread" if road.weighted else "the spread"
    if facts["of"] != of:
        yield f"it is of {of}"
    if facts["value"] is None:
        if np.ptp(road.y) > 0:
            yield "there is a share"
        return
    fit = road.line()
    y = road.y * fit["root"]
    whole = y @ y if road.origin else np.sum(road.w * (road.y - np.average(road.y, weights=road.w)) ** 2)
    if not near(facts["value"], 1 - fit["e"] @ fit["e"] / whole, 1e-6):
        yield "the share is wrong"


@check("intercept")
def _intercept(facts, road, case):
    if facts["inside"] != bool(road.x.min() <= 0 <= road.x.max()):
        yield "where 0 lies is wrong"
    fit = road.line()
    if not near(facts["value"], fit["beta"][0] - fit["slope"] * fit["middle"], 1e-5, 1e-6):
        yield "the value is wrong"


@check("coefficients")
def _coefficients(facts, road, case):
    found = {name: road.coefficient(test) for name, test in
             (("r", "pearson"), ("rho", "spearman"), ("tau", "kendall"))}  # fmt: skip
    for name, (value, _) in found.items():
        if not near(facts[name], value):
            yield f"{name} is {value}"
    signs = {np.sign(value) for value, _ in found.values()}
    tested = [p for _, p in found.values() if p is not None]
    outcomes = {p <= road.alpha for p in tested}
    agree = len(signs) == 1 and len(outcomes) == 1 and abs(found["tau"][0]) < abs(found["r"][0])
    close = any(abs(p - road.alpha) < 1e-9 for p in tested) or road.exact
    perfect = any(abs(abs(value) - 1) < 1e-12 for value, _ in found.values())
    if not close and not perfect and (facts["verdict"] == "agree") != agree:
        yield "whether they agree is wrong"


@check("apart")
def _apart(facts, road, case):
    kept = ~np.isin(road.places + 1, facts["rows"])
    if not near(facts["r_without"], road.r(road.x[kept], road.y[kept])):
        yield "r without the rows is wrong"
    if (facts["r_without"] - facts["r"]) * (facts["rho"] - facts["r"]) <= 0:
        yield "r does not go towards ρ"
    if not abs(facts["r_without"] - facts["rho_without"]) < abs(facts["r"] - facts["rho"]):
        yield "r does not come nearer to ρ"


@check("reversal")
def _reversal(facts, road, case):
    if not facts["tau_without"] > facts["tau"]:
        yield "τ is not larger without them"


@check("comparisons")
def _comparisons(facts, road, case):
    up = np.triu_indices(road.n, 1)
    product = np.sign(road.x[up[0]] - road.x[up[1]]) * np.sign(road.y[up[0]] - road.y[up[1]])
    if (facts["concordant"], facts["discordant"]) != (int((product > 0).sum()), int((product < 0).sum())):
        yield "the counts are wrong"


@check("rows")
def _rows(facts, road, case):
    if facts["n"] != road.n or facts["n"] + facts["missing"] + facts["zero_weight"] != len(case.x):
        yield f"{road.n} rows are in play"


@check("agreement")
def _agreement(facts, road, case):
    apart = road.y - road.x
    if not near(facts["mean"], apart.mean(), 1e-6, 1e-9):
        yield "the mean difference is wrong"
    z = stats.norm.ppf((1 + road.level) / 2)
    if facts["limits"] and not near(facts["limits"][1], apart.mean() + z * apart.std(ddof=1), 1e-5):
        yield "the limits are wrong"
    if facts["p"] is not None:
        p = stats.ttest_rel(road.y, road.x).pvalue
        if not near(facts["p"], p, 1e-5) or (facts["outcome"] == "rejected") != (p <= road.alpha):
            yield f"p is {p}"


@check("agreement_slope")
def _agreement_slope(facts, road, case):
    means, apart = (road.x + road.y) / 2, road.y - road.x
    found = stats.linregress(means, apart)
    if not near(facts["slope"], found.slope, 1e-6):
        yield f"the slope is {found.slope}"
    if list(facts["means"]) != [means.min(), means.max()]:
        yield "the means are others"
        return
    ends = found.intercept + found.slope * np.array(facts["means"])
    if len(facts["at_means"]) != 2 or not np.allclose(
        facts["at_means"], ends, rtol=1e-6, atol=1e-9 * np.abs(apart).max()
    ):
        yield "the differences at the ends are wrong"
    if facts["p"] is None:
        left = apart - found.intercept - found.slope * means
        if np.abs(left).max() > 1e-9 * (np.abs(road.x).max() + np.abs(road.y).max()):
            yield "something is left over"
        return
    half = stats.t.ppf((1 + road.level) / 2, road.n - 2) * found.stderr
    if not near(facts["p"], found.pvalue, 1e-5) or facts["p"] > road.alpha:
        yield f"p is {found.pvalue}"
    if not near(facts["high"] - facts["low"], 2 * half, 1e-5):
        yield "the interval is wrong"


@check("level_line")
def _level(facts, road, case):
    if np.ptp(road.y) > 0 or (facts["n"], facts["value"]) != (road.n, road.y[0]):
        yield "y varies"


@check("exact_line")
def _exact(facts, road, case):
    if not road.exact or facts["n"] != road.n or not near(facts["slope"], road.line()["slope"]):
        yield "there are residuals"


@check("exact_p")
def _exact_p(facts, road, case):
    found = (stats.kendalltau(road.x, road.y, method="exact") if facts["test"] == "kendall" else None)  # fmt: skip
    if found is not None and not near(facts["p_exact"], found.pvalue, 1e-6):
        yield f"it is {found.pvalue}"
    same = facts["p"] is not None and (facts["p_exact"] <= road.alpha) == (facts["p"] <= road.alpha)
    if facts["same_side"] != (None if facts["p"] is None else same):
        yield "the side is wrong"


@check("ties")
def _ties(facts, road, case):
    up = np.triu_indices(road.n, 1)
    product = (road.x[up[0]] - road.x[up[1]]) * (road.y[up[0]] - road.y[up[1]])
    if (facts["tied"], facts["comparisons"]) != (int((product == 0).sum()), product.size):
        yield "the counts are wrong"


@check("cases")
def _cases(facts, road, case):
    names = np.array(case.columns[case.options["cluster"]])
    groups = [np.flatnonzero(names == one) for one in dict.fromkeys(names.tolist())]
    x, y = case.x, case.y
    if (facts["rows"], facts["cases"], facts["most"]) != (x.size, len(groups), max(map(len, groups))):
        yield "counts"
    inside = (
        np.concatenate([x[at] - x[at].mean() for at in groups]),
        np.concatenate([y[at] - y[at].mean() for at in groups]),
    )
    df = x.size - len(groups) - 1
    if np.ptp(inside[0]) > 1e-9 and np.ptp(inside[1]) > 1e-9:
        r = np.dot(*inside) / np.sqrt(np.dot(inside[0], inside[0]) * np.dot(inside[1], inside[1]))
        if not near(facts["r_within"], r):
            yield f"r within {r}"
        if df >= 1 and not near(facts["p_within"], 2 * stats.t.sf(abs(r) * np.sqrt(df / (1 - r * r)), df)):
            yield "p within"
    if facts["df_within"] != df:
        yield "df within"
    if len(groups) >= 3:
        means = [np.array([values[at].mean() for at in groups]) for values in (x, y)]
        found = stats.pearsonr(*means)
        if not near(facts["r_between"], found.statistic) or not near(facts["p_between"], found.pvalue):
            yield "r between"
    ends = by_case.ends_of_r(road) if facts["decide"] else None
    told = None if facts["low"] is None else (facts["low"], facts["high"])
    if (ends is None) != (told is None) or (told is not None and not all(map(near, told, ends))):
        yield f"the interval of r is {ends}"
    if facts["decide"] != (case.options.get("errors") == "clustered"):
        yield "which errors are in force"


@check("within_slope")
def _within_slope(facts, road, case):
    names = np.array(case.columns[case.options["cluster"]])
    distinct = list(dict.fromkeys(names.tolist()))
    lined = [one for one in distinct if np.ptp(case.x[names == one]) > 0]
    used = np.isin(names, lined)
    design = np.column_stack([*((names[used] == one).astype(float) for one in lined), case.x[used]])
    solved, *_ = np.linalg.lstsq(design, case.y[used], rcond=None)
    left = case.y[used] - design @ solved
    df = int(used.sum()) - len(lined) - 1
    if facts["df"] != df or not near(facts["slope"], solved[-1]):
        yield f"slope {solved[-1]} on {df} df"
        return
    se = np.sqrt(left @ left / df * np.linalg.inv(design.T @ design)[-1, -1])
    half = stats.t.ppf((1 + facts["level"]) / 2, df) * se
    if not near(facts["high"] - facts["low"], 2 * half):
        yield "interval"


@check("standing")
def _standing(facts, road, case):
    yield from _decision(facts["decision"], road, case)
    if not isinstance(facts["origin"], dict | None):
        yield "what is said of the origin is no claim"
    elif facts["origin"] is not None:
        yield from _origin(facts["origin"], road, case)
    if "weights" in facts["remedies"] and not road.weighted:
        yield "no weights are in force"
