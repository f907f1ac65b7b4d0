"""Each kind of claim held against the road: what is wrong with it, as sentences; nothing where it is true."""

from __future__ import annotations

import re
import warnings

import numpy as np
from scipy import stats

from tests.truth import by_case
from tests.truth.presence import misplaced
from tests.truth.recurring import copies, piles
from tests.truth.resting import noticed, resting, without
from tests.truth.road import Road

CHECKS = {}
_LANGUAGE = {
    "minus zero": re.compile(r"[−-]0(\.0+)?(?![\d.])"),
    "dust of a float": re.compile(r"\d\.\d{13,}"),
    "two blanks": re.compile(r"\S  \S"),
    "one as many": re.compile(r"(?<![\d.\u202f])1 (rows|pairs|times|comparisons|new cases)\b"),
    "many as one": re.compile(r"(?<![\d.\u202f])(?!1 )\d+ (row|pair|comparison|new case)\b(?! \d)"),
    "a verb that does not fit": re.compile(r"lies rows|lie row |(?<!\d)1 are tied|(?<!\d)[2-9] is tied"),
    "a missing part": re.compile(r"None|nan|inf\b|\{|\}| ,|\(\)|\.\.|,\.|: \."),
    "acceptance or cause": re.compile(r"\baccept|\bprove|\bcauses?\b|\bsignifican"),
    "about fewer": re.compile(r"about (fewer|less|more) than"),
}


def check(kind):
    """Register the check of a kind."""

    def keep(function):
        CHECKS[kind] = function
        return function

    return keep


def near(a, b, rel=1e-6, tiny=1e-9):
    """Alike as far as two roads can be."""
    if a is None or b is None:
        return a is b
    return bool(abs(a - b) <= rel * max(abs(a), abs(b)) + tiny)


def faults(case, record, beside=None):
    """Everything that is wrong with what was said of a case: kind and what. beside : all that was said of it."""
    road, found = Road(case), []
    road.beside = record["readings"] if beside is None else beside
    entries = record["readings"]
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # a false fact may lead the road out of bounds
        for entry in entries:
            test = CHECKS.get(entry["kind"])
            told = test(entry["facts"], road, case) if test and road.n >= 3 else ()
            found += [(entry["kind"], f"{wrong}: {entry['says']}") for wrong in told]
    found += [("language", wrong) for entry in entries for wrong in language(entry["says"])]
    found += shared(entries)
    return found + (misplaced(road, case, entries) if beside is None else [])


def language(says):
    """What no sentence may hold."""
    return [f"{name}: {says}" for name, pattern in _LANGUAGE.items() if pattern.search(says)]


def shared(entries):
    """One decision, one story, one list of doubts in force: the same facts wherever they stand."""
    wrong, seen = [], {}
    for entry in entries:
        kind = entry["kind"]
        if kind not in ("decision", "story", "clumps", "doubts_in_force", "direction", "strength"):
            continue
        key = (kind, entry["facts"].get("by"))
        if seen.setdefault(key, entry["facts"]) != entry["facts"]:
            wrong.append((kind, f"two of it: {entry['says']}"))
    return wrong


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


