"""The table of Forecast."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of
from bright_tether.words.readings.forecast import finest


def forecast_grid(findings: Findings) -> Grid:
    """Every x at every level."""
    many, band = findings.tether.forecast.mean_of, findings.tether.forecast.band
    one = "one new case" if many == 1 else f"mean of {many} new"
    one += " by ranks" if findings.by_ranks and many == 1 else ""
    rows, names = [], names_of(findings.x_way.source, findings.y_way.source)
    for item in findings.expected:
        size = finest(findings, item)
        texts = [names.day_of(item.x) or d.entered(item.x), item.group or "all", d.level_in_words(item.level)]
        texts += [d.fixed(item.fitted, size), d.between(item.ci, size), d.fixed(item.half_ci, size)]
        beside = item.pi_by_spread if findings.by_ranks else None
        texts += [
            d.between(item.pi, size),
            d.between(beside, size) if findings.by_ranks else d.fixed(item.half_pi, size),
        ]
        texts += [d.between(item.band, size)] if band else []
        far = d.figure(item.distance, 2)
        texts.append(d.worded(f"{far} sd beyond", far, names=(", sd beyond",)) if item.outside else "inside")
        rows.append(tuple(texts))
    heads = (
        "x",
        "line",
        "level",
        "fitted",
        "mean response",
        "±",
        one,
        "by the spread" if findings.by_ranks else "±",
    )
    more = ("whole line",) if band else ()
    return Grid(title="Forecasts", heads=(*heads, *more, "measured"), rows=tuple(rows))
