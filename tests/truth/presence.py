"""When a claim of a kind is due, on the other road: True, False, or None where this road does not say."""

from __future__ import annotations

import numpy as np
from scipy import stats

from tests.truth import thirds
from tests.truth.recurring import copies, piles
from tests.truth.resting import resting

DUE = {}


def due(kind):
    """Register the rule of a kind."""

    def keep(function):
        DUE[kind] = function
        return function

    return keep


def misplaced(road, case, entries, kinds=None):
    """Kinds that are due and not there, and kinds that are there and not due. kinds : which, None for all."""
    made, wrong = {entry["kind"] for entry in entries}, []
    if road.n < 3 or np.ptp(road.x) == 0:
        return wrong
    alone = road.kind != "classical" and not road.exact and _leverage(road) > 1 - 1e-9
    refused = any(entry["kind"] == "refusal" and entry["step"] != "Compare" for entry in entries)
    if alone or refused:
        return [] if alone and refused else [("refusal", "errors that have no value are refused")]
    for kind in DUE if kinds is None else kinds:
        wanted = DUE[kind](road, case)
        if wanted is not None and wanted != (kind in made):
            wrong.append((kind, "it is due and not said" if wanted else "it is said and not due"))
    return wrong


def _leverage(road):
    design = road.line()["design"]
    return np.max(np.einsum("ij,jk,ik->i", design, np.linalg.inv(design.T @ design), design))


def _perfect(road):
    """Whether the deciding rank coefficient is 1 in size, and so has no test."""
    return (
        road.decider() in ("spearman", "kendall")
        and abs(abs(road.coefficient(road.decider())[0]) - 1) < 1e-12
    )


def _shown(road):
    """Whether the decision carries a direction: rejected, or the mirrored test would be."""
    p = road.decision()[2]
    return bool(p <= road.alpha or (road.alternative != "two-sided" and 1 - p <= road.alpha))


def _forbidden(road):
    """Whether groups or clumps keep what is so for the whole out of the headlines."""
    told = road.groups is not None and road.told_apart()
    return told or road.clumps() > 0


def _tied(road):
    up = np.triu_indices(road.n, 1)
    return np.mean((road.x[up[0]] - road.x[up[1]]) * (road.y[up[0]] - road.y[up[1]]) == 0)


def _doubts(road, *verdicts):
    return [one["facts"]["name"] for one in road.beside
            if one["kind"] == "doubt" and one["facts"]["verdict"] in verdicts]  # fmt: skip


@due("decision")
@due("rows")
@due("doubt")
@due("doubts")
@due("standing")
@due("share")
def _always(road, case):
    return True


@due("change")
def _change(road, case):
    if road.exact or road.slope_0 or "at" in case.options:  # Forecast names one that is not shown as well
        return None
    return bool(road.slope_test()["p0"] <= road.alpha) and not _forbidden(road)


@due("form")
def _form(road, case):
    return True if np.ptp(road.y) > 0 and not _forbidden(road) else None


@due("comparisons")
@due("far_rows")
@due("interval")
def _where_y_varies(road, case):
    return True if np.ptp(road.y) > 0 else None


@due("coefficients")
def _coefficients(road, case):
    return bool(np.ptp(road.y) > 0)


@due("direction")
def _direction(road, case):
    if road.exact or _perfect(road) or _forbidden(road):
        return None
    shown = bool(road.slope_test()["p0"] <= road.alpha) if road.slope_0 else _shown(road)
    return shown and road.together()


@due("strength")
def _strength(road, case):
    if road.exact or _perfect(road):
        return None
    if not road.together() or (
        road.decider() == "slope" and road.r(road.x, road.y) * road.slope_test()["slope"] <= 0
    ):
        return False
    return bool(road.decision()[2] <= road.alpha and not road.slope_0 and not _forbidden(road))


@due("origin")
def _origin(road, case):
    if not road.origin or road.exact:
        return None if road.origin else False
    p = road.left_free().intercept_test()[1]
    return bool(np.isfinite(p)) or None


@due("intercept_test")
def _intercept_test(road, case):
    if np.ptp(road.y) == 0:
        return None
    return bool(not road.origin and (road.slope_0 or case.options.get("intercept_0")))