@check("doubt")
def _doubt(facts, road, case):
    name, verdict, p = facts["name"], facts["verdict"], facts["p"]
    sign = verdict in ("some sign", "clear sign")
    if (p is None) != (facts["p_from"] is None):
        yield "a p without where it is from"
    if facts["rows"] and not sign:
        yield "rows are named without a sign"
    if road.exact and verdict != "not judged":
        yield "an exact line has no doubts to judge"
    if name == "bend" and np.unique(road.x).size < 3 and verdict not in ("not judged", "too few to tell"):
        yield "two x tell of no bend"
    if name == "order" and road.line()["df"] < 4 and (p is not None or sign):
        yield "order of so few residuals"
    if name == "shape" and road.n == 3 and (p is not None or sign):
        yield "three rows have no shape"
    if p is None or road.exact or (road.weighted and not np.all(road.w > 0)):
        return
    other = {"breusch_pagan": road.spread, "shapiro_wilk": lambda: stats.shapiro(road.line()["e"]).pvalue,
             "curvature": lambda: road.bend()[1], "outlier_p": lambda: min(1, road.left_out()[0]),
             "durbin_watson": lambda: road.durbin_watson()[1]}.get(facts["p_from"])  # fmt: skip
    room = {"durbin_watson": 2e-3, "shapiro_wilk": 1e-4}.get(facts["p_from"], 1e-6)
    if case.family == "nearly_exact":  # where this road, without the care of the other, loses digits
        room = 1e-2
    if other is not None and not (road.weighted and name == "spread") and abs(other() - p) > room:
        yield f"p is {other()}"
    yield from _without(facts, road, case)


def _without(facts, road, case):
    """Rows without which a doubt has no sign of its own."""
    if bool(facts["without"]) != (facts["p_without"] is not None):
        yield "rows without a p, or a p without rows"
        return
    if not facts["without"]:
        return
    named = set(facts["without"])
    if not named <= {road.places[at] + 1 for at in noticed(road)} or facts["p_without"] <= road.alpha:
        yield "rows that are not noticed, or no sign that goes with them"
    rest = without(case, [at for at in range(road.n) if road.places[at] + 1 in named], road)
    other = {"bend": lambda: rest.bend()[1], "spread": rest.spread,
             "shape": lambda: stats.shapiro(rest.line()["e"]).pvalue}[facts["name"]]  # fmt: skip
    if not road.weighted and abs(other() - facts["p_without"]) > 1e-4:
        yield f"without them p is {other()}"


@check("doubts")
def _doubts(facts, road, case):
    if not 0 <= facts["expected_by_luck"] <= 3 * road.alpha + 0.05:
        yield "more by luck than the rule allows"
    doubts = {one["facts"]["name"]: one["facts"]["verdict"] for one in road.beside if one["kind"] == "doubt"}
    for key, verdicts in (("clear", ("clear sign",)), ("signs", ("clear sign", "some sign")),
                          ("few", ("too few to tell",)), ("not_judged", ("not judged",))):  # fmt: skip
        if sorted(facts[key]) != sorted(name for name, verdict in doubts.items() if verdict in verdicts):
            yield f"{key} are others"


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


@check("built_in")
def _built_in(facts, road, case):
    rises = road.n >= 8 and np.all(np.diff(road.x) > 0) and np.all(np.diff(road.y) > 0)
    if facts["why"] == "repeated cases":
        if not road.shared or road.kind == "clustered":
            yield "no rows share a case, or cases decide"
    elif facts["why"] == "shares":
        together = road.x + road.y
        if together.max() > 100.5 or min(road.x.min(), road.y.min()) < 0 or np.mean(together >= 90) < 0.25:
            yield "they are no shares of one whole"
    elif facts["why"] != "running totals" or not rises:
        yield "nothing is built in"


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


@check("timing")
def _timing(facts, road, case):
    seconds = (
        np.array([np.datetime64(one) for one in case.columns["when"]]).astype("datetime64[s]").astype(float)
    )
    moments, counts = np.unique(seconds, return_counts=True)
    if (facts["first"], facts["last"], facts["moments"]) != (moments[0], moments[-1], moments.size):
        yield "first, last or how many"
    if facts["shared"] != int(counts[counts > 1].sum()):
        yield "moments that rows share"
    steps = np.diff(moments)
    if steps.size:
        lengths, often = np.unique(steps, return_counts=True)
        usual = lengths[often.argmax()] if 2 * often.max() >= steps.size else None
        if facts["step"] != usual or facts["median"] != np.median(steps):
            yield f"usual step {usual}"
        long = steps[steps > 1.5 * usual] if usual is not None else np.zeros(0)
        if facts["gaps"] != long.size or (
            long.size and facts["longest"][1] - facts["longest"][0] != long.max()
        ):
            yield "gaps"


