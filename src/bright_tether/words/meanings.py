"""What each figure of an account is, in one line, by the name that it has there."""

from __future__ import annotations

import re

#: A definition, and the keys of what it rests on.
Meaning = tuple[str, tuple[str, ...]]

_BY_RANKS = (
    "y that lie no farther from the line than the rows do, each |residual| measured by those near it in x: conformal "
    "prediction interval",
    ("lei2018",),
)
_MEANINGS: dict[str, str | Meaning] = {
    # sums and summaries
    "n": "number of pairs or values counted",
    "missing": "rows without a number in the column",
    "mean": "arithmetic mean of the values in play",
    "sd": "standard deviation, divisor n − 1",
    "min": "smallest value",
    "max": "largest value",
    "q1": ("lower quartile, definition 7", ("hyndman1996",)),
    "median": ("median, definition 7 at one half", ("hyndman1996",)),
    "q3": ("upper quartile, definition 7", ("hyndman1996",)),
    "Σ": "sum over the pairs in play of what stands behind Σ",
    "population sd": "root of the mean squared distance from the mean, divisor n",
    "population covariance": "mean product of the distances from both means, divisor n",
    "covariance": "sum of products of the distances from both means ÷ (n − 1)",
    "count": "number of rows",
    "row": "number of the row in its table, from 1",
    # strength
    "r": "Pearson's coefficient of correlation: covariance ÷ (sd of x · sd of y)",
    "Pearson r": "Pearson's coefficient of correlation: covariance ÷ (sd of x · sd of y)",
    "r all together": "Pearson's coefficient of all pairs, whatever their group",
    "r within groups": "Pearson's coefficient of x and y, each less the mean of its group",
    "r of a group": "Pearson's coefficient of the pairs of one group",
    "r²": "share of the sum of squares of y about its mean that the line takes up",
    "share": "share of the sum of squares of y about its mean that the line takes up",
    "r, far values bent": (
        "percentage-bend correlation: r of both columns with what lies far out bent inward to where the middle ends",
        ("wilcox1994",),
    ),
    "t of r": "r · √(n − 2) ÷ √(1 − r²)",
    "ρ": ("Spearman's coefficient: Pearson's r of the ranks, ties sharing their mean rank", ("kendall1990",)),
    "Spearman ρ": (
        "Spearman's coefficient: Pearson's r of the ranks, ties sharing their mean rank",
        ("kendall1990",),
    ),
    "t of ρ": "ρ · √(n − 2) ÷ √(1 − ρ²)",
    "τ-b": ("Kendall's τ-b: concordant less discordant pairs, corrected for ties", ("kendall1990",)),
    "Kendall τ-b": ("Kendall's τ-b: concordant less discordant pairs, corrected for ties", ("kendall1990",)),
    "exact p": "p over all orders of the ranks, each as likely as any other",
    "z of τ": (
        "concordant less discordant pairs ÷ their standard deviation by chance, with ties",
        ("kendall1990",),
    ),
    "critical value": "least size of the coefficient that is decided as other than none at α",
    # the line
    "slope": "change of the line in y for one unit of x",
    "intercept": "value of the line at x = 0",
    "typical residual": "root of the sum of squared residuals ÷ its degrees of freedom",
    "s": "root of the sum of squared residuals ÷ its degrees of freedom",
    "se of slope": "standard error of the slope by the errors named",
    "se of intercept": "standard error of the intercept by the errors named",
    "interval of slope": "slope ± t of its degrees of freedom · its standard error",
    "interval of intercept": "intercept ± t of its degrees of freedom · its standard error",
    "interval": "confidence interval of what it stands beside, at the level in force",
    "t": "estimate less what was asked for, ÷ its standard error",
    "F": "mean square of what is tested ÷ mean square of what is left",
    "p": "probability of a statistic at least so extreme where the null hypothesis holds",
    "df": "degrees of freedom",
    "sum of squares": "squared distances summed: taken up by the line, left by it, or about the mean",
    "mean square": "sum of squares ÷ its degrees of freedom",
    # doubts
    "linearity": "share of the residual sum of squares that an added (x − x̄)² takes up",
    "bend takes up": "share of the residual sum of squares that an added (x − x̄)² takes up",
    "constant spread": "sd of the residuals in the upper third of x ÷ that in the lower third",
    "independence": ("Durbin–Watson d of the residuals in their order", ("durbin1950",)),
    "normality": "skewness of the residuals",
    "outliers": "largest size of an externally studentised residual",
    "influence": ("largest Cook's distance", ("cook1977",)),
    "leverage and influence": ("largest Cook's distance", ("cook1977",)),
    "curvature, t": "t of an added (x − x̄)²",
    "powers of fitted, F": "F of the added second and third powers of the fitted values",
    "repeated x, F": "F of the lack of fit against the spread at repeated x",
    "Breusch–Pagan": ("n · R² of the squared residuals on x, studentised", ("koenker1981",)),
    "White": ("n · R² of the squared residuals on x and x²", ("white1980",)),
    "spread ratio": "sd of the residuals in the upper third of x ÷ that in the lower third",
    "Durbin–Watson d": (
        "sum of squared steps between neighbouring residuals ÷ sum of their squares",
        ("durbin1950",),
    ),
    "alike neighbours only": "p of d against neighbours that are alike, exact up to 500 rows",
    "lag 1": "sum of products of neighbouring residuals ÷ sum of their squares",
    "runs of one sign": "number of runs of residuals of one sign, in their order",
    "signs +": "number of residuals above the line",
    "signs −": "number of residuals below the line",
    "z of the runs": "number of runs less its mean by chance, ÷ its standard deviation by chance",
    "mean leverage": "number of fitted coefficients ÷ number of pairs",
    "signs + and −": "numbers of residuals above and below the line",
    "Shapiro–Wilk W": "W of the residuals: squared fit of their order to that of a normal sample",
    "Anderson–Darling A²*": "A² of the residuals against the normal distribution, with its correction for n",
    "Jarque–Bera": "n ÷ 6 · (skewness² + excess kurtosis² ÷ 4)",
    "skewness": "third central moment of the residuals ÷ second to the power 3/2, divisors n",
    "excess kurtosis": "fourth central moment of the residuals ÷ square of the second, less 3, divisors n",
    "largest |t|": "largest size of an externally studentised residual",
    "fences of the residuals": "quartiles of the residuals, 1.5 times their distance outward",
    "rows beyond the fences": "number of residuals beyond their fences",
    "largest Cook’s distance": ("shift of all fitted values without the row, in units of s²", ("cook1977",)),
    "largest leverage": "largest diagonal element of the matrix that turns y into fitted values",
    "widest gap in x": "largest distance between neighbouring values of x, as a share of their range",
    # with other columns held
    "partial r": "r of what the held columns leave of x and of y",
    "one slope": "F of one slope of x for every value of the other column, by the errors in force",
    "inflation": "1 ÷ (1 − R² of the term on the others)",
    # other choices
    "ways": "number of ways to make the analysis that have a value with an interval",
    "lowest": "smallest value of these ways",
    "middle": "median of the values of these ways",
    "highest": "largest value of these ways",
    "0 outside": "number of these ways whose interval leaves 0 out",
    "0 outside interval": "number of these ways whose interval leaves 0 out",
    "the present way": "value of the way that is in force, with its interval",
    # forecasts
    "x": "value of x that is forecast at",
    "level": "level of the intervals",
    "fitted": "value of the line at x",
    "mean response": "fitted ± t · standard error of the line at x: confidence interval of the mean of y at x",
    "one new case": "fitted ± t · root of (s² + squared standard error of the line): prediction interval",
    "one case": "fitted ± t · root of (s² + squared standard error of the line): prediction interval",
    "one new case by ranks": _BY_RANKS,
    "one case by ranks": _BY_RANKS,
    "by the spread": "fitted ± t · root of (s² + squared standard error of the line): prediction interval",
    "one spread everywhere": "prediction interval by the plain line and one s",
    "a power of x": ("prediction interval by the line with weights |x|^(−2·power)", ("carroll1988",)),
    "a power of fitted value": (
        "prediction interval by the line with weights |fitted|^(−2·power)",
        ("carroll1988",),
    ),
    "ranks of residuals": (
        "conformal prediction interval, residuals measured by those near in x",
        ("lei2018",),
    ),
    "left out": (
        "rows of a third of x, each left out: how many lie inside the interval made without them, of how many",
        ("stone1974",),
    ),
    "new": "share of new cases drawn in the middle of a third of x that lie inside the interval made from their sample",
    "power": (
        "power of x or of the fitted value that the sd about the line follows, by restricted likelihood",
        ("carroll1988",),
    ),
    "its ends": "ends of the interval for one case at this x, by the way of its row",
    "mean of new": "fitted ± t · root of (s² ÷ number + squared standard error of the line): prediction interval",
    "measured": "how far x lies beyond what was measured, in sd of x",
    "whole line": "fitted ± root of (2 F) · standard error of the line: band that holds the whole line",
    "±": "half of the width of the interval before it",
    # comparisons
    "difference": "first less second",
    "se": "standard error of the estimate by the errors in force",
    "difference of slopes": "slope of the first less slope of the second",
    "Welch": "difference ÷ root of the summed squared standard errors, degrees of freedom after Welch",
    "p, Holm": ("p, adjusted for the number of tests", ("holm1979",)),
    "false finds": "share of false ones to be expected among all found at least as clear",
    # rehearsals
    "truth": "what the samples were drawn from",
    "se by formula": "standard error that the formula gives with the true sd at the kept x",
    "caught": "share of the samples whose interval contains the truth",
    "|r| by luck": "size of r that this share of samples without relation exceeds",
    "rehearse: mean": "mean of the statistic over the samples",
    "rehearse: ±": "standard error of the simulation",
    "draws": "number of samples drawn",
    "rehearse: sd": "standard deviation of the statistic over the samples",
    "percentile": "the middle of the statistics of the samples, as much as the level says",
    "BCa": ("bootstrap interval, corrected for bias and acceleration", ("efron1987",)),
    "● classical": "share of the samples whose classical interval of the slope contains the truth",
    "▲ HC3": ("share of the samples whose HC3 interval of the slope contains the truth", ("mackinnon1985",)),
    "■ alike": ("share of the samples whose Newey–West interval contains the truth", ("newey1987",)),
    "your r": "Pearson's coefficient of the pairs at hand",
    "largest by luck": "largest size of r among the samples without relation",
    "sd of slope": "standard deviation of the slopes of the samples",
    "claimed se": "root mean square over the samples of the classical standard error",
    "pairs needed": "least number of pairs at which the wish is fulfilled, by formula",
    "pairs at hand": "number of pairs in play",
    "by formula": "what the formula promises at that number of pairs",
    "by simulation": "share of simulated samples that fulfilled the wish",
}
_BRACKETS = re.compile(r"\s*\([^()]*\)")


