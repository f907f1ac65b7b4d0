"""What is said of forecasts with other columns held, and their table."""

from __future__ import annotations

from bright_tether.claims.held_forecast import HeldForecastClaim, held_forecast_claims, held_forecasts_of
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.reading import Names, names_of
from bright_tether.words.said import Said, listed


def held_forecast_sentences(findings: Findings) -> tuple[Said, ...]:
    """The middle one of the forecasts; the table holds all of them."""
    found = held_forecasts_of(findings)
    if found is None:
        return ()
    claims = held_forecast_claims(found, findings.rules.level)
    claim, names = claims[len(claims) // 2], names_of(findings.x_column, findings.y_column)
    if claim.fitted is None:
        return ()
    fine = _fine(claim, findings.rules.digits)
    held = listed(_at(findings, name, value) for name, value in claim.at.items())
    level = d.level_in_words(claim.level)
    where = names.at_x(claim.x, d.entered(float(f"{claim.x:.4g}")))
    value = names.in_y(d.fixed(claim.fitted, fine))
    mean, case = d.between(claim.mean, fine), d.between(claim.case, fine)
    what = f"{names.y} is forecast as {value}: on average {mean}, for one new case {case} ({level})"
    along = f", with the slope along {claim.along}" if claim.along else ""
    words = f"At {where} with {held}, {what}{along}."
    beyond = " That lies beyond what was measured." if claim.outside else ""
    return (Said(words + beyond, claim),)


def _at(findings: Findings, name: str, value: float | str) -> str:
    if isinstance(value, str):
        return f"{name} {value or '(blank)'}"
    unit = next((one.unit for one in findings.held_cells if one.short == name), None)
    return f"{name} {d.entered(float(f'{value:.4g}'))}{f' {unit}' if unit else ''}"


def _fine(claim: HeldForecastClaim, digits: int) -> int:
    return d.decimals_of(claim.mean, digits, claim.fitted)


def held_forecasts_grid(findings: Findings) -> Grid | None:
    """Each x with its forecast; None where nothing is held."""
    found = held_forecasts_of(findings)
    if found is None:
        return None
    names: Names = names_of(findings.x_column, findings.y_column)
    rows = []
    for claim in held_forecast_claims(found, findings.rules.level):
        fine = _fine(claim, findings.rules.digits)
        far = "beyond" if claim.outside else "inside"
        rows.append((names.day_of(claim.x) or d.entered(float(f"{claim.x:.6g}")), d.fixed(claim.fitted, fine),
                     d.between(claim.mean, fine), d.between(claim.case, fine), far))  # fmt: skip
    held = listed(_at(findings, name, value) for name, value in found.at)
    heads = ("x", "fitted", "mean response", "one new case", "measured")
    along = f", the slope along {found.along}" if found.along else ""
    return Grid(title=f"Forecasts with {held}{along}", heads=heads, rows=tuple(rows))
