"""The working of ρ, τ, the decision and agreement, with the analyst's own numbers."""

from __future__ import annotations

import math

from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Step, Working, t_and_p
from bright_tether.words.readings.decision import LETTERS, hypotheses
from bright_tether.words.workings.cases import by_case_steps
from bright_tether.words.workings.line import correlation_working

_FINE = 7


def strength_workings(findings: Findings) -> tuple[Working, ...]:
    """What stands behind every coefficient; agreement too where x and y share a unit."""
    workings = [
        correlation_working(findings),
        products_working(findings),
        spearman_working(findings),
        kendall_working(findings),
        decision_working(findings),
    ]
    if findings.x_column.unit and findings.x_column.unit == findings.y_column.unit:
        workings.append(agreement_working(findings))
    return tuple(workings)


def products_working(findings: Findings) -> Working:
    """r as the sum of z-products over n − 1."""
    products, n = findings.products, findings.pairs.n
    return Working(
        "r as a sum of products",
        (
            Step("z of each row", "(value − mean) / sd, sd over n − 1", f"n = {n}"),
            Step("sum", "Σ z(x)·z(y), row by row in the table beside", _n(products.total)),
            Step("r", f"{_n(products.total)} / ({n} − 1)", _c(findings.pearson.r)),
        ),
    )


def spearman_working(findings: Findings) -> Working:
    """From the ranks to ρ, its t and p."""
    rho, ranks, n = findings.spearman, findings.rank_rows(False), findings.pairs.n
    ties = min(findings.pairs.codes_x[1].size, findings.pairs.codes_y[1].size) < n
    steps = [
        Step("ranks", "places in order, equal values sharing their mean place", f"1 to {n}"),
        Step("differences", "Σ(rank of x − rank of y)²", _n(ranks.squares)),
    ]
    if rho.rho is None:
        return Working("How ρ is worked out", (*steps, Step("ρ", cause(rho.why["rho"]), d.NONE)))
    if ties:
        steps.append(Step("ρ", "r of the ranks (the shorter formula holds only without ties)", _c(rho.rho)))
    else:
        steps.append(Step("ρ", f"1 − 6·{_n(ranks.squares)} / ({n}³ − {n})", _c(rho.rho)))
    if findings.by_case is not None:
        return Working("How ρ is worked out", (*steps, *by_case_steps(findings, "spearman", _FINE)))
    if rho.t is None:
        steps.append(Step("test", f"none: {cause(rho.why['t'])}", d.NONE))
    else:
        steps.append(Step("test", f"t = ρ·√((n − 2) / (1 − ρ²)), {d.grouped(rho.df)} df", _n(rho.t)))
        steps.append(Step("p", f"area of t on {d.grouped(rho.df)} df", d.p_in_digits(rho.p)))
        sides = "both sides" if findings.rules.alternative == "two-sided" else "one side"
        alpha = f"α = {findings.rules.alpha:g}, {sides}"
        steps.append(Step("critical t", f"on {d.grouped(rho.df)} df at {alpha}", _n(rho.critical_t)))
        steps.append(Step("critical ρ", "t* / √(df + t*²)", _c(rho.critical)))
    steps.append(_exact_step(rho.p_exact, rho.why.get("p_exact"), "every order of the ranks gone through"))
    return Working("How ρ is worked out", tuple(steps))


def kendall_working(findings: Findings) -> Working:
    """From the counts to S, τ, z and p."""
    tau, n = findings.kendall, findings.pairs.n
    total, score = n * (n - 1) // 2, tau.concordant - tau.discordant
    title = "How τ is worked out"
    ties = [d.grouped(one) for one in (tau.tied_x, tau.tied_y, tau.tied_both)]
    steps = [
        Step("comparisons", f"n(n − 1)/2 = {n}·{n - 1}/2", d.grouped(total)),
        Step("concordant", "x and y differ the same way", d.grouped(tau.concordant)),
        Step("discordant", "x and y differ opposite ways", d.grouped(tau.discordant)),
        Step("ties", "in x only, in y only, in both",
             d.worded(", ".join(ties), *ties, names=("ties in x only", "ties in y only", "ties in both"))),
        Step("S", f"{d.grouped(tau.concordant)} − {d.grouped(tau.discordant)}", _n(float(score))),
        Step("τ-a", f"S / {d.grouped(total)}", _c(tau.tau_a)),
    ]  # fmt: skip
    if tau.tau_b is None:
        return Working(title, (*steps, Step("τ-b", cause(tau.why["tau_b"]), d.NONE)))
    by_x = tau.concordant + tau.discordant + tau.tied_x
    by_y = tau.concordant + tau.discordant + tau.tied_y
    of_both = f"S / √({d.grouped(by_x)} · {d.grouped(by_y)}), ties in one column left out of its part"
    steps.append(Step("τ-b", of_both, _c(tau.tau_b)))
    if findings.by_case is not None:
        return Working(title, (*steps, *by_case_steps(findings, "kendall", _FINE)))
    steps += [
        Step("spread of S", "√Var(S) under no association, corrected for ties",
             _n(score / tau.z) if tau.z else d.NONE),
        Step("z", "S / √Var(S)", _n(tau.z)),
        Step("p", "area of the normal curve", d.p_in_digits(tau.p)),
        _exact_step(tau.p_exact, tau.why.get("p_exact"), "exact distribution of S"),
    ]  # fmt: skip
    return Working(title, tuple(steps))