@check("few")
def _few(facts, road, case):
    by_case = road.kind == "clustered" and road.shared
    many = len(set(road.cases.tolist())) if by_case else road.n
    if (facts["n"], facts["df"]) != (road.n, road.line()["df"]) or many > 6:
        yield "n or df is wrong"
    if by_case and facts["cases"] is not None and facts["cases"] != many:
        yield "cases are wrong"


@check("carried")
def _carried(facts, road, case):
    design = road.line()["design"]
    own = np.einsum("ij,jk,ik->i", design, np.linalg.inv(design.T @ design), design)
    rows = (road.places[own >= 0.8 - 1e-9] + 1).tolist()
    if facts["rows"] != rows or not near(facts["leverage"], own.max()):
        yield f"rows {rows} carry the line"
    if facts["slope"] is not None:
        rest = without(case, np.flatnonzero(own >= 0.8 - 1e-9), road).slope_test()
        if not all(near(facts[name], rest[name], 1e-5, 1e-9) for name in ("slope", "low", "high")):
            yield f"without them the slope is {rest['slope']}"


@check("rests")
def _rests(facts, road, case):
    found = resting(road, case)
    if found is None:
        yield "the decision rests on no row"
    elif facts["rows"] != found[0]:
        yield f"it rests on rows {found[0]}"
    elif not near(facts["statistic"], found[1], 1e-5) or not near(facts["p"], found[2], 1e-5):
        yield f"without them {found[1]}, p {found[2]}"
    if (facts["test"], facts["alternative"], facts["alpha"]) != (
        road.decider(),
        road.alternative,
        road.alpha,
    ):
        yield "another test"
    if facts["rejected"] != bool(road.decision()[2] <= road.alpha):
        yield "whether it is rejected with them is wrong"


@check("two_values")
def _two_values(facts, road, case):
    values, counts = np.unique(road.y, return_counts=True)
    if (
        facts != {"low": values[0], "high": values[-1], "at_high": counts[-1], "n": road.n}
        or values.size != 2
    ):
        yield f"y takes {values.size} values"


@check("few_values")
def _few_values(facts, road, case):
    values = sorted(set(road.y.tolist()))
    if (
        list(facts["values"]) != values
        or not 3 <= len(values) <= 5
        or road.n < 4 * len(values)
        or facts["n"] != road.n
    ):
        yield f"y takes {len(values)} values"


@check("pile")
def _pile(facts, road, case):
    if [facts[name] for name in ("value", "rows", "lowest")] not in piles(
        {"x": road.x}.get(facts["of"], road.y)
    ):
        yield "there is no such pile"
    if facts["n"] != road.n:
        yield "n is wrong"


@check("copies")
def _copies(facts, road, case):
    if (facts["copies"], facts["n"]) != (copies(road), road.n):
        yield f"{copies(road)} pairs are copies"


@check("below_zero")
def _below_zero(facts, road, case):
    value, _, one = road.forecast(facts["x"], 1)
    if not near(facts["least"], road.y.min()) or not road.y.min() > 0:
        yield "y reaches 0"
    if not facts["low"] < 0 or not near(facts["low"], value - one, 1e-5, 1e-8):
        yield f"the interval ends at {value - one}"


@check("above_whole")
def _above_whole(facts, road, case):
    value, _, one = road.forecast(facts["x"], 1)
    if not near(facts["most"], road.y.max()) or road.y.max() > 100:
        yield "y reaches above 100"
    if not facts["high"] > 100 or not near(facts["high"], value + one, 1e-5, 1e-8):
        yield f"the interval ends at {value + one}"


