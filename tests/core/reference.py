"""The definitions of sections 1 to 4 and 7, worked out again at 60 digits.

Origin: written from the definitions with mpmath, by another road than the product: exact
rational sums without centring, and tail areas by the incomplete beta function.
"""

from fractions import Fraction

import mpmath as mp

mp.mp.dps = 60


def number(value):
    fraction = Fraction(value)
    return mp.mpf(fraction.numerator) / fraction.denominator


def t_both(t, df):
    return mp.betainc(mp.mpf(df) / 2, mp.mpf(1) / 2, 0, df / (df + t * t), regularized=True)


def t_beyond(area, df):
    guess = mp.mpf(10)
    low, high = mp.mpf(0), guess
    while t_both(high, df) / 2 > area:
        high *= 2
    for _ in range(200):
        middle = (low + high) / 2
        low, high = (middle, high) if t_both(middle, df) / 2 > area else (low, middle)
    return low


def z_beyond(area):
    return mp.sqrt(2) * mp.erfinv(1 - 2 * mp.mpf(area))


class Reference:
    """Every figure of the plain line of y on x, from exact rational sums."""

    def __init__(self, x, y, level=0.95, alpha=0.05):
        self.level, self.n = level, len(x)
        xs, ys = [Fraction(float(v)) for v in x], [Fraction(float(v)) for v in y]
        n = self.n
        mx, my = sum(xs) / n, sum(ys) / n
        sxx = sum((v - mx) ** 2 for v in xs)
        syy = sum((v - my) ** 2 for v in ys)
        sxy = sum((a - mx) * (b - my) for a, b in zip(xs, ys, strict=True))
        b = sxy / sxx
        a = my - b * mx
        e = [v - a - b * u for u, v in zip(xs, ys, strict=True)]
        h = [Fraction(1, n) + (v - mx) ** 2 / sxx for v in xs]
        sse = sum(v * v for v in e)
        df = n - 2
        s = mp.sqrt(number(sse) / df)
        self.t_star = t_beyond((1 - number(level)) / 2, df)
        self.mx, self.my, self.sxx, self.b, self.a, self.s = mx, my, sxx, b, a, s
        self.figures = {
            "slope": number(b),
            "intercept": number(a),
            "s": s,
            "mse": s * s,
            "se_slope": s / mp.sqrt(number(sxx)),
            "se_intercept": s * mp.sqrt(number(Fraction(1, n) + mx * mx / sxx)),
            "ss_total": number(syy),
            "ss_model": number(b * sxy),
            "ss_residual": number(sse),
            "r": number(sxy) / mp.sqrt(number(sxx) * number(syy)),
            "r2": number(sxy * sxy / (sxx * syy)),
            "adj_r2": number(1 - sse / syy * (n - 1) / df),
        }
        f = self.figures
        f["f"] = f["ss_model"] / f["mse"]
        for name in ("slope", "intercept"):
            t = f[name] / f[f"se_{name}"]
            f[f"t_{name}"], f[f"p_{name}"] = t, t_both(t, df)
            half = self.t_star * f[f"se_{name}"]
            f[f"ci_{name}"] = (f[name] - half, f[name] + half)
        f["p_f"] = f["p_slope"]
        trace = number(n + sum(v * v for v in xs))
        root = mp.sqrt(trace * trace - 4 * n * number(sxx))
        f["log10_condition"] = mp.log10((trace + root) / (2 * mp.sqrt(n * number(sxx))))
        star = t_beyond(number(alpha) / 2, df)
        middle = mp.atanh(f["r"])
        half = z_beyond((1 - number(level)) / 2) / mp.sqrt(n - 3) if n > 3 else None
        self.pearson = {
            "r": f["r"],
            "t": f["r"] * mp.sqrt(df / number(sse / syy)),
            "p": f["p_slope"],
            "critical": star / mp.sqrt(df + star * star),
            "ci": (mp.tanh(middle - half), mp.tanh(middle + half)) if n > 3 else None,
        }
        self.covariance = number(sxy / (n - 1))
        self.robust = {}
        for kind in ("HC0", "HC1", "HC2", "HC3"):
            power = {"HC2": 1, "HC3": 2}.get(kind, 0)
            weight = [v * v / (1 - g) ** power for v, g in zip(e, h, strict=True)]
            factor = Fraction(n, df) if kind == "HC1" else 1
            slope = sum(w * (u - mx) ** 2 for w, u in zip(weight, xs, strict=True)) / sxx**2
            height = sum(
                w * (Fraction(1, n) - mx * (u - mx) / sxx) ** 2 for w, u in zip(weight, xs, strict=True)
            )
            self.robust[kind] = {
                "se_slope": mp.sqrt(number(slope * factor)),
                "se_intercept": mp.sqrt(number(height * factor)),
            }
        self.rows = {
            "fitted": [],
            "residual": [],
            "leverage": [],
            "standardised": [],
            "studentised": [],
            "cooks_d": [],
            "dffits": [],
            "dfbeta_slope": [],
            "outlier_p": [],
        }
        for u, v, g in zip(xs, e, h, strict=True):
            spare = number(1 - g)
            std = number(v) / (s * mp.sqrt(spare))
            row = {
                "fitted": number(a + b * u),
                "residual": number(v),
                "leverage": number(g),
                "standardised": std,
                "cooks_d": std**2 * number(g) / spare / 2,
                "dfbeta_slope": number((u - mx) * v / ((1 - g) * sxx)),
            }
            if n > 3:
                stud = std * mp.sqrt((df - 1) / (df - std * std))
                row |= {
                    "studentised": stud,
                    "dffits": stud * mp.sqrt(number(g) / spare),
                    "outlier_p": min(mp.mpf(1), n * t_both(stud, n - 3)),
                }
            for key, value in row.items():
                self.rows[key].append(value)

    def forecast(self, x0, mean_of=1):
        at = Fraction(x0)
        h0 = number(Fraction(1, self.n) + (at - self.mx) ** 2 / self.sxx)
        fitted = number(self.a + self.b * at)
        mean, one = self.s * mp.sqrt(h0), self.s * mp.sqrt(mp.mpf(1) / mean_of + h0)
        df = self.n - 2
        f_star = mp.mpf(df) / 2 * ((1 - number(self.level)) ** (-mp.mpf(2) / df) - 1)
        wide = mp.sqrt(2 * f_star) * mean
        return {
            "fitted": fitted,
            "leverage": h0,
            "se_mean": mean,
            "se_individual": one,
            "half_ci": self.t_star * mean,
            "half_pi": self.t_star * one,
            "ci": (fitted - self.t_star * mean, fitted + self.t_star * mean),
            "pi": (fitted - self.t_star * one, fitted + self.t_star * one),
            "band": (fitted - wide, fitted + wide),
        }


def digits(found, wanted, scale=0):
    """How many digits agree; scale is the size below which a difference does not count."""
    if found is None or wanted is None:
        return 99 if found is wanted else 0
    if isinstance(wanted, tuple):
        size = max(abs(wanted[0]), abs(wanted[1]))
        return min(digits(a, b, size) for a, b in zip(found, wanted, strict=True))
    gap = abs(number(float(found)) - wanted)
    if gap == 0:
        return 17
    size = max(abs(wanted), scale)
    return 0 if size == 0 else float(-mp.log10(gap / size))
