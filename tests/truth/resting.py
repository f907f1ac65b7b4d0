"""Rows without which the decision would be another, found on the other road by taking them out of the file."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tests.truth.road import Road


def resting(road, case):
    """The rows, from 1, with statistic and p without them, both None where a column is left flat; None for none."""
    statistic, p = road.decision()[1:]
    if road.exact or road.slope_0 or not np.isfinite(p):
        return None
    places = noticed(road)
    for many in range(1, min(len(places), road.n - 3) + 1):
        rest = without(case, places[:many], road)
        rows = sorted((road.places[places[:many]] + 1).tolist())
        if np.ptp(rest.x) == 0 or np.ptp(rest.y) == 0:
            return (rows, None, None) if p <= road.alpha else None
        test, after, p_after = rest.decision()
        if test in ("spearman", "pearson") and abs(abs(after) - 1) < 1e-9:
            continue  # all on one line, or in one order: no test of it has a value
        if p > road.alpha:
            if p_after <= road.alpha:
                return rows, after, p_after
        elif np.isfinite(p_after) and (p_after > road.alpha or (after > 0) != (statistic > 0)):
            return rows, after, p_after
    return None


def without(case, places, road):
    """The road of the case less these places among its pairs."""
    y = np.array(case.y)
    y[road.places[places]] = np.nan
    return Road(replace(case, columns=case.columns | {"y": y}))


def noticed(road):
    """Places of rows that stand out by themselves, by Cook's distance."""
    named = {row for one in road.beside if one["kind"] == "doubt" and one["facts"]["name"] in ("far-out", "pull")
             for row in one["facts"]["rows"]}  # fmt: skip
    fit = road.line()
    bread = np.linalg.inv(fit["design"].T @ fit["design"])
    own = np.einsum("ij,jk,ik->i", fit["design"], bread, fit["design"])
    low, high = np.quantile(road.x, (0.25, 0.75))
    far = np.abs(road.x - (low + high) / 2) > 3.5 * (high - low)
    far &= (high > low) & (far.sum() <= 3)
    places = [at for at in range(road.n) if road.places[at] + 1 in named or own[at] >= 0.8 - 1e-9 or far[at]]
    with np.errstate(divide="ignore", invalid="ignore"):
        pull = fit["e"] ** 2 * own / np.where(1 - own > 1e-12, 1 - own, np.nan) ** 2
    return sorted(places, key=lambda at: -np.nan_to_num(pull[at], nan=np.inf))[:3]