@check("far_rows")
def _far_rows(facts, road, case):
    far = []
    for values in (road.x, road.y):
        low, high = np.quantile(values, (0.25, 0.75))
        room = 3 * (high - low)
        far += np.flatnonzero((values < low - room) | (values > high + room)).tolist() if room > 0 else []
    if set(facts["far_in_column"]) != set((road.places[far] + 1).tolist() if far else ()):
        yield "other rows lie far out in a column"


@check("doubts_in_force")
def _in_force(facts, road, case):
    doubts = {one["facts"]["name"]: one["facts"] for one in road.beside if one["kind"] == "doubt"}
    answered = (
        {"spread"}
        if road.kind.startswith("HC")
        else {"spread", "order"}
        if road.kind == "newey_west"
        else set()
    )
    clear = [name for name, one in doubts.items() if one["verdict"] == "clear sign" and name not in answered]
    signs = [
        name
        for name, one in doubts.items()
        if one["verdict"].endswith(" sign") and one["verdict"] != "no sign"
    ]
    if sorted(facts["names"]) != sorted(clear):
        yield f"in force are {clear}"
    if sorted(facts["remedied"]) != sorted(name for name in signs if name in answered):
        yield "others are answered"


@check("populations")
def _populations(facts, road, case):
    if facts["by"] not in case.columns:
        yield "there is no such column"
        return
    named, apart = np.array(case.columns[facts["by"]])[road.places], []
    for values in (road.x, road.y):
        inside = sum(((values[named == one] - values[named == one].mean()) ** 2).sum() for one in set(named))
        apart.append(1 - inside / ((values - values.mean()) ** 2).sum())
    apart = [share for share in apart if share >= 0.75]
    if len(apart) != len(facts["apart"]) or not all(map(near, (one[1] for one in facts["apart"]), apart)):
        yield f"the shares are {apart}"


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


@check("form")
def _form(facts, road, case):
    fit = Road(case)
    fit.w, fit.origin = np.ones(fit.n), False
    e = fit.line()["e"]
    tight = np.sqrt(e @ e / (fit.n - 2)) / road.y.std(ddof=1)
    if not near(facts["tightness"], tight, 1e-5, 1e-7):
        yield f"the tightness is {tight}"
    curve = np.polyfit(road.x - road.x.mean(), road.y, 2)
    turn = road.x.mean() - curve[1] / (2 * curve[0]) if curve[0] else None
    low, high = np.quantile([road.x.min(), road.x.max()], (0.1, 0.9))
    turns = facts["bend"] in ("some sign", "clear sign") and turn is not None and low <= turn <= high
    if turns:
        sides = [_side(road, road.x <= turn), _side(road, road.x >= turn)]
        turns = all(p <= road.alpha for _, p in sides) and sides[0][0] * sides[1][0] < 0
    if (facts["turns_at"] is not None) != turns or (turns and not near(facts["turns_at"], turn, 1e-4)):
        yield f"it turns at {turn}"
    if facts["width"] != ("tight" if tight < 0.35 else "loose" if tight > 0.75 else ""):
        yield "the word for the width is wrong"


def _side(road, mine):
    """r of some of the pairs with its two-sided p."""
    if mine.sum() < 3 or np.ptp(road.x[mine]) == 0 or np.ptp(road.y[mine]) == 0:
        return 0.0, 1.0
    r = road.r(road.x[mine], road.y[mine])
    return r, road.p_of_r(r, mine.sum() - 2, "two-sided")


@check("offset")
def _offset(facts, road, case):
    whole = np.linalg.cond(np.stack([np.ones(road.n), road.x], axis=1))
    if whole < 1e11 or not 0 < facts["log10_condition"] < 30:
        yield "x varies enough"


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


@check("few_to_see")
def _few_to_see(facts, road, case):
    if facts["n"] != road.n or road.n > 10:
        yield "n is wrong"


@check("standing")
def _standing(facts, road, case):
    yield from _decision(facts["decision"], road, case)
    if "weights" in facts["remedies"] and not road.weighted:
        yield "no weights are in force"
