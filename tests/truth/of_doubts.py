"""Doubts, forms and what recurs, held against the road."""

import numpy as np
from scipy import stats

from tests.truth import thirds
from tests.truth.checks import check, near
from tests.truth.recurring import copies, piles
from tests.truth.resting import noticed, resting, without
from tests.truth.road import Road


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
    yield from _in_groups(facts, road)


@check("doubts")
def _doubts(facts, road, case):
    if not 0 <= facts["expected_by_luck"] <= 3 * road.alpha + 0.05:
        yield "more by luck than the rule allows"
    doubts = {one["facts"]["name"]: one["facts"]["verdict"] for one in road.beside if one["kind"] == "doubt"}
    for key, verdicts in (("clear", ("clear sign",)), ("signs", ("clear sign", "some sign")),
                          ("few", ("too few to tell",)), ("not_judged", ("not judged",))):  # fmt: skip
        if sorted(facts[key]) != sorted(name for name, verdict in doubts.items() if verdict in verdicts):
            yield f"{key} are others"


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
    elif facts["why"] in ("plus", "times"):
        made = thirds.made_of(road, case)
        if (
            made is None
            or sorted((facts["part"], facts["third"])) != sorted(made[1:])
            or facts["whole"] != made[0]
        ):
            yield f"it is {made}"
    elif facts["why"] != "running totals" or not rises:
        yield "nothing is built in"


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
        else {"order"}
        if road.kind == "clustered"
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


@check("offset")
def _offset(facts, road, case):
    whole = np.linalg.cond(np.stack([np.ones(road.n), road.x], axis=1))
    if whole < 1e11 or not 0 < facts["log10_condition"] < 30:
        yield "x varies enough"


@check("few_to_see")
def _few_to_see(facts, road, case):
    if facts["n"] != road.n or road.n > 10:
        yield "n is wrong"


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


def _in_groups(facts, road):
    """A column with a line for each of whose groups there is no sign."""
    if bool(facts["groups_of"]) != (facts["p_in_groups"] is not None):
        yield "groups without a p, or a p without groups"
        return
    if not facts["groups_of"]:
        return
    if facts["p_in_groups"] <= road.alpha or facts["verdict"] not in ("some sign", "clear sign"):
        yield "there is a sign in the groups too, or none in the whole"
    e = np.zeros(road.n)
    for name in set(road.groups.tolist()):
        mine = road.groups == name
        e[mine] = road.y[mine] - np.polyval(np.polyfit(road.x[mine], road.y[mine], 1), road.x[mine])
    if facts["name"] == "shape" and abs(stats.shapiro(e).pvalue - facts["p_in_groups"]) > 1e-4:
        yield f"in groups p is {stats.shapiro(e).pvalue}"
    if facts["name"] == "spread":
        p = stats.chi2.sf(road.n * stats.linregress(road.x, e**2).rvalue ** 2, 1)
        if abs(p - facts["p_in_groups"]) > 1e-6:
            yield f"in groups p is {p}"


def _side(road, mine):
    """r of some of the pairs with its two-sided p."""
    if mine.sum() < 3 or np.ptp(road.x[mine]) == 0 or np.ptp(road.y[mine]) == 0:
        return 0.0, 1.0
    r = road.r(road.x[mine], road.y[mine])
    return r, road.p_of_r(r, mine.sum() - 2, "two-sided")