def decision_working(findings: Findings) -> Working:
    """The decision both ways: p against α, the coefficient against its critical value."""
    decision = findings.decision
    title = "How it is decided"
    if decision.p is None or decision.statistic is None or decision.critical is None:
        return Working(title, (Step("no decision", cause(decision.why["reject"]), d.NONE),))
    name = LETTERS[decision.test]
    size = {"two-sided": f"|{name}|", "greater": name, "less": f"−({name})"}[decision.alternative]
    value = {"two-sided": abs(decision.statistic), "greater": decision.statistic, "less": -decision.statistic}
    reached = value[decision.alternative]
    beyond = reached >= decision.critical
    against = " against ".join(hypotheses(decision.test, decision.alternative, decision.null))
    steps = [
        Step("hypotheses", against, f"α = {decision.alpha:g}"),
        Step("by p", f"p ≤ α? {_p(decision.p)} against {decision.alpha:g}", "yes" if decision.reject else "no"),
        Step("by critical value", f"{size} ≥ critical? {_n(reached)} against {_n(decision.critical)}",
             "yes" if beyond else "no"),
    ]  # fmt: skip
    agree = "both rest on the same distribution, so they agree"
    if beyond != decision.reject:
        agree = "p lies at α to the last digits, so rounding alone parts them"
    steps.append(Step("together", agree, "H0 is rejected" if decision.reject else "compatible with H0"))
    p_exact = (findings.spearman.p_exact if decision.test == "spearman" else
               findings.kendall.p_exact if decision.test == "kendall" else None)  # fmt: skip
    if p_exact is not None and decision.alternative == "two-sided":
        same = (p_exact <= decision.alpha) == decision.reject
        basis = "t" if decision.test == "spearman" else "normal"
        how = "the exact p comes out the same way" if same else (
            f"the {basis} p is an approximation at this n; the exact p comes out the other way"
        )  # fmt: skip
        steps.append(Step("exact p", how, _p(p_exact)))
    return Working(title, tuple(steps))


def agreement_working(findings: Findings) -> Working:
    """From the differences to their mean, limits and the concordance coefficient."""
    agreement, n = findings.agreement, findings.pairs.n
    title = "How agreement is worked out"
    if agreement.mean_difference is None or agreement.sd_difference is None:
        return Working(title, (Step("differences", cause(agreement.why["mean_difference"]), d.NONE),))
    mean, sd = agreement.mean_difference, agreement.sd_difference
    steps = [
        Step("mean difference", f"Σ(y − x) / {n}", _n(mean)),
        Step("its spread", "sd of y − x, over n − 1", _n(sd)),
        Step("its error", f"{_n(sd)} / √{n}", _n(sd / math.sqrt(n))),
    ]
    if agreement.t is not None:
        steps.append(
            Step(
                "test",
                f"t = mean / error, {d.grouped(agreement.df)} df",
                t_and_p(_n(agreement.t), agreement.p),
            )
        )
    if agreement.ci and agreement.limits:
        steps.append(Step("interval", d.level_in_words(findings.rules.level), _ends(agreement.ci)))
        steps.append(Step("limits of agreement", "mean ± z·sd", _ends(agreement.limits)))
    if agreement.slope is not None:
        steps.append(Step("slope of the differences", "of y − x on (x + y) / 2", _n(agreement.slope)))
        if agreement.slope_t is not None:
            result = t_and_p(_n(agreement.slope_t), agreement.slope_p)
            steps.append(Step("its test", f"t = slope / its error, {agreement.slope_df} df", result))
    if agreement.concordance is not None:
        how = "2Sxy / (Sxx + Syy + n(x̄ − ȳ)²)"
        steps.append(Step("concordance", how, _c(agreement.concordance)))
    return Working(title, tuple(steps))


def _exact_step(p: float | None, missing: Cause | None, how: str) -> Step:
    if p is None:
        return Step("exact p", f"none: {cause(missing)}" if missing else "none", d.NONE)
    return Step("exact p", f"two-sided, {how}", _p(p))


def _n(value: float | None) -> str:
    return d.figure(value, _FINE)


def _p(value: float) -> str:
    return d.figure(value, 4) if value >= 1e-6 else d.figure(value, 3)


def _c(value: float | None) -> str:
    return d.coefficient(value, _FINE)


def _ends(interval: tuple[float, float]) -> str:
    return d.worded(" … ".join(map(_n, interval)), *map(_n, interval))
