"""What cases of several rows decide, on a road of its own: each case left out, and one design for all lines."""

import numpy as np
from scipy import stats


def left_out(road, measure):
    """A measure of all rows, and the spread of it as each case is left out; None where one has no value."""
    names = sorted(set(road.cases.tolist()))
    with np.errstate(all="ignore"):
        whole = np.arctanh(measure(np.ones(road.n, bool)))
        without = np.array([np.arctanh(measure(road.cases != one)) for one in names])
    k = len(names)
    if k < 3 or not np.all(np.abs([whole, *without]) < 17):  # beyond, a double is 1 or rounded to beside it
        return None
    return whole, np.sqrt((k - 1) / k * np.sum((without - without.mean()) ** 2)), k - 1


def coefficient(road, test):
    """How r, ρ or τ is measured over some rows."""
    by = {"pearson": stats.pearsonr, "spearman": stats.spearmanr, "kendall": stats.kendalltau}[test]
    return lambda kept: by(road.x[kept], road.y[kept]).statistic


def p_of(road, test):
    """p by the alternative: of the slope for r, of the spread for the others."""
    if test == "pearson":
        fit = road.line()
        return road.p_of_t(
            fit["slope"] / np.sqrt(road.covariance(fit, "clustered")[-1, -1]), road.test_df(fit)
        )
    found = left_out(road, coefficient(road, test))
    return None if found is None else road.p_of_t(found[0] / found[1], found[2])


def ends_of_r(road):
    """The interval of r."""
    found = left_out(road, coefficient(road, "pearson"))
    if found is None:
        return None
    half = stats.t.ppf((1 + road.level) / 2, found[2]) * found[1]
    return np.tanh([found[0] - half, found[0] + half])


def inside(road):
    """How r within groups is measured over some rows."""

    def measure(kept):
        both = []
        for values in (road.x[kept], road.y[kept]):
            names = road.groups[kept]
            both.append(values - np.array([values[names == one].mean() for one in names]))
        return road.r(*both)

    return measure


def differences(road, names):
    """Slopes of every group in one design with the covariance of all at once, and the df."""
    mine = [road.groups == one for one in names]
    rows = np.concatenate([np.flatnonzero(one) for one in mine])
    design = np.column_stack([column for one in mine for column in (one, one * (road.x - road.x.mean()))])[
        rows
    ]
    bread = np.linalg.inv(design.T @ design)
    solved = bread @ design.T @ road.y[rows]
    left = road.y[rows] - design @ solved
    for one in mine:
        at = one[rows]
        g, n = len(set(road.cases[rows][at].tolist())), at.sum()
        left[at] *= np.sqrt(g / (g - 1) * (n - 1) / (n - 2))
    cases = road.cases[rows]
    scores = np.stack(
        [(design * left[:, None])[cases == one].sum(axis=0) for one in sorted(set(cases.tolist()))]
    )
    held = [set(road.cases[one].tolist()) for one in mine]
    sets = []
    for one in held:
        joined = [other for other in sets if other & one]
        sets = [other for other in sets if not other & one] + [one.union(*joined)]
    return solved[1::2], (bread @ scores.T @ scores @ bread)[1::2, 1::2], len(set().union(*held)) - len(sets)


def common_p(road, names):
    """p of one slope for all."""
    slopes, covariance, nu = differences(road, names)
    q = len(names) - 1
    contrast = np.column_stack([-np.ones(q), np.eye(q)])
    gap, df2 = contrast @ slopes, nu - q + 1
    if df2 < 1:
        return None
    wald = gap @ np.linalg.solve(contrast @ covariance @ contrast.T, gap)
    return stats.f.sf(wald * df2 / (nu * q), q, df2)
