"""Seeded data sets of every family that sentences once went wrong on, with how each is analysed."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np


@dataclass
class Case:
    """One data set and its call. columns : by name, in order; words are text. options : as `analyse` takes them."""

    family: str
    seed: int
    columns: dict
    options: dict = field(default_factory=dict)

    @property
    def x(self):
        return np.asarray(self.columns["x"], float)

    @property
    def y(self):
        return np.asarray(self.columns["y"], float)

    def csv(self):
        """The file."""
        heads = ",".join(self.options.get("heads", {}).get(name, name) for name in self.columns)
        rows = zip(*self.columns.values(), strict=True)
        return heads + "\n" + "".join(",".join(_cell(cell) for cell in row) + "\n" for row in rows)

    def call(self):
        """The arguments after the file."""
        heads = self.options.get("heads", {})
        said = ["--x", heads.get("x", "x"), "--y", heads.get("y", "y")]
        for name, value in self.options.items():
            if name in ("group", "second_response", "weights", "order", "cluster"):
                said += [f"--{name.replace('_', '-')}", heads.get(value, value)]
            elif name == "no_intercept":
                said += ["--no-intercept"]
            elif name not in ("heads", "low", "high"):
                said += [f"--{name.replace('_', '-')}", f"{value}"]
        return said


def _cell(value):
    return value if isinstance(value, str) else "" if np.isnan(value) else repr(float(value))


def _line(draw, n, slope=1.0, sd=1.0, x=None):
    x = draw.normal(10, 3, n) if x is None else x
    return x, 2 + slope * x + draw.normal(0, sd, n)


def plain(draw):
    n = int(draw.integers(4, 80))
    return dict(zip("xy", _line(draw, n, draw.normal(0, 0.6), draw.uniform(0.2, 4)), strict=True)), {}


def rules(draw):
    n = int(draw.integers(5, 40))
    return dict(zip("xy", _line(draw, n, draw.normal(0, 0.6), 2), strict=True)), {
        "alternative": str(draw.choice(["greater", "less", "two-sided"])),
        "alpha": float(draw.choice([0.01, 0.05, 0.1, 0.2])),
        "level": float(draw.choice([0.8, 0.95, 0.99])),
        "decide": str(draw.choice(["pearson", "spearman", "kendall", "slope"])),
    }


def other_side(draw):
    columns, _ = plain(draw)
    columns["y"] = 2 - np.asarray(columns["x"]) * draw.uniform(0.5, 2) + draw.normal(0, 1, len(columns["x"]))
    return columns, {
        "alternative": "greater",
        "decide": str(draw.choice(["pearson", "spearman", "kendall", "slope"])),
    }


def stated_slope(draw):
    columns, _ = plain(draw)
    return columns, {"slope_0": float(draw.choice([0.5, 1.0, -1.0])),
                     "alternative": str(draw.choice(["greater", "less", "two-sided"])),
                     "intercept_0": float(draw.choice([0.0, 2.0, 4.0]))}  # fmt: skip


def errors_in_force(draw):
    n = int(draw.integers(8, 60))
    x = draw.uniform(1, 10, n)
    y = 3 + draw.normal(0, 0.5) * x + draw.normal(0, 1, n) * x * 0.3
    return {"x": x, "y": y}, {"errors": str(draw.choice(["HC0", "HC1", "HC2", "HC3", "newey_west"]))}


def alone_at_its_x(draw):
    n = int(draw.integers(5, 15))
    x = np.r_[np.full(n - 1, 2.0), 3.0]
    return {"x": x, "y": 1 + 0.5 * x + draw.normal(0, 0.3, n)}, {
        "errors": str(draw.choice(["HC0", "HC3", "classical"]))
    }


def origin(draw):
    n = int(draw.integers(4, 40))
    x = draw.uniform(0.5, 10, n)
    height = draw.choice([0.0, 0.0, 8.0, 30.0])
    return {"x": x, "y": height + draw.normal(0, 1) * x + draw.normal(0, 2, n)}, {"no_intercept": True}


def weighted(draw):
    n = int(draw.integers(5, 40))
    x = draw.uniform(1, 10, n)
    columns = {"x": x, "y": 2 + draw.normal(0, 0.5) * x + draw.normal(0, 1, n) * np.sqrt(x)}
    columns["w"] = np.where(draw.uniform(size=n) < 0.15, 0.0, draw.uniform(0.2, 3, n))
    return columns, {"weights": "w"}


def pattern(draw):
    n = int(draw.integers(6, 40))
    x = draw.uniform(1, 10, n)
    y = 2 + 0.7 * x + draw.normal(0, 0.4, n) * x
    return {"x": x, "y": y}, {
        "weight_pattern": str(draw.choice(["inverse-x", "inverse-x2"])),
        "at": round(float(x.mean()), 3),
    }


def groups(draw):
    k, each = int(draw.integers(2, 5)), int(draw.integers(2, 14))
    shift = draw.normal(0, draw.choice([0.0, 3.0, 8.0]), k)
    inside, between = draw.normal(0, 1), draw.normal(0, 1)
    x, y, g = [], [], []
    for at in range(k):
        own = draw.normal(0, 1, each)
        x += list(10 + shift[at] + own)
        y += list(5 + between * shift[at] + inside * own + draw.normal(0, 0.7, each))
        g += [f"place {chr(65 + at)}"] * each
    return {"x": np.array(x), "y": np.array(y), "g": g}, {"group": "g", "at": 10.0}


def springs(draw):
    columns, options = groups(draw)
    k = len(set(columns["g"]))
    of = np.array([sorted(set(columns["g"])).index(one) for one in columns["g"]])
    own = draw.normal(0, 1, of.size)
    y = 5 + 5 * of - own + draw.normal(0, 0.3, of.size)
    return {"x": 10 + 6 * of + own, "y": y, "g": columns["g"]}, options | ({"margin": 0.5} if k == 2 else {})


def boxes(draw):
    each = int(draw.integers(4, 12))
    corners = np.repeat([[0.0, 0.0], [draw.uniform(8, 20), draw.uniform(8, 20)]], each, axis=0)
    points = corners + draw.uniform(0, 1, (2 * each, 2))
    columns = {"x": points[:, 0], "y": points[:, 1]}
    if draw.uniform() < 0.5:
        columns["g"] = ["near"] * each + ["far"] * each
    return columns, {"at": round(float(points[:, 0].mean()), 3)}


def tiny(draw):
    n = int(draw.integers(3, 6))
    return dict(zip("xy", _line(draw, n, draw.normal(0, 1), 1), strict=True)), {
        "decide": str(draw.choice(["pearson", "kendall", "spearman"]))
    }


def exact(draw):
    n = int(draw.integers(3, 15))
    x = np.arange(n, dtype=float)
    return {"x": x, "y": 3 + float(draw.integers(-3, 4)) * x}, {"at": 1.0}


def nearly_exact(draw):
    n = int(draw.integers(5, 30))
    x = draw.uniform(0, 10, n)
    return {"x": x, "y": 3 + 2 * x + draw.normal(0, 10.0 ** -draw.integers(2, 9), n)}, {"at": 5.0}


def two_values(draw):
    n = int(draw.integers(4, 30))
    x = draw.choice([1.0, 2.0], n)
    x[:2] = 1.0, 2.0
    return {"x": x, "y": 1 + 2 * x + draw.normal(0, 1, n)}, {}


def ties(draw):
    n = int(draw.integers(6, 40))
    return {"x": draw.integers(1, 6, n).astype(float), "y": draw.integers(1, 5, n).astype(float)}, {
        "decide": str(draw.choice(["pearson", "kendall", "spearman"]))
    }


def outlier(draw):
    columns, _ = plain(draw)
    columns["y"] = np.array(columns["y"])
    columns["y"][int(draw.integers(len(columns["y"])))] += draw.choice([-1, 1]) * draw.uniform(5, 60)
    return columns, {}


def far_x(draw):
    n = int(draw.integers(5, 30))
    x = np.r_[draw.normal(0, 1, n - 1), draw.uniform(8, 40)]
    return {"x": x, "y": draw.normal(0, 0.5) * x + draw.normal(0, 1, n)}, {}


def bend(draw):
    n = int(draw.integers(8, 60))
    x = np.sort(draw.uniform(0, 10, n))
    return {
        "x": x,
        "y": 3 + draw.normal(0, 0.5) * x + draw.normal(0, 0.2) * (x - 5) ** 2 + draw.normal(0, 1, n),
    }, {}


def fan(draw):
    n = int(draw.integers(8, 60))
    x = draw.uniform(1, 10, n)
    return {"x": x, "y": 2 * x + draw.normal(0, 0.5, n) * x}, {"at": 9.0, "mean_of": int(draw.integers(1, 5))}


def alternating(draw):
    n = int(draw.integers(6, 40))
    x = np.arange(n, dtype=float)
    return {
        "x": x,
        "y": 2 + 0.3 * x + (-1.0) ** np.arange(n) * draw.uniform(0.3, 2) + draw.normal(0, 0.3, n),
    }, {}


def alike(draw):
    n = int(draw.integers(8, 60))
    return {"x": np.arange(n, dtype=float), "y": np.cumsum(draw.normal(0, 1, n))}, {}


def offset(draw):
    n = int(draw.integers(5, 30))
    x = 10.0 ** draw.integers(4, 9) + draw.uniform(0, 1, n)
    return {"x": x, "y": draw.normal(0, 3) * (x - x.mean()) + draw.normal(0, 1, n)}, {}


def small_range(draw):
    n = int(draw.integers(6, 40))
    x = draw.uniform(0.1, 0.4, n)
    return {"x": x, "y": 20 * x + draw.normal(0, 1, n)}, {
        "heads": {"x": "depth (metres)", "y": "share (%)"}, "at": 0.25, "inverse_at": 5.0,
    }  # fmt: skip


def one_unit(draw):
    n = int(draw.integers(4, 30))
    x = draw.normal(20, 3, n)
    y = x + draw.normal(draw.choice([0.0, 1.0]), draw.uniform(0.05, 2), n)
    return {"x": x, "y": y * draw.choice([1.0, 0.9, 1.3])}, {"heads": {"x": "first (cm)", "y": "second (cm)"}}


def second_response(draw):
    n = int(draw.integers(5, 40))
    x = draw.uniform(0, 10, n)
    shared = draw.normal(0, 1, n)
    heads = {"x": "time (years)", "y": "silt (mg/L)", "z": f"sand ({draw.choice(['mg/L', '%'])})"}
    return {"x": x, "y": 2 + x + shared, "z": 1 + draw.choice([1.0, 1.8]) * x + shared + draw.normal(0, 0.5, n)}, {
        "second_response": "z", "rows_are": str(draw.choice(["cases", "settings"])), "margin": 0.4, "heads": heads,
        "errors": str(draw.choice(["classical", "HC3"])),
    }  # fmt: skip


def two_groups(draw):
    n = int(draw.integers(6, 40))
    x, g = draw.uniform(0, 10, n), draw.integers(0, 2, n)
    y = 1 + np.where(g == 0, 1.0, draw.choice([1.0, 2.0])) * x + draw.normal(0, 1, n) * np.where(g == 0, 1, 2)
    return {"x": x, "y": y, "g": [f"surveyor {'AB'[one]}" for one in g]}, {
        "group": "g", "margin": 0.5, "errors": str(draw.choice(["classical", "HC3"])),
    }  # fmt: skip


def missing(draw):
    columns, _ = plain(draw)
    return {
        "x": np.where(draw.uniform(size=len(columns["x"])) < 0.2, np.nan, columns["x"]),
        "y": columns["y"],
    }, {}


def constant(draw):
    n = int(draw.integers(2, 10))
    x, y = draw.normal(0, 1, n), draw.normal(0, 1, n)
    which = draw.integers(0, 3)
    return {"x": np.full(n, 2.0) if which == 0 else x, "y": np.full(n, 5.0) if which == 1 else y[:n]}, {}


def running(draw):
    n = int(draw.integers(8, 30))
    return {"x": np.cumsum(draw.uniform(0.1, 1, n)), "y": np.cumsum(draw.uniform(0.1, 1, n))}, {}


def resting(draw):
    """Luck alone, but for one row far out along both columns."""
    n = int(draw.integers(7, 60))
    x, y = draw.normal(0, 1, (2, n))
    far = draw.choice([-1, 1])
    options = [{}, {"errors": "HC3"}, {"decide": "slope", "alternative": "greater"}, {"decide": "spearman"}]
    return {"x": np.r_[x, 14.0], "y": np.r_[y, far * draw.uniform(8, 20)]}, options[int(draw.integers(4))]


def buried(draw):
    """A line that one or two wild rows hide."""
    n, wild = int(draw.integers(8, 50)), int(draw.integers(1, 3))
    x, y = _line(draw, n, draw.choice([-1.0, 1.0]), 0.5)
    at = draw.choice(n, wild, replace=False)
    y = np.array(y)
    y[at] += draw.choice([-1, 1]) * draw.uniform(20, 400, wild)
    return {"x": x, "y": y}, [{}, {"errors": "HC3"}, {"decide": "slope"}][int(draw.integers(3))]


def crossing(draw):
    """Groups that go opposite ways about one middle."""
    k, each = int(draw.integers(2, 4)), int(draw.integers(4, 16))
    own = draw.normal(0, 1, (k, each))
    ways = np.array([1, -1, draw.choice([-1, 0, 1])])[:k, None]
    y = (
        ways * own
        + draw.normal(0, draw.choice([0.2, 0.8]), (k, each))
        + draw.choice([0, 3]) * np.arange(k)[:, None]
    )
    names = np.repeat([f"side {chr(65 + at)}" for at in range(k)], each)
    return {"x": own.ravel(), "y": y.ravel(), "g": names.tolist()}, {"group": "g"}


def limit(draw):
    """A response that is written down from a limit on, or up to one."""
    x, y = _line(draw, int(draw.integers(12, 60)), 1.0, 2.0)
    low, high = np.quantile(y, (0.3, 0.8))
    return {"x": x, "y": np.maximum(y, low) if draw.uniform() < 0.7 else np.minimum(y, high)}, {"at": 10.0}


def twice(draw):
    """Rows that were written down more than once."""
    x, y = _line(draw, int(draw.integers(6, 20)), 1.0, 2.0)
    again = draw.integers(0, x.size, int(draw.integers(3, 20)))
    return {"x": np.r_[x, x[again]], "y": np.r_[y, y[again]]}, {"at": 10.0}


def grades(draw):
    """A response of a few levels."""
    n = int(draw.integers(8, 60))
    x = draw.normal(10, 3, n)
    return {"x": x, "y": np.clip(np.round(x / 4 + draw.normal(0, 0.5, n)), 1, 4)}, {"at": 10.0}


def one_or_other(draw):
    """A response that takes two values, which go with x or do not."""
    n = int(draw.integers(6, 60))
    x = draw.uniform(0, 10, n)
    low, high = sorted(draw.choice([0.0, 1.0, 2.5, 7.0], 2, replace=False))
    return {"x": x, "y": np.where(draw.uniform(0, 10, n) < x, high, low)}, {"at": 5.0}


def skewed(draw):
    n = int(draw.integers(8, 80))
    x = draw.uniform(0, 10, n)
    return {"x": x, "y": x + draw.gamma(0.5, 2, n)}, {"at": 20.0}


def clustered(draw):
    """Several rows of one case, at heights of their own."""
    sizes = draw.integers(1, 7, int(draw.integers(4, 15)))
    cases = np.repeat(np.arange(sizes.size), sizes)
    draw.shuffle(cases)
    x = draw.normal(10, 3, sizes.size)[cases] + draw.normal(0, 1.5, cases.size)
    y = draw.normal(0, 3, sizes.size)[cases] + draw.normal(0, 0.8) * x + draw.normal(0, 1, cases.size)
    errors = str(draw.choice(["clustered", "clustered", "classical"]))
    columns, options = {"g": [f"s{one}" for one in cases], "x": x, "y": y}, {"cluster": "g", "errors": errors}
    if draw.uniform() < 0.5:
        return columns, options
    of = draw.integers(0, draw.integers(2, 4), cases.size) if draw.uniform() < 0.7 else cases % 2
    return columns | {"h": [f"p{one}" for one in of]}, options | {"group": "h", "margin": 0.5}


def dated(draw):
    """Rows by the clock, with gaps and moments that rows share."""
    n = int(draw.integers(5, 60))
    steps = draw.choice([0, 6, 6, 6, 6, 30], n) if draw.uniform() < 0.6 else draw.integers(1, 90, n)
    hours = np.cumsum(steps)
    when = [
        str(np.datetime64("2021-03-01T00:00") + np.timedelta64(int(hour), "h")).replace("T", " ")
        for hour in hours
    ]
    order = draw.permutation(n)
    x, y = _line(draw, n, 0.3)
    return {"when": [when[at] for at in order], "x": x, "y": y}, {}


def _odd_column(draw, n):
    """Numbers as nobody should have them: huge, tiny, constant, tied, far from 0, blank."""
    kinds = (
        lambda: draw.normal(size=n), lambda: draw.normal(size=n) * 10.0 ** draw.integers(-150, 150),
        lambda: draw.integers(0, 4, n).astype(float), lambda: np.full(n, 2.5), lambda: np.arange(n, dtype=float),
        lambda: draw.lognormal(0, 2, n), lambda: draw.normal(size=n) + 10.0 ** draw.integers(0, 12),
        lambda: np.where(draw.uniform(size=n) < 0.4, np.nan, draw.normal(size=n)),
        lambda: draw.choice([1.0, 2.0], n), lambda: np.r_[np.zeros(n - 1), 1.0],
    )  # fmt: skip
    return kinds[int(draw.integers(len(kinds)))]()


def odd(seed):
    """Any columns with any options, for sentences that must be sound whatever the data are."""
    draw = np.random.default_rng([seed, 99])
    n = int(draw.choice([1, 2, 3, 4, 5, 8, 12, 20, 45]))
    x, y, z = (_odd_column(draw, n) for _ in range(3))
    if draw.uniform() < 0.4:
        y = x * draw.normal() + draw.normal(size=n) * 10.0 ** draw.integers(-12, 3)
    g = [str(one) for one in draw.choice(["a", "b", "c c", ""], n)]
    columns = {
        "x": x,
        "y": y,
        "g": g,
        "w": np.abs(draw.normal(size=n)) * (draw.uniform(size=n) > 0.2),
        "z": z,
        "h": [str(one) for one in draw.choice(["u", "v", "w"], n)],
    }
    heads = [
        {},
        {"x": "dose (%)", "y": "dose (mg)"},
        {"x": "a b (years)", "y": "t (°C)"},
        {"y": "x2 [%]"},
        {"x": "one (m)", "y": "two (m)"},
    ]
    more = [
        {"group": "g", "margin": 0.3}, {"second_response": "z", "rows_are": "cases", "margin": 0.3},
        {"second_response": "z", "rows_are": "settings"}, {"weights": "w"}, {"no_intercept": True},
        {"weight_pattern": "inverse-x"}, {"weight_pattern": "inverse-fitted2"}, {},
        {"errors": "clustered", "cluster": "g"}, {"errors": "clustered", "cluster": "g", "group": "h", "margin": 0.1},
        {"errors": "clustered", "cluster": "h", "second_response": "z", "rows_are": "cases", "margin": 0.3},
    ]  # fmt: skip
    options = {
        "alternative": str(draw.choice(["two-sided", "greater", "less"])),
        "alpha": float(draw.choice([0.01, 0.05, 0.2, 0.5])),
        "level": float(draw.choice([0.5, 0.95, 0.999])),
        "decide": str(draw.choice(["pearson", "spearman", "kendall", "slope"])),
        "errors": str(draw.choice(["classical", "HC0", "HC3", "newey_west"])),
        "at": float(draw.integers(-3, 4)), "mean_of": int(draw.integers(1, 4)),
        "heads": heads[int(draw.integers(5))],
    }  # fmt: skip
    if draw.uniform() < 0.3:
        options["slope_0"] = float(draw.integers(-2, 3))
    return Case("odd", seed, columns, options | more[int(draw.integers(len(more)))])


def made(draw):
    """A third column, of which one of three is the others together: or nearly, or for all rows but one."""
    n = int(draw.integers(6, 30))
    a, b = np.round(draw.uniform(1, 9, (2, n)), int(draw.integers(0, 3)))
    whole = a + b if draw.uniform() < 0.5 else a * b
    if draw.uniform() < 0.4:
        whole = np.round(whole, int(draw.integers(0, 3)))
    if draw.uniform() < 0.3:
        whole[draw.integers(n)] += draw.choice([0.01, 0.6, 5.0])
    names = draw.permutation(["x", "y", "z"]).tolist()
    return dict(sorted(zip(names, (a, b, whole), strict=True))), {}


FAMILIES = {
    make.__name__: make
    for make in (
        plain, rules, other_side, stated_slope, errors_in_force, alone_at_its_x, origin, weighted, pattern, groups,
        springs, boxes, tiny, exact, nearly_exact, two_values, ties, outlier, far_x, bend, fan, alternating, alike,
        offset, small_range, one_unit, second_response, two_groups, missing, constant, running, skewed,
        clustered, dated, resting, one_or_other, buried, crossing, limit, twice, grades, made,
    )
}  # fmt: skip


def case(family, seed):
    """One seeded data set of a family."""
    draw = np.random.default_rng([seed, sum(map(ord, family))])
    columns, options = FAMILIES[family](draw)
    return Case(family, seed, columns, options)
