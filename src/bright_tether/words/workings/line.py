"""The working of slope, intercept and r, with the analyst's own numbers."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Step, Working, there
from bright_tether.words.workings.cases import by_case_steps

#: Significant digits in a working: enough to re-add it by hand.
_FINE = 7


def slope_working(findings: Findings) -> Working:
    """From the sums of the line in force to the slope, its standard error in force, t, p and interval."""
    line, sums, rules = findings.line, findings.line_sums, findings.rules
    by, errors, fit = findings.coefficients, findings.errors, findings.fit
    n, df = sums.n, line.residual_df
    tail = {"two-sided": "both tails", "greater": "the upper tail", "less": "the lower tail"}
    w = "" if fit.weights is None else "w"
    steps = []
    if fit.origin:
        steps += [
            Step("spread of x", "Σx², about 0", _n(sums.sxx)),
            Step("joint spread", "Σx·y, about 0", _n(sums.sxy)),
            Step("slope", f"b = Σx·y / Σx² = {_n(sums.sxy)} / {_n(sums.sxx)}", _n(line.slope)),
        ]
    else:
        means = f"x̄ and ȳ over n = {n}" + (", weighted" if w else "")
        steps += [
            Step("means", means, d.worded(f"{_n(sums.mean_x)} and {_n(sums.mean_y)}", _n(sums.mean_x),
                                          _n(sums.mean_y), names=("mean of x", "mean of y"))),
            Step("spread of x", f"Sxx = Σ{w}(x − x̄)²", _n(sums.sxx)),
            Step("joint spread", f"Sxy = Σ{w}(x − x̄)(y − ȳ)", _n(sums.sxy)),
            Step("slope", f"b = Sxy / Sxx = {_n(sums.sxy)} / {_n(sums.sxx)}", _n(line.slope)),
            Step("intercept", f"a = ȳ − b·x̄ = {_n(sums.mean_y)} − {_b(line.slope)} · {_b(sums.mean_x)}",
                 _n(line.intercept)),
        ]  # fmt: skip
    fitted = "b·x" if fit.origin else "a − b·x"
    steps += [
        Step("residuals", f"SSE = Σ{w}(y − {fitted})²", _n(sums.sse)),
        Step(
            "typical residual", f"s = √(SSE / (n − {fit.parameters})) = √({_n(sums.sse)} / {df})", _n(line.s)
        ),
    ]
    if errors.kind == "classical":
        how = f"se = s / √Sxx = {_n(line.s)} / √{_n(sums.sxx)}"
    else:
        how = f"se by the errors in force, {errors.kind.replace('_', '–')}, in place of s / √Sxx"
    t_shown = f" = {_n(sums.t_level)}" if errors.df == df else ""
    steps += [
        Step("error of the slope", how, _n(by.se_slope)),
        Step("interval", f"b ± t·se, t({d.level_in_words(rules.level)}, {d.grouped(errors.df)} df){t_shown}",
             _interval(by.ci_slope)),
    ]  # fmt: skip
    if by.t_slope is None:
        steps.append(Step("test", f"none: {cause(by.why['t_slope'])}", d.NONE))
    else:
        test = (
            f"t = (b − {_b(line.slope_0)}) / se = {_n(there(line.slope) - line.slope_0)} / {_n(by.se_slope)}"
        )
        steps += [
            Step("test", test, _n(by.t_slope)),
            Step(
                "p",
                f"area of t on {d.grouped(errors.df)} df in {tail[rules.alternative]}",
                d.p_in_digits(by.p_slope),
            ),
        ]
    return Working("How the slope is worked out", tuple(steps))


def correlation_working(findings: Findings) -> Working:
    """From the sums to r, its t and p, and the |r| that decides."""
    r, sums, rules = findings.pearson, findings.sums, findings.rules
    title = "How r is worked out"
    spreads = (
        Step("joint spread", "Sxy = Σ(x − x̄)(y − ȳ)", _n(sums.sxy)),
        Step("spread of x", "Sxx = Σ(x − x̄)²", _n(sums.sxx)),
        Step("spread of y", "Syy = Σ(y − ȳ)²", _n(sums.syy)),
    )
    if r.r is None:
        return Working(title, (*spreads, Step("r", f"none: {cause(r.why['r'])}", d.NONE)))
    steps = [
        *spreads,
        Step("r", f"Sxy / √(Sxx·Syy) = {_n(sums.sxy)} / √({_n(sums.sxx)} · {_n(sums.syy)})", _signed(r.r)),
    ]
    if findings.by_case is not None:
        return Working(title, (*steps, *by_case_steps(findings, "pearson", _FINE)))
    if r.t is None:
        steps.append(Step("test", f"none: {cause(r.why['t'])}", d.NONE))
    else:
        steps += [
            Step("share not shared", f"1 − r² = SSE / Syy = {_n(sums.sse)} / {_n(sums.syy)}",
                 _n(sums.unshared)),
            Step("test", f"t = r·√((n − 2) / (1 − r²)), {d.grouped(r.df)} df", _n(r.t)),
            Step("p", f"area of t on {d.grouped(r.df)} df", d.p_in_digits(r.p)),
        ]  # fmt: skip
    steps.append(
        Step("critical value", f"|r| at which p = α = {rules.alpha:g}, {d.grouped(r.df)} df", _n(r.critical))
    )
    if r.ci:
        steps.append(Step("interval", f"tanh(atanh r ± z/√(n − 3)), {d.level_in_words(rules.level)}",
                          d.worded(" … ".join(map(_signed, r.ci)), *map(_signed, r.ci))))  # fmt: skip
    return Working(title, tuple(steps))


def _n(value: float | None) -> str:
    return d.figure(value, _FINE)


def _b(value: float | None) -> str:
    """A number within a product: negative ones in brackets."""
    shown = _n(value)
    return f"({shown})" if shown.startswith("−") else shown


def _signed(value: float) -> str:
    return d.coefficient(value, _FINE)


def _interval(ci: tuple[float, float] | None) -> str:
    return d.NONE if ci is None else d.worded(f"{_n(ci[0])} … {_n(ci[1])}", *map(_n, ci))