def meaning_of(name: str, step: str = "") -> Meaning:
    """What a figure is, "" where that is not known. name : as it stands in the account; step : that it is of."""
    for form in _forms(name):
        found = _MEANINGS.get(f"{step}: {form}", _MEANINGS.get(form))
        if found is not None:
            return (found, ()) if isinstance(found, str) else found
    return "", ()


def _forms(name: str) -> list[str]:
    """The name as it stands, and without what is of these data in it."""
    plain = " ".join(_BRACKETS.sub(" ", name).split()).replace(" the ", " ")
    plain = re.sub(r"\d[\d\u202f]*", "", plain) if plain.startswith("mean of") else plain
    forms = [name, " ".join(plain.split())]
    if name.endswith(")"):  # a question with its condition
        forms += [" ".join(_BRACKETS.sub(" ", name.partition("(")[2][:-1]).split())]
    forms += ["Σ"] if plain.startswith("Σ") else []
    forms += [plain.split(" of ")[0]] if plain.startswith(("population", "slope,")) or " of " in plain else []
    forms += [{"r, all together": "r all together", "r, within groups": "r within groups"}.get(plain, "")]
    forms += ["r of a group"] if plain.startswith("r, ") else []
    return [*forms, plain.rpartition(", ")[2], plain.split(",")[0]]
