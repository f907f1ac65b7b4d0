"""What one way of making an analysis comes to."""

from __future__ import annotations

from typing import Any

import numpy as np

from bright_tether.core.centred import fraction_unscaled
from bright_tether.core.line.change import Change, change_by_slope, change_of_median, step_on
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.deming import deming
from bright_tether.core.line.errors import ErrorKind, NoErrors, coefficients_by, errors_in_force
from bright_tether.core.line.resistant import mm_line
from bright_tether.core.line.terms import line_of
from bright_tether.core.line.theil_sen import theil_sen
from bright_tether.core.strength.bent import bent
from bright_tether.core.strength.by_case import coefficients_by_case
from bright_tether.core.strength.kendall import kendall
from bright_tether.core.strength.pearson import pearson
from bright_tether.core.strength.spearman import spearman
from bright_tether.live.held import make_held, make_held_slope
from bright_tether.live.line import LineResults
from bright_tether.live.ways import Asked, Options, Rows


def way_comes_to(asked: Asked, rows: Rows, way: Options, ends: tuple[float, float] | None) -> Change:
    """A slope, the change of y between ends of x, or a coefficient, with its interval. Raises Refusal."""
    return _coefficient(asked, rows, way) if asked.what == "coefficient" else _change(asked, rows, way, ends)


def _change(asked: Asked, rows: Rows, way: Options, ends: tuple[float, float] | None) -> Change:
    first, last = ends or (0.0, 1.0)
    step = 1.0 if ends is None else step_on(way.scale, first, last)
    weighted = way.weights != "none"
    pairs = rows.pairs(way.rows, way.scale, weighted=weighted)
    assert pairs is not None
    if way.line == "theil-sen":
        resistant = theil_sen(pairs, level=asked.level)
        return change_by_slope(resistant.slope, resistant.ci_slope, step)
    if way.line == "mm":
        biweight = mm_line(rows.fit(way.rows, way.scale), level=asked.level)
        return (None, None) if biweight is None else change_by_slope(biweight.slope, biweight.ci_slope, step)
    if way.line == "deming":
        both = deming(rows.fit(way.rows, way.scale), error_ratio=asked.ratio, level=asked.level)
        return change_by_slope(both.slope, both.ci_slope, step)
    kind: ErrorKind = way.errors  # type: ignore[assignment]  # those of its own went with other lines
    order = LineResults.order.make(asked.order, pairs)
    clusters = LineResults.clusters.make(asked.clusters, pairs)
    if way.held != "none":
        held = rows.held(way.rows, way.scale, way.held)
        slope = make_held_slope(*held, asked.level, kind, order, clusters)
        return change_by_slope(slope.slope, slope.ci_slope, step)
    fit = (
        line_of(pairs, origin=True)
        if way.line == "origin"
        else rows.fit(way.rows, way.scale, weighted=weighted)
    )
    try:
        errors = errors_in_force(fit, kind, order=order, clusters=clusters)
    except NoErrors:
        errors = None
    if way.scale in ("log-y", "log-both"):
        return change_of_median(fit, errors, way.scale, first, last, level=asked.level)
    exact = fraction_unscaled(fit.slope_exact, fit.y.exponent - fit.x.exponent)
    ci = None if errors is None else coefficients_by(fit, errors, Hypotheses(level=asked.level)).ci_slope
    return change_by_slope(exact, ci, step)


def _coefficient(asked: Asked, rows: Rows, way: Options) -> Change:
    pairs = rows.pairs(way.rows, way.scale)
    assert pairs is not None
    if way.held != "none":
        found = make_held(
            *rows.held(way.rows, way.scale, way.held), asked.level, "classical", None, None
        ).held
        return found.partial_r, found.partial_ci
    if way.coefficient == "bent":
        turned = bent(pairs, level=asked.level)
        return turned.r, turned.ci
    rules: dict[str, Any] = {"alpha": 1 - asked.level, "alternative": "two-sided", "level": asked.level}
    fit = rows.fit(way.rows, way.scale)
    value: float | None
    if way.coefficient == "pearson":
        plain = pearson(fit, **rules)
        value, ci = plain.r, plain.ci
    elif way.coefficient == "spearman":
        ranked = spearman(pairs, **rules)
        value, ci = ranked.rho, ranked.ci
    else:
        counted = kendall(pairs, **rules)
        value, ci = counted.tau_b, counted.ci
    cases = LineResults.clusters.make(asked.clusters, pairs) if asked.by_case else None
    if cases is not None and int(np.bincount(cases).max()) > 1:
        by_case = coefficients_by_case(pairs, fit, cases, alternative="two-sided", level=asked.level)
        ci = getattr(by_case, way.coefficient).ci
    return value, ci
