"""The other road: every fact from the raw pairs, by NumPy and SciPy alone."""

from __future__ import annotations

from copy import copy

import numpy as np
from scipy import stats
from scipy.cluster.hierarchy import fcluster, linkage

from tests.truth import by_case

ALTERNATIVES = {"two-sided": "two-sided", "greater": "greater", "less": "less"}


class Road:
    """One case worked out anew."""

    def __init__(self, case):
        options = case.options
        self.options = options
        self.alpha = options.get("alpha", 0.05)
        self.level = options.get("level", 1 - self.alpha)
        self.alternative = options.get("alternative", "two-sided")
        self.slope_0 = options.get("slope_0", 0.0)
        self.kind = options.get("errors", "classical")
        used = np.isfinite(case.x) & np.isfinite(case.y)
        for name in ("second_response",):
            if name in options:
                used &= np.isfinite(np.asarray(case.columns[options[name]], float))
        w = None
        if "weights" in options:
            w = np.asarray(case.columns[options["weights"]], float)
            used &= w > 0
        self.places = np.flatnonzero(used)
        self.x, self.y = case.x[used], case.y[used]
        self.n = self.x.size
        self.w = np.ones(self.n) if w is None else w[used]
        if "weight_pattern" in options:
            power = 1 if options["weight_pattern"] == "inverse-x" else 2
            self.w = 1 / np.abs(self.x) ** power
        self.weighted = w is not None or "weight_pattern" in options
        self.origin = "no_intercept" in options
        named = options.get("group")
        self.groups = None if named is None else np.array(case.columns[named])[used]
        cluster = options.get("cluster")
        self.cases = None if cluster is None else np.array(case.columns[cluster])[used]
        self.second = None
        if "second_response" in options:
            self.second = np.asarray(case.columns[options["second_response"]], float)[used]

    # the line in force, as rows times √w
    def line(self, x=None, y=None, w=None):
        x, y = (self.x, self.y) if x is None else (x, y)
        w = (self.w if x is self.x else np.ones(x.size)) if w is None else w
        root = np.sqrt(w)
        if self.origin:
            middle, design = 0.0, (x * root)[:, None]
        else:
            middle = np.sum(w * x) / np.sum(w)
            design = np.stack([root, (x - middle) * root], axis=1)
        beta, *_ = np.linalg.lstsq(design, y * root, rcond=None)
        e = y * root - design @ beta
        return {"beta": beta, "e": e, "design": design, "middle": middle, "df": x.size - design.shape[1],
                "slope": beta[-1], "root": root}  # fmt: skip

    def covariance(self, fit, kind=None):
        kind = self.kind if kind is None else kind
        d, e, df, n = fit["design"], fit["e"], fit["df"], fit["e"].size
        bread = np.linalg.inv(d.T @ d)
        h = np.einsum("ij,jk,ik->i", d, bread, d)
        if kind == "classical":
            return bread * (e @ e) / df
        if kind == "newey_west":
            lag = int(np.floor(4 * (n / 100) ** (2 / 9)))
            score = d * e[:, None]
            meat = score.T @ score
            for back in range(1, lag + 1):
                part = score[back:].T @ score[:-back]
                meat += (1 - back / (lag + 1)) * (part + part.T)
            return bread @ meat @ bread
        if kind == "clustered":
            score = np.stack(
                [(d * e[:, None])[self.cases == one].sum(axis=0) for one in np.unique(self.cases)]
            )
            many = len(score)
            return bread @ (score.T @ score) @ bread * many / (many - 1) * (n - 1) / df
        size = {"HC0": e**2, "HC1": e**2 * n / df, "HC2": e**2 / (1 - h), "HC3": e**2 / (1 - h) ** 2}[kind]
        return bread @ (d.T * size @ d) @ bread

    def left_free(self):
        """The same with an intercept."""
        free = copy(self)
        free.origin, free.slope_0 = False, 0.0
        return free

    def together(self):
        """Whether the slope shows that y goes with x; through the origin, whether the free one shows it as well."""
        if not self.origin:
            return True
        free = self.left_free().slope_test()
        return bool(free["p0"] <= self.alpha and free["slope"] * self.line()["slope"] > 0)

    def intercept_test(self, null=0.0):
        """Intercept, its two-sided p against a number, and its interval, by the errors in force."""
        fit = self.line()
        lift = np.array([1.0, -fit["middle"]])
        value, se = float(lift @ fit["beta"]), np.sqrt(lift @ self.covariance(fit) @ lift)
        df = self.test_df(fit)
        reach = stats.t.ppf((1 + self.level) / 2, df) * se
        return value, 2 * stats.t.sf(abs((value - null) / se), df), (value - reach, value + reach)

    def slope_test(self):
        """t, df and p by the alternative and against 0, and the interval."""
        fit = self.line()
        se = np.sqrt(self.covariance(fit)[-1, -1])
        t = (fit["slope"] - self.slope_0) / se
        df = self.test_df(fit)
        reach = stats.t.ppf((1 + self.level) / 2, df) * se
        p0 = 2 * stats.t.sf(abs(fit["slope"] / se), df)
        return {"slope": fit["slope"], "se": se, "t": t, "df": df, "p": self.p_of_t(t, df), "p0": p0,
                "low": fit["slope"] - reach, "high": fit["slope"] + reach}  # fmt: skip

    def test_df(self, fit):
        """Degrees of freedom of t: by cases where these decide."""
        return len(set(self.cases.tolist())) - 1 if self.kind == "clustered" else fit["df"]

    @property
    def shared(self):
        """Whether rows share a case."""
        return self.cases is not None and len(set(self.cases.tolist())) < self.n

    def p_of_t(self, t, df):
        return {
            "two-sided": 2 * stats.t.sf(abs(t), df),
            "greater": stats.t.sf(t, df),
            "less": stats.t.cdf(t, df),
        }[self.alternative]

    def decider(self):
        if self.kind != "classical" or self.weighted or self.origin or self.slope_0:
            return "slope"
        return self.options.get("decide", "pearson")

    def coefficient(self, test):
        """Value and p by the alternative."""
        if self.kind == "clustered" and self.shared:
            return by_case.coefficient(self, test)(np.ones(self.n, bool)), by_case.p_of(self, test)
        if test == "pearson":
            value = self.r(self.x, self.y)
            return value, self.p_of_r(value, self.n - 2)
        if test == "spearman":
            value = self.r(stats.rankdata(self.x), stats.rankdata(self.y))
            return value, self.p_of_r(value, self.n - 2)
        found = stats.kendalltau(self.x, self.y, method="asymptotic", alternative=self.alternative)
        return found.statistic, found.pvalue

    @staticmethod
    def r(x, y):
        x, y = x - x.mean(), y - y.mean()
        return float(x @ y / np.sqrt(x @ x) / np.sqrt(y @ y))

    def p_of_r(self, r, df, alternative=None):
        left = max(1 - r * r, 0)
        t = np.inf * np.sign(r) if left == 0 else r * np.sqrt(df / left)
        if alternative == "two-sided":
            return 2 * stats.t.sf(abs(t), df)
        return self.p_of_t(t, df)

    @property
    def exact(self):
        """Whether every pair lies on one line, to rounding."""
        fit = self.line()
        e = fit["e"] / fit["root"]
        room = 8 * np.finfo(float).eps * (np.abs(self.y).max() + abs(fit["slope"]) * np.abs(self.x).max())
        return bool(e @ e <= self.n * room**2)

    def decision(self):
        test = self.decider()
        if test == "slope":
            found = self.slope_test()
            return test, found["t"], found["p"]
        return (test, *self.coefficient(test))

    def crossing(self):
        """Whether one group is shown to rise and another to fall, each at α over the number of groups."""
        if self.kind == "clustered" and self.shared:
            return False
        names, ways = list(dict.fromkeys(self.groups)), set()
        for name in names:
            x, y = self.x[self.groups == name], self.y[self.groups == name]
            if len(x) >= 3 and np.ptp(x) > 0 and np.ptp(y) > 0:
                r = self.r(x, y)
                if self.p_of_r(r, len(x) - 2, "two-sided") <= self.alpha / len(names):
                    ways.add(np.sign(r))
        return ways == {-1, 1}

    def told_apart(self):
        """Whether what the groups tell takes the headline from the whole."""
        verdict = self.story()["verdict"]
        return verdict in ("opposite", "none inside", "masked") or (verdict == "nothing" and self.crossing())

    def story(self):
        """p_all, p_within, r within, verdict."""
        names = list(dict.fromkeys(self.groups))
        inside_x, inside_y, telling = self.x.copy(), self.y.copy(), 0
        for name in names:
            mine = self.groups == name
            inside_x[mine] -= self.x[mine].mean()
            inside_y[mine] -= self.y[mine].mean()
            telling += mine.sum() >= 3 and np.ptp(self.x[mine]) > 0 and np.ptp(self.y[mine]) > 0
        df = self.n - len(names) - 1
        whole = self.r(self.x, self.y)
        p_all = self.p_of_r(whole, self.n - 2, "two-sided")
        size = np.sqrt(inside_x @ inside_x) * np.sqrt(inside_y @ inside_y)
        if telling < 2 or df < 3 or size == 0:
            return {"verdict": "cannot tell"}
        r = float(inside_x @ inside_y / size)
        p = self.p_of_r(r, df, "two-sided")
        if self.kind == "clustered" and self.shared:
            found = by_case.left_out(self, by_case.inside(self))
            ends = by_case.ends_of_r(self)
            if found is None or ends is None or found[2] < 3:
                return {"verdict": "cannot tell"}
            p, p_all = 2 * stats.t.sf(abs(found[0] / found[1]), found[2]), self.slope_test()["p0"]
        else:
            z = stats.norm.ppf((1 + self.level) / 2) / np.sqrt(self.n - 3)
            ends = np.tanh([np.arctanh(whole) - z, np.arctanh(whole) + z])
        least = 0 if ends[0] <= 0 <= ends[1] else min(abs(ends))
        if p_all > self.alpha:
            verdict = "masked" if p <= self.alpha else "nothing"
        elif p > self.alpha:
            verdict = "none inside"
        elif r * whole < 0:
            verdict = "opposite"
        else:
            verdict = "weaker" if abs(r) < least else "same"
        return {"all": whole, "within": r, "p_all": p_all, "p_within": p, "verdict": verdict}

    def heights_apart(self):
        """p of one line against lines of one slope, a height for each group."""
        names = list(dict.fromkeys(self.groups))
        own = np.stack([(self.groups == name).astype(float) for name in names], axis=1)
        middle = self.x - self.x.mean()
        left = []
        for heights in (np.ones((self.n, 1)), own):
            design = np.column_stack([heights, middle])
            beta, *_ = np.linalg.lstsq(design, self.y, rcond=None)
            left.append(float(np.sum((self.y - design @ beta) ** 2)))
        k, df = len(names), self.n - len(names) - 1
        return float(stats.f.sf((left[0] - left[1]) / (k - 1) / (left[1] / df), k - 1, df))

    def clumps(self):
        """How many clumps single linkage gives at the longest links, by the rule of the application."""
        if self.n < 8 or min(np.unique(one).size for one in (self.x, self.y)) <= 3:
            return 0
        points = np.stack(
            [(self.x - self.x.mean()) / self.x.std(), (self.y - self.y.mean()) / self.y.std()], axis=1
        )
        spots, rows = np.unique(points, axis=0, return_counts=True)
        if len(spots) < 4:
            return 0
        tree = linkage(spots, "single")
        lengths, best = tree[:, 2], 0
        least = max(4, int(np.ceil(self.n * 0.1)))
        for cut in range(1, min(len(spots) - 1, 40)):
            between = lengths[-cut]
            inside = lengths[:-cut]
            if between < 4 * np.quantile(inside, 0.9):
                continue
            of = fcluster(tree, (between + inside[-1]) / 2 if between > inside[-1] else cut + 1,
                          "distance" if between > inside[-1] else "maxclust")  # fmt: skip
            sizes = {one: rows[of == one].sum() for one in set(of)}
            large = [one for one, size in sizes.items() if size >= least]
            if len(large) < 2:
                continue
            if any(np.mean([np.ptp(spots[of == one][:, at]) == 0 for one in large]) > 0.5 for at in (0, 1)):
                continue
            within = np.concatenate([_links(spots[of == one]) for one in large])
            if within.size and between >= 4 * np.quantile(within, 0.9):
                best = max(best, len(large))
        return best

    def gaps(self):
        ordered = np.sort(self.x)
        steps = np.diff(ordered)
        wide = np.flatnonzero(steps > 0.25 * np.ptp(ordered))
        return [(float(ordered[at]), float(ordered[at + 1])) for at in wide]

    # checks on residuals, of rows times √w
    def bend(self):
        fit = self.line()
        x = self.x - fit["middle"]
        term = (x * x if not self.origin else self.x**2) * fit["root"]
        wide = np.column_stack([fit["design"], term / (np.abs(term).max() or 1)])
        beta, *_ = np.linalg.lstsq(wide, self.y * fit["root"], rcond=None)
        e = self.y * fit["root"] - wide @ beta
        sse, less = fit["e"] @ fit["e"], e @ e
        df = fit["df"] - 1
        share = 1 - less / sse
        return share, float(stats.f.sf((sse - less) / (less / df), 1, df))

    def spread(self):
        fit = self.line()
        square = fit["e"] ** 2
        r = self.r(self.x, square)
        return float(stats.chi2.sf(self.n * r * r, 1))

    def spread_ratio(self):
        fit, third = self.line(), self.n // 3
        if self.n < 6:
            return None
        along = np.argsort(self.x, kind="stable")
        return float(fit["e"][along[-third:]].std(ddof=1) / fit["e"][along[:third]].std(ddof=1))

    def left_out(self):
        """Bonferroni p of the worst row and the largest Cook's distance, by leaving each row out."""
        fit = self.line()
        s2 = fit["e"] @ fit["e"] / fit["df"]
        whole = fit["design"] @ fit["beta"]
        worst, cook = 1.0, 0.0
        for at in range(self.n):
            kept = np.arange(self.n) != at
            if np.linalg.matrix_rank(fit["design"][kept]) < fit["design"].shape[1]:
                continue
            beta, *_ = np.linalg.lstsq(fit["design"][kept], (self.y * fit["root"])[kept], rcond=None)
            rest = (self.y * fit["root"])[kept] - fit["design"][kept] @ beta
            df = fit["df"] - 1
            gram = np.linalg.inv(fit["design"][kept].T @ fit["design"][kept])
            room = 1 + fit["design"][at] @ gram @ fit["design"][at]
            miss = (self.y * fit["root"])[at] - fit["design"][at] @ beta
            t = miss / np.sqrt(rest @ rest / df * room)
            worst = min(worst, self.n * 2 * stats.t.sf(abs(t), df))
            moved = whole - fit["design"] @ beta
            cook = max(cook, moved @ moved / (fit["design"].shape[1] * s2))
        return worst, cook

    def durbin_watson(self):
        """d and its exact two-sided p given x, by Imhof's integral."""
        fit = self.line()
        e = fit["e"]
        d = float(np.sum(np.diff(e) ** 2) / (e @ e))
        q, _ = np.linalg.qr(fit["design"], mode="complete")
        rest = q[:, fit["design"].shape[1] :]
        step = np.diff(np.eye(self.n), axis=0)
        roots = np.linalg.eigvalsh(rest.T @ (step.T @ step) @ rest) - d
        u = (np.arange(200_000) + 0.5) * (200.0 / np.abs(roots).max() / 200_000)
        turn = 0.5 * np.arctan(roots[:, None] * u).sum(axis=0)
        size = np.exp(0.25 * np.log1p((roots[:, None] * u) ** 2).sum(axis=0))
        below = 0.5 - np.sum(np.sin(turn) / (u * size)) * (u[1] - u[0]) / np.pi
        return d, 2 * min(below, 1 - below)

    def forecast(self, x0, m=1):
        """Fitted, both intervals at the level."""
        fit = self.line()
        at = np.array([x0]) if self.origin else np.array([1.0, x0 - fit["middle"]])
        value = float(at @ fit["beta"])
        mean = float(at @ self.covariance(fit) @ at)
        s2 = fit["e"] @ fit["e"] / fit["df"]
        w0 = 1.0
        if "weight_pattern" in self.options:
            w0 = 1 / abs(x0) ** (1 if self.options["weight_pattern"] == "inverse-x" else 2)
        reach = stats.t.ppf((1 + self.level) / 2, self.test_df(fit))
        case = np.sqrt(s2 / (m * w0) + mean)
        return value, reach * np.sqrt(mean), reach * case


def _links(points):
    return linkage(points, "single")[:, 2] if len(points) > 1 else np.zeros(0)
