"""The results as plain text: the readings and figures of the screen, and the tables behind them."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Reading, names_of
from bright_tether.words.readings.gather import gather_reading
from bright_tether.words.readings.line import equation, line_reading

_WIDTH = 22


def text_account(
    findings: Findings,
    *,
    at: tuple[float, ...] = (),
    mean_of: int = 1,
    rows: bool = False,
    agreement: bool = False,
) -> str:
    """What the steps say, with the rules in force.

    Raises Refusal where there is no line.
    """
    parts = [
        _reading(gather_reading(findings)),
        f"{equation(findings)}\n\n{_reading(line_reading(findings))}",
        _strength(findings),
    ]
    if agreement:
        parts.append(_agreement(findings))
    if at:
        parts.append(_forecasts(findings, at, mean_of))
    if rows:
        parts.append(_rows(findings))
    return "\n\n".join(parts) + "\n"


def _reading(reading: Reading) -> str:
    lines = [reading.headline, *reading.sentences]
    lines += [reading.caption] if reading.caption else []
    lines += [_figure(figure) for figure in reading.figures]
    lines += [f"Beware: {said}" for said in reading.beware]
    return "\n".join(lines)


def _figure(figure: Figure) -> str:
    return f"  {figure.name:<{_WIDTH}} {figure.value:>12}  {figure.beside}".rstrip()


def _strength(findings: Findings) -> str:
    digits = findings.rules.digits
    lines = ["How strongly they go together"]
    for name, result, value in (
        ("Pearson r", findings.pearson, findings.pearson.r),
        ("Spearman ρ", findings.spearman, findings.spearman.rho),
        ("Kendall τ-b", findings.kendall, findings.kendall.tau_b),
    ):
        ends = d.NONE if result.ci is None else " … ".join(d.coefficient(end, digits) for end in result.ci)
        lines.append(_figure(Figure(name, d.coefficient(value, digits), f"{ends}   {d.p_value(result.p)}")))
    if findings.within_groups:
        pooled = findings.within_groups
        lines += [
            _figure(Figure(f"r in {one.name}", d.coefficient(one.r, digits), f"n = {one.n}"))
            for one in pooled.groups
        ]
        lines.append(_figure(Figure("r within groups", d.coefficient(pooled.r, digits), f"{pooled.df} df")))
    return "\n".join(lines)


def _agreement(findings: Findings) -> str:
    told, digits = findings.agreement, findings.rules.digits
    finest = d.decimals_for(told.sd_difference, digits, told.mean_difference or 0.0)
    figures = (
        Figure("mean difference", d.signed(told.mean_difference, finest), d.between(told.ci, finest)),
        Figure("limits of agreement", d.between(told.limits, finest)),
        Figure("exact matches", str(told.exact_matches), f"of {findings.pairs.n}"),
        Figure("concordance", d.coefficient(told.concordance, digits)),
    )
    return "\n".join(("Agreement, y less x", *map(_figure, figures)))


def _forecasts(findings: Findings, at: tuple[float, ...], mean_of: int) -> str:
    told, digits = findings.forecasts(at, mean_of), findings.rules.digits
    names = names_of(findings.x_column, findings.y_column)
    level = d.level_in_words(findings.rules.level)
    new = "one new case" if mean_of == 1 else f"the mean of {mean_of} new cases"
    lines = [f"Forecast of {names.y}: fitted, {level} for the mean response, {level} for {new}"]
    for i, x in enumerate(told.x.tolist()):
        finest = d.decimals_for(float(told.half_ci[i]), digits, float(told.fitted[i]))
        mean, one = d.between(tuple(told.ci[i]), finest), d.between(tuple(told.pi[i]), finest)
        beyond = "  (outside the measured range)" if told.outside[i] else ""
        shown = d.fixed(float(told.fitted[i]), finest)
        lines.append(f"  {names.x} {d.entered(x)}: {shown}   {mean}   {one}{beyond}")
    return "\n".join(lines)


def _rows(findings: Findings) -> str:
    rows, digits = findings.rows, findings.rules.digits
    names = ("row", "x", "y", "fitted", "residual", "leverage", "studentised", "cooks_d")
    lines = ["  ".join(f"{name:>12}" for name in names)]
    for values in zip(*(getattr(rows, name).tolist() for name in names), strict=True):
        shown = [str(values[0]), *(d.figure(value, digits + 2) for value in values[1:])]
        lines.append("  ".join(f"{text:>12}" for text in shown))
    return "\n".join(lines)
