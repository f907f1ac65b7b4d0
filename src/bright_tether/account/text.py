"""The results as plain text: the readings and figures of the screen, and the tables behind them."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Reading, names_of
from bright_tether.words.readings.gather import gather_reading
from bright_tether.words.readings.line import equation, line_reading
from bright_tether.words.readings.look import look_reading
from bright_tether.words.readings.strength import permutation_sentence, strength_reading

_WIDTH = 22


def text_account(
    findings: Findings,
    *,
    at: tuple[float, ...] = (),
    mean_of: int = 1,
    rows: bool = False,
    agreement: bool = False,
    resample: int = 0,
    seed: int = 0,
) -> str:
    """What the steps say, with the rules in force.

    Raises Refusal where there is no line.
    """
    parts = [
        _reading(gather_reading(findings)),
        _reading(look_reading(findings)),
        _reading(strength_reading(findings)),
        f"{equation(findings)}\n\n{_reading(line_reading(findings))}",
    ]
    if agreement:
        parts.append(_agreement(findings))
    if resample:
        parts.append(_resampling(findings, resample, seed))
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


def _resampling(findings: Findings, draws: int, seed: int) -> str:
    made, digits = findings.bootstrap(draws, seed), findings.rules.digits
    level = d.level_in_words(findings.rules.level)
    lines = [
        f"Rows drawn again {d.grouped(made.draws)} times, seed {seed}: se, {level} percentile, {level} BCa"
    ]
    for name in ("slope", "intercept", "r"):
        one = getattr(made, name)
        finest = d.decimals_for(one.se, digits)
        lines.append(_figure(Figure(name, d.fixed(one.se, finest), f"{d.between(one.percentile, finest)}   "
                                    f"{d.between(one.bca, finest)}")))  # fmt: skip
    lines.append(permutation_sentence(findings.permutation(draws, seed), findings.rules))
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