@due("slope_test")
def _slope_test(road, case):
    return road.decider() in ("spearman", "kendall")


@due("story")
def _story(road, case):
    return road.groups is not None or None


@due("clumps")
def _clumps(road, case):
    return road.clumps() > 0


@due("gap")
def _gap(road, case):
    return bool(road.gaps()) if np.ptp(road.y) > 0 else None


@due("ties")
def _ties(road, case):
    return bool(_tied(road) >= 0.03) if np.ptp(road.y) > 0 and not _forbidden(road) else None


@due("exact_line")
def _exact(road, case):
    return road.exact if np.ptp(road.y) > 0 else None


@due("level_line")
def _level(road, case):
    return bool(np.ptp(road.y) == 0)


@due("few")
def _few(road, case):
    many = len(set(road.cases.tolist())) if road.shared and road.kind == "clustered" else road.n
    return many <= 6 if not road.exact else None


@due("few_to_see")
def _few_to_see(road, case):
    return road.n <= 10 if np.ptp(road.y) > 0 else None


@due("carried")
def _carried(road, case):
    return bool(_leverage(road) >= 0.8) if not road.exact else None


@due("rests")
def _rests(road, case):
    if _tied(road) or road.exact or _perfect(road):
        return None
    return resting(road, case) is not None and not _forbidden(road)


@due("two_values")
def _two_values(road, case):
    return road.n >= 8 and np.unique(road.y).size == 2


@due("few_values")
def _few_values(road, case):
    return 3 <= len(set(road.y.tolist())) <= road.n / 4 and len(set(road.y.tolist())) <= 5


@due("pile")
def _pile(road, case):
    return bool(piles(road.x) or piles(road.y))


@due("copies")
def _copies(road, case):
    return copies(road) > 0 and not road.exact


@due("doubts_in_force")
def _in_force(road, case):
    answered = {"classical": (), "newey_west": ("spread", "order")}.get(road.kind, ("spread",))
    return bool(set(_doubts(road, "clear sign")) - set(answered)) or None


@due("beyond")
def _beyond(road, case):
    at = case.options.get("at")
    return False if at is None else bool(not road.x.min() <= float(at) <= road.x.max())


@due("one_width")
def _one_width(road, case):
    return "spread" in _doubts(road, "clear sign") and "at" in case.options


@due("units_differ")
def _units_differ(road, case):
    heads = case.options.get("heads", {})
    return road.second is not None and heads["y"].split("(")[1] != heads["z"].split("(")[1]


@due("difference")
def _difference(road, case):
    if road.groups is not None and min(np.unique(road.groups, return_counts=True)[1]) < 3:
        return None  # there may not be two lines to compare
    return road.groups is not None or road.second is not None


@due("agreement")
def _agreement(road, case):
    units = {heads.split("(")[-1] for name, heads in case.options.get("heads", {}).items() if name in "xy"}
    return len(units) == 1 and "heads" in case.options and "(" in case.options["heads"].get("x", "")


@due("agreement_slope")
def _agreement_slope(road, case):
    if not _agreement(road, case):
        return False
    means, apart = (road.x + road.y) / 2, road.y - road.x
    room = 1e-9 * (np.abs(road.x).max() + np.abs(road.y).max())
    if np.ptp(means) == 0 or np.ptp(apart) <= room:
        return False
    found = stats.linregress(means, apart)
    if np.abs(apart - found.intercept - found.slope * means).max() <= room:
        return True
    return None if abs(found.pvalue - road.alpha) < 1e-9 else bool(found.pvalue <= road.alpha)


@due("built_in")
def _built_in(road, case):
    if (road.shared and road.kind != "clustered") or thirds.made_of(road, case):
        return True
    return bool(road.n >= 8 and np.all(np.diff(road.x) > 0) and np.all(np.diff(road.y) > 0))


@due("cases")
def _cases(road, case):
    return road.shared


@due("timing")
def _timing(road, case):
    return "when" in case.columns


@due("forecast")
def _forecast(road, case):
    return "at" in case.options


@due("back")
def _back(road, case):
    return "inverse_at" in case.options


@due("offset")
def _offset(road, case):
    return bool(np.linalg.cond(np.stack([np.ones(road.n), road.x], axis=1)) >= 1e12)
